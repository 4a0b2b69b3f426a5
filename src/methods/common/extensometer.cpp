// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/extensometer.h"

#include "curve/line_fit.h"
#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr size_t mostBlocks = 200;
constexpr size_t rowsOfBlock = 3;
constexpr double standsStill = 0.05; // of how it followed before
constexpr double followsNoMore = 0.25; // the same, once it has jumped
constexpr double runsAway = 2.5;

/// Stretches of the run of equal travel: where the drive is fast a few readings, where it is slow many.
struct Block {
    size_t begin = 0;
    double way = 0; ///< mean of the crosshead
    double extension = 0; ///< median: one stray reading does not count
};

std::vector<Block> blocksOf(std::span<const double> extension, std::span<const double> crosshead, size_t from,
                            size_t to)
{
    std::vector<Block> blocks;
    const double each = (crosshead[to - 1] - crosshead[from]) / static_cast<double>(mostBlocks);
    for (size_t begin = from; begin < to;) {
        size_t end = begin + 1;
        while (end < to && (end < begin + rowsOfBlock || crosshead[end] - crosshead[begin] < each))
            ++end;
        if (to - end < rowsOfBlock)
            end = to;
        double way = 0;
        for (size_t i = begin; i < end; ++i)
            way += (crosshead[i] - crosshead[begin]) / static_cast<double>(end - begin);
        blocks.push_back({begin, crosshead[begin] + way,
                          medianOf({extension.begin() + static_cast<std::ptrdiff_t>(begin),
                                    extension.begin() + static_cast<std::ptrdiff_t>(end)})});
        begin = end;
    }
    return blocks;
}

/// How much of the crosshead's motion the extension shows between two blocks.
double ratioOf(const std::vector<Block>& blocks, size_t k)
{
    const double moved = blocks[k + 1].way - blocks[k].way;
    return moved > 0 ? (blocks[k + 1].extension - blocks[k].extension) / moved : 0;
}

/// How it followed over the blocks [from, to).
double followedOver(const std::vector<Block>& blocks, size_t from, size_t to)
{
    std::vector<double> ratios;
    for (size_t k = from; k + 1 < std::min(to, blocks.size()); ++k)
        ratios.push_back(ratioOf(blocks, k));
    return ratios.empty() ? 0 : medianOf(std::move(ratios));
}

double tailSlope(const std::vector<Block>& blocks, size_t b)
{
    constexpr size_t pulled = 3; // while the hand pulls it off it shows anything
    std::vector<double> way;
    std::vector<double> extension;
    for (size_t k = b + (blocks.size() - b >= 8 ? pulled : 0); k < blocks.size(); ++k) {
        way.push_back(blocks[k].way);
        extension.push_back(blocks[k].extension);
    }
    return fitLine(way, extension).slope;
}

/// The first reading from `a` on that leaps away from how it followed; `end` when none does.
size_t firstLeap(std::span<const double> extension, std::span<const double> crosshead, size_t a, size_t end,
                 double followed, double noise)
{
    for (size_t i = a + 1; i < end; ++i) {
        const double moved = std::max(0.0, crosshead[i] - crosshead[i - 1]);
        if (std::abs(extension[i] - extension[i - 1] - followed * moved) > 12 * noise + runsAway * moved)
            return i;
    }
    return end;
}

/// The last reading that moved with the specimen, where the channel came to stand still.
size_t lastMoving(std::span<const double> extension, size_t a, size_t end, size_t to, double noise)
{
    const size_t tail = std::min(end + std::max(size_t{8}, (to - a) / 200), to);
    std::vector<double> rest(extension.begin() + static_cast<std::ptrdiff_t>(std::min(end, to - 1)),
                             extension.begin() + static_cast<std::ptrdiff_t>(tail));
    const double after = medianOf(rest);
    for (double& v : rest)
        v = std::abs(v - after);
    const double tremble = std::max({4 * noise, 4 * 1.4826 * medianOf(std::move(rest)), 1e-4});
    // Two in a row off that place: one stray reading is no motion.
    for (size_t i = std::min(end, to - 1); i > a + 1; --i)
        if (std::abs(extension[i] - after) > tremble && std::abs(extension[i - 1] - after) > tremble)
            return i;
    return a;
}

} // namespace

std::optional<size_t> findExtensometerOff(std::span<const double> extension, std::span<const double> crosshead,
                                          size_t from, size_t to, double noise)
{
    if (to < from + 30 || crosshead.size() < to || !(crosshead[to - 1] > crosshead[from]))
        return std::nullopt;
    const auto blocks = blocksOf(extension, crosshead, from, to);
    const double travel = blocks.back().way - blocks.front().way;
    for (size_t b = 4; b + 2 < blocks.size(); ++b) {
        const double left = blocks.back().way - blocks[b].way;
        if (left < 0.01 * travel || to - blocks[b].begin < 5)
            break;
        const double followed = followedOver(blocks, b > 9 ? b - 9 : 0, b);
        const double now = ratioOf(blocks, b - 1);
        const double moved = blocks[b].way - blocks[b - 1].way;
        if (!(followed > 0.01) || (now > 0.3 * followed && now < 3 * followed))
            continue;
        const size_t a = blocks[b - 2].begin; // one earlier: a block may begin with the leap
        const size_t end = b + 1 < blocks.size() ? blocks[b + 1].begin : to;
        const double later = followedOver(blocks, b + 1, b + 9);
        if (later > 0.3 * followed && later < 3 * followed)
            continue; // a slip: it goes on following
        const size_t leap = firstLeap(extension, crosshead, a, end, followed, noise);
        const bool leaps = leap < end;
        const double slope = tailSlope(blocks, b);
        const double still = std::max(standsStill * followed, 3 * noise / left);
        const bool stands = std::abs(slope) < still
            && std::abs(blocks.back().extension - blocks[b].extension) < std::max(8 * noise, 2 * still * left);
        const bool off = leaps ? slope < followsNoMore * followed || slope > runsAway * std::max(followed, 1.0)
                               : moved > 0 && (stands || slope < -0.5 || slope > runsAway * std::max(followed, 1.0));
        if (off)
            return leaps ? leap - 1 : lastMoving(extension, a, end, to, noise);
    }
    return std::nullopt;
}

