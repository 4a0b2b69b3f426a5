// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/fatigue_piece.h"

#include "sim/random.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor {
namespace {

constexpr FatigueKind details[] = {
    {.name = "rigger-lug",
     .words = "Lug welded on a rigger tube, S355, cracks from the weld toe",
     .material = "S355, fillet-welded lug",
     .slope = 3.05,
     .logA = 12.56,
     .scatter = 0.15},
    {.name = "aluminium-backstay",
     .words = "Backstay plate with a hole, EN AW-6082",
     .material = "EN AW-6082 T6, plate with hole",
     .slope = 5.2,
     .logA = 16.7,
     .scatter = 0.2,
     .elsewhere = 0.02,
     .stiffness = 60e3,
     .frequency = 20,
     .width = 30,
     .thickness = 6},
};

bool starts(std::string_view text, std::string_view with)
{
    return text.substr(0, with.size()) == with;
}

} // namespace

std::span<const FatigueKind> fatigueKinds()
{
    return details;
}

const FatigueKind* findFatigueKind(std::string_view name)
{
    const auto it = std::ranges::find(details, name, &FatigueKind::name);
    return it == std::end(details) ? nullptr : &*it;
}

const FatigueKind* fatigueKind(std::string_view material)
{
    for (const FatigueKind& kind : details)
        if (material == kind.material || (!material.empty() && starts(material, kind.material.substr(0, 4))))
            return &kind;
    return nullptr;
}

const FatigueKind& fatigueLike(std::string_view material)
{
    const FatigueKind* kind = fatigueKind(material);
    return kind ? *kind : details[0];
}

double FatiguePiece::life(double range) const
{
    if (!(range > 0) || range < kind->knee)
        return std::numeric_limits<double>::infinity();
    return early * std::pow(10, kind->logA - kind->slope * std::log10(range) + luck * kind->scatter);
}

double FatiguePiece::stiffnessAt(double share)
{
    const double f = std::clamp(share, 0.0, 1.0);
    return 1 - 0.015 * f - 0.25 * std::pow(f, 14);
}

FatiguePiece drawFatiguePiece(const FatigueKind& kind, std::uint64_t seed)
{
    Random random(seed * 2654435761U + 17);
    FatiguePiece piece{.kind = &kind, .luck = random.normal()};
    piece.elsewhere = random.even() < kind.elsewhere;
    if (piece.elsewhere)
        piece.early = random.between(0.4, 0.9);
    return piece;
}

FatigueEnd runToEnd(const FatiguePiece& piece, double range, double runOut, double stiffnessStop)
{
    const double life = piece.life(range);
    double share = 1;
    if (1 - FatiguePiece::stiffnessAt(1) > stiffnessStop) {
        double low = 0, high = 1;
        for (int step = 0; step < 60; ++step) {
            const double half = (low + high) / 2;
            (1 - FatiguePiece::stiffnessAt(half) < stiffnessStop ? low : high) = half;
        }
        share = high;
    }
    const double stop = std::ceil(share * life);
    if (!(stop < runOut))
        return {runOut, "run-out"};
    return {stop, piece.elsewhere ? "elsewhere" : "broken"};
}

} // namespace fortitor
