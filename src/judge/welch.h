// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>
#include <optional>
#include <span>

namespace fortitor {

/// Difference of the means of two sets (b − a) with its interval by Welch, 95 %.
struct WelchDifference {
    double difference = 0;
    double halfWidth = 0;
    double degrees = 0; ///< of freedom
    [[nodiscard]] bool told() const { return std::abs(difference) > halfWidth; }
};

/// Nothing with fewer than two values on a side.
std::optional<WelchDifference> welch(std::span<const double> a, std::span<const double> b);

} // namespace fortitor
