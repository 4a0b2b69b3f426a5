// SPDX-License-Identifier: GPL-3.0-or-later
// Indents read from pictures: grey pixels in, corners and rims out. Nothing of the picture library shows here.
#pragma once

#include "units/expected.h"

#include <array>
#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// Eight bits a pixel, row by row from the top; the centre of the first pixel is 0, 0.
struct GreyPicture {
    int width = 0, height = 0;
    std::vector<std::uint8_t> pixels{};
};

/// PNG (8 and 16 bit, grey and colour), JPEG, TIFF, BMP. Refused: what is none of them, a file that is cut short, and
/// more than `mostPixels`, before memory is taken for them. `place` names the file.
Expected<GreyPicture> decodePicture(std::span<const std::uint8_t> bytes, const std::string& place);

enum class IndentShape { Square, Long, Round }; ///< of a square pyramid, a long one, a ball

struct PixelPoint {
    double x = 0, y = 0;
};

/// An indent as it was found, px.
struct FoundIndent {
    IndentShape shape = IndentShape::Square;
    std::array<PixelPoint, 4> corners{}; ///< round the indent; of a long one the first and third are the far tips
    PixelPoint centre{};
    double halfA = 0, halfB = 0; ///< of a round one: half axes
    double angle = 0; ///< of the first, rad
    std::array<double, 2> lengths{}; ///< the two diagonals or diameters; of a long one the long one first
    std::array<double, 2> doubts{}; ///< standard uncertainty of each
    double edgeWidth = 0; ///< over which the light changes at the rim
    double bow =
        0; ///< greatest, of the sides of a pyramid, as a share of the side: out positive (pile-up), in negative
    double straightness = 0; ///< rms of the rim about its line
};

/// Finds one indent and fits its rim. Refused with the reason: no indent that can be told, one that is cut by the
/// border, or out of focus.
Expected<FoundIndent> findIndent(const GreyPicture& picture, IndentShape shape);

} // namespace fortitor
