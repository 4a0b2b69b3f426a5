// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/next_run.h"

#include <algorithm>
#include <cmath>

namespace fortitor {

std::optional<NextRun> bestNextRun(const SnLine& line, const SnBound& bound, double reference,
                                   std::span<const SnPiece> pieces, std::vector<double>* levels,
                                   std::vector<double>* gains)
{
    const auto now = bound.rangeAt(line, reference);
    if (!now || pieces.empty())
        return std::nullopt;
    const auto [low, high] = std::ranges::minmax(pieces, {}, &SnPiece::range);
    const double longest = std::ranges::max(pieces, {}, &SnPiece::cycles).cycles;
    std::optional<NextRun> best;
    constexpr int places = 24;
    for (int k = 0; k <= places; ++k) {
        const double range = low.range * std::pow(high.range / low.range, static_cast<double>(k) / places);
        const double life = std::pow(10, line.logLifeAt(range)), x = std::log10(range);
        SnLine with = line; // on the mean line it changes nothing but what the line rests on
        const auto n = static_cast<double>(line.broken);
        with.broken += 1;
        with.middle = (n * line.middle + x) / (n + 1);
        with.spread = line.spread + (x - line.middle) * (x - line.middle) * n / (n + 1);
        const double then = life <= longest ? bound.rangeAt(with, reference).value_or(0) : 0;
        if (levels) {
            levels->push_back(range);
            gains->push_back(std::max(0.0, then - *now));
        }
        if (then > (best ? best->then : 0))
            best = NextRun{range, life, *now, then};
    }
    constexpr double worth = 1.005;
    return best && best->then > worth * *now ? best : std::nullopt;
}

FrameTime frameTimeOf(const SetInput& set, const std::optional<SnLine>& line, double longest)
{
    FrameTime time;
    for (size_t i = 0; i < set.inputs.size(); ++i) {
        const SpecimenInput& input = *set.inputs[i];
        const double hertz = notedFrequency(input);
        const Result* N = set.outcomes[i] ? set.outcomes[i]->find("N") : nullptr;
        if (N && N->value) {
            time.done += hertz > 0 ? *N->value / hertz : 0;
            continue;
        }
        ++time.runs;
        const auto range = plannedRange(input);
        if (!range || !(hertz > 0) || !line) {
            ++time.unknown;
            continue;
        }
        const double life = std::pow(10, line->logLifeAt(*range));
        time.left += (longest > 0 ? std::min(life, longest) : life) / hertz;
    }
    return time;
}

} // namespace fortitor
