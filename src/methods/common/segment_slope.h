// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/common/stress_strain.h"

namespace fortitor {

enum class SegmentRule { Regression, Secant, Tangent };

/// A slope between two strains that count from where the slope's own line meets zero stress: the
/// origin is found in a few rounds, starting at the straight part that the curve itself shows.
struct SegmentSlope {
    StraightPart part; ///< indices in `data`
    double origin = 0; ///< recorded strain
};

/// Strains as ratios. Refuses a record that ends before `to`, or has fewer than three points between.
/// Tangent: the slope at the origin of a parabola over [0, to].
Expected<SegmentSlope> slopeBetween(const StressStrain& data, double from, double to, SegmentRule option);

/// "0.1 % 0.3 %" → two strains, the lower first; the option's name is for the message.
Expected<std::pair<double, double>> twoStrains(const std::string& text, const std::string& option);

} // namespace fortitor
