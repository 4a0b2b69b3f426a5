// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/yield_point.h"

#include "curve/line_fit.h"
#include "curve/maximum.h"
#include "curve/signal.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

namespace fortitor {
namespace {

constexpr double leastDrop = 0.005;
constexpr double notExceededFor = 0.0005; // strain
constexpr double mostPlastic = 0.005; // strain at ReH beyond the modulus line
constexpr double shortCut = 0.0025;

/// Half width of smoothing that brings the noise under 0.1 % of the level, no wider than `most` strain.
size_t smoothingHalf(std::span<const double> x, double noise, double level, size_t around, double most)
{
    const double ratio = noise / (0.001 * level);
    auto half = static_cast<size_t>(std::max(0.0, std::ceil((ratio * ratio - 1) / 2)));
    size_t widest = 0;
    while (around + widest + 1 < x.size() && x[around + widest + 1] - x[around] < most)
        ++widest;
    return std::min({half, std::max(widest, size_t{2}), size_t{400}});
}

struct Peak {
    size_t index = 0;
    size_t dropped = 0; ///< first index 0.5 % below it
};

std::optional<Peak> firstPeakThatDrops(std::span<const double> x, const std::vector<double>& s, double highest,
                                       double slope, double origin, double noise)
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

/// The first reading after the dip from which on the curve stays about where it is: half of what comes within the
/// next 0.1 % strain lies no higher.
std::optional<size_t> endOfFlank(std::span<const double> x, const std::vector<double>& s, size_t dip, size_t from,
                                 size_t to, double level)
{
    constexpr double ahead = 0.001;
    constexpr double furthest = 0.004; // strain after the dip
    constexpr size_t least = 4;
    std::vector<double> next;
    size_t end = from;
    for (size_t k = from; k < to && x[k] - x[dip] <= furthest; ++k) {
        while (end < to && x[end] < x[k] + ahead)
            ++end;
        next.assign(s.begin() + static_cast<std::ptrdiff_t>(k),
                    s.begin() + static_cast<std::ptrdiff_t>(std::max(end, std::min(k + least, to))));
        const auto middle = next.begin() + static_cast<std::ptrdiff_t>(next.size() / 2);
        std::ranges::nth_element(next, middle);
        if (*middle <= s[k] + level)
            return k;
    }
    return std::nullopt;
}

struct Hinge {
    double at = 0; ///< strain where the level ends
    double doubt = 0; ///< standard, strain
};

/// A level that turns into a rising parabola, by least squares over all places of the turn: the regression of a
/// plateau, and the tangent at the start of the hardening after it. Sums run over strain in units of the reach from
/// the first reading on and over stress from its mean, so that none loses digits.
std::optional<Hinge> fitHinge(std::span<const double> x, std::span<const double> y)
{
    constexpr double reach = 0.03; // strain of hardening that is looked at
    constexpr size_t places = 400;
    constexpr size_t least = 4;
    // The hardening may begin anywhere in a serration, whose level is not that of the regression.
    constexpr double doubtShare = 2.2;
    const size_t n = x.size();
    if (n < 2 * least)
        return std::nullopt;
    double mean = 0;
    for (const double v : y)
        mean += v / static_cast<double>(n);
    struct Sums {
        double u[5] = {}, v[3] = {}, vv = 0;
    };
    std::vector<Sums> before(n + 1);
    for (size_t i = 0; i < n; ++i) {
        const double u = (x[i] - x[0]) / reach;
        const double v = y[i] - mean;
        Sums& t = before[i + 1] = before[i];
        double power = 1;
        for (int k = 0; k < 5; ++k, power *= u) {
            t.u[k] += power;
            if (k < 3)
                t.v[k] += power * v;
        }
        t.vv += v * v;
    }
    std::optional<Hinge> best;
    double bestError = std::numeric_limits<double>::infinity();
    const size_t step = std::max<size_t>(1, (n - 2 * least + 2) / places);
    size_t end = 0;
    for (size_t k = 2; k + least <= n; k += step) {
        while (end < n && x[end] <= x[k] + reach)
            ++end;
        if (end < k + least)
            continue;
        const double at = (x[k] - x[0]) / reach;
        double u[5];
        double v[3];
        for (int p = 0; p < 5; ++p)
            u[p] = before[end].u[p] - before[k].u[p];
        for (int p = 0; p < 3; ++p)
            v[p] = before[end].v[p] - before[k].v[p];
        // Powers of h = u - at over the readings beyond the turn.
        const double h1 = u[1] - at * u[0];
        const double h2 = u[2] - 2 * at * u[1] + at * at * u[0];
        const double h3 = u[3] - 3 * at * u[2] + 3 * at * at * u[1] - at * at * at * u[0];
        const double h4 =
            u[4] - 4 * at * u[3] + 6 * at * at * u[2] - 4 * at * at * at * u[1] + at * at * at * at * u[0];
        const auto count = static_cast<double>(end);
        Eigen::Matrix3d m;
        m << count, h1, h2, h1, h2, h3, h2, h3, h4;
        const Eigen::Vector3d right(before[end].v[0], v[1] - at * v[0], v[2] - 2 * at * v[1] + at * at * v[0]);
        const Eigen::Vector3d c = m.ldlt().solve(right);
        const double error = std::max(0.0, before[end].vv - c.dot(right)) / count;
        if (!(c[1] > 0) || !(error < bestError))
            continue;
        bestError = error;
        best = Hinge{x[k],
                     std::max(doubtShare * std::sqrt(error) / (c[1] / reach),
                              0.5 * (x[std::min(k + step, n - 1)] - x[k - std::min(step, k)]) / std::sqrt(3.0))};
    }
    return best;
}

} // namespace

std::optional<YieldDrop> findYieldDrop(std::span<const double> x, std::span<const double> y, double slope,
                                       double origin, double noise)
{
    return findYieldDrop(x, y, slope, origin, noise, extremesOf(y).greatest);
}

std::optional<YieldDrop> findYieldDrop(std::span<const double> x, std::span<const double> y, double slope,
                                       double origin, double noise, double level)
{
    if (y.size() < 10)
        return std::nullopt;
    const auto around =
        static_cast<size_t>(std::ranges::find_if(y, [&](double v) { return v > 0.5 * level; }) - y.begin());
    const size_t half = smoothingHalf(x, noise, level, around, notExceededFor / 8);
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
    // What the first dip climbs out to is the plateau; on its flank there are no minima.
    // Its minima are wider than the peak: they may be smoothed more.
    const size_t wide = std::max(half, smoothingHalf(x, noise, level, firstMin, 0.0004));
    const std::vector<double> t = wide > half ? smoothed(y, wide) : s;
    const auto plateau = endOfFlank(x, t, firstMin, recovered, topAt, std::max(0.0005 * s[peak->index], 0.3 * left));
    size_t lower = firstMin;
    if (plateau) {
        lower = static_cast<size_t>(std::ranges::min_element(t.begin() + static_cast<std::ptrdiff_t>(*plateau),
                                                             t.begin() + static_cast<std::ptrdiff_t>(topAt))
                                    - t.begin());
        found.transientLeftOut = s[firstMin] < t[lower];
    }
    const size_t start = plateau.value_or(firstMin);
    const auto hinge = fitHinge(x.subspan(start, topAt - start), y.subspan(start, topAt - start));
    size_t hardening = std::max(lower, start);
    if (hinge)
        hardening =
            std::max(hardening, static_cast<size_t>(std::ranges::lower_bound(x.first(topAt), hinge->at) - x.begin()));

    // The top without its noise, from points close to the peak only.
    found.upper = s[peak->index];
    found.upperIndex = peak->index;
    const PeakFit top = smoothPeak(x.first(peak->dropped), y.first(peak->dropped), noise, 0.996, 200);
    if (top.n >= 5 && std::abs(top.value - found.upper) < 0.003 * found.upper)
        found.upper = std::max(top.value, found.upper - left);
    found.upperStrain = x[peak->index];
    found.lower = plateau ? t[lower] : s[lower];
    found.lowerIndex = lower;
    found.hardeningIndex = hardening;
    found.lowerShortCut = s[peak->dropped];
    for (size_t k = peak->index; k < s.size() && x[k] <= x[peak->index] + shortCut; ++k)
        found.lowerShortCut = std::min(found.lowerShortCut, s[k]);

    // Ae: the plateau's regression meets the tangent at the start of hardening.
    if (hinge && hinge->at > found.upperStrain) {
        found.extension = hinge->at - found.upperStrain;
        found.extensionDoubt = hinge->doubt;
    }
    return found;
}

} // namespace fortitor
