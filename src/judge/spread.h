// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>
#include <optional>
#include <span>
#include <string>
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

/// One-sided normal tolerance factor k: with `confidence` at least `share` of all lies above
/// mean − k·s. From the noncentral t distribution; n ≥ 2. Good to 6 digits up to n = 2000.
double toleranceFactor(size_t n, double share, double confidence);

/// Lower bounds: A 99 % and B 90 % of all above it, each with 95 % confidence.
struct ToleranceBounds {
    double a = 0, b = 0;
    double kA = 0, kB = 0;
};
std::optional<ToleranceBounds> toleranceBounds(std::span<const double> values);

/// One-way analysis of variance over groups, with components (negative ones are zero).
struct VarianceShares {
    size_t groups = 0;
    double f = 0, p = 1;
    double between = 0; ///< variance component between the groups
    double within = 0; ///< variance within
    [[nodiscard]] double share() const { return between + within > 0 ? between / (between + within) : 0; }
};

/// `group` names each value's group. Nothing with fewer than two groups or no group of two.
std::optional<VarianceShares> varianceShares(std::span<const double> values, const std::vector<std::string>& group);
/// The same with groups numbered from 0.
std::optional<VarianceShares> varianceShares(std::span<const double> values, std::span<const size_t> group);

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
