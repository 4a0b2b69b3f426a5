// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/view.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Counts what an axis has no place for.
struct AxisCheck {
    const ViewAxis& axis;
    size_t seen = 0, notNumbers = 0, offScale = 0;

    void see(double value)
    {
        ++seen;
        if (!std::isfinite(value))
            ++notNumbers;
        else if ((axis.scale == Scale::Log && value <= 0)
                 || (axis.scale == Scale::Probit && (value <= 0 || value >= 1)))
            ++offScale;
    }
    void tell(std::vector<std::string>& out) const
    {
        const std::string name = axis.title.empty() ? "an axis" : axis.title;
        if (notNumbers > 0)
            out.push_back(
                fmt::format("{} of {} figures of {} are not numbers and are not drawn.", notNumbers, seen, name));
        if (offScale > 0)
            out.push_back(fmt::format("{} of {} figures of {} have no place on a {} scale and are not drawn.", offScale,
                                      seen, name, axis.scale == Scale::Log ? "logarithmic" : "probability"));
    }
};

struct Troubles {
    std::vector<std::string> out{};

    void none() { out.emplace_back("There is no point to draw."); }
    void operator()(const CurveView& view)
    {
        const ViewAxis x{view.xAxis.title, view.xAxis.kind}, y{view.yAxis.title, view.yAxis.kind};
        AxisCheck xs{x}, ys{y};
        for (size_t i = 0; i < view.x.size() && i < view.y.size(); ++i) {
            xs.see(view.x[i]);
            ys.see(view.y[i]);
        }
        finish(xs, ys);
    }
    void operator()(const ScatterView& view)
    {
        const bool drawn = std::ranges::any_of(view.lines, [](const FittedLine& line) { return line.x.size() > 1; });
        if (!view.points.empty() || !drawn)
            places(view.points, view.xAxis, view.yAxis);
    }
    void operator()(const MapView& view)
    {
        places(view.points, view.xAxis, view.yAxis);
        AxisCheck values{view.value};
        for (const MapPoint& p : view.points)
            values.see(p.value);
        values.tell(out);
    }
    void operator()(const MatrixView& view)
    {
        if (view.cells.empty())
            return none();
        if ((view.xEdges.size() < 2 || view.yEdges.size() < 2)
            || view.cells.size() != (view.xEdges.size() - 1) * (view.yEdges.size() - 1))
            out.push_back(fmt::format("{} cells do not fill {} by {} classes.", view.cells.size(), view.xEdges.size(),
                                      view.yEdges.size()));
        AxisCheck cells{view.value};
        for (const double count : view.cells)
            cells.see(count);
        cells.tell(out);
    }
    template <class Point> void places(const std::vector<Point>& points, const ViewAxis& xAxis, const ViewAxis& yAxis)
    {
        AxisCheck xs{xAxis}, ys{yAxis};
        for (const Point& p : points) {
            xs.see(p.x);
            ys.see(p.y);
        }
        finish(xs, ys);
    }
    void finish(const AxisCheck& xs, const AxisCheck& ys)
    {
        if (xs.seen == 0)
            return none();
        xs.tell(out);
        ys.tell(out);
    }
};

} // namespace

std::string viewName(const View& view)
{
    struct Name {
        std::string operator()(const CurveView& v) const { return v.yAxis.title + " and " + v.xAxis.title; }
        std::string operator()(const ScatterView& v) const { return v.yAxis.title + " over " + v.xAxis.title; }
        std::string operator()(const MapView&) const { return "map"; }
        std::string operator()(const MatrixView&) const { return "matrix"; }
    };
    return std::visit(Name{}, view);
}

std::vector<std::string> viewTroubles(const View& view)
{
    Troubles troubles;
    std::visit(troubles, view);
    return std::move(troubles.out);
}

} // namespace fortitor
