// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/long_indent.h"

#include "vision/slender.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

using cv::Point2d;

constexpr double longToShort = 7.114; // long to short diagonal
constexpr double leastLong = 70; // px
constexpr double leastExplained = 0.6; // of the pixels
constexpr double clearOfGround = 3.5;
constexpr double widestRim = 0.14; // of the short diagonal: beyond it is out of focus
constexpr double mostDoubt = 0.02; // of the length

Slender beginAt(const Candidate& c)
{
    const Point2d along(std::cos(c.angle), std::sin(c.angle));
    const double half = std::max(c.length, c.width * longToShort) / 2;
    return {{c.centre - along * half, c.centre + along * half},
            {half / longToShort, half / longToShort},
            {0, 0},
            {0, 0},
            std::clamp(0.05 * c.width, 1.2, 4.0)};
}

} // namespace

Expected<FoundIndent> longFrom(const cv::Mat& grey, const Candidate& candidate)
{
    auto fit = fitSlender(grey, beginAt(candidate));
    if (!fit || fit->explained < leastExplained)
        return refused("tips that can't be told", "Focus on the tips, or place them by hand.");
    const Slender& s = *fit;
    for (const Point2d& tip : s.tips)
        if (!insidePicture(grey, tip))
            return refused("an indent that the border cuts",
                           "Move the stage so that the whole indent is in the picture.");
    const Point2d middle = (s.tips[0] + s.tips[1]) / 2, way = s.tips[1] - s.tips[0];
    const double length = cv::norm(way), width = s.halfWidths[0] + s.halfWidths[1];
    const Point2d across = Point2d(-way.y, way.x) / length;
    if (s.contrast < clearOfGround)
        return refused("a side that is hardly told from its ground", "More light, or place the tips by hand.");
    if (length < leastLong)
        return refused("an indent of " + std::to_string(static_cast<int>(length)) + " pixels",
                       "Use a stronger objective.");
    if (std::abs(length / width / longToShort - 1) > std::max(0.08, 1.2 / width))
        return refused("diagonals whose ratio is not that of the indenter", "Are both tips clear? Place them by hand.");
    const double rim = 2.355 * s.blur;
    if (rim > std::max(5.5, widestRim * width))
        return refused("a rim that is out of focus",
                       "Focus by moving the piece away from the lens, and take it again.");
    if (!(s.lengthDoubt <= mostDoubt * length))
        return refused("tips that are told to over 2 % of the length only",
                       "Focus again, or use a stronger objective.");
    FoundIndent found{.shape = IndentShape::Long};
    const std::array<Point2d, 4> ends{s.tips[0], middle - across * s.halfWidths[1], s.tips[1],
                                      middle + across * s.halfWidths[0]};
    for (size_t k = 0; k < 4; ++k)
        found.corners[k] = {ends[k].x, ends[k].y};
    found.centre = {middle.x, middle.y};
    found.lengths = {length, width};
    found.doubts = {s.lengthDoubt, s.widthDoubt};
    found.edgeWidth = rim;
    found.bow = (s.bulges[0] + s.bulges[1]) / length;
    return found;
}

} // namespace fortitor
