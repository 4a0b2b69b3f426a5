// SPDX-License-Identifier: GPL-3.0-or-later
// From the ends of an indent on its picture to its hardness.
#include "methods/hardness/from_picture.h"

#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

namespace fortitor {
namespace {

double between(const PixelPoint& a, const PixelPoint& b)
{
    return std::hypot(b.x - a.x, b.y - a.y);
}

constexpr double byHand = 0.5; // px, standard, of an end that a person placed

/// In mm, from pixels and the scale, which all lengths of a picture share.
Term lengthTerm(const MarkedIndent& marked, size_t k, const Term& scale, const std::string& symbol)
{
    const double pixels = between(marked.ends[k], marked.ends[k + 2]);
    return (Term::leaf(symbol + "px", pixels, baseUnit(Kind::Number), marked.doubts[k], {"corner positions"},
                       "pixels between the ends")
            * scale)
        .named(symbol, baseUnit(Kind::Length), k == 0 ? "first length" : "second length, across");
}

/// As it is kept among the readings. A reading's own digit counts as a rectangle of one, so that a standard doubt is told
/// by one of √12 times it. The scale's part is the same in both lengths; √2 of it keeps their mean honest.
Quantity kept(const Term& length, double pixelDoubt, const PixelScale& scale)
{
    const double own = pixelDoubt * scale.side;
    const double shared = length.value() * scale.doubt / scale.side;
    const double doubt = std::hypot(own, std::sqrt(2.0) * shared);
    return {length.value(), &baseUnit(Kind::Length), doubt * std::sqrt(12.0),
            fmt::format("{:.2f} um", length.value() * 1000)};
}

} // namespace

Expected<PixelScale> scaleByBar(const PixelPoint& from, const PixelPoint& to, double length)
{
    constexpr double least = 10; // px
    const double pixels = between(from, to);
    if (!(pixels >= least))
        return Problem{"scale bar", formatSignificant(pixels, 2) + " pixels between the two places",
                       "its two ends, at least 10 pixels apart", "Click on both ends of the bar."};
    if (!(length > 0) || !std::isfinite(length))
        return Problem{"scale bar", formatSignificant(length, 3) + " mm", "a length above zero", {}};
    const double side = length / pixels;
    return PixelScale{side, side * std::hypot(byHand, byHand) / pixels, "scale bar"};
}

MarkedIndent markedBy(const FoundIndent& found)
{
    if (found.shape != IndentShape::Round) {
        MarkedIndent marked{found.corners, found.doubts};
        const auto level = [&](size_t k) {
            const PixelPoint &a = marked.ends[k], &b = marked.ends[k + 2];
            return std::abs(b.x - a.x) / between(a, b);
        };
        if (found.shape == IndentShape::Square && level(1) > level(0)) {
            std::ranges::rotate(marked.ends, marked.ends.begin() + 1);
            std::swap(marked.doubts[0], marked.doubts[1]);
        }
        return marked;
    }
    const double c = std::cos(found.angle), s = std::sin(found.angle);
    const auto at = [&](double a, double b) {
        return PixelPoint{found.centre.x + a * c - b * s, found.centre.y + a * s + b * c};
    };
    return {{at(-found.halfA, 0), at(0, -found.halfB), at(found.halfA, 0), at(0, found.halfB)}, found.doubts};
}

void placeByHand(MarkedIndent& marked, size_t end, const PixelPoint& to)
{
    marked.ends[end] = to;
    double& doubt = marked.doubts[end % 2];
    doubt = std::max(doubt, std::hypot(byHand, byHand));
}

MarkedIndent unplaced(IndentShape shape, int width, int height)
{
    const double x = (width - 1) / 2.0, y = (height - 1) / 2.0;
    const double half = 0.3 * std::min(width, height);
    const double across = shape == IndentShape::Long ? half / 7.114 : half;
    const double doubt = std::hypot(byHand, byHand);
    return {{PixelPoint{x - half, y}, {x, y - across}, {x + half, y}, {x, y + across}}, {doubt, doubt}};
}

IndentShape shapeOf(HardnessScale::By by)
{
    return by == HardnessScale::By::Brinell ? IndentShape::Round
        : by == HardnessScale::By::Knoop    ? IndentShape::Long
                                            : IndentShape::Square;
}

Expected<PictureReading> readMarked(HardnessScale::By by, const Pressed& pressed, const MarkedIndent& marked,
                                    const PixelScale& scale)
{
    using enum HardnessScale::By;
    if (by == Rockwell)
        return Problem{"picture", "a Rockwell scale", "Brinell, Vickers or Knoop", "Its depth is read, not its size."};
    if (!(scale.side > 0) || !std::isfinite(scale.side))
        return Problem{
            "scale of the picture", "none", "a calibrated objective, a scale bar, or the length of a pixel", {}};
    const Term side = Term::leaf("k", scale.side, baseUnit(Kind::Length), scale.doubt,
                                 {"scale of the picture, " + scale.words}, "side of a pixel");
    const std::array two{lengthTerm(marked, 0, side, by == Knoop ? "L" : "d1"), lengthTerm(marked, 1, side, "d2")};
    auto indent = by == Brinell ? brinellFrom(pressed, two)
        : by == Vickers         ? vickersFrom(pressed, two)
                                : knoopFrom(pressed, std::vector{two[0]});
    if (!indent)
        return indent.problem();
    // Of the number it is twice that.
    constexpr double hardlyTold = 0.004;
    const double doubt = by == Knoop ? marked.doubts[0] / between(marked.ends[0], marked.ends[2])
                                     : std::hypot(marked.doubts[0], marked.doubts[1])
            / (between(marked.ends[0], marked.ends[2]) + between(marked.ends[1], marked.ends[3]));
    if (doubt > hardlyTold)
        indent->remarks.push_back(
            {"picture-doubtful",
             Severity::Caution,
             {"H"},
             fmt::format("The ends are told to {:.1f} % of the length only: ± {:.1f} % of the number (k = 2).",
                         doubt * 100, 4 * doubt * 100),
             "Look at them enlarged and put them right, focus again, or use a stronger objective.",
             {}});
    PictureReading reading{{kept(two[0], marked.doubts[0], scale), kept(two[1], marked.doubts[1], scale)},
                           std::move(*indent)};
    if (reading.indent.read)
        reading.budget = uncertaintyBudget(*reading.indent.read);
    return reading;
}

} // namespace fortitor
