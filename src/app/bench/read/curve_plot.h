// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/widgets/plot_view.h"
#include "jobs/rehearsed.h"

namespace fortitor {

/// The curve of one specimen as its method declares it: handles for the straight part, the offset
/// line and every mark that may stand elsewhere, areas, a magnifier for the foot. Handles drag, Tab
/// walks them, arrows nudge (Shift coarser), R goes back to automatic, V changes the view.
class CurvePlot : public PlotView {
    Q_OBJECT
public:
    CurvePlot(Session& session, QWidget* parent = nullptr);
    /// What is drawn: the outcome at hand, or the one of a handle on its way.
    /// `before`: drawn beside it, what it would be otherwise. Both stay until the next is shown.
    void showOutcome(const Outcome* outcome, const Outcome* before = nullptr);
    /// Points a mark or an area out: a result's symbol.
    void pointAt(const QString& symbol);

    /// None, the two ends, the offset line, then the marks of the view from FirstMark on.
    enum class Handle { None, Low, High, Offset, FirstMark };
    static Handle markHandle(size_t index)
    {
        return static_cast<Handle>(static_cast<int>(Handle::FirstMark) + static_cast<int>(index));
    }
    [[nodiscard]] bool dragging() const { return dragging_; }
    [[nodiscard]] Handle active() const { return active_; }
    /// Where a handle stands, in the magnifier when it is open. For tests and tooltips.
    [[nodiscard]] QPointF handlePosition(Handle handle) const;
    /// The handle of a mark by its id; None when it can't be moved.
    [[nodiscard]] Handle handleOf(const std::string& markId) const;
    void setMagnifier(bool open);

    enum class View { StressStrain, LoadExtension, True };
    void setView(View view);
    /// Which of several curves.
    void setCurve(size_t which);
    [[nodiscard]] View viewKind() const { return viewKind_; }

signals:
    /// While a handle moves: the option and its value. `done` when it is let go.
    void moved(const QString& option, const QString& value, bool done);
    void backToAutomatic();
    void markChosen(const QString& symbol);
    void viewChanged(int view);

protected:
    void paintUnder(QPainter& painter, const Chart& chart) const override;
    void paintOver(QPainter& painter, const Chart& chart) const override;
    void paintEmpty(QPainter& painter) const override;
    [[nodiscard]] QSize pictureSize() const override { return size(); }
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    [[nodiscard]] Plot plotNow();
    [[nodiscard]] Chart footChart() const;
    [[nodiscard]] QRectF footBox() const;
    [[nodiscard]] const CurveView* view() const;
    [[nodiscard]] bool hasFoot() const;
    [[nodiscard]] bool shownInFoot(const CurveMark& mark) const { return mark.early && hasFoot(); }
    [[nodiscard]] std::vector<Handle> handles() const;
    [[nodiscard]] Handle handleAt(const QPointF& at) const;
    [[nodiscard]] QPointF spot(const Chart& chart, double x, double y) const
    {
        return chart.at(x * xScale_, y * yScale_);
    }
    [[nodiscard]] QString handleWords(Handle handle) const;
    void measureExtent(Plot& plot);
    void addCurves(Plot& plot) const;
    void addParts(Plot& plot) const;
    void addLimits(Plot& plot) const;
    void setDragging(bool on);
    void paintAreas(QPainter& painter, const Chart& chart) const;
    void paintBending(QPainter& painter, const Chart& chart) const;
    void paintStraight(QPainter& painter, const Chart& chart, bool handles) const;
    void paintMarks(QPainter& painter, const Chart& chart, bool foot) const;
    void paintFoot(QPainter& painter) const;
    void paintFootNames(QPainter& painter) const;
    void paintLeft(QPainter& painter, const Chart& chart) const;
    void paintHandles(QPainter& painter) const;
    [[nodiscard]] bool standsFor(const std::string& mark, const QString& symbol) const;
    [[nodiscard]] QString resultOn(const std::string& mark) const;
    void paintReadings(QPainter& painter, const Chart& chart, std::span<const double> x, std::span<const double> y,
                       bool filled) const;
    void paintSecond(QPainter& painter, const Chart& chart) const;
    void paintCrosshead(QPainter& painter, const Chart& chart) const;
    [[nodiscard]] bool showsRehearsed() const;
    void drag(const QPointF& at, bool done);
    void nudge(double steps);
    [[nodiscard]] double offsetNear(double offset) const;
    void tell(bool done);

    Session& session_;
    const Outcome* outcome_ = nullptr;
    const Outcome* before_ = nullptr;
    std::optional<Rehearsed> rehearsed_;
    std::optional<CurveView> other_; ///< the curve in another view
    View viewKind_ = View::StressStrain;
    size_t which_ = 0;
    Handle active_ = Handle::None;
    bool dragging_ = false;
    bool magnifier_ = true;
    double low_ = 0, high_ = 0, offset_ = 0.002; ///< where the handles are while they move
    double markX_ = 0;
    QPointF pressedAt_;
    double xScale_ = 1, yScale_ = 1; ///< base values to the units shown
    double maxX_ = 1, maxY_ = 1, minX_ = 0; ///< base values
    QString zoomFor_;
    std::optional<std::pair<PlotAxis, PlotAxis>> heldAxes_; ///< while a handle is dragged
    QString pointed_;
};

} // namespace fortitor
