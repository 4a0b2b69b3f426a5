// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/torsion/gauge_loss.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr double standsStill = 0.25; // of what the twist says it should move
constexpr double runsAway = 4;

/// Whether the gauge went from reading `a` to `b` as the bar did.
bool follows(std::span<const double> gauge, std::span<const double> twist, std::span<const double> torque,
             std::size_t a, std::size_t b)
{
    const double moved = gauge[b] - gauge[a];
    const double turned = twist[b] - twist[a];
    if (!std::isnan(turned)) {
        // One division either way is no judgement on a small step.
        const double grain = 4e-6;
        return moved > standsStill * turned - grain && moved < runsAway * std::abs(turned) + grain;
    }
    return torque[b] <= torque[a] || moved > 0;
}

} // namespace

std::optional<std::size_t> gaugeLost(std::span<const double> gauge, std::span<const double> twist,
                                     std::span<const double> torque)
{
    const std::size_t n = std::min({gauge.size(), twist.size(), torque.size()});
    std::optional<std::size_t> good; // the last reading that can be trusted
    std::optional<std::size_t> odd; // the first one since then that can't
    for (std::size_t i = 0; i < n; ++i) {
        if (std::isnan(gauge[i])) {
            if (good && !odd)
                odd = i;
            continue;
        }
        if (!good || follows(gauge, twist, torque, *good, i)) {
            good = i;
            odd.reset();
        } else if (!odd) {
            odd = i;
        }
    }
    // A gap alone at the very end may be a missed reading: two are wanted, or one that has gone wrong.
    if (!odd || (*odd + 1 == n && std::isnan(gauge[*odd])))
        return std::nullopt;
    return odd;
}

} // namespace fortitor
