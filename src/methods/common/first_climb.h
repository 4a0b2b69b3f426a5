// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/common/stress_strain.h"

namespace fortitor {

/// The reading before which the first climb ends. A foam climbs, carries on level, and climbs again when it is pressed
/// together; an elastomer under tension stiffens in the end: only the first climb can hold the straight part.
size_t firstClimbEnds(const StressStrain& data);

/// The first reading clear of noise, without the share of the range that the onset waits for: the origin of strain
/// where no straight part exists.
size_t firstClearOfNoise(const StressStrain& data);

/// A straight part that begins far up, after a strain that no seating explains, is none.
bool climbsLate(const StraightPart& part, const StressStrain& data);

} // namespace fortitor
