// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

#include <string>
#include <vector>

namespace fortitor {

/// The plan of a specimen: as stated in the option `steps`, else from material and sizes — equal force steps
/// of which ten or so come to the yield or the expected break, twist finer first and wider later (5° to begin
/// with where nothing is known), in figures of 1, 2 or 5.
Expected<StepPlan> stepPlan(const Method& method, const SpecimenInput& input, const Unit& unit);

} // namespace fortitor
