// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/struck_piece.h"

#include "reference/tables.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <random>

namespace fortitor {
namespace {

constexpr std::array struckShelf{
    StruckKind{"backstay-steel", "notched steel bars through their transition", "S355", false, 5, 112, -16, 22, 1.5, 6,
               160, 300, 0.2, 0.6, "charpy-v"},
    StruckKind{"nylon-gate", "notched bars of nylon at three temperatures", "PA66", true, 0.14, 0.62, 8, 28, 0.012,
               0.03, 150, 1.0, 0.001, 0.006, "izod-plastic", 3.2, 10.15, -30, 26.5},
};

/// Share of the way to the upper shelf: a logistic curve in the angle of a sigmoid of another form than any fit uses.
double shareAt(const StruckKind& kind, double temperature)
{
    return 0.5 * std::erfc(-(temperature - kind.middle) / kind.width * std::sqrt(std::numbers::pi) / 2);
}

} // namespace

std::span<const StruckKind> struckKinds()
{
    return struckShelf;
}

const StruckKind* struckKind(std::string_view material)
{
    const auto it = std::ranges::find_if(struckShelf, [&](const StruckKind& kind) {
        return material.find(kind.material) != std::string_view::npos;
    });
    return it == struckShelf.end() ? nullptr : &*it;
}

const StruckKind& struckLike(std::string_view material)
{
    if (const StruckKind* kind = struckKind(material))
        return *kind;
    const PublishedMaterial* row = findPublishedMaterial(material);
    const bool plastic = row ? row->kind == "plastic" : findPlasticRange(material) != nullptr;
    return *std::ranges::find(struckShelf, plastic, &StruckKind::plastic);
}

double trueEnergy(const StruckKind& kind, double temperature)
{
    return kind.lower + (kind.upper - kind.lower) * shareAt(kind, temperature);
}

StruckPiece strike(const StruckKind& kind, double temperature, std::uint64_t seed)
{
    std::mt19937_64 random(seed * 7919 + 13);
    // Box and Muller: the library's own draw differs from one to another.
    const auto even = [&] { return std::generate_canonical<double, 53>(random); };
    const auto normal = [&] { return std::sqrt(-2 * std::log(1 - even())) * std::cos(2 * std::numbers::pi * even()); };
    const double share = shareAt(kind, temperature);
    const double scatter = kind.scatterOnShelf + (kind.scatterBetween - kind.scatterOnShelf) * 4 * share * (1 - share);
    const double taken = std::max(0.3 * kind.lower, trueEnergy(kind, temperature) + scatter * normal());
    // The pointer shows the loss along with it, by the angles.
    const double alpha = kind.release * std::numbers::pi / 180;
    const double moment = kind.pendulum / (1 - std::cos(alpha));
    const double beta = std::acos(std::clamp(std::cos(alpha) + taken / moment, -1.0, 1.0));
    StruckPiece piece{.taken = taken};
    piece.energy = std::round((taken + kind.loss * (alpha + beta) / (2 * alpha)) / kind.step) * kind.step;
    piece.shear = std::clamp(std::round(20 * (share + 0.05 * normal())) / 20, 0.0, 1.0);
    piece.look = piece.shear < 0.12 ? "flat" : piece.shear > 0.9 ? "fibrous" : "mixed";
    piece.broken = kind.plastic && share > 0.6 ? (share > 0.85 ? "partial" : "hinge") : "complete";
    piece.expansion = std::max(0.0, std::round(100 * (0.05 + 1.9 * share + 0.05 * normal())) / 100);
    piece.way = std::round(10 * (3.1 + 0.5 * normal())) / 10;
    return piece;
}

} // namespace fortitor
