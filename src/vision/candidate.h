// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "vision/indent_picture.h"

#include <opencv2/core.hpp>

#include <vector>

namespace fortitor {

/// A spot of the picture that stands out from its ground, roughly: a box about it, px of the whole picture.
struct Candidate {
    cv::Point2d centre;
    double length = 0, width = 0; ///< of the box, the longer first
    double angle = 0; ///< of the longer side, rad
    double filled = 0; ///< share of the box that it fills
    double score = 0;
    bool cut = false; ///< it reaches the border
};

/// The best few of the picture made smaller by `scale`, by what fits the shape.
std::vector<Candidate> candidatesIn(const cv::Mat& grey, IndentShape shape, double scale);

} // namespace fortitor
