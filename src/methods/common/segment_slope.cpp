// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/segment_slope.h"

#include "methods/common/first_climb.h"

#include <algorithm>
#include <cmath>
#include <sstream>

namespace fortitor {
namespace {

size_t firstAt(std::span<const double> x, double strain, size_t from)
{
    size_t i = from;
    while (i < x.size() && x[i] < strain)
        ++i;
    return i;
}

constexpr double seating = 0.02; // no foot of grips and knives is longer

Problem outside(double from, double to)
{
    return {"slope",
            "a record that ends, or has under three readings, between " + formatSignificant(from * 100, 3) + " and "
                + formatSignificant(to * 100, 3) + " % strain",
            "readings on both sides of these strains", "Was the extensometer on, and its gauge length right?"};
}

} // namespace

Expected<SegmentSlope> slopeBetween(const StressStrain& data, double from, double to, SegmentRule option)
{
    const size_t top = data.onset + indexOfGreatest(std::span(data.stress).subspan(data.onset, data.end - data.onset));
    const size_t limit = std::min(data.removedAt ? *data.removedAt + 1 : data.end, top + 1);
    const auto x = std::span(data.strain).first(limit);
    const auto y = std::span(data.stress).first(limit);
    if (limit < data.onset + 4)
        return outside(from, to);
    SegmentSlope found;
    const size_t start =
        firstClearOfNoise(data); // the segment may lie before the load is clear of a share of its range
    found.origin = data.strain[start];
    const size_t climb = std::min(firstClimbEnds(data), limit) - data.onset;
    if (const auto straight = findStraightPart(x.subspan(data.onset, climb), y.subspan(data.onset, climb), data.noise);
        straight && straight->origin() - data.strain[data.onset] < seating)
        found.origin = straight->origin();
    for (int round = 0; round < 12; ++round) {
        const size_t a = firstAt(x, found.origin + from, start);
        const size_t b = firstAt(x, found.origin + to, a);
        if (b >= limit || b < a + 3)
            return outside(from, to);
        if (option == SegmentRule::Secant) {
            auto chord = chordBetweenStrains(x, y, found.origin + from, found.origin + to);
            if (!chord)
                return chord.problem();
            found.part = *chord;
        } else {
            found.part = fitStraightPart(x, y, a, b + 1);
        }
        if (!found.part.line.valid() || !(found.part.slope() > 0))
            return Problem{"slope",
                           "stress that does not climb between " + formatSignificant(from * 100, 3) + " and "
                               + formatSignificant(to * 100, 3) + " % strain",
                           "a load that rises with strain",
                           "Check which columns are force and extension, and their signs."};
        const double moved = found.part.origin() - found.origin;
        found.origin = found.part.origin();
        if (std::abs(moved) < 1e-8)
            break;
    }
    if (option == SegmentRule::Tangent) {
        const size_t a = firstAt(x, found.origin, start);
        const size_t b = firstAt(x, found.origin + to, a);
        const QuadraticFit curve = fitQuadratic(x.subspan(a, b - a), y.subspan(a, b - a));
        if (curve.n > 0) {
            const double t = (found.origin - curve.centre) / curve.halfWidth;
            const double slope = (curve.b + 2 * curve.c * t) / curve.halfWidth;
            found.part.line.slope = slope;
            found.part.line.intercept = curve.at(found.origin) - slope * found.origin;
            found.part.line.meanX = found.origin;
            found.part.line.meanY = curve.at(found.origin);
        }
    }
    return found;
}

Expected<std::pair<double, double>> twoStrains(const std::string& text, const std::string& option)
{
    std::istringstream in(text);
    std::vector<std::string> parts;
    for (std::string part; in >> part;)
        parts.push_back(part);
    if (parts.size() == 2)
        parts = {parts[0], "", parts[1], ""};
    const Problem wrong{
        "options." + option, '"' + text + '"', "two strains with units, the lower first, such as \"0.1 % 0.3 %\"", {}};
    if (parts.size() != 4)
        return wrong;
    const auto a = parseQuantity(parts[0] + " " + parts[1], Kind::Strain);
    const auto b = parseQuantity(parts[2] + " " + parts[3], Kind::Strain);
    if (!a || !b || !(b->base > a->base) || a->base < 0)
        return wrong;
    return std::pair{a->base, b->base};
}

} // namespace fortitor
