// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace fortitor {

/// A piece as hard as it is: the same all through, or hard at the surface and softer below. Numbers of one scale.
struct IndentedPiece {
    double core = 0;
    double surface = 0; ///< the same as the core where there is no case
    double caseDepth = 0; ///< mm, where it is half way between both
    double caseWidth = 0.1; ///< mm, over which it falls
    double scatter = 0; ///< of single indents, as a share of the number
    double tester = 0; ///< what the tester reads too high, as a share
    std::uint64_t seed = 1;
};

/// A kind of piece on the shelf of the simulated laboratory.
struct IndentedKind {
    std::string_view name;
    std::string_view material;
    std::string_view scale;
    IndentedPiece usual;
    double between = 0; ///< scatter from piece to piece, as a share
};

/// By the words of a material and the scale it is tested on; nullptr where the shelf has nothing like it.
const IndentedKind* indentedKind(std::string_view material, std::string_view scale);

/// One of that kind.
IndentedPiece drawPiece(const IndentedKind& kind, std::uint64_t seed);

/// How hard it truly is at a depth below the surface, mm; without one at the surface.
double trueHardness(const IndentedPiece& piece, std::optional<double> depth);

/// What the n-th indent would give, from 0: with the scatter of the piece and the tester's error.
double indentedNumber(const IndentedPiece& piece, std::size_t n, std::optional<double> depth);

} // namespace fortitor
