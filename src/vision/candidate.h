// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "vision/indent_picture.h"

#include <opencv2/core.hpp>

#include <string>
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

/// Why a picture gives no number.
inline Problem refused(const std::string& found, const std::string& advice)
{
    return {"picture", found, "one indent with a clear rim", advice};
}

inline bool insidePicture(const cv::Mat& grey, cv::Point2d p)
{
    return p.x >= 1 && p.y >= 1 && p.x <= grey.cols - 2 && p.y <= grey.rows - 2;
}

/// The best few of the picture made smaller by `scale`, by what fits the shape.
std::vector<Candidate> candidatesIn(const cv::Mat& grey, IndentShape shape, double scale);

} // namespace fortitor
