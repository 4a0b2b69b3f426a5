// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/straight_part.h"

#include "curve/signal.h"
#include "units/quantity.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

namespace fortitor {
namespace {

constexpr size_t binCount = 500;
constexpr size_t enoughPoints = 20;
constexpr double proofOffset = 0.002;
constexpr double leastShare = 0.2;       // of the capped stress range
constexpr double nearBest = 1.1;         // windows within 10 % of the best merit
constexpr double leastSlopeShare = 0.9;  // of the steepest acceptable window

std::span<const double> part(std::span<const double> s, size_t from, size_t to)
{
    return s.subspan(from, to - from);
}

/// The first points to reach rising levels of stress, each a short mean.
struct Levels {
    std::vector<size_t> index;
    std::vector<double> x;
    std::vector<double> y;
};

Levels climbLevels(std::span<const double> x, std::span<const double> y, double top)
{
    Levels levels;
    const double step = (top - y[0]) / 40;
    double next = y[0] + step;
    const size_t half = std::min(y.size() / 2000, size_t{20});
    for (size_t i = 0; i < y.size() && next <= top * 1.0000001; ++i) {
        if (y[i] < next)
            continue;
        const size_t from = i > half ? i - half : 0;
        const size_t to = std::min(i + half + 1, y.size());
        double mx = 0;
        double my = 0;
        for (size_t k = from; k < to; ++k) {
            mx += x[k];
            my += y[k];
        }
        levels.index.push_back(i);
        levels.x.push_back(mx / static_cast<double>(to - from));
        levels.y.push_back(my / static_cast<double>(to - from));
        while (next <= y[i])
            next += step;
    }
    return levels;
}

struct Secant {
    double slope = 0;
    double x = 0;
    double y = 0;
};

/// The steepest secant over a tenth of the range that its neighbours bear out.
Secant steepestSecant(const Levels& levels, double range)
{
    std::vector<Secant> secants;
    for (size_t i = 0; i < levels.x.size(); ++i) {
        size_t k = i + 1;
        while (k < levels.x.size() && levels.y[k] - levels.y[i] < 0.1 * range)
            ++k;
        if (k >= levels.x.size())
            break;
        const double dx = levels.x[k] - levels.x[i];
        const double dy = levels.y[k] - levels.y[i];
        if (dx > 0 && dy > 0)
            secants.push_back({dy / dx, 0.5 * (levels.x[i] + levels.x[k]), 0.5 * (levels.y[i] + levels.y[k])});
    }
    Secant best;
    for (size_t i = 0; i < secants.size(); ++i) {
        Secant s = secants[i];
        if (secants.size() >= 3) {
            const size_t mid = std::clamp(i, size_t{1}, secants.size() - 2);
            s.slope = medianOf({secants[mid - 1].slope, secants[mid].slope, secants[mid + 1].slope});
        }
        if (s.slope > best.slope)
            best = s;
    }
    return best;
}

/// Index where the curve first meets the 0.2 % offset of a line, or drops by over 2 % before that.
size_t capIndex(std::span<const double> x, std::span<const double> y, double slope, double origin, double noise, double top)
{
    size_t best = 0;
    size_t below = 0;
    const size_t sure = y.size() < 200 ? 1 : 3;
    for (size_t i = 0; i < y.size(); ++i) {
        if (y[i] > y[best])
            best = i;
        if (y[best] > 0.1 * top && y[i] < 0.98 * y[best] - 5 * noise)
            return best + 1;
        below = y[i] > 0.05 * top && y[i] < slope * (x[i] - origin - proofOffset) ? below + 1 : 0;
        if (below >= sure)
            return i + 1;
    }
    return y.size();
}

/// Equal-count bins of the capped range: means of x and y, centred, and running sums over them.
struct Bins {
    std::vector<size_t> start; ///< first point of each bin, with the end behind the last
    std::vector<double> x, y;  ///< centred means
    std::vector<double> sx, sy, sxx, sxy, syy;
};

Bins makeBins(std::span<const double> x, std::span<const double> y, size_t count)
{
    Bins bins;
    const size_t n = x.size();
    count = std::min(count, n);
    double centreX = 0;
    double centreY = 0;
    for (size_t b = 0; b < count; ++b) {
        const size_t from = b * n / count;
        const size_t to = (b + 1) * n / count;
        double mx = 0;
        double my = 0;
        for (size_t i = from; i < to; ++i) {
            mx += x[i] - x[0];
            my += y[i];
        }
        bins.start.push_back(from);
        bins.x.push_back(mx / static_cast<double>(to - from));
        bins.y.push_back(my / static_cast<double>(to - from));
        centreX += bins.x.back() / static_cast<double>(count);
        centreY += bins.y.back() / static_cast<double>(count);
    }
    bins.start.push_back(n);
    for (auto* sums : {&bins.sx, &bins.sy, &bins.sxx, &bins.sxy, &bins.syy})
        sums->assign(count + 1, 0);
    for (size_t b = 0; b < count; ++b) {
        const double u = bins.x[b] -= centreX;
        const double v = bins.y[b] -= centreY;
        bins.sx[b + 1] = bins.sx[b] + u;
        bins.sy[b + 1] = bins.sy[b] + v;
        bins.sxx[b + 1] = bins.sxx[b] + u * u;
        bins.sxy[b + 1] = bins.sxy[b] + u * v;
        bins.syy[b + 1] = bins.syy[b] + v * v;
    }
    return bins;
}

struct Window {
    size_t from = 0, to = 0; ///< bins [from, to)
    float slope = 0;
    float merit = 0; ///< (RMS residual ÷ stress span)²
    float span = 0;
};

std::vector<Window> allWindows(const Bins& bins, double range)
{
    std::vector<Window> windows;
    const size_t count = bins.x.size();
    windows.reserve(count * count / 2);
    const size_t least = std::min(size_t{5}, count);
    for (size_t i = 0; i + least <= count; ++i) {
        for (size_t j = i + least; j <= count; ++j) {
            const double span = bins.y[j - 1] - bins.y[i];
            if (span < leastShare * range)
                continue;
            const auto n = static_cast<double>(j - i);
            const double sx = bins.sx[j] - bins.sx[i];
            const double sy = bins.sy[j] - bins.sy[i];
            const double xx = bins.sxx[j] - bins.sxx[i] - sx * sx / n;
            const double xy = bins.sxy[j] - bins.sxy[i] - sx * sy / n;
            const double yy = bins.syy[j] - bins.syy[i] - sy * sy / n;
            if (!(xx > 0) || !(xy > 0))
                continue;
            const double slope = xy / xx;
            const double sse = std::max(0.0, yy - slope * xy);
            windows.push_back({i, j, static_cast<float>(slope), static_cast<float>(sse / (n - 2) / (span * span)), static_cast<float>(span)});
        }
    }
    return windows;
}

/// The longest of the best windows; an empty one (to = 0) when there is none.
Window bestWindow(const Bins& bins, double range, double noiseShare)
{
    const auto windows = allWindows(bins, range);
    if (windows.empty())
        return {};
    float best = std::numeric_limits<float>::infinity();
    for (const Window& w : windows)
        best = std::min(best, w.merit);
    // Without noise the best merit is next to nothing; a floor keeps the choice from hanging on it.
    const float floor = static_cast<float>(std::max(noiseShare * noiseShare, 1e-10));
    best = std::max(best, floor);
    float steepest = 0;
    for (const Window& w : windows)
        if (w.merit <= 4 * best)
            steepest = std::max(steepest, w.slope);
    Window chosen;
    for (const Window& w : windows)
        if (w.merit <= nearBest * nearBest * best && w.slope >= leastSlopeShare * steepest && w.span > chosen.span)
            chosen = w;
    return chosen;
}

/// Mean residual of points [from, to) against a line.
double meanResidual(std::span<const double> x, std::span<const double> y, const LineFit& line, size_t from, size_t to)
{
    double sum = 0;
    for (size_t i = from; i < to; ++i)
        sum += y[i] - line.at(x[i]);
    return sum / static_cast<double>(to - from);
}

/// Moves both ends out while the next twentieth lies on the line, in while the outermost does not.
StraightPart refineEnds(std::span<const double> x, std::span<const double> y, size_t begin, size_t end, double noise)
{
    for (int round = 0; round < 12; ++round) {
        const LineFit line = fitLine(part(x, begin, end), part(y, begin, end));
        if (!line.valid())
            break;
        const size_t step = std::max((end - begin) / 20, size_t{1});
        const double span = std::abs(line.slope) * (x[end - 1] - x[begin]);
        const double off = std::max(3 * std::max(noise, line.residualRms) / std::sqrt(static_cast<double>(step)), 2e-4 * span);
        const size_t oldBegin = begin;
        const size_t oldEnd = end;
        if (std::abs(meanResidual(x, y, line, end - step, end)) > off && end - begin > 4 * step + 10)
            end -= step;
        else if (end + step <= x.size() && std::abs(meanResidual(x, y, line, end, end + step)) < 0.5 * off)
            end += step;
        if (std::abs(meanResidual(x, y, line, begin, begin + step)) > off && end - begin > 4 * step + 10)
            begin += step;
        else if (begin >= step && std::abs(meanResidual(x, y, line, begin - step, begin)) < 0.5 * off)
            begin -= step;
        if (begin == oldBegin && end == oldEnd)
            break;
    }
    return fitStraightPart(x, y, begin, end);
}

Problem doesNotClimb()
{
    return Problem{"straight part", "no stretch of the curve that climbs", "a load that rises with strain",
                   "Check which columns are force and extension, and their signs."};
}

} // namespace

StraightPart fitStraightPart(std::span<const double> x, std::span<const double> y, size_t begin, size_t end)
{
    StraightPart found;
    found.begin = begin;
    found.end = end;
    found.line = fitLine(part(x, begin, end), part(y, begin, end));
    found.fewPoints = end - begin < enoughPoints;
    const size_t third = (end - begin) / 3;
    if (third >= 3 && found.line.slope != 0) {
        found.trendLow = fitLine(part(x, begin, begin + third), part(y, begin, begin + third)).slope / found.line.slope - 1;
        found.trendHigh = fitLine(part(x, end - third, end), part(y, end - third, end)).slope / found.line.slope - 1;
    }
    return found;
}

Expected<StraightPart> findStraightPart(std::span<const double> x, std::span<const double> y, double noise)
{
    if (x.size() < 3)
        return Problem{"straight part", std::to_string(x.size()) + " points", "at least three", "Was the record cut short?"};
    const double top = *std::ranges::max_element(y);
    const double range = top - y[0];
    const Secant first = steepestSecant(climbLevels(x, y, top), range);
    if (!(range > 0) || !(first.slope > 0))
        return doesNotClimb();

    double slope = first.slope;
    double origin = first.x - first.y / first.slope;
    StraightPart found;
    size_t lastCap = 0;
    for (int pass = 0; pass < 3; ++pass) {
        const size_t cap = capIndex(x, y, slope, origin, noise, top);
        if (pass > 0 && std::abs(static_cast<double>(cap) - static_cast<double>(lastCap)) <= 0.03 * static_cast<double>(cap))
            break;
        lastCap = cap;
        const auto cx = part(x, 0, cap);
        const auto cy = part(y, 0, cap);
        const double cappedRange = *std::ranges::max_element(cy) - cy[0];
        if (cap < enoughPoints) {
            // Too few to choose from: all that lies on the steep part below the proof point.
            size_t end = std::max(cap > 1 ? cap - 1 : cap, size_t{2});
            found = fitStraightPart(x, y, 0, end);
            found.fewPoints = true;
        } else {
            const Bins bins = makeBins(cx, cy, binCount);
            const double perBin = static_cast<double>(cap) / static_cast<double>(bins.x.size());
            const Window w = bestWindow(bins, cappedRange, noise / std::sqrt(perBin) / cappedRange * 0.5);
            if (w.to == 0)
                return doesNotClimb();
            found = refineEnds(cx, cy, bins.start[w.from], bins.start[w.to], noise);
        }
        if (!found.line.valid() || !(found.line.slope > 0))
            return doesNotClimb();
        slope = found.line.slope;
        origin = found.origin();
        found.proofGuess = y[cap - 1];
    }
    return found;
}

Expected<StraightPart> straightPartBetweenStresses(std::span<const double> x, std::span<const double> y, double low, double high)
{
    if (!(high > low))
        return Problem{"straight part by hand", "upper end not above the lower", "two stresses, the lower first", {}};
    size_t begin = 0;
    while (begin < y.size() && y[begin] < low)
        ++begin;
    size_t end = begin;
    while (end < y.size() && y[end] <= high)
        ++end;
    if (end < begin + 3)
        return Problem{"straight part by hand", std::to_string(end - begin) + " points between " + formatSignificant(low, 4) + " and " + formatSignificant(high, 4) + " MPa",
                       "at least three points", "Move the ends apart."};
    StraightPart found = fitStraightPart(x, y, begin, end);
    if (!found.line.valid() || !(found.line.slope > 0))
        return doesNotClimb();
    return found;
}

Expected<StraightPart> chordBetweenStrains(std::span<const double> x, std::span<const double> y, double from, double to)
{
    if (!(to > from) || x.empty() || x.front() > from || *std::ranges::max_element(x) < to)
        return Problem{"chord", "strains " + formatSignificant(from * 100, 3) + " and " + formatSignificant(to * 100, 3) + " %",
                       "two strains inside the record, the lower first", {}};
    const auto pointAt = [&](double strain) {
        const auto at = static_cast<size_t>(std::ranges::find_if(x, [&](double v) { return v >= strain; }) - x.begin());
        const size_t half = std::max(size_t{1}, std::min(x.size() / 1000, size_t{25}));
        const size_t a = at > half ? at - half : 0;
        const size_t b = std::min(at + half, x.size());
        const LineFit local = fitLine(part(x, a, b), part(y, a, b));
        return std::pair{at, local.valid() ? local.at(strain) : y[at]};
    };
    const auto [begin, low] = pointAt(from);
    const auto [end, high] = pointAt(to);
    StraightPart found;
    found.begin = begin;
    found.end = end + 1;
    const double cx[] = {from, to};
    const double cy[] = {low, high};
    found.line = fitLine(cx, cy);
    found.line.n = end + 1 - begin;
    const LineFit all = fitLine(part(x, begin, end + 1), part(y, begin, end + 1));
    found.line.r2 = all.r2;
    found.fewPoints = found.line.n < enoughPoints;
    if (!(found.line.slope > 0))
        return doesNotClimb();
    return found;
}

} // namespace fortitor
