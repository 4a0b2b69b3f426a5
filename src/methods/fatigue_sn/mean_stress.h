// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"

#include <string_view>

namespace fortitor {

enum class MeanStress { None, Goodman, Gerber, SmithWatsonTopper };

/// "none", "goodman", "gerber", "swt"; None for others.
MeanStress meanStressNamed(std::string_view name);

/// The stress range at R = −1 that does as much as `range` at `ratio` (least over greatest stress, below 1), MPa;
/// `strength` is Rm. Refuses a ratio of 1 and above, a mean stress at or above Rm, and no tension at all under
/// Smith, Watson and Topper.
Expected<double> rangeWithoutMean(MeanStress rule, double range, double ratio, double strength);

/// MPa, of the range at that ratio.
double meanStressOf(double range, double ratio);

} // namespace fortitor
