// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/indented_piece.h"

#include "sim/random.h"

#include <cmath>

namespace fortitor {

std::optional<double> trueDepthAt(const IndentedPiece& piece, double number)
{
    if (!(number > piece.core && number < piece.surface))
        return std::nullopt;
    return piece.caseDepth + piece.caseWidth * std::log((piece.surface - piece.core) / (number - piece.core) - 1);
}

const IndentedKind* indentedKind(std::string_view material, std::string_view scale)
{
    for (const IndentedKind& kind : indentedKinds())
        if (kind.scale == scale && material.find(kind.material) != std::string_view::npos)
            return &kind;
    return nullptr;
}

const IndentedKind* indentedLike(std::string_view material, std::string_view scale)
{
    if (const IndentedKind* kind = indentedKind(material, scale))
        return kind;
    const auto any = std::ranges::find(indentedKinds(), scale, &IndentedKind::scale);
    return any == indentedKinds().end() ? nullptr : &*any;
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
