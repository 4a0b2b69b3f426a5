// SPDX-License-Identifier: GPL-3.0-or-later
// The plot of each kind of view.
#include "draw/plot.h"
#include "methods/map_field.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace fortitor {
namespace {

PlotAxis axisOf(const ViewAxis& axis, double greatest, UnitSystem system)
{
    const Unit& unit = displayUnit(axis.kind, greatest, system);
    const QString name = QString::fromStdString(axis.title);
    const bool share = axis.scale == Scale::Probit;
    return {.title = share           ? name + ", %"
                : unit.symbol == "1" ? name
                                     : name + ", " + QString::fromStdString(std::string(unit.symbol)),
            .factor = share ? 1 : 1 / unit.factor,
            .scale = axis.scale};
}

double greatestOf(std::span<const double> values)
{
    double most = 0;
    for (const double v : values)
        most = std::isfinite(v) ? std::max(most, std::abs(v)) : most;
    return most;
}

struct PlotMaker {
    UnitSystem system;
    Plot plot{};

    std::span<const double> hold(std::vector<double> values)
    {
        plot.held.push_back(std::make_shared<const std::vector<double>>(std::move(values)));
        return *plot.held.back();
    }
    template <class Point> PlotSeries pointsOf(const std::vector<Point>& points)
    {
        PlotSeries s;
        s.joined = false;
        std::vector<double> x, y;
        for (const Point& p : points) {
            x.push_back(p.x);
            y.push_back(p.y);
            s.names.push_back(QString::fromStdString(p.label));
            s.left.push_back(p.left);
        }
        s.x = hold(std::move(x));
        s.y = hold(std::move(y));
        return s;
    }
    void operator()(const CurveView& view)
    {
        plot.x = axisOf({view.xAxis.title, view.xAxis.kind}, greatestOf(view.x), system);
        plot.y = axisOf({view.yAxis.title, view.yAxis.kind}, greatestOf(view.y), system);
        PlotSeries s{.x = view.x, .y = view.y, .label = QString::fromStdString(view.label)};
        if (view.x.size() > treeFrom)
            s.tree = std::make_shared<ExtentTree>(view.x, view.y);
        if (view.second && view.second->line)
            s.quiet = true;
        plot.series.push_back(std::move(s));
        if (view.second && view.second->line)
            plot.series.push_back({.x = view.second->x,
                                   .y = view.second->y,
                                   .label = QString::fromStdString(view.second->label),
                                   .kind = 1,
                                   .thin = true});
    }
    void operator()(const ScatterView& view)
    {
        PlotSeries points = pointsOf(view.points);
        for (const ScatterPoint& p : view.points)
            points.open.push_back(p.open);
        points.label = "readings";
        if (view.told)
            plot.told = [told = view.told](double x, double y) { return QString::fromStdString(told(x, y)); };
        plot.x = axisOf(view.xAxis, greatestOf(points.x), system);
        plot.y = axisOf(view.yAxis, greatestOf(points.y), system);
        size_t kind = 0;
        for (const FittedLine& line : view.lines) {
            ++kind;
            if (!line.low.empty())
                plot.bands.push_back({line.x, line.low, line.high, kind});
            // Held: a page that is not seen may be painted once more after its set was worked out anew.
            plot.series.push_back({.x = hold(line.x),
                                   .y = hold(line.y),
                                   .label = QString::fromStdString(line.label),
                                   .kind = kind,
                                   .thin = true});
        }
        addMarks(view);
        if (!addLooks(view, kind))
            plot.series.push_back(std::move(points));
    }
    /// Points that are of kinds, each kind a series of its own.
    bool addLooks(const ScatterView& view, size_t kind)
    {
        std::map<std::string, std::vector<ScatterPoint>> looks;
        for (const ScatterPoint& p : view.points)
            looks[p.look].push_back(p);
        if (looks.size() == 1 && looks.begin()->first.empty())
            return false;
        for (const auto& [look, points] : looks) {
            PlotSeries s = pointsOf(points);
            s.kind = ++kind;
            s.label = QString::fromStdString(look.empty() ? "not noted" : look);
            for (const ScatterPoint& p : points)
                s.open.push_back(p.open);
            plot.series.push_back(std::move(s));
        }
        return true;
    }
    void addMarks(const ScatterView& view)
    {
        double most = 0;
        for (const ScatterPoint& p : view.points)
            most = std::max(most, p.y);
        for (const ScatterMark& mark : view.marks)
            plot.limits.push_back(
                {.at = mark.at, .onX = mark.onX, .mark = true, .words = QString::fromStdString(mark.words)});
        for (const ScatterRegion& region : view.regions)
            plot.bands.push_back({{region.from, region.to},
                                  {0, 0},
                                  std::vector<double>(2, region.interval ? 0.03 * most : 1.08 * most),
                                  0,
                                  !region.interval,
                                  QString::fromStdString(region.words)});
        if (!view.gain.empty()) { // along the axis, below all
            std::vector<double> high;
            for (const double gain : view.gain)
                high.push_back(0.1 * most * gain);
            plot.bands.push_back({view.gainX, std::vector<double>(high.size(), 0.0), high, 2, false});
        }
    }
    void operator()(const MapView& view)
    {
        PlotSeries points = pointsOf(view.points);
        plot.x = axisOf(view.xAxis, greatestOf(points.x), system);
        plot.y = axisOf(view.yAxis, greatestOf(points.y), system);
        points.label = QString::fromStdString(view.value.title);
        addField(view);
        if (!view.outline.empty()) {
            std::vector<double> x, y;
            for (const auto& [a, b] : view.outline) {
                x.push_back(a);
                y.push_back(b);
            }
            x.push_back(x.front());
            y.push_back(y.front());
            plot.series.push_back({.x = hold(std::move(x)), .y = hold(std::move(y)), .kind = 7, .thin = true});
        }
        plot.series.push_back(std::move(points));
    }
    /// The ground between the points, shaded by value, and lines of one value with their number at an end.
    void addField(const MapView& view)
    {
        const auto field = fieldOf(view);
        if (!field || !(field->greatest > field->least))
            return;
        PlotCells cells{field->xEdges, field->yEdges, field->values};
        cells.ground = true;
        for (double& v : cells.values)
            v = (v - field->least) / (field->greatest - field->least);
        plot.cells = std::move(cells);
        size_t kind = 1;
        for (const double level : isoLevels(*field)) {
            std::vector<double> x, y;
            constexpr double gap = std::numeric_limits<double>::quiet_NaN();
            for (const auto& [a, b] : isoLine(*field, level)) {
                x.insert(x.end(), {a.first, b.first, gap});
                y.insert(y.end(), {a.second, b.second, gap});
            }
            if (!x.empty())
                plot.series.push_back({.x = hold(std::move(x)),
                                       .y = hold(std::move(y)),
                                       .label = QString::fromStdString(fmt::format("{:g}", level)),
                                       .kind = kind++,
                                       .thin = true});
        }
    }
    void operator()(const MatrixView& view)
    {
        plot.x = axisOf(view.xAxis, greatestOf(view.xEdges), system);
        plot.y = axisOf(view.yAxis, greatestOf(view.yEdges), system);
        plot.cells = PlotCells{view.xEdges, view.yEdges, view.cells};
    }
};

} // namespace

Plot plotOf(const View& view, UnitSystem system)
{
    PlotMaker maker{system};
    std::visit(maker, view);
    for (const std::string& words : viewTroubles(view))
        maker.plot.troubles.push_back(QString::fromStdString(words));
    maker.plot.fit();
    return std::move(maker.plot);
}

} // namespace fortitor
