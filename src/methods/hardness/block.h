// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/scales.h"

namespace fortitor {

/// What a tester may be off by on a reference block.
struct BlockLimits {
    double error = 0; ///< of the mean, in numbers of the scale
    double spread = 0; ///< of greatest and least
};

/// By scale and level; of Brinell and Vickers in proportion, of Vickers by the size of the indent (mm). Starting values
/// after the practice of verification; a laboratory states its own.
BlockLimits blockLimits(const HardnessScale& scale, double number, double across);

} // namespace fortitor
