// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace fortitor {

/// Anderson–Darling test of normality with mean and s taken from the values (Stephens). `adjusted` is
/// A²·(1 + 0.75/n + 2.25/n²); normal is doubted at 5 % above 0.752.
struct Normality {
    double statistic = 0;
    double adjusted = 0;
    double p = 1; ///< of so much or more if they were normal
    [[nodiscard]] bool doubted() const { return p < 0.05; }
};

/// Nothing for fewer than 8 values (it can't tell) or when all are equal.
std::optional<Normality> andersonDarling(std::span<const double> values);

/// Points of a normal probability plot: each value against the normal score of its rank (Blom's
/// plotting position (i − 3/8)/(n + 1/4)), rising.
struct ProbabilityPoint {
    double value = 0;
    double score = 0; ///< standard normal quantile
    size_t index = 0; ///< in the values as given
};
std::vector<ProbabilityPoint> probabilityPlot(std::span<const double> values);

/// Counts over equal classes; the number of classes by the rule of Sturges, at least 4.
struct Histogram {
    double low = 0, width = 0;
    std::vector<size_t> counts;
};
Histogram histogramOf(std::span<const double> values);

} // namespace fortitor
