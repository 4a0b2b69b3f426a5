// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/yield_point.h"

#include "curve/line_fit.h"
#include "curve/maximum.h"
#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr double leastDrop = 0.005;
constexpr double notExceededFor = 0.0005; // strain
constexpr double mostPlastic = 0.005;     // strain at ReH beyond the modulus line
constexpr double shortCut = 0.0025;

/// Half width of smoothing that brings the noise under 0.1 % of the level, no wider than an eighth
/// of the strain over which a drop must hold.
size_t smoothingHalf(std::span<const double> x, double noise, double level, size_t around)
{
    const double ratio = noise / (0.001 * level);
    auto half = static_cast<size_t>(std::max(0.0, std::ceil((ratio * ratio - 1) / 2)));
    size_t widest = 0;
    while (around + widest + 1 < x.size() && x[around + widest + 1] - x[around] < notExceededFor / 8)
        ++widest;
    return std::min({half, std::max(widest, size_t{2}), size_t{400}});
}

struct Peak {
    size_t index = 0;
    size_t dropped = 0; ///< first index 0.5 % below it
};

std::optional<Peak> firstPeakThatDrops(std::span<const double> x, const std::vector<double>& s, double highest, double slope, double origin, double noise)
{
    size_t top = 0;
    for (size_t i = 1; i < s.size(); ++i) {
        if (s[i] > s[top])
            top = i;
        if (s[top] < 0.2 * highest || s[i] > s[top] * (1 - leastDrop) - 2 * noise)
            continue;
        if (x[top] - origin - s[top] / slope > mostPlastic)
            return std::nullopt;
        size_t j = i;
        bool exceeded = false;
        for (; j < s.size() && x[j] <= x[top] + notExceededFor && !exceeded; ++j)
            exceeded = s[j] > s[top];
        if (!exceeded)
            return Peak{top, i};
        i = j;
    }
    return std::nullopt;
}

} // namespace

std::optional<YieldDrop> findYieldDrop(std::span<const double> x, std::span<const double> y, double slope, double origin, double noise)
{
    if (y.size() < 10)
        return std::nullopt;
    const double level = extremesOf(y).greatest;
    const auto around = static_cast<size_t>(std::ranges::find_if(y, [&](double v) { return v > 0.5 * level; }) - y.begin());
    const size_t half = smoothingHalf(x, noise, level, around);
    const double left = noise / std::sqrt(2.0 * static_cast<double>(half) + 1);
    // Most curves are rounded: only where a drop could still count are they smoothed to look for it.
    size_t reach = around;
    const double far = mostPlastic + 4 * notExceededFor;
    for (size_t beyond = 0; reach < x.size() && beyond < 50; ++reach)
        beyond = x[reach] - origin - y[reach] / slope > far ? beyond + 1 : 0;
    const size_t first = std::min(x.size(), reach + 2 * half + 1);
    if (!firstPeakThatDrops(x.first(first), smoothed(y.first(first), half), level, slope, origin, left))
        return std::nullopt;
    const std::vector<double> s = smoothed(y, half);
    const auto peak = firstPeakThatDrops(x, s, level, slope, origin, left);
    if (!peak)
        return std::nullopt;

    YieldDrop found;
    // The first minimum after the peak: the lowest until the stress is clearly up again.
    const double clear = std::max(0.003 * s[peak->index], 4 * left);
    size_t firstMin = peak->dropped;
    size_t i = peak->dropped;
    for (; i < s.size() && s[i] < s[firstMin] + clear; ++i)
        if (s[i] < s[firstMin])
            firstMin = i;
    if (i >= s.size())
        return std::nullopt; // it never rose again: necking or the break, not yielding
    const size_t recovered = i;

    const size_t topAt = recovered + indexOfGreatest(std::span(s).subspan(recovered));
    // The last point that lies clearly below what was reached before it: after it only hardening.
    size_t hardening = firstMin;
    double reached = s[firstMin];
    for (size_t k = recovered; k < topAt; ++k) {
        reached = std::max(reached, s[k]);
        if (reached - s[k] >= 0.7 * clear)
            hardening = k;
    }
    if (hardening > firstMin) {
        const size_t from = hardening;
        for (size_t k = from; k < topAt && s[k] < s[from] + clear; ++k)
            if (s[k] < s[hardening])
                hardening = k;
    }
    size_t lower = firstMin;
    if (hardening > recovered) {
        size_t later = recovered;
        for (size_t k = recovered; k <= hardening; ++k)
            if (s[k] < s[later])
                later = k;
        found.transientLeftOut = s[firstMin] < s[later];
        lower = later;
    }

    // The top without its noise, from points close to the peak only.
    found.upper = s[peak->index];
    found.upperIndex = peak->index;
    const PeakFit top = smoothPeak(x.first(peak->dropped), y.first(peak->dropped), 0.996, 200);
    if (top.n >= 5 && std::abs(top.value - found.upper) < 0.003 * found.upper)
        found.upper = std::max(top.value, found.upper - left);
    found.upperStrain = x[peak->index];
    found.lower = s[lower];
    found.lowerIndex = lower;
    found.hardeningIndex = hardening;
    found.lowerShortCut = s[peak->dropped];
    for (size_t k = peak->index; k < s.size() && x[k] <= x[peak->index] + shortCut; ++k)
        found.lowerShortCut = std::min(found.lowerShortCut, s[k]);

    // Ae: the horizontal through the last minimum against the steepest tangent after it.
    const double window = 0.002;
    double steepest = 0;
    double tangentX = 0;
    double tangentY = 0;
    for (size_t a = hardening, b = hardening; a < topAt && x[a] < x[hardening] + 0.03; a += std::max(size_t{1}, (topAt - hardening) / 400)) {
        while (b < topAt && x[b] < x[a] + window)
            ++b;
        if (b >= topAt || x[b] <= x[a])
            break;
        const double rise = (s[b] - s[a]) / (x[b] - x[a]);
        if (rise > steepest) {
            steepest = rise;
            tangentX = 0.5 * (x[a] + x[b]);
            tangentY = 0.5 * (s[a] + s[b]);
        }
    }
    if (steepest > 0) {
        const double meets = tangentX - (tangentY - s[hardening]) / steepest;
        if (meets > found.upperStrain)
            found.extension = meets - found.upperStrain;
    }
    return found;
}

} // namespace fortitor