std::optional<size_t> findFrozen(std::span<const double> extension, std::span<const double> force, size_t from,
                                 size_t to, double noise, double forceNoise)
{
    if (to < from + 60)
        return std::nullopt;
    const double still = std::max(4 * noise, 1e-4);
    // Back from the end while the extension stays at its last place.
    std::vector<double> tail(extension.begin() + static_cast<std::ptrdiff_t>(to - 20),
                             extension.begin() + static_cast<std::ptrdiff_t>(to));
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

namespace {

/// What is between two lines through `side` readings before and behind a gap, at its middle, and the standard
/// error of that.
struct Gap {
    double step = 0;
    double doubt = 0;
};

Gap gapOf(std::span<const double> y, std::span<const double> along, size_t i, size_t width, size_t side, double noise)
{
    const double middle = 0.5 * (along[i] + along[i + width]);
    Gap gap;
    double variance = 0;
    for (const size_t begin : {i + 1 - side, i + width}) {
        const auto x = along.subspan(begin, side);
        const LineFit line = fitLine(x, y.subspan(begin, side));
        if (!line.valid())
            return {0, 1e300};
        double squares = 0;
        for (const double v : x)
            squares += (v - line.meanX) * (v - line.meanX);
        const double scatter = std::max(line.residualRms, noise);
        variance += scatter * scatter
            * (1 / static_cast<double>(side) + (middle - line.meanX) * (middle - line.meanX) / squares);
        gap.step += begin == i + width ? line.at(middle) : -line.at(middle);
    }
    gap.doubt = std::sqrt(variance);
    return gap;
}

/// Whether a crosshead is read so finely that most readings lie beyond the one before.
bool movesOn(std::span<const double> crosshead)
{
    size_t forth = 0;
    for (size_t i = 1; i < crosshead.size(); ++i)
        forth += crosshead[i] > crosshead[i - 1];
    return forth * 10 > crosshead.size() * 7;
}

} // namespace

std::optional<ExtensometerSlip> findSlip(std::span<const double> extension, std::span<const double> force,
                                         std::span<const double> crosshead, size_t from, size_t to, double noise,
                                         double forceNoise)
{
    std::optional<ExtensometerSlip> worst;
    constexpr size_t few = 8;
    constexpr double stepsOut = 0.7; // of a step, beyond what moves beside it
    if (to < from + 4 * few)
        return worst;
    // The extension is held against the crosshead, so that a drive that changes its speed makes no step.
    std::vector<double> index;
    std::span<const double> along = crosshead;
    if (crosshead.size() < to || !movesOn(crosshead.subspan(from, to - from))) {
        index.resize(to);
        for (size_t i = 0; i < to; ++i)
            index[i] = static_cast<double>(i);
        along = index;
    }
    const double least = std::max(5 * noise, 5e-4);
    const double worth = std::max(7 * noise, 5e-4); // a gap between lines is never known better than that
    for (const size_t width : {size_t{1}, size_t{3}, size_t{10}, size_t{30}}) {
        const size_t side = std::max(few, width);
        if (to - from < 2 * width + 4 * side)
            break;
        const size_t first = from + side;
        const size_t last = to - 2 * width - side;
        const auto steps = greatestSteps(extension, first, last, width);
        for (size_t i = first; i < last; ++i) {
            const Extremes& block = steps[(i - first) / blockOfSteps];
            if ((i - first) % blockOfSteps == 0 && block.greatest < least && -block.least < least) {
                i += blockOfSteps - 1; // nothing here can be a step
                continue;
            }
            // Knives that seat, or a bar that begins to flow, move by as much just before or behind: that is no step.
            const double moved = extension[i + width] - extension[i];
            const double before = extension[i] - extension[i - width];
            const double behind = extension[i + 2 * width] - extension[i + width];
            const double forth = moved - std::max(before, behind);
            const double back = std::min(before, behind) - moved;
            if (std::max(forth, back) < stepsOut * worth)
                continue;
            const Gap gap = gapOf(extension, along, i, width, side, noise);
            if (std::abs(gap.step) < std::max(least, 9 * gap.doubt)
                || (worst && std::abs(gap.step) <= std::abs(worst->step)))
                continue;
            if ((gap.step > 0 ? forth : back) < stepsOut * std::abs(gap.step))
                continue;
            const Gap load = gapOf(force, along, i, width, side, forceNoise);
            if (std::abs(load.step) > std::max(8 * forceNoise, 4 * load.doubt))
                continue;
            worst = ExtensometerSlip{i, gap.step};
        }
        if (worst)
            break;
    }
    return worst;
}

} // namespace fortitor
