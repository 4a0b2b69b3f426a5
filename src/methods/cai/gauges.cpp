// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/cai/gauges.h"

#include "curve/signal.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Of those that tell something.
double meanOf(double a, double b)
{
    return std::isnan(a) ? b : std::isnan(b) ? a : (a + b) / 2;
}

double shareOf(double a, double b)
{
    return std::abs(a + b) > 0 ? (a - b) / (a + b) : std::numeric_limits<double>::quiet_NaN();
}

} // namespace

PlateStrains plateStrains(const FourStrains& at)
{
    PlateStrains s;
    s.front = meanOf(at[0], at[2]);
    s.back = meanOf(at[1], at[3]);
    s.left = meanOf(at[0], at[1]);
    s.right = meanOf(at[2], at[3]);
    s.mean = (s.front + s.back) / 2;
    s.bending = shareOf(s.front, s.back);
    s.leftBending = shareOf(at[0], at[1]);
    s.rightBending = shareOf(at[2], at[3]);
    s.sideways = shareOf(s.left, s.right);
    return s;
}

Balance balanceOf(const FourStrains& at, double least)
{
    Balance b;
    const PlateStrains s = plateStrains(at);
    b.bending = s.bending;
    b.sideways = s.sideways;
    if (!(s.mean > least)) {
        b.share.fill(std::numeric_limits<double>::quiet_NaN());
        b.words = std::isnan(s.mean) ? "A face has no gauge left: nothing can be said of its bending."
                                     : "Put a small load on: the gauges hardly tell anything yet.";
        return b;
    }
    for (size_t i = 0; i < at.size(); ++i)
        b.share[i] = at[i] / s.mean;
    size_t most = at.size();
    for (size_t i = 0; i < at.size(); ++i)
        if (!std::isnan(at[i]) && (most == at.size() || at[i] > at[most]))
            most = i;
    b.most = static_cast<Corner>(most);
    constexpr double limit = 0.10;
    b.even = std::abs(s.bending) <= limit && !(std::abs(s.sideways) > limit);
    b.words = b.even
        ? "Even within 10 %."
        : fmt::format("Ease the {} corner: it carries {:.0f} % of the mean.", cornerWords[most], 100 * b.share[most]);
    return b;
}

GaugeLife gaugeLife(std::span<const double> strain, std::span<const double> force, size_t onset, size_t top)
{
    GaugeLife life{strain.size(), {}};
    if (top <= onset + 4)
        return life;
    double greatest = 0;
    for (size_t i = onset; i <= top; ++i) {
        if (std::isnan(strain[i]))
            return {i, "has no reading"};
        greatest = std::max(greatest, std::abs(strain[i]));
    }
    const double noise = noiseOf(strain.subspan(onset, top + 1 - onset));
    // Between two readings a strain follows the force: a leap that the force knows nothing of is the gauge's own.
    const double climb = force[top] - force[onset];
    for (size_t i = onset + 1; i <= top; ++i) {
        const double step = std::abs(strain[i] - strain[i - 1]);
        const double ofForce = climb > 0 ? 10 * std::abs(force[i] - force[i - 1]) / climb * greatest : 0;
        constexpr double leap = 200e-6;
        if (step > leap && step > 12 * noise && step > ofForce)
            return {i, fmt::format("leaps by {:.0f} µε", 1e6 * step)};
    }
    // Standing still to the digit while the force climbs on by a twentieth.
    size_t still = onset;
    for (size_t i = onset + 1; i <= top; ++i) {
        if (strain[i] != strain[i - 1])
            still = i;
        else if (force[i] - force[still] > 0.05 * climb && i > still + 3)
            return {still, "stands still"};
    }
    return life;
}

} // namespace fortitor
