// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>

namespace fortitor {

constexpr double nearBest = 1.1; ///< stretches within 10 % of the best merit are as good
constexpr double leastSlopeShare = 0.9; ///< of the steepest acceptable stretch

/// Points [begin, end).
struct PointRange {
    size_t begin = 0, end = 0;
};

/// The stretch of a climbing curve whose slope is surest: long enough to beat the noise, short enough to leave foot and
/// rounding out; among stretches nearly as sure the longest. It climbs by `least` or more (unit of y). Nothing when no
/// stretch does. The sums behind it keep ten digits over a fifth of the range.
std::optional<PointRange> surestWindow(std::span<const double> x, std::span<const double> y, double least,
                                       double noise);

} // namespace fortitor
