// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "vision/candidate.h"

#include <optional>
#include <span>
#include <vector>

namespace fortitor {

/// Where the light changes along lines across a rim, px from their middles.
struct RimProfile {
    std::vector<double> at{}; ///< of each line; NaN where nothing is told
    double strength = 0; ///< middle of the changes, grey levels a pixel
    double noise = 0; ///< of the change outside the rim; NaN where too little of it is seen
    double edgeWidth = 0; ///< over which it changes
};

/// Looks along lines through `middles` in the directions `normals` (of length one, outwards), up to `reach` to both
/// sides. The light changes in one sense all along; `blur`: over how many pixels a change is looked for.
RimProfile rimAlong(const cv::Mat& grey, std::span<const cv::Point2d> middles, std::span<const cv::Point2d> normals,
                    double reach, double blur);

/// c0 + c1·t + c2·t² through what is told, outliers left out; nothing where under half of it lies on a curve.
struct RimCurve {
    double c0 = 0, c1 = 0, c2 = 0;
    double rms = 0;
    double share = 0; ///< of the lines that lie on it
    double endDoubt = 0; ///< standard uncertainty at the ends t = 0 and 1
    [[nodiscard]] double at(double t) const { return c0 + t * (c1 + t * c2); }
    [[nodiscard]] double slope(double t) const { return c1 + 2 * t * c2; }
};
std::optional<RimCurve> curveThrough(std::span<const double> t, std::span<const double> at, double within);

} // namespace fortitor
