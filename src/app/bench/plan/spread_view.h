// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/widgets/hands.h"
#include "jobs/spread.h"

#include <QLabel>
#include <QLineEdit>
#include <QWidget>

namespace fortitor {

/// The pieces as they are spread over a condition: a stack at each value, hollow while planned, filled once tested. A
/// click puts one more there, with Shift it takes one away.
class SpreadPicture : public QWidget {
    Q_OBJECT
public:
    explicit SpreadPicture(QWidget* parent = nullptr);
    void show(const SpreadSpec& spec, std::vector<SpreadGroup> groups);
    [[nodiscard]] QSize sizeHint() const override { return {420, 112}; }
    /// Where a value stands; for tests.
    [[nodiscard]] QPointF spotOf(double value) const;

signals:
    /// At a value, in the base unit: one more, or one less.
    void asked(double value, int more);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent*) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    [[nodiscard]] std::pair<double, double> range() const;
    [[nodiscard]] double valueAt(double x) const;

    SpreadSpec spec_;
    std::vector<SpreadGroup> groups_;
    std::optional<double> hover_;
};

/// On Plan: the values and how many at each, as a line to type and as that picture, and what it takes.
class SpreadView : public QWidget {
    Q_OBJECT
public:
    explicit SpreadView(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    bool keep(const QString& text, const hands::Answered& answered = {});
    void change(double value, int more);

    Session& session_;
    QLabel *head_ = nullptr, *words_ = nullptr, *message_ = nullptr;
    QLineEdit* edit_ = nullptr;
    SpreadPicture* picture_ = nullptr;
};

} // namespace fortitor
