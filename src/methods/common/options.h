// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor::usual {

/// Choices that several methods offer in the same words.
OptionSpec strainFrom(const std::string& help = "The crosshead includes machine and grips.");
OptionSpec compliance(const std::string& help = "Taken off crosshead motion.");
OptionSpec areaFrom(const std::string& help = "Mean of the places, or the least of them.");
OptionSpec forceZero();
OptionSpec peak();
/// The strain at which the extensometer is taken off (methods/common/run.h).
OptionSpec extensometerOff(const std::string& fallback);
OptionSpec firstGrip(const std::string& help = "The steps follow.");
/// The plan of steps of the reading pad (plan/step_plan.h).
OptionSpec padSteps(const std::string& example = "10 kN x 10");
OptionSpec expectedForce(const std::string& help = "Where the table knows nothing of the material.");

/// The steps of two grips by the option `first_grip`, between those before and after them. `top` and
/// `lower` say how the first one is closed, `ease` what follows "Close the … grip, ".
std::vector<StepSpec> withGrips(std::vector<StepSpec> before, const std::string& top, const std::string& lower,
                                const std::string& ease, const std::vector<StepSpec>& after);

} // namespace fortitor::usual
