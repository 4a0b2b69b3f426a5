// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/options.h"

namespace fortitor::usual {

OptionSpec strainFrom(const std::string& help)
{
    return {.key = "strain_from",
            .label = "Strain from",
            .choices = {"extensometer", "crosshead"},
            .fallback = "extensometer",
            .help = help};
}

OptionSpec compliance(const std::string& help)
{
    return {.key = "compliance", .label = "Machine compliance", .kind = Kind::Compliance, .help = help};
}

OptionSpec areaFrom(const std::string& help)
{
    return {
        .key = "area_from", .label = "Section from", .choices = {"mean", "least"}, .fallback = "mean", .help = help};
}

OptionSpec forceZero()
{
    return {.key = "force_zero",
            .label = "Force at the start",
            .choices = {"auto", "start", "none"},
            .fallback = "auto",
            .help = "Whether the force of the quiet start is taken off."};
}

OptionSpec peak()
{
    return {.key = "peak",
            .label = "Maximum force",
            .choices = {"smooth", "raw"},
            .fallback = "smooth",
            .help = "Without its noise, or the single highest reading.",
            .words = {{"smooth", "smoothed"}, {"raw", "highest reading"}}};
}

OptionSpec extensometerOff(const std::string& fallback)
{
    return {.key = "extensometer_off",
            .label = "Extensometer off at",
            .fallback = fallback,
            .kind = Kind::Strain,
            .help = "Before the break reaches it; empty: it stays on as far as its travel allows.",
            .role = OptionSpec::Role::Run};
}

OptionSpec firstGrip(const std::string& help)
{
    return {.key = "first_grip",
            .label = "Grip first",
            .choices = {"top", "lower"},
            .fallback = "top",
            .help = help,
            .role = OptionSpec::Role::Run};
}

OptionSpec padSteps(const std::string& example)
{
    return {.key = "steps",
            .label = "Steps",
            .help = "Of the reading pad, such as " + example + "; empty: from the material.",
            .role = OptionSpec::Role::Steps};
}

OptionSpec expectedForce(const std::string& help)
{
    return {.key = "expected_force",
            .label = "Expected force",
            .kind = Kind::Force,
            .help = help,
            .role = OptionSpec::Role::ExpectedLoad};
}

std::vector<StepSpec> withGrips(std::vector<StepSpec> steps, const std::string& top, const std::string& lower,
                                const std::string& ease, const std::vector<StepSpec>& after)
{
    const std::string hands = "Hands out of the grips while they close.";
    const std::string crush = "Crush point when jogging: jog enabled only for this.";
    steps.push_back(
        {.stage = Stage::SetUp, .text = top, .safety = hands, .watch = "grip-top", .onlyIf = "first_grip=top"});
    steps.push_back(
        {.stage = Stage::SetUp, .text = lower, .safety = hands, .watch = "grip-bottom", .onlyIf = "first_grip=lower"});
    steps.push_back({.stage = Stage::SetUp,
                     .text = "Close the lower grip, " + ease,
                     .safety = crush,
                     .watch = "grip-second-bottom",
                     .onlyIf = "first_grip=top"});
    steps.push_back({.stage = Stage::SetUp,
                     .text = "Close the top grip, " + ease,
                     .safety = crush,
                     .watch = "grip-second-top",
                     .onlyIf = "first_grip=lower"});
    steps.insert(steps.end(), after.begin(), after.end());
    return steps;
}

} // namespace fortitor::usual
