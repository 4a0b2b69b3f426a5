// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/first_maximum.h"

#include "curve/flat_top.h"
#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr double leastFall = 0.003;
constexpr double levelRise = 0.001;
constexpr double climbsOn = 0.01;
constexpr double levelFor = 0.01;
constexpr double leastTop = 0.1;

} // namespace

std::optional<FirstMaximum> findFirstMaximum(std::span<const double> x, std::span<const double> y, size_t from,
                                             double noise)
{
    if (from + 5 >= y.size())
        return std::nullopt;
    const double highest = extremesOf(y.subspan(from)).greatest;
    const double ratio = noise / (0.001 * highest);
    const size_t half =
        std::min({static_cast<size_t>(std::max(0.0, std::ceil((ratio * ratio - 1) / 2))), y.size() / 400, size_t{400}});
    const std::vector<double> s = smoothed(y, half);
    const double left = noise / std::sqrt(2.0 * static_cast<double>(half) + 1);
    size_t top = from;
    size_t levelStart = from; // where the curve last rose by more than `levelRise`
    std::optional<size_t> levelAt; // a stretch seen to be level, while it has not fallen yet
    for (size_t i = from; i <= s.size(); ++i) {
        const bool ended = i == s.size();
        const bool rises = !ended && s[i] > s[levelStart] * (1 + levelRise) + 2 * left;
        if (rises && !levelAt)
            levelStart = i;
        if (!ended && s[i] > s[top])
            top = i;
        if (s[top] < leastTop * highest)
            continue;
        const bool falls = !ended && s[top] - s[i] > std::max(leastFall * s[top], 9 * left);
        if (!falls && !ended && !levelAt && x[i] - x[levelStart] > std::max(levelFor, (x[levelStart] - x[from]) / 3))
            levelAt = levelStart;
        // A level stretch counts once it ends: by climbing on for good, or with the curve.
        const bool climbs = !ended && levelAt && s[i] > s[*levelAt] * (1 + climbsOn) + 2 * left;
        const bool level = levelAt && !falls && (climbs || ended);
        if (!falls && !level)
            continue;
        FirstMaximum found;
        found.level = level;
        const size_t centre = level ? *levelAt : top;
        // Its neighbourhood only: further on the curve may climb above it again.
        size_t a = centre;
        while (a > from && s[a - 1] > 0.97 * s[centre])
            --a;
        size_t b = centre;
        while (b + 1 < s.size() && s[b + 1] > 0.985 * s[centre] && s[b + 1] <= s[centre] + 4 * left)
            ++b;
        const size_t near = std::min(b, std::max(i, centre)) + 1 - a; // the height by what lies close
        found.peak = smoothPeak(x.subspan(a, near), y.subspan(a, near), noise, 0.985);
        const FlatTop where = findFlatTop(x.subspan(a, b + 1 - a), y.subspan(a, b + 1 - a), found.peak.index, noise);
        found.peak.x = where.x;
        found.peak.half = where.half;
        found.peak.index += a;
        if (level) {
            found.peak.index = centre;
            found.peak.x = x[centre];
            found.peak.value = s[centre];
        }
        const double flat = s[centre] * (1 - levelRise) - 2 * left;
        size_t c = centre;
        while (c > from && s[c - 1] >= flat)
            --c;
        size_t d = centre;
        while (d + 1 < s.size() && s[d + 1] >= flat)
            ++d;
        found.flatFrom = x[c];
        found.flatTo = x[d];
        if (level)
            found.peak.half = x[centre] - x[c];
        return found;
    }
    return std::nullopt;
}

} // namespace fortitor
