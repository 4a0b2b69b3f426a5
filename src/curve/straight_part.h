// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "curve/line_fit.h"
#include "units/expected.h"

#include <span>

namespace fortitor {

/// The straight part of a stress–strain curve and the line through it.
struct StraightPart {
    size_t begin = 0; ///< first point in the fit
    size_t end = 0; ///< one past the last
    LineFit line;
    double trendLow = 0; ///< slope of the lower third against the whole, −1 (0.02: 2 % steeper)
    double trendHigh = 0; ///< the same for the upper third
    double trendNoise = 0; ///< what the noise of a third allows of such trends, two of its standard errors
    double noise = 0; ///< of the readings about the line, by their second differences; 0 with fewer than 30
    double proofGuess = 0; ///< stress at the cap of the search
    bool fewPoints = false; ///< fewer than 20 points were in reach

    [[nodiscard]] double slope() const { return line.slope; }
    /// Strain where the line meets zero stress.
    [[nodiscard]] double origin() const { return line.meanX - line.meanY / line.slope; }
};

/// Finds the straight part by the windows of least scatter for their length, below the provisional
/// proof point (0.2 % offset or first drop): methods basis, "Slope of the straight part".
/// x: strain (1), y: stress (MPa), both without NaN, from the first load to the limit of what counts.
/// Refuses fewer than three points, or a curve that does not climb.
Expected<StraightPart> findStraightPart(std::span<const double> x, std::span<const double> y, double noise);
/// The same where the greatest of y is known.
Expected<StraightPart> findStraightPart(std::span<const double> x, std::span<const double> y, double noise, double top);

/// The line through points whose stress lies within [low, high] on the first climb.
Expected<StraightPart> straightPartBetweenStresses(std::span<const double> x, std::span<const double> y, double low,
                                                   double high);

/// The line through points [begin, end), with trends.
StraightPart fitStraightPart(std::span<const double> x, std::span<const double> y, size_t begin, size_t end);

/// The line joining the curve's points at two strains (a chord); each point is the local mean line
/// through its neighbours. Refuses strains outside the data.
Expected<StraightPart> chordBetweenStrains(std::span<const double> x, std::span<const double> y, double from,
                                           double to);

} // namespace fortitor
