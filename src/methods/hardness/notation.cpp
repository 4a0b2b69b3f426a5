// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/hardness/notation.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <span>

namespace fortitor {
namespace {

constexpr std::array pyramidForces{0.001, 0.002, 0.005, 0.01, 0.015, 0.02, 0.025, 0.05, 0.1,  0.2,   0.3,  0.5,
                                   1.0,   2.0,   2.5,   3.0,  5.0,   10.0, 20.0,  30.0, 50.0, 100.0, 120.0};
constexpr std::array brinellForces{1.0,   1.25,  2.5,   5.0,   6.25,  7.8125, 10.0,   15.625,
                                   25.0,  30.0,  31.25, 40.0,  62.5,  100.,   120.0,  125.0,
                                   187.5, 250.0, 300.0, 500.0, 750.0, 1000.0, 1500.0, 3000.0};

} // namespace

double nominalForce(double newton, HardnessScale::By by)
{
    const double kgf = findUnit("kgf", Kind::Force)->fromBase(newton);
    const std::span<const double> nominal = by == HardnessScale::By::Brinell ? std::span<const double>(brinellForces)
                                                                             : std::span<const double>(pyramidForces);
    const double nearest = *std::ranges::min_element(nominal, {}, [kgf](double n) { return std::abs(n - kgf) / n; });
    return std::abs(nearest - kgf) <= 0.01 * nearest ? nearest : kgf;
}

std::string hardnessNotation(const HardnessScale& scale, double number, const Pressed& pressed)
{
    using enum HardnessScale::By;
    if (scale.by == Rockwell)
        return formatFixed(number, 1) + " " + std::string(scale.name);
    std::string text = fmt::format("{} {} ", formatFixed(number, number < 99.95 ? 1 : 0), scale.name);
    if (scale.by == Brinell)
        text += fmt::format("{:.6g}/", pressed.ball);
    text += fmt::format("{:.6g}", nominalForce(pressed.force, scale.by));
    if (pressed.dwell && (*pressed.dwell < 10 || *pressed.dwell > 15))
        text += fmt::format("/{:.4g}", *pressed.dwell);
    return text;
}

} // namespace fortitor
