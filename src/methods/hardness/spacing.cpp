// SPDX-License-Identifier: GPL-3.0-or-later
// How close indents stand to each other, to the edge and to the far side.
#include "methods/hardness/spacing.h"

#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr double knoopShape = 7.114; // long over short diagonal
constexpr double farEnough = 1 - 1e-6; // what stands on a limit to the digit is far enough

double spacingSize(const HardnessSetting& setting, double across)
{
    return setting.scale->by == HardnessScale::By::Knoop ? across / knoopShape : across;
}

void say(PieceIndent& one, const char* code, std::string text, std::string advice)
{
    one.reading.remarks.push_back({code, Severity::Caution, {"H"}, std::move(text), std::move(advice), {}});
}

/// The usual size of an indent of the piece, for those whose own was not read.
double usualAcross(std::span<const PieceIndent> indents)
{
    std::vector<double> sizes;
    for (const PieceIndent& one : indents)
        if (one.reading.across > 0)
            sizes.push_back(one.reading.across);
    if (sizes.empty())
        return 0;
    std::ranges::nth_element(sizes, sizes.begin() + static_cast<std::ptrdiff_t>(sizes.size() / 2));
    return sizes[sizes.size() / 2];
}

void checkNeighbours(const HardnessSetting& setting, std::span<PieceIndent> indents, double usual)
{
    for (size_t i = 0; i < indents.size(); ++i) {
        PieceIndent& one = indents[i];
        if (!one.x || !one.y)
            continue;
        const double own = one.reading.across > 0 ? one.reading.across : usual;
        const PieceIndent* nearest = nullptr;
        double least = 0;
        for (size_t k = 0; k < i; ++k) { // the later of two stands in what the earlier has worked hard
            const PieceIndent& other = indents[k];
            if (!other.x || !other.y)
                continue;
            const double theirs = other.reading.across > 0 ? other.reading.across : usual;
            const double away = std::hypot(*one.x - *other.x, *one.y - *other.y);
            if (tooClose(setting, {*one.x, *one.y, own}, {*other.x, *other.y, theirs}) && (!nearest || away < least)) {
                nearest = &other;
                least = away;
            }
        }
        if (nearest)
            say(one, "too-close",
                fmt::format("It stands {} mm from indent {}; at least {} mm is wanted.", formatSignificant(least, 3),
                            nearest->number,
                            formatSignificant(leastApart(setting, std::max(own, nearest->reading.across)), 3)),
                "What was worked hard by the first makes the second too hard. Make another one further away.");
    }
}

void checkEdge(const HardnessSetting& setting, const PieceSize& size, PieceIndent& one)
{
    std::optional<double> away = one.fromSurface;
    if (!away && one.x && one.y) {
        away = fromEdge(size, *one.x, *one.y);
        if (away && *away < 0) {
            say(one, "outside-piece",
                fmt::format("Its place lies {} mm outside the piece.", formatSignificant(-*away, 3)),
                "Places are counted from the centre.");
            return;
        }
    }
    const double least = leastFromEdge(setting, one.reading.across);
    if (away && one.reading.across > 0 && *away < least * farEnough)
        say(one, "too-close",
            fmt::format("It stands {} mm from the edge; at least {} mm is wanted.", formatSignificant(*away, 3),
                        formatSignificant(least, 3)),
            "Near an edge the piece gives way. Begin further in, or use less force.");
}

void checkThickness(const PieceSize& size, PieceIndent& one)
{
    const auto thin = [&](std::optional<double> there, const char* what) {
        if (there && *there < one.reading.leastThickness * farEnough)
            say(one, "too-thin",
                fmt::format("The {} is {} mm thick; this indent wants {} mm.", what, formatSignificant(*there, 3),
                            formatSignificant(one.reading.leastThickness, 3)),
                "Use less force: what lies below takes part in the number.");
    };
    thin(size.thickness, "piece");
    if (!one.fromSurface) // a traverse is made on the section, not through the layer
        thin(size.layer, "layer");
}

} // namespace

