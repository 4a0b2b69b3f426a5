// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/proof_load/arrest.h"
#include "units/gravity.h"

#include <cmath>

namespace fortitor {

Expected<ArrestForce> arrestForce(const ArrestCase& given)
{
    constexpr double g = standardGravity;
    const auto above = [](double v) { return v > 0 && std::isfinite(v); };
    if (!above(given.mass) || !(given.speed >= 0) || !(given.slack >= 0) || !std::isfinite(given.drive))
        return Problem{"arrest", "a mass at or below zero, or speed or slack below it", "mass above zero", {}};
    if ((given.distance && !above(*given.distance)) || (given.stiffness && !above(*given.stiffness)))
        return Problem{"arrest", "a stopping way or stiffness at or below zero", "above zero", {}};
    if (!given.distance && !given.stiffness)
        return Problem{"arrest", "neither stopping way nor stiffness", "one of them", {}};
    const double squared = given.speed * given.speed + 2 * (given.vertical ? g : given.drive) * given.slack;
    if (!(squared > 0))
        return Problem{"arrest", "no speed where the stop begins", "a speed, or slack under a driving force", {}};
    const double weight = given.vertical ? given.mass * g : 0;
    ArrestForce out{.speed = std::sqrt(squared)};
    if (given.distance) {
        out.distance = *given.distance;
        out.mean = given.mass * squared / (2 * out.distance) + weight;
        out.peak = given.mass * squared / out.distance + 2 * weight;
        return out;
    }
    // ½·k·s² = ½·m·v² + m·g·s
    const double k = *given.stiffness;
    out.distance = (weight + std::sqrt(weight * weight + k * given.mass * squared)) / k;
    out.peak = k * out.distance;
    out.mean = given.mass * squared / (2 * out.distance) + weight;
    return out;
}

std::optional<double> stiffnessOf(const Outcome& outcome)
{
    const Result* k = outcome.find("k");
    constexpr double perMetre = 1000; // N/mm → N/m
    return k && k->value ? std::optional(*k->value * perMetre) : std::nullopt;
}

} // namespace fortitor
