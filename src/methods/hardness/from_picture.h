// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/uncertainty.h"
#include "methods/hardness/indent.h"
#include "vision/indent_picture.h"

#include <array>
#include <string>

namespace fortitor {

/// How long the side of a pixel is.
struct PixelScale {
    double side = 0; ///< mm
    double doubt = 0; ///< mm, standard uncertainty; all pixels are off alike
    std::string words{}; ///< where it comes from: "objective 40×"
};

/// From two places on a scale bar whose length is stated, mm. Each click is off by half a pixel or so. Refused where
/// they lie under 10 pixels apart.
Expected<PixelScale> scaleByBar(const PixelPoint& from, const PixelPoint& to, double length);

/// An indent as it stands on its picture: opposite ends of the two lengths, in turn round it, px. Of a long one the first
/// and third are the far tips.
struct MarkedIndent {
    std::array<PixelPoint, 4> ends{};
    std::array<double, 2> doubts{}; ///< px, standard uncertainty of each length
};
/// Of a square one the first length is the one that lies more level.
MarkedIndent markedBy(const FoundIndent& found);
/// Where a person placed an end, the length is known to a pixel's half at each end, or as before, the worse.
void placeByHand(MarkedIndent& marked, size_t end, const PixelPoint& to);
/// A start for placing by hand: in the middle of a picture.
MarkedIndent unplaced(IndentShape shape, int width, int height);

IndentShape shapeOf(HardnessScale::By by);

/// What a picture of an indent comes to.
struct PictureReading {
    std::array<Quantity, 2> lengths{}; ///< mm, with what is in doubt as their resolution
    IndentReading indent{};
    Budget budget{}; ///< of the number; empty without one
};
/// By diagonals, diameters, or the long diagonal alone. Problems as of indents that are keyed.
Expected<PictureReading> readMarked(HardnessScale::By by, const Pressed& pressed, const MarkedIndent& marked,
                                    const PixelScale& scale);

} // namespace fortitor
