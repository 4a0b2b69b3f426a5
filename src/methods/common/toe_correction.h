// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/common/figures.h"

namespace fortitor {

/// The toe correction: strain counts from where the modulus line meets zero stress (StraightPart::origin), so that slack
/// and seating at the start are no strain. These are the remarks on what it took off.
void remarkToe(Figures& figures, const StressStrain& data, const StraightPart& part, double origin, double maximum,
               const std::vector<std::string>& symbols);

} // namespace fortitor
