// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "draw/chart.h"

#include <QWidget>

namespace fortitor {

/// The curve of one specimen with handles for the straight part and the offset line, marks for
/// yield, maximum and break, and a magnifier for the foot. Handles drag, Tab walks them, arrows
/// nudge (Shift coarser), R goes back to automatic.
class CurvePlot : public QWidget {
    Q_OBJECT
public:
    CurvePlot(Session& session, QWidget* parent = nullptr);
    /// What is drawn: the outcome at hand, or the one of a handle on its way.
    void show(const Outcome* outcome);
    /// Points a mark out: a result's symbol.
    void pointAt(const QString& symbol);

    enum class Handle { None, Low, High, Offset };
    [[nodiscard]] Handle active() const { return active_; }
    /// Where a handle stands, in the magnifier when it is open. For tests and tooltips.
    [[nodiscard]] QPointF handlePosition(Handle handle) const;
    void setMagnifier(bool open);

signals:
    /// While a handle moves: the option and its value. `done` when it is let go.
    void moved(const QString& option, const QString& value, bool done);
    void backToAutomatic();
    void markChosen(const QString& symbol);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    [[nodiscard]] Chart mainChart() const;
    [[nodiscard]] Chart footChart() const;
    [[nodiscard]] QRectF footBox() const;
    [[nodiscard]] const CurveView* view() const { return outcome_ && outcome_->curve ? &*outcome_->curve : nullptr; }
    [[nodiscard]] Handle handleAt(const QPointF& at) const;
    void measureExtent();
    void paintStraight(QPainter& painter, const Chart& chart, bool handles) const;
    void paintMarks(QPainter& painter, const Chart& chart, bool foot) const;
    void paintFoot(QPainter& painter) const;
    void paintCurve(QPainter& painter, const Chart& chart, double width) const;
    void drag(const QPointF& at, bool done);
    void nudge(double steps);
    void tell(bool done);

    Session& session_;
    const Outcome* outcome_ = nullptr;
    Handle active_ = Handle::None;
    bool dragging_ = false;
    bool magnifier_ = true;
    double low_ = 0, high_ = 0, offset_ = 0.002; ///< where the handles are while they move
    double maxStrain_ = 1, maxStress_ = 1, minStrain_ = 0;
    double zoomLeft_ = 0, zoomRight_ = 0, zoomBottom_ = 0, zoomTop_ = 0;
    bool zoomed_ = false;
    QString pointed_;
};

} // namespace fortitor
