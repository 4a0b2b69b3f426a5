// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/block_program.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

double middle(const RangeBin& bin)
{
    return (bin.from + bin.to) / 2;
}

/// Of the cycles in bins [first, last) of the histogram.
double meanOf(const Counts& counts, size_t first, size_t last)
{
    const size_t bins = counts.histogram.size();
    double sum = 0, all = 0;
    for (size_t row = 0; row < counts.levels.size(); ++row)
        for (size_t k = first; k < last; ++k) {
            const double n = counts.rangeMean[row * bins + k];
            sum += n * counts.levels[row];
            all += n;
        }
    return all > 0 ? sum / all : 0;
}

} // namespace

Expected<BlockProgram> blockProgram(const Counts& counts, size_t steps, std::uint64_t cycles, double exponent)
{
    const size_t bins = counts.histogram.size();
    if (steps < 1 || steps > bins)
        return Problem{"steps", fmt::format("{}", steps), fmt::format("1 to {}", bins), {}};
    if (cycles < 1 || cycles > 100'000'000)
        return Problem{"cycles", fmt::format("{}", cycles), "1 to 100 000 000", {}};
    if (!(counts.cycles > 0))
        return Problem{"block program", "a history without a cycle", "one that moves", {}};
    BlockProgram out;
    std::vector<BlockStep> up;
    double kept = 0, whole = 0, rare = 0;
    const double scale = static_cast<double>(cycles) / counts.cycles;
    for (size_t step = 0; step < steps; ++step) {
        const size_t first = step * bins / steps, last = (step + 1) * bins / steps;
        double n = 0, work = 0;
        for (size_t k = first; k < last; ++k) {
            n += counts.histogram[k].count;
            work += counts.histogram[k].count * std::pow(middle(counts.histogram[k]), exponent);
        }
        whole += work * scale;
        if (!(n > 0))
            continue;
        const BlockStep one{std::pow(work / n, 1 / exponent), meanOf(counts, first, last),
                            static_cast<std::uint64_t>(std::llround(n * scale))};
        if (one.cycles == 0) {
            rare = rare > 0 ? rare : one.range;
            continue;
        }
        kept += static_cast<double>(one.cycles) * std::pow(one.range, exponent);
        out.cycles += one.cycles;
        up.push_back(one);
    }
    // Half of each step on the way up, the rest on the way down; the greatest stands once in the middle.
    for (size_t i = 0; i + 1 < up.size(); ++i)
        if (up[i].cycles > 1)
            out.steps.push_back({up[i].range, up[i].mean, up[i].cycles / 2});
    if (!up.empty())
        out.steps.push_back(up.back());
    for (size_t i = up.size() - 1; i-- > 0 && !up.empty();)
        out.steps.push_back({up[i].range, up[i].mean, up[i].cycles - (up[i].cycles > 1 ? up[i].cycles / 2 : 0)});
    out.share = whole > 0 ? kept / whole : 0;
    if (rare > 0)
        out.left = fmt::format("ranges from {:.4g} up come less than once in {} cycles", rare, cycles);
    return out;
}

std::string blockCsv(const BlockProgram& program, const std::string& unit)
{
    std::string text = fmt::format("step,cycles,range ({0}),mean ({0}),least ({0}),greatest ({0})\n", unit);
    size_t number = 0;
    for (const BlockStep& s : program.steps)
        fmt::format_to(std::back_inserter(text), "{},{},{:.6g},{:.6g},{:.6g},{:.6g}\n", ++number, s.cycles, s.range,
                       s.mean, s.mean - s.range / 2, s.mean + s.range / 2);
    return text;
}

std::vector<GassnerPoint> gassnerLine(const Counts& counts, const DamageCurve& curve, size_t points)
{
    std::vector<GassnerPoint> line;
    if (!(counts.cycles > 0) || !counts.damage)
        return line;
    const auto perCycle = [&](double factor) {
        LongSum sum;
        for (const RangeBin& bin : counts.histogram)
            if (bin.count > 0)
                sum.add(bin.count * curve.perCycle(factor * middle(bin)));
        return sum.value() / counts.cycles;
    };
    const double here = perCycle(1), exact = *counts.damage * curve.sum / counts.cycles;
    const double put = here > 0 && exact > 0 ? exact / here : 1;
    constexpr double widest = 3;
    for (size_t i = 0; i < points; ++i) {
        const double factor =
            std::pow(widest, 2 * static_cast<double>(i) / static_cast<double>(std::max<size_t>(1, points - 1)) - 1);
        if (const double damage = put * perCycle(factor); damage > 0)
            line.push_back({factor * counts.rangeMax, curve.sum / damage});
    }
    return line;
}

} // namespace fortitor
