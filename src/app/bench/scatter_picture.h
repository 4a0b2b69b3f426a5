// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QComboBox>
#include <QWidget>

namespace fortitor {

/// How a figure scatters over the set: histogram, normal probability plot, tolerance bounds, and where
/// the scatter comes from, as a sentence.
class ScatterPicture : public QWidget {
    Q_OBJECT
public:
    ScatterPicture(Session& session, QWidget* parent = nullptr);
    void rebuild();
    /// The words under the pictures, for tests and for copying.
    [[nodiscard]] QStringList sentences() const;

signals:
    void specimenChosen(size_t index);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent*) override;

private:
    [[nodiscard]] const SetFigure* figure() const;
    [[nodiscard]] QString symbolUnit(const SetFigure& figure) const;
    void paintHistogram(QPainter& painter, const QRectF& room, const SetFigure& figure) const;
    void paintProbability(QPainter& painter, const QRectF& room, const SetFigure& figure);
    Session& session_;
    QComboBox* symbol_ = nullptr;
    QString builtFor_;
    std::vector<std::pair<QPointF, std::string>> spots_; ///< points of the plot, by label
};

} // namespace fortitor
