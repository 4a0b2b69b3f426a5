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
    return {size("thickness"), size("layer_depth"), size("diameter"), size("length"), size("width")};
}

std::optional<double> fromEdge(const PieceSize& size, double x, double y)
{
    if (size.diameter)
        return *size.diameter / 2 - std::hypot(x, y);
    std::optional<double> away;
    if (size.length)
        away = *size.length / 2 - std::abs(x);
    if (size.width)
        away = std::min(away.value_or(1e300), *size.width / 2 - std::abs(y));
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
