// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/overlay.h"

#include "curve/signal.h"

#include <algorithm>

namespace fortitor {

OverlayPlot overlayOf(const std::vector<OverlaidCurve>& curves, UnitSystem system)
{
    OverlayPlot out;
    const CurveAxis* x = nullptr;
    const CurveAxis* y = nullptr;
    double minX = 0, maxX = 0;
    double maxY = 0;
    for (const OverlaidCurve& c : curves) {
        if (!x) {
            x = &c.view->xAxis;
            y = &c.view->yAxis;
        }
        if (c.view->xAxis.kind != x->kind || c.view->yAxis.kind != y->kind) {
            out.mixed = true;
            continue;
        }
        out.plot.series.push_back(
            {.x = c.view->x, .y = c.view->y, .label = c.label, .kind = c.kind, .strong = c.strong, .aside = c.aside});
        if (c.view->x.size() > treeFrom)
            out.plot.series.back().tree = std::make_shared<ExtentTree>(c.view->x, c.view->y);
        if (c.aside)
            continue;
        const Extremes across = extremesOf(c.view->x);
        maxX = std::max(maxX, across.greatest);
        minX = std::min(minX, across.least);
        maxY = std::max(maxY, extremesOf(c.view->y).greatest);
    }
    if (!x)
        return out;
    const auto axis = [system](const CurveAxis& a, double most) {
        const Unit& unit = displayUnit(a.kind, most, system);
        return PlotAxis{.title = QString::fromStdString(a.title + ", " + std::string(unit.symbol)),
                        .factor = 1 / unit.factor};
    };
    out.plot.x = axis(*x, maxX);
    out.plot.y = axis(*y, maxY);
    out.plot.fit();
    constexpr double before = 0.02; // a quiet start longer than this is shown
    const double from = minX < -before * maxX ? minX : 0;
    std::tie(out.plot.x.low, out.plot.x.high) = roomyRange(from * out.plot.x.factor, maxX * out.plot.x.factor);
    std::tie(out.plot.y.low, out.plot.y.high) = roomyRange(0, maxY * out.plot.y.factor);
    return out;
}

OverlayPlot overlayOfPoints(const std::vector<OverlaidPoints>& all, UnitSystem system)
{
    OverlayPlot out;
    const ScatterView* first = nullptr;
    for (const OverlaidPoints& one : all) {
        if (!first) {
            first = one.view;
            out.plot = plotOf(ScatterView{.xAxis = first->xAxis, .yAxis = first->yAxis}, system);
            out.plot.series.clear();
            out.plot.troubles.clear();
        }
        if (one.view->xAxis.title != first->xAxis.title || one.view->yAxis.title != first->yAxis.title) {
            out.mixed = true;
            continue;
        }
        std::vector<double> x, y;
        for (const ScatterPoint& p : one.view->points)
            if (!p.left) {
                x.push_back(p.x);
                y.push_back(p.y);
            }
        out.plot.held.push_back(std::make_shared<const std::vector<double>>(std::move(x)));
        out.plot.held.push_back(std::make_shared<const std::vector<double>>(std::move(y)));
        out.plot.series.push_back({.x = *out.plot.held[out.plot.held.size() - 2],
                                   .y = *out.plot.held.back(),
                                   .label = one.label,
                                   .kind = one.kind,
                                   .joined = first->xAxis.kind == Kind::Length,
                                   .strong = one.strong,
                                   .aside = one.aside});
    }
    out.plot.fit();
    return out;
}

} // namespace fortitor
