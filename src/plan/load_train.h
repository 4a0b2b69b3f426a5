// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// One link of the load train, top to bottom.
struct TrainLink {
    std::string kind; ///< "cell", "grips", "fixture" …
    std::string name;
    double capacity = 0;      ///< N; 0 unknown
    double lowestShare = 0;   ///< of the capacity below which readings are not calibrated (cells)
};

/// What the specimen is expected to do.
struct ExpectedLoad {
    std::optional<double> maximum; ///< N
    std::optional<double> yield;   ///< N
    double elongation = 0;         ///< strain at break, 0 unknown
    std::string basis;             ///< "Rm 320 MPa (…) on 78.80 mm²", or why there is none
};

/// The area that carries the load, mm²: the section, or width times length of a bonded block. Nothing
/// while it is not measured; 1 for pieces that know force over travel only.
std::optional<double> loadedArea(const Method& method, const SpecimenInput& input);

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
std::vector<Remark> checkTrain(const std::vector<TrainLink>& train, const ExpectedLoad& expected, const std::vector<TrainLink>& otherCells, Kind kind = Kind::Force);

/// Where the frame is told to stop by itself.
struct StopLimits {
    double force = 0;     ///< N, the capacity of the weakest link
    double extension = 0; ///< mm of extensometer, its own travel
    double travel = 0;    ///< mm of crosshead
    double forceDrop = 0; ///< share of the greatest force
    double time = 0;      ///< s
};

/// Where a running test stands against its limits. N, N, mm, s, mm, all from the start of the run.
struct RunState {
    double force = 0;
    double peak = 0;
    double travel = 0;
    double time = 0;
    double extension = 0; ///< mm as the extensometer reads, 0 while it is off
};

/// The limit that is reached, in words; nothing while the run may go on. A force drop counts once the
/// peak stands clear of the noise (2 % of the force limit): the break itself is seen before it, what
/// is left is a specimen that slips out or gives way slowly.
std::optional<std::string> limitReached(const StopLimits& limits, const RunState& state);

/// Speeds and times of a tension test (methods basis, "Rates"; ISO 6892-1 method A).
struct RatePlan {
    double yieldSpeed = 0;  ///< mm/s of crosshead, Lc·0.00025 /s
    double afterSpeed = 0;  ///< Lc·0.0067 /s
    double strainRate = 0;   ///< 1/s to yield, where the rule is one of strain; 0: it is one of speed
    double changeStrain = 0; ///< strain at which the speed changes
    double yieldTime = 0;   ///< s, without the frame's own stretch
    double wholeTime = 0;   ///< s
    double lowest = 0, highest = 0; ///< window of the strain rate to yield, 1/s
};

/// Nothing without a parallel length or a grip distance.
std::optional<RatePlan> planRates(const RateSpec& rule, const SpecimenInput& input, const ExpectedLoad& expected);

/// The proposal: weakest link, twice the expected stretch, 40 % drop, three times the expected time.
StopLimits proposeLimits(const std::vector<TrainLink>& train, const Method& method, const SpecimenInput& input, const ExpectedLoad& expected);

} // namespace fortitor
