// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <string>

namespace fortitor {

/// Statistics of one result over a set of specimens. Two passes; about 1e-15 relative in the mean
/// and 1e-12 in s even where the spread is a millionth of the mean.
struct SetStatistics {
    size_t n = 0;
    double mean = 0;
    double sd = 0; ///< n−1; 0 for n < 2
    double cvPercent = 0;
    double min = 0, max = 0;
    double ciHalfWidth = 0; ///< 95 % interval of the mean, Student; 0 for n < 2
    size_t atLeast = 0; ///< of them, those that are only lower bounds
    std::string law{}; ///< "normal", "Weibull": by likelihood, where there are such; mean and sd are the law's
};

SetStatistics setStatistics(std::span<const double> values);

/// How many values of such a scatter give a mean to within ± `half` with 95 % (Student); nothing beyond 1000.
std::optional<size_t> countForHalfWidth(double sd, double half);

/// Two-sided Grubbs test at 5 %.
struct Grubbs {
    size_t index = 0; ///< the value furthest from the mean
    double statistic = 0;
    double critical = 0;
    [[nodiscard]] bool outlier() const { return statistic > critical; }
};

/// Critical value G for n values; needs n ≥ 3.
double grubbsCritical(size_t n, double level = 0.05);

/// Nothing for n < 4 (it can't tell) or when all values are equal.
std::optional<Grubbs> grubbsTest(std::span<const double> values);

} // namespace fortitor
