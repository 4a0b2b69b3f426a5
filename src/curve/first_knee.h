// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>

namespace fortitor {

/// Where the first climb of y over x is over: one past the last reading of the third stretch in a row, of two
/// hundred of equal x, that climbs by less than two fifths of the steepest stretch before it. What climbs again
/// later (a foam pressed together) is not looked at. The size of y on a curve without such a knee.
std::size_t firstKnee(std::span<const double> x, std::span<const double> y, double noise);

} // namespace fortitor
