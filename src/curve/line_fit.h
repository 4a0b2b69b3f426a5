// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>

namespace fortitor {

/// Least-squares line y = slope·x + intercept over n points.
struct LineFit {
    double slope = 0;
    double intercept = 0;
    double meanX = 0;
    double meanY = 0;
    double r2 = 0; ///< coefficient of determination
    double residualRms = 0; ///< √(SSE/(n−2)), in units of y
    size_t n = 0;

    [[nodiscard]] bool valid() const { return n >= 2; }
    [[nodiscard]] double at(double x) const { return meanY + slope * (x - meanX); }
    /// Relative standard error of the slope, S_m = √((1/R²−1)/(n−2)) (annex on modulus of ISO 6892-1).
    [[nodiscard]] double relativeSlopeError() const;
};

/// Two passes, centred on the means: about 1e-12 relative in the slope even when the data stand far
/// from zero. n = 0 in the result when there are fewer than two points or x has no spread.
LineFit fitLine(std::span<const double> x, std::span<const double> y);

/// y = a + b·t + c·t² with t = (x − centre)/halfWidth, for short stretches.
struct QuadraticFit {
    double centre = 0;
    double halfWidth = 1;
    double a = 0, b = 0, c = 0;
    size_t n = 0;

    [[nodiscard]] double at(double x) const;
    /// x of the top (or bottom) if the parabola opens that way inside the stretch, else its nearer end.
    [[nodiscard]] double vertex() const;
};

/// Least squares; n = 0 when there are fewer than five points or x has no spread.
QuadraticFit fitQuadratic(std::span<const double> x, std::span<const double> y);

} // namespace fortitor
