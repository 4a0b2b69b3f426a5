// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/unloading.h"

#include "curve/line_fit.h"
#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <ranges>
#include <vector>

namespace fortitor {
namespace {

constexpr double timesNoise = 6;
constexpr double shareOfRange = 0.003;
constexpr double timesStiffer = 3;
constexpr double slopeWithin = 2.5;

/// The readings of the fall between nine tenths and a seventh of its height.
std::pair<size_t, size_t> middleOfFall(std::span<const double> force, size_t last)
{
    double least = force[last];
    for (size_t i = last; i < force.size(); ++i)
        least = std::min(least, force[i]);
    const double height = force[last] - least;
    size_t a = last;
    while (a < force.size() && force[a] > least + 0.9 * height)
        ++a;
    size_t b = a;
    while (b < force.size() && force[b] > least + 0.15 * height)
        ++b;
    return {a, b};
}

} // namespace

std::optional<Turn> findTurn(std::span<const double> way, size_t from, double noise)
{
    if (way.size() < from + 6)
        return std::nullopt;
    const auto values = way.subspan(from);
    const Extremes ends = extremesOf(values);
    const double clear = std::max(timesNoise * noise, shareOfRange * (ends.greatest - ends.least));
    if (!(clear > 0) || ends.greatest - values.back() <= clear)
        return std::nullopt;
    // Where it last stood at its greatest, within the noise, and since when.
    const double near = ends.greatest - 7 * noise; // the greatest of many lies some three noise widths too high itself
    size_t last = values.size() - 1;
    while (values[last] < near)
        --last;
    size_t first = last;
    while (first > 0 && values[first - 1] >= near)
        --first;
    return Turn{from + first, from + last};
}

double steepestClimb(std::span<const double> force, std::span<const double> way, double noise, size_t from, size_t last)
{
    const double clear = std::max(10 * noise, 1e-4 * (way[last] - way[from]));
    double steepest = 0;
    size_t j = from;
    for (size_t i = from; i < last; ++i) {
        while (j < last && (j <= i || way[j] - way[i] <= clear))
            ++j;
        // Only what may be steeper is divided.
        const double moved = way[j] - way[i];
        const double climbed = force[j] - force[i];
        if (moved > clear && climbed > steepest * moved * (1 - 1e-14))
            steepest = std::max(steepest, climbed / moved);
    }
    return steepest;
}

bool fallsByGoingBack(std::span<const double> force, std::span<const double> way, double noise, size_t from,
                      size_t last)
{
    if (way.size() < force.size() || last <= from || last + 1 >= force.size())
        return false;
    const auto [middle, end] = middleOfFall(force, last);
    const size_t bottom = std::min(end, force.size() - 1);
    // It may stand for a while, or run on by its inertia, before it goes back.
    double furthest = way[last];
    for (size_t i = last; i <= bottom; ++i)
        furthest = std::max(furthest, way[i]);
    const double back = furthest - way[bottom];
    if (back <= 4 * noise)
        return false;
    // At a break the machine springs back too, within a reading, and stands; a drive that goes back goes on.
    const size_t next = std::min(bottom + 2, force.size() - 1);
    if (end < middle + 2 && (next == bottom || way[bottom] - way[next] < 0.25 * back))
        return false;
    return force[last] - force[bottom] <= timesStiffer * steepestClimb(force, way, noise, from, last) * back;
}

bool fallsAlongUnloading(std::span<const double> force, std::span<const double> strain, double noise, size_t from,
                         size_t last)
{
    if (strain.size() < force.size() || last <= from)
        return false;
    const auto [a, b] = middleOfFall(force, last);
    const double climb = steepestClimb(force, strain, noise, from, last);
    if (b >= a + 2 && b < a + 4) // of two or three readings each must lie on the line down from the top
        return std::ranges::all_of(std::views::iota(a, b), [&](size_t i) {
            const double slope = (force[last] - force[i]) / std::max(strain[last] - strain[i], 1e-300);
            return slope > climb / 2 && slope < climb * 1.5;
        });
    if (b < a + 4)
        return false;
    const LineFit line = fitLine(strain.subspan(a, b - a), force.subspan(a, b - a));
    return line.valid() && climb > 0 && line.slope > climb / slopeWithin && line.slope < climb * slopeWithin
        && line.r2 > 0.95;
}

bool fallsSteadily(std::span<const double> force, size_t from, size_t last)
{
    const auto [a, b] = middleOfFall(force, last);
    if (b < a + 8 || b - a < (last - std::min(from, last)) / 100)
        return false;
    std::vector<double> index(b - a);
    for (size_t i = 0; i < index.size(); ++i)
        index[i] = static_cast<double>(i);
    return fitLine(index, force.subspan(a, b - a)).r2 > 0.98;
}

} // namespace fortitor
