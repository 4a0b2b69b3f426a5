// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <utility>

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
    std::string_view words{}, shape{}, way{}; ///< in words; its shape; how it is read
    std::array<std::pair<std::string_view, std::string_view>, 4> options{}; ///< of the method; empty keys are none
    size_t count = 5; ///< indents that are made
    double first = 0, step = 0; ///< of a traverse, mm
    std::string_view truth{}; ///< symbol of what the simulator knows
    double depthAt = 0; ///< the truth is the depth where that number is crossed
};
std::span<const IndentedKind> indentedKinds();

/// By the words of a material and the scale it is tested on; nullptr where the shelf has nothing like it.
const IndentedKind* indentedKind(std::string_view material, std::string_view scale);
/// The same; any of that scale stands in where the shelf has nothing like it.
const IndentedKind* indentedLike(std::string_view material, std::string_view scale);

/// One of that kind.
IndentedPiece drawPiece(const IndentedKind& kind, std::uint64_t seed);

/// How hard it truly is at a depth below the surface, mm; without one at the surface.
double trueHardness(const IndentedPiece& piece, std::optional<double> depth);

/// Where the hardness falls through a number, mm below the surface; nothing where it does not.
std::optional<double> trueDepthAt(const IndentedPiece& piece, double number);

/// What the n-th indent would give, from 0: with the scatter of the piece and the tester's error.
double indentedNumber(const IndentedPiece& piece, std::size_t n, std::optional<double> depth);

} // namespace fortitor
