// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/scales.h"
#include "methods/outcome.h"

#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace fortitor {

/// A scale beside others: where its numbers stand on the axis of HV, by the tables.
struct LadderRung {
    std::string scale;
    std::vector<std::pair<double, double>> numbers{}; ///< number and HV, rising; whole steps of the scale
};

/// The scales that the tables hold, HV first. Numbers stand where the tables put them, never beyond.
std::vector<LadderRung> scaleLadder();

/// Steps of the scratch order with the HV of their minerals, roughly: a neighbour to look at, never converted.
std::vector<std::pair<int, double>> scratchOrder();

/// What is expected of a piece, as it is stated; empty where it is not.
std::string expectedNumber(const SpecimenInput& input);

/// Where a number stands on the axis of HV; nothing where no table tells.
std::optional<double> onLadder(double number, const HardnessScale& scale);

} // namespace fortitor
