// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/extensometer.h"

#include "curve/line_fit.h"
#include "curve/signal.h"
#include "curve/wide.h"

#include <Eigen/Dense>

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <numeric>
#include <vector>

namespace fortitor {
namespace {

constexpr size_t mostBlocks = 200;
constexpr size_t rowsOfBlock = 3;
constexpr size_t enoughOfBlock = 400; // readings; of more every n-th is taken
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
    std::vector<double> values;
    for (size_t begin = from; begin < to;) {
        size_t end = firstAtLeast(crosshead.first(to), std::min(begin + rowsOfBlock, to), each, crosshead[begin]);
        if (to - end < rowsOfBlock)
            end = to;
        const size_t stride = (end - begin) / enoughOfBlock + 1;
        values.resize((end - begin + stride - 1) / stride);
        double way = 0;
        for (size_t k = 0, i = begin; i < end; ++k, i += stride) {
            way += crosshead[i] - crosshead[begin];
            values[k] = extension[i];
        }
        blocks.push_back({begin, crosshead[begin] + way / static_cast<double>(values.size()), medianIn(values)});
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

/// How it followed over the blocks [from, to), ten at most.
double followedOver(const std::vector<Block>& blocks, size_t from, size_t to)
{
    std::array<double, 9> ratios;
    size_t count = 0;
    for (size_t k = from; k + 1 < std::min(to, blocks.size()); ++k)
        ratios.at(count++) = ratioOf(blocks, k);
    return count == 0 ? 0 : medianIn(std::span(ratios).first(count));
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

constexpr std::array<size_t, 4> widthsOfSlip{1, 3, 10, 30};
constexpr size_t few = 8;

size_t sideOf(size_t width)
{
    return std::max(few, width);
}

const std::vector<double>& countedReadings()
{
    static const std::vector<double> counted = [] {
        std::vector<double> index(widthsOfSlip.back() + 2 * sideOf(widthsOfSlip.back()));
        std::iota(index.begin(), index.end(), 0.0);
        return index;
    }();
    return counted;
}

/// What is between two lines through `side` readings before and behind a gap, at its middle, and the standard
/// error of that.
struct Gap {
    double step = 0;
    double doubt = 0;
};

/// Where the readings on both sides of a gap lie. `along`: the crosshead, or nothing, where the readings are counted.
std::span<const double> placesOf(std::span<const double> along, size_t i, size_t width, size_t side)
{
    return along.empty() ? std::span(countedReadings()).first(width + 2 * side)
                         : along.subspan(i + 1 - side, width + 2 * side);
}

/// The doubt of a gap between readings that lie on their lines to a noise of one: from their places alone.
double leastDoubt(std::span<const double> there, size_t width, size_t side)
{
    const double middle = 0.5 * (there[side - 1] + there[side - 1 + width]);
    double variance = 0;
    for (const auto x : {there.first(side), there.last(side)}) {
        const Eigen::Map<const Eigen::ArrayXd> places(x.data(), static_cast<Eigen::Index>(side));
        const double mean = x[0] + (places - x[0]).sum() / static_cast<double>(side);
        const double squares = (places - mean).square().sum();
        variance += 1 / static_cast<double>(side) + (middle - mean) * (middle - mean) / squares;
    }
    return std::sqrt(variance);
}

Gap gapOf(std::span<const double> y, std::span<const double> along, size_t i, size_t width, size_t side, double noise)
{
    const size_t first = i + 1 - side;
    const auto there = placesOf(along, i, width, side);
    const double middle = 0.5 * (there[side - 1] + there[side - 1 + width]);
    Gap gap;
    double variance = 0;
    for (const size_t begin : {first, i + width}) {
        const auto x = there.subspan(begin - first, side);
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

/// Whether a crosshead is read so finely that most readings lie beyond the one before; of very many some are asked.
bool movesOn(std::span<const double> crosshead)
{
    constexpr size_t enough = 20000;
    const size_t stride = crosshead.size() / enough + 1;
    if (stride == 1)
        return risesIn(crosshead) * 10 > crosshead.size() * 7;
    size_t forth = 0;
    size_t asked = 0;
    for (size_t i = 1; i < crosshead.size(); i += stride, ++asked)
        forth += crosshead[i] > crosshead[i - 1];
    return forth * 10 > (asked + 1) * 7;
}

/// By how much a move stands out of those just before and behind, forth or back: knives that seat, or a bar that begins
/// to flow, move by as much there, and that is no step.
double standsOut(std::span<const double> y, size_t i, size_t width, bool forth)
{
    const double moved = y[i + width] - y[i];
    const double before = y[i] - y[i - width];
    const double behind = y[i + 2 * width] - y[i + width];
    return forth ? moved - std::max(before, behind) : std::min(before, behind) - moved;
}

/// The first place in [i, end) that stands out by `clear` or more, forth or back; `end` when there is none.
FORTITOR_WIDE size_t nextStep(std::span<const double> y, size_t i, size_t end, size_t width, double clear)
{
    using Truths = long __attribute__((vector_size(32)));
    for (; i + 4 <= end; i += 4) {
        Four a, b, c, d;
        loadFour(a, y.data() + i - width);
        loadFour(b, y.data() + i);
        loadFour(c, y.data() + i + width);
        loadFour(d, y.data() + i + 2 * width);
        const Four moved = c - b, before = b - a, behind = d - c;
        const Four forth = moved - (before < behind ? behind : before);
        const Four back = (behind < before ? behind : before) - moved;
        const Truths any = (forth >= clear) | (back >= clear);
        if ((any[0] | any[1] | any[2] | any[3]) != 0)
            return i + (any[0] != 0 ? 0 : any[1] != 0 ? 1 : any[2] != 0 ? 2 : 3);
    }
    while (i < end && !(std::max(standsOut(y, i, width, true), standsOut(y, i, width, false)) >= clear))
        ++i;
    return i;
}

/// The greatest steps over each of the widths, found together while the readings are at hand.
std::array<std::vector<Extremes>, widthsOfSlip.size()> stepsOfAllWidths(std::span<const double> y, size_t from,
                                                                        size_t to)
{
    std::array<std::vector<Extremes>, widthsOfSlip.size()> all;
    constexpr size_t stretch = 8 * blockOfSteps;
    for (size_t done = 0; done < to - from; done += stretch)
        for (size_t k = 0; k < all.size(); ++k) {
            const size_t side = sideOf(widthsOfSlip[k]);
            const size_t first = from + side + done;
            const size_t last = std::min(first + stretch, to - std::min(to, 2 * widthsOfSlip[k] + side));
            if (first < last)
                std::ranges::copy(greatestSteps(y, first, last, widthsOfSlip[k]), std::back_inserter(all[k]));
        }
    return all;
}

} // namespace

std::optional<ExtensometerSlip> findSlip(std::span<const double> extension, std::span<const double> force,
                                         std::span<const double> crosshead, size_t from, size_t to, double noise,
                                         double forceNoise)
{
    std::optional<ExtensometerSlip> worst;
    constexpr double stepsOut = 0.7; // of a step, beyond what moves beside it
    constexpr double doubts = 9; // that a step is greater than
    if (to < from + 4 * few)
        return worst;
    // The extension is held against the crosshead, so that a drive that changes its speed makes no step.
    const bool counted = crosshead.size() < to || !movesOn(crosshead.subspan(from, to - from));
    const auto along = counted ? std::span<const double>() : crosshead;
    const double least = std::max(5 * noise, 5e-4);
    const double worth = std::max(7 * noise, 5e-4); // a gap between lines is never known better than that
    const auto stepsBy = stepsOfAllWidths(extension, from, to);
    for (size_t k = 0; k < widthsOfSlip.size(); ++k) {
        const size_t width = widthsOfSlip[k];
        const size_t side = sideOf(width);
        if (to - from < 2 * width + 4 * side)
            break;
        const size_t first = from + side;
        const size_t last = to - 2 * width - side;
        const auto& steps = stepsBy[k];
        for (size_t i = first; i < last; ++i) {
            const size_t block = (i - first) / blockOfSteps;
            const size_t blockEnd = std::min(first + (block + 1) * blockOfSteps, last);
            const bool quiet = steps[block].greatest < least && -steps[block].least < least;
            i = quiet ? blockEnd : nextStep(extension, i, blockEnd, width, stepsOut * worth);
            if (i == blockEnd) {
                --i;
                continue;
            }
            // What stands out by less than that share of the least step to be told needs no lines.
            const double clear = std::max(standsOut(extension, i, width, true), standsOut(extension, i, width, false));
            if (clear < 0.999 * stepsOut * doubts * noise * leastDoubt(placesOf(along, i, width, side), width, side))
                continue;
            const Gap gap = gapOf(extension, along, i, width, side, noise);
            if (std::abs(gap.step) < std::max(least, doubts * gap.doubt)
                || (worst && std::abs(gap.step) <= std::abs(worst->step)))
                continue;
            if (standsOut(extension, i, width, gap.step > 0) < stepsOut * std::abs(gap.step))
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
