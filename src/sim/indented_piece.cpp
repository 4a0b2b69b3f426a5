// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/indented_piece.h"

#include "sim/random.h"

#include <array>
#include <cmath>

namespace fortitor {
namespace {

constexpr std::array kinds{
    IndentedKind{"sill-pin",
                 "16MnCr5",
                 "HV",
                 {.core = 335, .surface = 742, .caseDepth = 0.88, .caseWidth = 0.09, .scatter = 0.008},
                 0.015},
    IndentedKind{"cast-bush", "grey iron", "HBW", {.core = 205, .surface = 205, .scatter = 0.02}, 0.03},
    IndentedKind{"stainless-bar", "X20Cr13", "HRBW", {.core = 97.5, .surface = 97.5, .scatter = 0.006}, 0.02},
    IndentedKind{"stainless-bar-hard", "X20Cr13", "HRC", {.core = 24, .surface = 24, .scatter = 0.02}, 0.05},
};

} // namespace

const IndentedKind* indentedKind(std::string_view material, std::string_view scale)
{
    for (const IndentedKind& kind : kinds)
        if (kind.scale == scale && material.find(kind.material) != std::string_view::npos)
            return &kind;
    return nullptr;
}

IndentedPiece drawPiece(const IndentedKind& kind, std::uint64_t seed)
{
    Random random(seed);
    IndentedPiece piece = kind.usual;
    const double harder = 1 + kind.between * random.normal();
    piece.core *= harder;
    piece.surface *= harder;
    piece.caseDepth *= 1 + 3 * kind.between * random.normal();
    piece.tester = 0.004 * random.normal();
    piece.seed = seed;
    return piece;
}

double trueHardness(const IndentedPiece& piece, std::optional<double> depth)
{
    if (!(piece.surface > piece.core))
        return piece.core;
    return piece.core
        + (piece.surface - piece.core) / (1 + std::exp((depth.value_or(0) - piece.caseDepth) / piece.caseWidth));
}

double indentedNumber(const IndentedPiece& piece, std::size_t n, std::optional<double> depth)
{
    Random random(piece.seed * 1000003 + n); // the same indent reads the same, in whatever order they are asked for
    return trueHardness(piece, depth) * (1 + piece.tester + piece.scatter * random.normal());
}

} // namespace fortitor
