// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/text_import.h"
#include "sim/test_frame.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// What is rehearsed: the run as the frame would be told it, on specimens of the same kind.
struct RehearsalPlan {
    MountSpec mount;
    FrameSpec frame;
    RunProgram program;
    StopLimits limits;
    bool byTravel = false; ///< the curve over travel, not strain
    double lowest = 0, highest = 0; ///< window of the strain rate at first, 1/s; 0: none
    double yieldStrain = 0.003; ///< the rate is looked at from 0.3 to 0.8 of it, clear of the seating
    double answerTime = 8; ///< s a person takes for what is asked
    int runs = 7; ///< specimens, each with its own scatter
};

/// One virtual specimen's run.
struct RehearsedRun {
    std::string ended; ///< code, as the frame's
    std::string words;
    double seconds = 0;
    double peak = 0; ///< N
    double last = 0; ///< mm of crosshead at the end
    std::optional<double> offAt; ///< s, when the extensometer comes off
    std::optional<double> offStrain; ///< as it reads then
    std::optional<double> inWindow; ///< share of the time on the straight part that the rate stays in its window
    std::vector<double> x, y; ///< strain or mm; MPa, or N on a section of 1
};

/// What to expect of the real run.
struct Rehearsal {
    std::vector<RehearsedRun> runs;
    std::vector<double> x, low, middle, high; ///< the band over a common grid, as far as all of them go
};

/// Runs the plan on its virtual specimens, as fast as it can be computed. Nothing when it was stopped by hand.
Expected<std::optional<Rehearsal>> rehearse(const RehearsalPlan& plan, const Progress& progress = {});

/// "Breaks", how long, what stops it, when the extensometer comes off, the rate: a sentence each.
std::vector<std::string> rehearsalWords(const Rehearsal& rehearsal, const StopLimits& limits);

} // namespace fortitor
