// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>

namespace fortitor {

/// One-sided normal tolerance factor k: with `confidence` at least `share` of all lies above
/// mean − k·s. From the noncentral t distribution; n ≥ 2. Good to 6 digits up to n = 2000.
double toleranceFactor(size_t n, double share, double confidence);
/// The same about a fitted line: `freedom` degrees, `leverage` of the place (1/n for a mean). Not kept.
double toleranceFactor(double freedom, double leverage, double share, double confidence);
/// Of Student's t, one-sided.
double studentQuantile(double freedom, double confidence);

/// Lower bounds: A 99 % and B 90 % of all above it, each with 95 % confidence.
struct ToleranceBounds {
    double a = 0, b = 0;
    double kA = 0, kB = 0;
};
std::optional<ToleranceBounds> toleranceBounds(std::span<const double> values);

} // namespace fortitor
