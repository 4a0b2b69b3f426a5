// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "curve/line_fit.h"

#include <optional>
#include <span>
#include <vector>

namespace fortitor {

/// The straight part of what stands so far: a line through the first readings and those that keep to it.
struct StraightSoFar {
    LineFit line; ///< of y on x; fit.n = 0 with fewer than three readings
    std::vector<std::size_t> on; ///< the readings on it
    bool left = false; ///< two in a row are off it: it has ended
};

/// Gaps (NaN) are passed over. `division`: what the reading can't be told finer than.
StraightSoFar straightSoFar(std::span<const double> x, std::span<const double> y, double division);

/// A reading just taken that does not fit those before it.
struct StepDoubt {
    double expected = 0; ///< y where the others would have it
    enum class Kind { OffLine, Jump, Back, Same, Ten, Sign } kind = Kind::OffLine;
};

/// Asks whether the reading (x, y) can be right after those before it: off the line while it holds; and after
/// it has bent, a leap of more than four of the last steps, a turn back, a slip of ten or of the sign.
/// Nothing with fewer than three readings before it.
std::optional<StepDoubt> doubtStep(std::span<const double> x, std::span<const double> y, double newX, double newY,
                                   double division);

} // namespace fortitor
