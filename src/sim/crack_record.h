// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/record.h"

#include <cstdint>

namespace fortitor {

/// A crack that begins at the toe of a plate in tension and grows to the break.
struct CrackHistory {
    double range = 150; ///< MPa
    double life = 5e5; ///< cycles to the break
    double startShare = 0.45; ///< of the life, at which it begins
    double first = 0.4, last = 9; ///< depth at the start and at the break, mm
    size_t readings = 1500;
};

/// What watches it: four extensometers of 2 mm along the toe, the second nearest to the start, and the potential across
/// it; strains at the load's peak. With the seating of the first cycles, noise, and a stop at a third of the life.
Record simulatedCrack(const CrackHistory& history, std::uint64_t seed);
/// Potential over that of the whole piece, of such a crack: what a laboratory would have calibrated.
double potentialRatio(double depth);

} // namespace fortitor
