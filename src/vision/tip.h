// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <opencv2/core.hpp>

#include <optional>

namespace fortitor {

/// Where a slender indent ends.
struct Tip {
    double along = 0; ///< px from the middle
    double doubt = 0; ///< px, standard uncertainty
};

/// By what the light lacks across the indent, which falls straight, or nearly, to nothing at the tip. A blurred rim
/// changes nothing of it, and the last pixels before the tip are not needed. `half`: about where the tip is; `halfWidth`
/// of the indent at its middle; `rim`: over which the light changes there. Nothing where it can't be told.
std::optional<Tip> tipAlong(const cv::Mat& grey, const cv::Point2d& middle, const cv::Point2d& axis, double half,
                            double halfWidth, double rim);

} // namespace fortitor
