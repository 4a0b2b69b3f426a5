// SPDX-License-Identifier: GPL-3.0-or-later
// What the page of the runs shows.
#pragma once

#include "methods/fatigue_sn/run_plan.h"

namespace fortitor {

/// A piece of the set on its way.
struct RunLane {
    enum class End { Waiting, Broken, RunOut, Elsewhere, NotNoted } end = End::Waiting;
    std::string label{};
    std::optional<double> range{}; ///< MPa
    double cycles = 0; ///< counted; 0: not run
    double expected = 0, low = 0, high = 0; ///< cycles: mean line, and nine of ten; 0: not known
    double seconds = 0; ///< of the frame: run, or expected; 0: not known
    bool left = false; ///< out of the set
};

struct RunDesk {
    std::vector<RunLane> lanes{};
    std::optional<SnLine> line{};
    RunStops stops{};
    double low = 1e4, high = 1e7; ///< decades to draw
    std::string trouble{}; ///< what keeps all of it from being worked out
};
/// `inputs`: all pieces of the job; `counts`: which of them are in the set.
RunDesk runDesk(std::span<const SpecimenInput* const> inputs, const std::vector<bool>& counts);

/// What the piece is told to stand, in words: "24.3 to 2.4 kN", "about 1.6·10⁶ cycles (mean line of 8 pieces), 2.3 days
/// at 8 Hz", and what is missing for it.
struct RunWords {
    std::string forces{}, life{};
};
RunWords runWords(const RunPlan& plan);

/// The order of a piece to the frame; refuses what is missing for one.
struct RunOrder {
    double least = 0, greatest = 0, frequency = 0, area = 0; ///< N, Hz, mm²
    RunStops stops{};
};
Expected<RunOrder> runOrder(const SpecimenInput& input);

/// A bare number of cycles as people write it: "412 000", "4.12e5", "1 200 000". Refuses what is not at least one.
Expected<double> cyclesTyped(const std::string& text);

} // namespace fortitor
