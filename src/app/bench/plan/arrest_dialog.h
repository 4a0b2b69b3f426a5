// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "methods/proof_load/arrest.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>

#include <optional>

namespace fortitor {

/// What is stopped, on its way to the stop, and the force over that way.
class ArrestPicture : public QWidget {
    Q_OBJECT
public:
    explicit ArrestPicture(QWidget* parent = nullptr);
    void show(const ArrestCase& given, const std::optional<ArrestForce>& force);
    [[nodiscard]] QSize sizeHint() const override { return {420, 210}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paintScene(QPainter& painter, const QRectF& room) const;
    void paintForce(QPainter& painter, const QRectF& room) const;
    ArrestCase given_;
    std::optional<ArrestForce> force_;
};

/// The force of an arrest: mass, speed, way or stiffness, slack; the peak first. Nothing of it is kept.
class ArrestDialog : public QDialog {
    Q_OBJECT
public:
    ArrestDialog(Session& session, QWidget* parent = nullptr);

private:
    void build();
    void work();
    [[nodiscard]] Expected<ArrestCase> given() const;

    Session& session_;
    QLineEdit *mass_ = nullptr, *speed_ = nullptr, *distance_ = nullptr, *stiffness_ = nullptr, *slack_ = nullptr,
              *drive_ = nullptr;
    QComboBox* way_ = nullptr;
    ArrestPicture* picture_ = nullptr;
    QLabel *peak_ = nullptr, *mean_ = nullptr, *message_ = nullptr;
};

} // namespace fortitor
