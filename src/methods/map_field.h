// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/view.h"

#include <optional>
#include <utility>
#include <vector>

namespace fortitor {

/// The ground of a map between its points: values over a grid, row by row; NaN where no point is near.
struct MapField {
    std::vector<double> xEdges{}, yEdges{}, values{};
    double least = 0, greatest = 0; ///< of the points it was made from
    [[nodiscard]] size_t columns() const { return xEdges.empty() ? 0 : xEdges.size() - 1; }
    [[nodiscard]] size_t rows() const { return yEdges.empty() ? 0 : yEdges.size() - 1; }
};

/// Weighted by the inverse square of the distance (Shepard), which goes through every point and never beyond their
/// least
/// and greatest. Points that are left out do not count. Nothing for fewer than four points, or where they lie on a
/// line.
std::optional<MapField> fieldOf(const MapView& view, size_t columns = 48);

/// A line of one value on the field, as broken pieces: pairs of places, mm.
using IsoLine = std::vector<std::pair<std::pair<double, double>, std::pair<double, double>>>;
IsoLine isoLine(const MapField& field, double level);

/// Round levels between the least and the greatest, some five of them.
std::vector<double> isoLevels(const MapField& field);

} // namespace fortitor