PieceSize pieceSizeOf(const SpecimenInput& input)
{
    const auto size = [&](const char* key) {
        const double mean = meanLength(input, key);
        return mean > 0 ? std::optional(mean) : std::nullopt;
    };
    PieceSize piece{size("thickness"), size("layer_depth"), size("diameter"),
                    size("length"),    size("width"),       size("tip_width")};
    piece.mounted = input.shape == "mounted piece";
    if (input.shape == "gear tooth" && piece.length && piece.width)
        piece.seen = PieceSize::Seen::Tooth;
    else if ((input.shape == "bar" || input.shape == "wire") && piece.length && piece.diameter)
        piece.seen = PieceSize::Seen::Side;
    return piece;
}

std::vector<std::array<double, 2>> outlineOf(const PieceSize& size)
{
    using enum PieceSize::Seen;
    const auto across = size.seen == Side ? size.diameter : size.width;
    if (!size.length || !across || (size.seen == Face && size.diameter))
        return {};
    const double x = *size.length / 2, root = *across / 2,
                 tip = size.seen == Tooth ? size.tip.value_or(*across) / 2 : root;
    return {{-x, -root}, {x, -tip}, {x, tip}, {-x, root}};
}

std::vector<std::array<double, 2>> insideOutline(const PieceSize& size, double within)
{
    const auto corners = outlineOf(size);
    if (corners.empty())
        return {};
    const double x = corners[2][0], root = corners[3][1], tip = corners[2][1];
    const bool tooth = size.seen == PieceSize::Seen::Tooth;
    const double slope = (tip - root) / (2 * x), aside = within * std::hypot(1.0, slope);
    const double first = tooth ? -x : -x + within, last = x - within;
    const auto half = [&](double at) { return root + slope * (at + x) - aside; };
    if (last <= first || half(first) <= 0 || half(last) <= 0)
        return {};
    std::vector<std::array<double, 2>> line{
        {first, -half(first)}, {last, -half(last)}, {last, half(last)}, {first, half(first)}};
    if (!tooth)
        line.push_back(line.front());
    return line;
}

std::optional<double> fromEdge(const PieceSize& size, double x, double y)
{
    using enum PieceSize::Seen;
    if (size.diameter && size.seen == Face)
        return *size.diameter / 2 - std::hypot(x, y);
    if (size.seen == Tooth) {
        const double root = *size.width / 2, tip = size.tip.value_or(*size.width) / 2;
        const double lean = std::hypot(1.0, (root - tip) / *size.length);
        const double flank = (root + (tip - root) * (x / *size.length + 0.5) - std::abs(y)) / lean;
        return std::min(flank, *size.length / 2 - x);
    }
    std::optional<double> away;
    if (size.length)
        away = *size.length / 2 - std::abs(x);
    if (const auto across = size.seen == Side ? size.diameter : size.width)
        away = std::min(away.value_or(1e300), *across / 2 - std::abs(y));
    return away;
}

double leastApart(const HardnessSetting& setting, double across)
{
    return (setting.scale->by == HardnessScale::By::Knoop ? 3 : setting.apart) * spacingSize(setting, across);
}

double leastFromEdge(const HardnessSetting& setting, double across)
{
    return setting.fromEdge * spacingSize(setting, across);
}

bool tooClose(const HardnessSetting& setting, const IndentPlace& a, const IndentPlace& b)
{
    const double across = std::max(a.across, b.across);
    const double dx = std::abs(a.x - b.x);
    const double dy = std::abs(a.y - b.y);
    if (setting.scale->by != HardnessScale::By::Knoop)
        return std::hypot(dx, dy) < leastApart(setting, across) * farEnough;
    const double aside = leastApart(setting, across) * farEnough;
    const double inLine = 2 * across * farEnough; // one long diagonal clear between the tips
    return (dx < inLine && dy < aside) && (dy < inLine && dx < aside);
}

void checkPlaces(const HardnessSetting& setting, const PieceSize& size, std::span<PieceIndent> indents)
{
    checkNeighbours(setting, indents, usualAcross(indents));
    for (PieceIndent& one : indents) {
        if (one.missed)
            continue;
        checkEdge(setting, size, one);
        checkThickness(size, one);
    }
}

} // namespace fortitor
