// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/plot.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace fortitor {
namespace {

struct Extent {
    double low = std::numeric_limits<double>::infinity();
    double high = -std::numeric_limits<double>::infinity();

    void see(double v, Scale scale)
    {
        if (!std::isfinite(Chart::onScale(scale, v)))
            return;
        low = std::min(low, v);
        high = std::max(high, v);
    }
    void see(std::span<const double> values, const PlotAxis& axis)
    {
        for (const double v : values)
            see(v * axis.factor, axis.scale);
    }
};

void fitAxis(PlotAxis& axis, const Extent& extent)
{
    if (!(extent.low <= extent.high)) {
        axis.low = axis.scale == Scale::Log ? 1 : axis.scale == Scale::Probit ? 0.005 : 0;
        axis.high = axis.scale == Scale::Log ? 1000 : axis.scale == Scale::Probit ? 0.995 : 1;
        return;
    }
    if (axis.scale == Scale::Log) {
        const double room = std::max(1.15, std::pow(extent.high / extent.low, 0.06));
        axis.low = extent.low / room;
        axis.high = extent.high * room;
        return;
    }
    if (axis.scale == Scale::Probit) {
        axis.low = std::min(0.01, 0.6 * extent.low);
        axis.high = std::max(0.99, 1 - 0.6 * (1 - extent.high));
        return;
    }
    const bool fromZero = axis.fromZero && extent.low >= 0 && extent.low < 0.6 * extent.high;
    std::tie(axis.low, axis.high) = roomyRange(fromZero ? 0 : extent.low, extent.high);
}

std::string quoted(const QString& text)
{
    std::string out = "\"";
    for (const char c : text.toStdString())
        out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

} // namespace

void Plot::fit()
{
    Extent xs, ys;
    for (const PlotSeries& s : series) {
        if (s.tree) {
            const ExtentTree::Box box = s.tree->whole();
            for (const double v : {box.x0, box.x1})
                xs.see(v * x.factor, x.scale);
            for (const double v : {box.y0, box.y1})
                ys.see(v * y.factor, y.scale);
            continue;
        }
        xs.see(s.x, x);
        ys.see(s.y, y);
    }
    for (const PlotBand& b : bands) {
        ys.see(b.low, y);
        ys.see(b.high, y);
    }
    if (bars) {
        xs.see(bars->edges, x);
        ys.see(bars->heights, y);
        ys.see(0, y.scale);
    }
    if (cells) {
        xs.see(cells->xEdges, x);
        ys.see(cells->yEdges, y);
    }
    for (const PlotLimit& l : limits)
        (l.onX ? xs : ys).see(l.at * (l.onX ? x : y).factor, (l.onX ? x : y).scale);
    fitAxis(x, xs);
    fitAxis(y, ys);
}

QRectF Plot::areaIn(const QRectF& room, double scale) const
{
    return room.adjusted(56 * scale, (26 + above) * scale, -(18 + beside) * scale, -44 * scale);
}

Chart Plot::chartIn(const QRectF& room, double scale) const
{
    return {areaIn(room, scale), x.low, x.high, y.low, y.high, x.scale, y.scale};
}

std::string Plot::csv() const
{
    // Series side by side, each with its own x.
    std::string out;
    size_t rows = 0;
    for (const PlotSeries& s : series) {
        const bool named = !s.names.empty();
        out += (out.empty() ? "" : ",") + (named ? std::string("label,") : std::string())
            + quoted((s.label.isEmpty() ? QString() : s.label + " ") + x.title) + ","
            + quoted((s.label.isEmpty() ? QString() : s.label + " ") + y.title);
        rows = std::max(rows, std::min(s.x.size(), s.y.size()));
    }
    out += "\n";
    for (size_t i = 0; i < rows; ++i) {
        std::string line;
        for (const PlotSeries& s : series) {
            line += &s == &series.front() ? "" : ",";
            const bool here = i < std::min(s.x.size(), s.y.size());
            if (!s.names.empty())
                line += (here && i < s.names.size() ? quoted(s.names[i]) : std::string()) + ",";
            line += here ? fmt::format("{},{}", s.x[i] * x.factor, s.y[i] * y.factor) : std::string(",");
        }
        out += line + "\n";
    }
    if (bars) {
        out = quoted(x.title) + ",to," + quoted(y.title) + "\n";
        for (size_t i = 0; i < bars->heights.size() && i + 1 < bars->edges.size(); ++i)
            out += fmt::format("{},{},{}\n", bars->edges[i] * x.factor, bars->edges[i + 1] * x.factor,
                               bars->heights[i] * y.factor);
    }
    if (cells && !cells->ground) {
        const size_t columns = cells->xEdges.empty() ? 0 : cells->xEdges.size() - 1;
        out = quoted(x.title) + ",to," + quoted(y.title) + ",to,count\n";
        for (size_t i = 0; columns > 0 && i < cells->values.size() && i / columns + 1 < cells->yEdges.size(); ++i)
            out += fmt::format("{},{},{},{},{}\n", cells->xEdges[i % columns] * x.factor,
                               cells->xEdges[i % columns + 1] * x.factor, cells->yEdges[i / columns] * y.factor,
                               cells->yEdges[i / columns + 1] * y.factor, cells->values[i]);
    }
    return out;
}

} // namespace fortitor
