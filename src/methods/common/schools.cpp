// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/schools.h"

namespace fortitor::schools {

OptionSpec strainFrom(const std::string& help)
{
    return {"strain_from", "Strain from", {"extensometer", "crosshead"}, "extensometer", Kind::Number, help};
}

OptionSpec compliance(const std::string& help)
{
    return {"compliance", "Machine compliance", {}, "", Kind::Compliance, help};
}

OptionSpec areaFrom(const std::string& help)
{
    return {"area_from", "Section from", {"mean", "least"}, "mean", Kind::Number, help};
}

OptionSpec forceZero()
{
    return {"force_zero", "Force at the start", {"auto", "start", "none"}, "auto", Kind::Number, "Whether the force of the quiet start is taken off."};
}

OptionSpec peak()
{
    return {"peak", "Top of the force", {"smooth", "raw"}, "smooth", Kind::Number, "Without its noise, or the single highest reading."};
}

OptionSpec firstGrip(const std::string& help)
{
    return {"first_grip", "Grip first", {"top", "lower"}, "top", Kind::Number, help};
}

OptionSpec padSteps(const std::string& example)
{
    return {"steps", "Steps", {}, "", Kind::Number, "Of the reading pad, such as " + example + "; empty: from the material.", OptionSpec::Place::Plan};
}

OptionSpec expectedForce(const std::string& help)
{
    return {"expected_force", "Expected force", {}, "", Kind::Force, help};
}

std::vector<StepSpec> withGrips(std::vector<StepSpec> steps, const std::string& top, const std::string& lower, const std::string& ease, const std::vector<StepSpec>& after)
{
    const std::string hands = "Hands out of the grips while they close.";
    const std::string crush = "Crush point when jogging: hand-set unlocked only for this.";
    steps.push_back({Stage::SetUp, top, hands, "grip-top", "first_grip=top"});
    steps.push_back({Stage::SetUp, lower, hands, "grip-bottom", "first_grip=lower"});
    steps.push_back({Stage::SetUp, "Close the lower grip, " + ease, crush, "grip-second", "first_grip=top"});
    steps.push_back({Stage::SetUp, "Close the top grip, " + ease, crush, "grip-second", "first_grip=lower"});
    steps.insert(steps.end(), after.begin(), after.end());
    return steps;
}

} // namespace fortitor::schools
