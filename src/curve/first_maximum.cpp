// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/first_maximum.h"

#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr double leastFall = 0.003;
constexpr double levelRise = 0.001;
constexpr double levelFor = 0.01;
constexpr double least = 0.1;

} // namespace

std::optional<FirstMaximum> findFirstMaximum(std::span<const double> x, std::span<const double> y, size_t from, double noise)
{
    if (from + 5 >= y.size())
        return std::nullopt;
    const double highest = extremesOf(y.subspan(from)).greatest;
    const double ratio = noise / (0.001 * highest);
    const size_t half = std::min({static_cast<size_t>(std::max(0.0, std::ceil((ratio * ratio - 1) / 2))), y.size() / 400, size_t{400}});
    const std::vector<double> s = smoothed(y, half);
    const double left = noise / std::sqrt(2.0 * static_cast<double>(half) + 1);
    size_t top = from;
    size_t levelStart = from; // where the curve last rose by more than `levelRise`
    for (size_t i = from; i < s.size(); ++i) {
        if (s[i] > s[levelStart] * (1 + levelRise) + 2 * left)
            levelStart = i;
        if (s[i] > s[top])
            top = i;
        if (s[top] < least * highest)
            continue;
        const bool falls = s[top] - s[i] > std::max(leastFall * s[top], 9 * left);
        const double reached = x[levelStart] - x[from];
        const bool level = !falls && x[i] - x[levelStart] > std::max(levelFor, reached / 3);
        if (!falls && !level)
            continue;
        FirstMaximum found;
        found.level = level;
        const size_t centre = level ? levelStart : top;
        // Its neighbourhood only: further on the curve may climb above it again.
        size_t a = centre;
        while (a > from && s[a - 1] > 0.97 * s[centre])
            --a;
        size_t b = centre;
        while (b + 1 < s.size() && s[b + 1] > 0.985 * s[centre] && b < i)
            ++b;
        found.peak = smoothPeak(x.subspan(a, b + 1 - a), y.subspan(a, b + 1 - a), 0.985);
        found.peak.index += a;
        if (level) {
            found.peak.index = centre;
            found.peak.x = x[centre];
            found.peak.value = s[centre];
        }
        return found;
    }
    return std::nullopt;
}

} // namespace fortitor
