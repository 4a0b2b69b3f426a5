// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>

namespace fortitor {

/// A maximum freed of its noise by a short local quadratic.
struct PeakFit {
    double value = 0; ///< height of the parabola's top, units of y
    double x = 0; ///< where it stands: the middle of the stretch that is flat within the noise
    double half = 0; ///< half of that stretch
    size_t index = 0; ///< highest single reading
    double raw = 0; ///< that reading
    size_t n = 0; ///< points in the parabola; below 5 the raw reading is given
};

/// The maximum of y, smoothed over the points round it that stay above `share` of the top, at most
/// `widest` to either side. One stray reading does not move it. `noise`: of y, for where there are too few
/// readings to tell it by.
PeakFit smoothPeak(std::span<const double> x, std::span<const double> y, double noise, double share = 0.995,
                   size_t widest = 20000);

/// The same where the index of the highest reading is known.
PeakFit smoothPeakAt(std::span<const double> x, std::span<const double> y, size_t index, double noise,
                     double share = 0.995, size_t widest = 20000);

/// The value of y about one reading without its noise: a short least-squares line over the
/// neighbours, the reading itself where they are few.
double valueAround(std::span<const double> y, size_t at);

} // namespace fortitor
