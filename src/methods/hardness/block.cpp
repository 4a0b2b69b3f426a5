// SPDX-License-Identifier: GPL-3.0-or-later
// How far a tester may be off on its reference blocks.
#include "methods/hardness/block.h"

#include "methods/common/figures.h"
#include "methods/hardness/readings.h"

#include <algorithm>
#include <array>
#include <span>
#include <string_view>

namespace fortitor {
namespace {

/// Up to a number of the scale.
struct Level {
    std::string_view scale;
    double upTo;
    double error;
};

constexpr double any = 1e9;

constexpr std::array errors{
    Level{"HRA", 75, 2},    Level{"HRA", any, 1.5},  Level{"HRBW", 45, 4},    Level{"HRBW", 80, 3},
    Level{"HRBW", any, 2},  Level{"HRC", any, 1.5},  Level{"HRD", 70, 2},     Level{"HRD", any, 1.5},
    Level{"HREW", 90, 2.5}, Level{"HREW", any, 2},   Level{"HRFW", 90, 3},    Level{"HRFW", any, 2},
    Level{"HRGW", 50, 6},   Level{"HRGW", 75, 4.5},  Level{"HRGW", any, 3},   Level{"HRHW", any, 2},
    Level{"HRKW", 60, 4},   Level{"HRKW", any, 3},   Level{"HR15N", any, 2},  Level{"HR30N", any, 2},
    Level{"HR45N", any, 2}, Level{"HR15TW", any, 3}, Level{"HR30TW", any, 3}, Level{"HR45TW", any, 3},
};

/// Shares of the number.
constexpr std::array brinell{Level{"HBW", 125, 0.03}, Level{"HBW", 225, 0.025}, Level{"HBW", any, 0.02}};
/// By the diagonal, mm.
constexpr std::array pyramids{Level{"", 0.02, 0.10}, Level{"", 0.03, 0.08}, Level{"", 0.05, 0.06},
                              Level{"", 0.1, 0.04},  Level{"", 0.14, 0.03}, Level{"", any, 0.02}};

double errorOf(std::span<const Level> levels, std::string_view scale, double at)
{
    for (const Level& level : levels)
        if (level.scale == scale && at <= level.upTo)
            return level.error;
    return 0;
}

/// The spread grows with the depth: the greater of a floor and a share of what is left to the greatest number.
double rockwellSpread(const HardnessScale& scale, double number)
{
    const bool superficial = scale.step < 0.0015;
    if (superficial && scale.ball > 0)
        return std::max(2.4, 0.06 * (scale.full - number));
    if (superficial)
        return std::max(1.2, 0.04 * (scale.full - number));
    if (scale.ball > 0)
        return std::max(1.2, 0.04 * (scale.full - number));
    return std::max(0.8, 0.02 * (scale.full - number));
}

} // namespace

BlockLimits blockLimits(const HardnessScale& scale, double number, double across)
{
    using enum HardnessScale::By;
    if (scale.by == Rockwell)
        return {errorOf(errors, scale.name, number), rockwellSpread(scale, number)};
    const double share = scale.by == Brinell ? errorOf(brinell, scale.name, number) : errorOf(pyramids, "", across);
    return {share * number, 2 * share * number};
}

Expected<BlockLimits> blockLimitsOf(const SpecimenInput& input, const HardnessSetting& setting, double number)
{
    IndentReading sized;
    estimateSize(setting, number, sized);
    BlockLimits limits = blockLimits(*setting.scale, number, sized.across);
    for (const auto& [key, into] :
         {std::pair("block_error_limit", &limits.error), std::pair("block_spread_limit", &limits.spread)}) {
        const std::string own = optionOr(input, key, "");
        const auto stated = own.empty() ? std::nullopt : parseNumber(own);
        if (!own.empty() && (!stated || !(*stated > 0)))
            return Problem{std::string("options.") + key, '"' + own + '"', "a number above zero", {}};
        *into = stated.value_or(*into);
    }
    return limits;
}

std::optional<OwnLimit> ownLimitFor(std::span<const OwnLimit> table, std::string_view scale, double number)
{
    const OwnLimit* best = nullptr;
    for (const OwnLimit& one : table)
        if (one.scale == scale && number <= one.upTo && (!best || one.upTo < best->upTo))
            best = &one;
    return best ? std::optional(*best) : std::nullopt;
}

std::map<std::string, std::string> limitOptions(const OwnLimit& limit)
{
    return {{"block_error_limit", formatSignificant(limit.error, 6)},
            {"block_spread_limit", formatSignificant(limit.spread, 6)}};
}

std::string stampedOn(const SpecimenInput& input)
{
    return noteOf(input, "block");
}

std::vector<OwnLimit> startingLimits()
{
    std::vector<OwnLimit> all;
    const std::string source = "starting value, after the practice of verification";
    for (const Level& level : errors) {
        const HardnessScale& scale = *findHardnessScale(level.scale);
        const double upTo = std::min(level.upTo, scale.highest);
        all.push_back({std::string(level.scale), upTo, level.error, rockwellSpread(scale, upTo), source});
    }
    for (const Level& level : brinell) {
        const double upTo = std::min(level.upTo, findHardnessScale("HBW")->highest);
        all.push_back({"HBW", upTo, level.error * upTo, 2 * level.error * upTo, source + ", a share of the number"});
    }
    return all;
}

} // namespace fortitor
