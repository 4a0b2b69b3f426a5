// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <opencv2/core.hpp>

#include <array>
#include <optional>

namespace fortitor {

/// A long indent as it lies in the picture, px.
struct Slender {
    std::array<cv::Point2d, 2> tips{};
    std::array<double, 2> halfWidths{}; ///< to the right of the way from the first tip to the second, and to the left
    std::array<double, 2> bulges{}; ///< of these sides, half way out, over a straight one
    std::array<double, 2> bends{}; ///< the bulge's change with the way out, and with its square
    double blur = 1; ///< standard deviation of the blurred rim
    double lengthDoubt = 0, widthDoubt = 0; ///< standard uncertainty
    double contrast =
        0; ///< of the face that stands out least, in scatters of the ground; 0: some are lighter, some darker
    double explained = 0; ///< share of the pixels that look like it, weighted
};

/// The four faces and the ground fitted to all the pixels round `begin` at once: each face a brightness that may change
/// along it, the ground a surface of the second degree, the rim blurred. What does not fit (scratches, specks, letters)
/// is left out. Nothing where the fit goes astray.
///
/// Good to about 0.2 % of the length. The form of a bulge is not known, and what is unknown of it grows with its
/// square: it is part of the uncertainty.
std::optional<Slender> fitSlender(const cv::Mat& grey, const Slender& begin);

} // namespace fortitor
