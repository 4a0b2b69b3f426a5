// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/normal_tail.h"

#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

/// Above ÷ density far out, from the end of its continued fraction.
double tailOverDensity(double z)
{
    double below = z;
    for (int k = 40; k > 0; --k)
        below = z + k / below;
    return 1 / below;
}

constexpr double far = 5;
const double halfLogTwoPi = 0.5 * std::log(2 * std::numbers::pi);

} // namespace

double logAbove(double z)
{
    if (z < 0)
        return std::log1p(-0.5 * std::erfc(-z / std::numbers::sqrt2));
    if (z < far)
        return std::log(0.5 * std::erfc(z / std::numbers::sqrt2));
    return -0.5 * z * z - halfLogTwoPi + std::log(tailOverDensity(z));
}

double hazard(double z)
{
    if (z < far)
        return std::exp(-0.5 * z * z - halfLogTwoPi) / (0.5 * std::erfc(z / std::numbers::sqrt2));
    return 1 / tailOverDensity(z);
}

} // namespace fortitor
