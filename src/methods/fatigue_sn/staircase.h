// SPDX-License-Identifier: GPL-3.0-or-later
// The staircase: one level up after a run-out, one down after a break (Dixon and Mood).
#pragma once

#include "units/expected.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

struct StairRun {
    double range = 0; ///< MPa
    bool broke = false;
};

struct Stairs {
    double mean = 0; ///< MPa
    std::optional<double> sd{}; ///< MPa; nothing where the formula for it does not hold
    bool byBroken = true; ///< which event is the less frequent one; a tie goes to the broken
    double least = 0, step = 0; ///< MPa: its lowest level
    double N = 0, A = 0, B = 0;
    double ratio = 0; ///< (N·B − A²)/N²; the scatter is told from 0.3 on
    std::vector<size_t> astray{}; ///< runs, from 0, that do not stand one step from the one before as its end asks
};

constexpr double leastStairRatio = 0.3;

/// All runs count, the first too. Refuses fewer than two levels, one kind of end only, and levels off the step.
Expected<Stairs> readStairs(std::span<const StairRun> runs, double step);

/// The least difference of two levels, MPa; 0 with only one.
double stairStepOf(std::span<const StairRun> runs);

} // namespace fortitor
