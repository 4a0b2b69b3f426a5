// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "vision/indent_picture.h"

#include <cstdint>

namespace fortitor {

/// A microscope that looks at an indent: how long its pixels are, how it stands, and what is wrong with the picture.
struct IndentShot {
    IndentShape shape = IndentShape::Square;
    double first = 0, second = 0; ///< lengths, mm; of a long one the long one first
    double pixel = 0; ///< mm
    double angle = 0; ///< of the first, rad
    double offX = 0, offY = 0; ///< px of the indent's middle from that of the picture
    int width = 640, height = 480;
    std::uint64_t seed = 1;
};

/// Its picture: facets and ground lit from one side, grinding marks, specks, noise. The same seed gives the same
/// picture.
GreyPicture takeShot(const IndentShot& shot);

} // namespace fortitor
