// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/staircase.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double near = 0.02; // of a step

/// Steps from one level to another; nothing where it is no whole number.
std::optional<double> stepsFrom(double from, double to, double step)
{
    const double steps = std::round((to - from) / step);
    return std::abs((to - from) / step - steps) <= near ? std::optional(steps) : std::nullopt;
}

} // namespace

double stairStepOf(std::span<const StairRun> runs)
{
    std::vector<double> levels;
    for (const StairRun& run : runs)
        levels.push_back(run.range);
    std::ranges::sort(levels);
    double least = 0;
    for (size_t i = 1; i < levels.size(); ++i)
        if (const double apart = levels[i] - levels[i - 1]; apart > 1e-6 * levels[i] && (!(least > 0) || apart < least))
            least = apart;
    return least;
}

Expected<Stairs> readStairs(std::span<const StairRun> runs, double step)
{
    const auto broken = std::ranges::count(runs, true, &StairRun::broke);
    const auto whole = static_cast<std::ptrdiff_t>(runs.size()) - broken;
    if (broken == 0 || whole == 0)
        return Problem{"set", broken == 0 ? "no piece that broke" : "no run-out", "both on a staircase",
                       broken == 0 ? "Go on upwards." : "Go on downwards."};
    if (!(step > 0))
        return Problem{"options.step", "no step", "the step of the staircase, in ranges", "Set it on Plan."};
    Stairs s;
    s.step = step;
    s.byBroken = broken <= whole;
    std::vector<double> levels;
    for (const StairRun& run : runs)
        if (run.broke == s.byBroken)
            levels.push_back(run.range);
    s.least = *std::ranges::min_element(levels);
    for (const double level : levels) {
        const auto i = stepsFrom(s.least, level, step);
        if (!i)
            return Problem{"set", fmt::format("levels at {:g} and {:g} MPa", s.least, level),
                           fmt::format("whole steps of {:g} MPa between them", step),
                           "Correct the step on Plan, or leave the piece out."};
        s.N += 1;
        s.A += *i;
        s.B += *i * *i;
    }
    s.mean = s.least + step * (s.A / s.N + (s.byBroken ? -0.5 : 0.5));
    s.ratio = (s.N * s.B - s.A * s.A) / (s.N * s.N);
    if (s.ratio >= leastStairRatio)
        s.sd = 1.62 * step * (s.ratio + 0.029);
    for (size_t i = 1; i < runs.size(); ++i)
        if (stepsFrom(runs[i - 1].range, runs[i].range, step) != std::optional(runs[i - 1].broke ? -1.0 : 1.0))
            s.astray.push_back(i);
    return s;
}

} // namespace fortitor
