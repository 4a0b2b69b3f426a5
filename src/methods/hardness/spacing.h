// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/readings.h"

#include <array>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// Where an indent is to be made or was made: centre and size, mm.
struct IndentPlace {
    double x = 0, y = 0;
    double across = 0;
};

/// The least distance of two centres, mm, by the rule in force; of Knoop whichever way the long diagonals lie.
bool tooClose(const HardnessSetting& setting, const IndentPlace& a, const IndentPlace& b);

/// The least distance from the centre to the edge, mm.
double leastFromEdge(const HardnessSetting& setting, double across);
/// The least distance of two centres, mm; of Knoop side by side.
double leastApart(const HardnessSetting& setting, double across);

/// Remarks on neighbours, edges and thickness, put to the indents they concern. Lengths in mm; nothing where they are
/// not known.
struct PieceSize {
    std::optional<double> thickness{}, layer{}, diameter{}, length{}, width{}, tip{};
    enum class Seen {
        Face,
        Side,
        Tooth
    } seen = Seen::Face; ///< the curved side of a round one; a tooth across its gear
    bool mounted = false; ///< in resin
};
PieceSize pieceSizeOf(const SpecimenInput& input);
/// How far a place lies from the edge, mm, where the outline is known; below 0: outside. Counted from the centre; of a
/// tooth the root is no edge, and its flanks are taken to be straight. Along a curved side x runs with the axis.
std::optional<double> fromEdge(const PieceSize& size, double x, double y);
/// The corners of what is seen, mm, round the piece; none where it is round or not known.
std::vector<std::array<double, 2>> outlineOf(const PieceSize& size);
/// The line that lies `within` its edges, mm; nothing where none does.
std::vector<std::array<double, 2>> insideOutline(const PieceSize& size, double within);
void checkPlaces(const HardnessSetting& setting, const PieceSize& size, std::span<PieceIndent> indents);

} // namespace fortitor
