// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "frame/limits.h"
#include "methods/method.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// One link of the load train, top to bottom.
struct TrainLink {
    std::string kind; ///< "cell", "grips", "fixture" …
    std::string name;
    double capacity = 0; ///< N; 0 unknown
    double lowestShare = 0; ///< of the capacity below which readings are not calibrated (cells)
};

/// From published strength and the measured area (methods basis, "Capacity"), or as stated on Plan.
ExpectedLoad expectedLoad(const Method& method, const SpecimenInput& input);

struct TrainMargin {
    TrainLink link;
    double used = 0; ///< share of the capacity at the expected maximum; 0 when unknown
};

/// The chain with its margins, in the order given.
std::vector<TrainMargin> trainMargins(const std::vector<TrainLink>& train, const ExpectedLoad& expected);

/// The link that would give first: the one with the least capacity. Nothing when none is known.
std::optional<TrainLink> weakestLink(const std::vector<TrainLink>& train);

/// cell-too-small, cell-too-large (with the better of `others`), link-too-weak, limits unknown.
std::vector<Remark> checkTrain(const std::vector<TrainLink>& train, const ExpectedLoad& expected,
                               const std::vector<TrainLink>& otherCells, Kind kind = Kind::Force);

/// The method's speeds for the specimen (methods basis, "Rates"). Nothing while the length is not measured.
std::optional<RatePlan> planRates(const Method& method, const SpecimenInput& input, const ExpectedLoad& expected);

/// What is not measured yet of the lengths that the speed follows from, as a sentence.
std::string missingLength(const Method& method);

/// The proposal: weakest link, twice the expected stretch, 40 % drop, three times the expected time.
StopLimits proposeLimits(const std::vector<TrainLink>& train, const Method& method, const SpecimenInput& input,
                         const ExpectedLoad& expected);

} // namespace fortitor
