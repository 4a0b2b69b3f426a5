// SPDX-License-Identifier: GPL-3.0-or-later
// A spectrum as it is run on a frame: a block of steps, and the life that a spectrum of this shape has.
#pragma once

#include "history/counts.h"

#include <string>
#include <vector>

namespace fortitor {

struct BlockStep {
    double range = 0, mean = 0; ///< as the counts have them
    std::uint64_t cycles = 0;
};
struct BlockProgram {
    std::vector<BlockStep> steps{}; ///< in the order of running: up, then down
    std::uint64_t cycles = 0; ///< of all
    double share = 0; ///< Σ n·range^exponent of the block, over that of as many cycles of the history
    std::string left{}; ///< what is too rare to come once in it; empty: nothing is
};

/// Steps of equal width between the cut and the greatest range, each at the range that does as much by that exponent,
/// run from the smallest to the greatest and back. Cycles below half a cycle are left out and told.
/// Refused: no step, no cycle.
Expected<BlockProgram> blockProgram(const Counts& counts, size_t steps, std::uint64_t cycles, double exponent);
/// The program as comma-separated text, with a header that names the unit.
std::string blockCsv(const BlockProgram& program, const std::string& unit);

/// Cycles of such a spectrum to the damage sum, over its greatest range.
struct GassnerPoint {
    double greatest = 0, cycles = 0;
};
/// As many points over greatest ranges from a third to three times that of the counts. By the histogram, put so that
/// it is exact where the counts are.
std::vector<GassnerPoint> gassnerLine(const Counts& counts, const DamageCurve& curve, size_t points = 61);

} // namespace fortitor
