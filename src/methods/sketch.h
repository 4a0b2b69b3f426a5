// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <string>
#include <vector>

namespace fortitor {

/// A line through points in a box of 40 × 40, y down.
using Stroke = std::vector<std::array<double, 2>>;

/// The small drawing that stands for a choice.
struct Sketch {
    std::vector<Stroke> strokes{};
    std::vector<std::array<double, 4>> filled{}; ///< left, top, width, height: where on the piece
};

/// A layer of a cross-section, top to bottom, that may be picked.
struct SketchLayer {
    double height = 0; ///< share of the whole
    std::string choice{}; ///< empty: it is not one
    enum class Fill { Solid, Foam, Dense, Thin } fill = Fill::Solid;
};

} // namespace fortitor
