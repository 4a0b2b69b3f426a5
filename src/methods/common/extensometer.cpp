// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/extensometer.h"

#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr size_t blockCount = 240;
constexpr double standsStill = 0.03; // of the crosshead's motion
constexpr double runsAway = 3;
constexpr double runsBack = -0.5;

double meanOf(std::span<const double> y, size_t from, size_t to)
{
    double sum = 0;
    for (size_t i = from; i < to; ++i)
        sum += y[i] - y[from];
    return y[from] + sum / static_cast<double>(to - from);
}

} // namespace

std::optional<size_t> findExtensometerOff(std::span<const double> extension, const RowView& crosshead, size_t from, size_t to, double noise)
{
    if (to < from + 40 || crosshead.size() < to)
        return std::nullopt;
    const size_t blocks = std::min(blockCount, (to - from) / 4);
    const double travel = crosshead[to - 1] - crosshead[from];
    if (!(travel > 0))
        return std::nullopt;
    const auto edge = [&](size_t b) { return from + b * (to - from) / blocks; };
    std::vector<int> state(blocks); // 1 follows, -1 does not, 0 can't tell
    size_t still = 0;
    for (size_t b = 0; b < blocks; ++b) {
        const size_t a = edge(b);
        const size_t e = std::min(edge(b + 1), to - 1);
        const double moved = crosshead[e] - crosshead[a];
        const double stretched = extension[e] - extension[a];
        if (moved < 0.2 * travel / static_cast<double>(blocks) || (std::abs(stretched) < 4 * noise && moved < 8 * noise))
            continue;
        const double ratio = stretched / moved;
        state[b] = std::abs(ratio) < std::max(standsStill, 3 * noise / moved) || ratio > runsAway || ratio < runsBack ? -1 : 1;
    }
    size_t first = blocks;
    size_t off = 0;
    for (size_t b = blocks; b-- > 0;) {
        if (state[b] == 1)
            break;
        if (state[b] == -1) {
            first = b;
            ++off;
            still += 1;
        }
    }
    if (off < std::max(size_t{4}, blocks / 50))
        return std::nullopt;
    // Inside the block, and the one before it, the point where it last moved with the specimen.
    size_t at = edge(first > 0 ? first - 1 : 0);
    const size_t stop = edge(first + 1);
    // Where it stands afterwards, and how much it still trembles there.
    const size_t tail = std::min(stop + std::max(size_t{8}, (to - from) / blocks), to);
    std::vector<double> rest(extension.begin() + static_cast<std::ptrdiff_t>(std::min(stop, to - 1)), extension.begin() + static_cast<std::ptrdiff_t>(tail));
    const double after = medianOf(rest);
    for (double& v : rest)
        v = std::abs(v - after);
    const double tremble = std::max({4 * noise, 4 * 1.4826 * medianOf(std::move(rest)), 1e-4});
    // Two in a row off that place: one stray reading is no motion.
    for (size_t i = stop; i-- > at + 1;)
        if (std::abs(extension[i] - after) > tremble && std::abs(extension[i - 1] - after) > tremble) {
            at = i;
            break;
        }
    return at;
}

std::optional<size_t> findFrozen(std::span<const double> extension, std::span<const double> force, size_t from, size_t to, double noise, double forceNoise)
{
    if (to < from + 60)
        return std::nullopt;
    const double still = std::max(4 * noise, 1e-4);
    // Back from the end while the extension stays at its last place.
    std::vector<double> tail(extension.begin() + static_cast<std::ptrdiff_t>(to - 20), extension.begin() + static_cast<std::ptrdiff_t>(to));
    const double last = medianOf(std::move(tail));
    size_t at = to;
    size_t off = 0;
    while (at > from && off < 3) {
        --at;
        off = std::abs(extension[at] - last) > still ? off + 1 : 0;
    }
    at += off;
    if (to - at < std::max<size_t>(30, (to - from) / 50) || at <= from + 20)
        return std::nullopt;
    const auto frozen = extremesOf(force.subspan(at, to - at));
    const double top = extremesOf(force.first(to)).greatest;
    if (frozen.greatest - frozen.least < std::max(0.01 * top, 12 * forceNoise))
        return std::nullopt;
    return at;
}

std::optional<Slip> findSlip(std::span<const double> extension, std::span<const double> force, const RowView& crosshead, size_t from, size_t to, double noise, double forceNoise)
{
    std::optional<Slip> worst;
    constexpr size_t side = 6;
    if (to < from + 4 * side)
        return worst;
    const double least = std::max(5 * noise * std::sqrt(2.0), 5e-4);
    for (size_t width = 1; width <= 100 && (to - from) / width >= 200; width *= 10) {
        const size_t first = from + side;
        const size_t last = to - width - side;
        if (first >= last)
            break;
        const auto steps = greatestSteps(extension, first, last, width);
        for (size_t i = first; i < last; ++i) {
            const Extremes& block = steps[(i - first) / blockOfSteps];
            if ((i - first) % blockOfSteps == 0 && block.greatest < least && -block.least < least) {
                i += blockOfSteps - 1; // nothing here can be a step
                continue;
            }
            const double step = extension[i + width] - extension[i];
            if (std::abs(step) < least)
                continue;
            // What the specimen itself does in that time, from both sides of the step.
            const double before = extension[i] - extension[i - side];
            const double after = extension[i + width + side] - extension[i + width];
            const double trend = std::max(std::abs(before), std::abs(after)) * static_cast<double>(width) / side;
            if (std::abs(step) < 4 * trend)
                continue;
            const double lasting = meanOf(extension, i + width, i + width + side) - meanOf(extension, i - side + 1, i + 1);
            const double extra = std::abs(lasting) - trend * (1 + static_cast<double>(side) / static_cast<double>(width));
            if (extra < least)
                continue;
            if (crosshead.size() >= to && std::abs(lasting) < 3 * std::abs(crosshead[i + width] - crosshead[i]))
                continue; // the drive changed its speed
            const double forceStep = meanOf(force, i + width, i + width + side) - meanOf(force, i - side + 1, i + 1);
            const double forceTrend = (std::abs(force[i] - force[i - side]) + std::abs(force[i + width + side] - force[i + width])) / 2;
            if (std::abs(forceStep) > 8 * forceNoise + 2 * forceTrend)
                continue;
            if (!worst || std::abs(step) > std::abs(worst->step))
                worst = Slip{i, lasting};
        }
        if (worst)
            break;
    }
    return worst;
}

} // namespace fortitor
