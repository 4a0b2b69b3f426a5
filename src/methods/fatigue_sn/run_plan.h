// SPDX-License-Identifier: GPL-3.0-or-later
// What a run takes of the machine: forces, time, stops.
#pragma once

#include "methods/fatigue_sn/fatigue_sn.h"

#include <span>

namespace fortitor {

/// What stops a run by itself.
struct RunStops {
    double runOut = 1e7; ///< cycles
    double travel = 1; ///< mm that the range of the travel may grow
    double stiffness = 0.1; ///< share that may be lost
    double force = 0.05; ///< share of the asked range that it may miss
    double temperature = 60; ///< °C
};
Expected<RunStops> stopsOf(const SpecimenInput& input);

/// A piece as the machine is told to run it.
struct RunPlan {
    std::optional<double> range{}; ///< MPa, as keyed or planned
    std::optional<double> ratio{};
    double frequency = 0; ///< Hz; 0: not noted
    std::optional<double> least{}, greatest{}; ///< N; nothing without a section, a range or R
    double expected = 0; ///< cycles to its break by the mean line, or by the class; 0: not known
    std::string basis{}; ///< "mean line of 8 pieces", "class 71, slope 3"
    [[nodiscard]] double seconds() const { return frequency > 0 ? expected / frequency : 0; }
};
/// `line`: of those that were run already.
Expected<RunPlan> runPlanOf(const SpecimenInput& input, const std::optional<SnLine>& line);

/// Machine days of the levels that are planned.
std::string runsInWords(const SpecimenInput& input, std::span<const SpreadGroup> groups);

} // namespace fortitor
