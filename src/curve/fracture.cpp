// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/fracture.h"

#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr double softeningTimes = 5;
constexpr double leastLastFall = 0.1; // of the greatest load, for a fall at the end of a record
constexpr double notRecovered = 0.8;

struct Fall {
    size_t at = 0;
    double size = 0;
};

Fall largestFall(std::span<const double> y, size_t from, size_t width)
{
    Fall best;
    if (from + width >= y.size())
        return best;
    const size_t to = y.size() - width;
    const auto blocks = greatestSteps(y, from, to, width);
    const auto block = static_cast<size_t>(std::ranges::min_element(blocks, {}, &Extremes::least) - blocks.begin());
    for (size_t i = from + block * blockOfSteps; i < std::min(from + (block + 1) * blockOfSteps, to); ++i)
        if (y[i] - y[i + width] > best.size)
            best = {i, y[i] - y[i + width]};
    return best;
}

/// Steepest softening in the stretch before `end`, per point, over pieces long enough to see past the noise.
double softeningRate(std::span<const double> y, size_t from, size_t end, double noise)
{
    if (end <= from + 4)
        return 0;
    const size_t piece = std::max(size_t{2}, (end - from) / 25);
    double steepest = 0;
    for (size_t i = from; i + piece <= end; i += std::max(size_t{1}, piece / 2))
        steepest =
            std::max(steepest, (y[i] - y[std::min(i + piece, end - 1)] - 2 * noise) / static_cast<double>(piece));
    return steepest;
}

bool recovers(std::span<const double> y, const Fall& fall, size_t width)
{
    for (size_t i = fall.at + width; i < y.size(); ++i)
        if (y[i] > notRecovered * y[fall.at])
            return true;
    return false;
}

void readResidual(std::span<const double> y, size_t from, double noise, double top, Fracture& found)
{
    // The quiet end: the last half of what follows the fall, five readings at least, if it stands still.
    constexpr size_t enough = 5;
    if (y.size() < from + enough)
        return;
    const size_t start = std::min(from + (y.size() - from) / 2, y.size() - enough);
    double mean = 0;
    for (size_t i = start; i < y.size(); ++i)
        mean += y[i] / static_cast<double>(y.size() - start);
    double squares = 0;
    for (size_t i = start; i < y.size(); ++i)
        squares += (y[i] - mean) * (y[i] - mean);
    const double scatter = std::sqrt(squares / static_cast<double>(y.size() - start - 1));
    if (scatter > std::max(4 * noise, 0.003 * top))
        return;
    found.residual = mean;
    found.residualCount = y.size() - start;
}

} // namespace

std::optional<Fracture> findFracture(std::span<const double> y, double noise, size_t topAt)
{
    if (y.size() < 5)
        return std::nullopt;
    const double top = y[topAt];
    const double base = y[0];
    for (size_t width = 1; width < std::max(y.size() / 20, size_t{4}); width *= 3) {
        const Fall fall = largestFall(y, 0, width);
        if (fall.size < std::max(leastLastFall * (top - base), 10 * noise))
            continue;
        if (recovers(y, fall, width))
            return std::nullopt;
        const size_t maxAt = topAt <= fall.at ? topAt : indexOfGreatest(y.first(fall.at + 1));
        // Back up the fall to where it began.
        size_t last = fall.at;
        const size_t calmEnd = last > 2 * width ? last - 2 * width : 0;
        const double calm = std::max(0.0, softeningRate(y, std::min(maxAt, calmEnd), calmEnd, noise));
        if (fall.size < softeningTimes * calm * static_cast<double>(width))
            continue;
        const double step = std::max(3 * noise, softeningTimes * calm);
        while (last > maxAt && y[last - 1] - y[last] > step)
            --last;
        for (size_t w = 2; w <= width && last > maxAt; ++w)
            while (last >= maxAt + w
                   && y[last - w] - y[last] > std::max(4 * noise, softeningTimes * calm * static_cast<double>(w)))
                --last;
        Fracture found;
        found.last = last;
        size_t bottom = fall.at + width;
        while (bottom + 1 < y.size() && y[bottom] - y[bottom + 1] > 5 * noise)
            ++bottom;
        found.cutInFall = y.size() - bottom < 5 && y.back() > 0.1 * top;
        if (!found.cutInFall)
            readResidual(y, bottom, noise, top, found);
        return found;
    }
    return std::nullopt;
}

} // namespace fortitor
