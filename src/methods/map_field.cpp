// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/map_field.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor {
namespace {

constexpr double nan = std::numeric_limits<double>::quiet_NaN();

struct Extent {
    double least = std::numeric_limits<double>::infinity();
    double greatest = -std::numeric_limits<double>::infinity();
    void see(double v)
    {
        least = std::min(least, v);
        greatest = std::max(greatest, v);
    }
    [[nodiscard]] double width() const { return greatest - least; }
};

std::vector<double> edgesOf(const Extent& extent, double margin, size_t count)
{
    std::vector<double> edges(count + 1);
    const double from = extent.least - margin;
    const double step = (extent.width() + 2 * margin) / static_cast<double>(count);
    for (size_t i = 0; i <= count; ++i)
        edges[i] = from + step * static_cast<double>(i);
    return edges;
}

double middle(const std::vector<double>& edges, size_t i)
{
    return 0.5 * (edges[i] + edges[i + 1]);
}

/// The value at a place, and how far the nearest point is.
std::pair<double, double> valueAt(const std::vector<const MapPoint*>& points, double x, double y)
{
    double sum = 0, weights = 0;
    double nearest = std::numeric_limits<double>::infinity();
    for (const MapPoint* p : points) {
        const double square = (p->x - x) * (p->x - x) + (p->y - y) * (p->y - y);
        nearest = std::min(nearest, square);
        if (square == 0)
            return {p->value, 0};
        sum += p->value / square;
        weights += 1 / square;
    }
    return {sum / weights, std::sqrt(nearest)};
}

/// How far a point lies from its nearest neighbour, the middle of all.
double usualDistance(const std::vector<const MapPoint*>& points)
{
    std::vector<double> nearest;
    for (const MapPoint* a : points) {
        double least = std::numeric_limits<double>::infinity();
        for (const MapPoint* b : points)
            if (a != b)
                least = std::min(least, std::hypot(a->x - b->x, a->y - b->y));
        nearest.push_back(least);
    }
    std::ranges::nth_element(nearest, nearest.begin() + static_cast<std::ptrdiff_t>(nearest.size() / 2));
    return nearest[nearest.size() / 2];
}

} // namespace

std::optional<MapField> fieldOf(const MapView& view, size_t columns)
{
    std::vector<const MapPoint*> points;
    Extent x, y, value;
    for (const MapPoint& p : view.points) {
        if (p.left || !std::isfinite(p.value) || !std::isfinite(p.x) || !std::isfinite(p.y))
            continue;
        points.push_back(&p);
        x.see(p.x);
        y.see(p.y);
        value.see(p.value);
    }
    if (points.size() < 4 || !(x.width() > 0) || !(y.width() > 0) || columns < 2)
        return std::nullopt;
    const double reach = usualDistance(points);
    MapField field;
    field.least = value.least;
    field.greatest = value.greatest;
    field.xEdges = edgesOf(x, reach / 2, columns);
    const double step = field.xEdges[1] - field.xEdges[0];
    const auto rows = static_cast<size_t>(std::clamp((y.width() + reach) / step, 2.0, 200.0));
    field.yEdges = edgesOf(y, reach / 2, rows);
    for (size_t r = 0; r < rows; ++r)
        for (size_t c = 0; c < columns; ++c) {
            const auto [v, far] = valueAt(points, middle(field.xEdges, c), middle(field.yEdges, r));
            field.values.push_back(far <= 1.5 * reach ? v : nan); // beyond, nothing was read
        }
    return field;
}

IsoLine isoLine(const MapField& field, double level)
{
    IsoLine line;
    const size_t columns = field.columns();
    const auto value = [&](size_t c, size_t r) { return field.values[r * columns + c]; };
    for (size_t r = 0; r + 1 < field.rows(); ++r)
        for (size_t c = 0; c + 1 < columns; ++c) {
            // Four neighbouring middles: where an edge between two of them passes the level.
            const size_t corner[4][2] = {{c, r}, {c + 1, r}, {c + 1, r + 1}, {c, r + 1}};
            std::vector<std::pair<double, double>> cuts;
            for (size_t k = 0; k < 4; ++k) {
                const auto [ca, ra] = std::pair(corner[k][0], corner[k][1]);
                const auto [cb, rb] = std::pair(corner[(k + 1) % 4][0], corner[(k + 1) % 4][1]);
                const double a = value(ca, ra);
                const double b = value(cb, rb);
                if (!std::isfinite(a) || !std::isfinite(b) || (a < level) == (b < level))
                    continue;
                const double share = (level - a) / (b - a);
                const double xa = middle(field.xEdges, ca), ya = middle(field.yEdges, ra);
                cuts.emplace_back(xa + share * (middle(field.xEdges, cb) - xa),
                                  ya + share * (middle(field.yEdges, rb) - ya));
            }
            for (size_t k = 0; k + 1 < cuts.size(); k += 2)
                line.emplace_back(cuts[k], cuts[k + 1]);
        }
    return line;
}

std::vector<double> isoLevels(const MapField& field)
{
    const double span = field.greatest - field.least;
    if (!(span > 0))
        return {};
    const double rough = span / 6;
    const double power = std::pow(10, std::floor(std::log10(rough)));
    double step = power;
    for (const double s : {2.0, 5.0, 10.0})
        if (step < rough)
            step = s * power;
    std::vector<double> levels;
    for (double level = std::ceil(field.least / step) * step; level < field.greatest; level += step)
        if (level > field.least)
            levels.push_back(level);
    return levels;
}

} // namespace fortitor
