// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/read/curve_plot.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "units/quantity.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
CurvePlot::CurvePlot(Session& session, QWidget* parent) : PlotView(parent), session_(session)
{
    setObjectName("curvePlot");
    setMouseTracking(true);
    setMinimumSize(400, 200);
    setWhatsThis(
        "The blue squares are the ends of the straight part, the ochre ring is the offset line, the dark squares "
        "are yield, maximum and break. Drag them, or walk them with Tab and nudge with the arrows (Shift: coarser). "
        "R goes back to automatic. Drag elsewhere to pan, the wheel or + and − zoom, a double click or 0 shows all. "
        "M opens and closes the magnifier, V changes between stress–strain, load–extension and the true curve. The menu saves "
        "picture and data.");
}

const CurveView* CurvePlot::view() const
{
    if (viewKind_ != View::StressStrain && other_)
        return &*other_;
    return outcome_ ? outcome_->curve(which_) : nullptr;
}

void CurvePlot::setCurve(size_t which)
{
    if (std::exchange(which_, which) != which)
        showOutcome(outcome_, before_);
}

void CurvePlot::showOutcome(const Outcome* outcome, const Outcome* before)
{
    if (!(outcome_ && outcome && dragging_))
        heldAxes_.reset();
    outcome_ = outcome;
    before_ = before;
    other_.reset();
    if (outcome && outcome->curve() && viewKind_ != View::StressStrain)
        other_ = viewKind_ == View::True ? trueCurve(*outcome->curve()) : loadExtension(*outcome->curve());
    if (!dragging_)
        rehearsed_ = session_.hasSpecimen() ? rehearsedOf(session_.document().json()["specimens"][session_.current()])
                                            : std::nullopt;
    if (!view()) {
        clear();
        return;
    }
    // What was zoomed into stays so, until something else is shown.
    const QString now = session_.hasSpecimen() ? QString("%1/%2/%3/%4")
                                                     .arg(session_.jobId())
                                                     .arg(session_.current())
                                                     .arg(static_cast<int>(viewKind_))
                                                     .arg(which_)
                                               : QString();
    const bool keeps = now == zoomFor_;
    zoomFor_ = now;
    show(plotNow(), keeps);
    if (const CurveView* v = view(); v && !dragging_) {
        low_ = v->straightLow;
        high_ = v->straightHigh;
        offset_ = v->offset.value_or(0.002);
        const auto all = handles();
        if (std::ranges::find(all, active_) == all.end())
            active_ = Handle::None;
        if (active_ >= Handle::FirstMark)
            markX_ = v->marks[static_cast<size_t>(active_) - static_cast<size_t>(Handle::FirstMark)].x;
    }
}

void CurvePlot::setView(View kind)
{
    viewKind_ = kind;
    active_ = Handle::None;
    showOutcome(outcome_, before_);
    emit viewChanged(static_cast<int>(kind));
}

void CurvePlot::pointAt(const QString& symbol)
{
    pointed_ = symbol;
    update();
}

void CurvePlot::setMagnifier(bool open)
{
    magnifier_ = open;
    showOutcome(outcome_, before_);
    update();
}

bool CurvePlot::hasFoot() const
{
    const CurveView* v = view();
    return magnifier_ && v && viewKind_ == View::StressStrain && !v->keyed
        && ((v->slope > 0 && v->straightHigh > 0) || v->footTo > 0)
        && footBox().height() > 70; // smaller it shows nothing
}

Plot CurvePlot::plotNow()
{
    const CurveView* v = view();
    Plot plot;
    plot.names = Plot::Names::None;
    plot.above = v->bending.empty() ? 0 : 50;
    addCurves(plot);
    if (heldAxes_)
        std::tie(plot.x, plot.y) = *heldAxes_;
    else
        measureExtent(plot);
    heldAxes_ = {plot.x, plot.y};
    addLimits(plot);
    if (magnifier_ && v->footTo > 0)
        plot.wordsUpTo = 0.56; // the foot stands at the right
    return plot;
}

void CurvePlot::measureExtent(Plot& plot)
{
    const CurveView* v = view();
    maxX_ = maxY_ = 1e-9;
    minX_ = 0;
    if (const auto& tree = plot.series.back().tree) {
        maxX_ = std::max(maxX_, tree->whole().x1);
        minX_ = std::min(minX_, tree->whole().x0);
        maxY_ = std::max(maxY_, tree->whole().y1);
    }
    for (size_t i = 0; i < v->x.size() && !plot.series.back().tree; ++i) {
        maxX_ = std::max(maxX_, v->x[i]);
        minX_ = std::min(minX_, v->x[i]);
        maxY_ = std::max(maxY_, v->y[i]);
    }
    for (const CurveLevel& level : v->levels)
        if (level.y < 1.5 * maxY_)
            maxY_ = std::max(maxY_, level.y);
    const Unit& xUnit = displayUnit(v->xAxis.kind, maxX_, units());
    const Unit& yUnit = displayUnit(v->yAxis.kind, maxY_, units());
    xScale_ = 1 / xUnit.factor;
    yScale_ = 1 / yUnit.factor;
    const auto titled = [](const CurveAxis& axis, const Unit& unit) {
        return q(axis.title) + ", " + q(std::string(unit.symbol));
    };
    const QString toe = std::abs(v->toe) > 1e-3 * maxX_
        ? QString(v->second ? " (counted from the line's zero: %1 %2)" : " (toe-corrected by %1 %2)")
              .arg(q(formatSignificant(v->toe * xScale_, 2)), q(std::string(xUnit.symbol)))
        : QString();
    const auto [x0, x1] = roomyRange(std::max(minX_, -0.04 * maxX_) * xScale_, maxX_ * xScale_);
    const auto [y0, y1] = roomyRange(0, maxY_ * yScale_ * 1.02);
    plot.x = {.title = titled(v->xAxis, xUnit) + toe,
              .factor = xScale_,
              .low = std::min(x0, std::max(minX_, -0.1 * maxX_) * xScale_),
              .high = x1};
    plot.y = {.title = titled(v->yAxis, yUnit), .factor = yScale_, .low = y0, .high = y1};
}

QRectF CurvePlot::footBox() const
{
    const QRectF area = chart().area();
    const double w = std::min(330.0, area.width() * 0.42);
    const double h = std::min(180.0, area.height() * 0.52);
    return {area.right() - w - 14, area.bottom() - h - 14, w, h};
}

Chart CurvePlot::footChart() const
{
    const QRectF box = footBox();
    const CurveView* v = view();
    if (v->footTo > 0) {
        const double right = 1.08 * v->footTo * xScale_,
                     high = (v->slope > 0 ? v->slope * (v->footTo - v->lineFrom) : 0.2 * maxY_) * yScale_;
        return {box.adjusted(12, 24, -12, -8), -0.06 * right, right, -0.26 * high, 1.02 * high};
    }
    double yield = std::min(maxY_, 3.2 * v->straightHigh);
    double most = 0;
    for (const CurveMark& m : v->marks)
        if (m.early)
            most = std::max(most, m.y);
    if (most > 0)
        yield = most;
    const double right = (1.25 * yield / v->slope + (v->offset ? std::max(offset_, 0.001) * 1.4 : 0)) * xScale_;
    return {box.adjusted(12, 24, -12, -14), -0.06 * right, right, -0.03 * yield * yScale_, 1.22 * yield * yScale_};
}

} // namespace fortitor
