// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "vision/candidate.h"

namespace fortitor {

/// A long pyramid's indent from its rough box.
Expected<FoundIndent> longFrom(const cv::Mat& grey, const Candidate& candidate);

} // namespace fortitor
