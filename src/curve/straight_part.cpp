// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/straight_part.h"

#include "curve/signal.h"
#include "curve/straight_window.h"
#include "units/quantity.h"

#include <Eigen/Dense>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <vector>

namespace fortitor {
namespace {

constexpr size_t enoughPoints = 20;
constexpr double proofOffset = 0.002;
constexpr double leastShare = 0.2; // of the capped stress range

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
    for (size_t i = firstAtLeast(y, 0, next); i < y.size() && next <= top * 1.0000001;
         i = firstAtLeast(y, i + 1, next)) {
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

/// Where the straight part must lie before.
struct Cap {
    size_t index = 0;
    double greatest = 0; ///< of the readings before it
};

/// Where the curve first meets the 0.2 % offset of a line, or drops by over 2 % before that.
Cap capOf(std::span<const double> x, std::span<const double> y, double slope, double origin, double noise, double top)
{
    double greatest = y[0];
    size_t below = 0;
    const size_t sure = y.size() < 200 ? 1 : 3;
    for (size_t i = 0; i < y.size(); ++i) {
        const double v = y[i];
        greatest = std::max(greatest, v);
        if (greatest > 0.1 * top && v < 0.98 * greatest - 5 * noise)
            return {indexOfGreatest(y.first(i)) + 1, greatest};
        below = v > 0.05 * top && v < slope * (x[i] - origin - proofOffset) ? below + 1 : 0;
        if (below >= sure)
            return {i + 1, greatest};
    }
    return {y.size(), greatest};
}

/// Mean residual of points [from, to) against a line.
double meanResidual(std::span<const double> x, std::span<const double> y, const LineFit& line, size_t from, size_t to)
{
    using Values = Eigen::Map<const Eigen::ArrayXd>;
    const auto n = static_cast<Eigen::Index>(to - from);
    return (Values(y.data() + from, n) - line.intercept - line.slope * Values(x.data() + from, n)).sum()
        / static_cast<double>(n);
}

/// A stretch of readings with the line through it.
struct Ends {
    size_t begin = 0, end = 0;
    LineFit line;
};

/// Moves an end in while its outermost twentieth does not lie on the line, on the full data.
Ends refineEnds(std::span<const double> x, std::span<const double> y, size_t begin, size_t end, double noise)
{
    for (int round = 0; round < 12; ++round) {
        const LineFit line = fitLine(part(x, begin, end), part(y, begin, end));
        const size_t step = std::max((end - begin) / 20, size_t{1});
        if (!line.valid() || end - begin <= 4 * step + 10)
            return {begin, end, line};
        const double span = std::abs(line.slope) * (x[end - 1] - x[begin]);
        const double off =
            std::max(3 * std::max(noise, line.residualRms) / std::sqrt(static_cast<double>(step)), 2e-4 * span);
        const bool top = std::abs(meanResidual(x, y, line, end - step, end)) > off;
        const bool foot = std::abs(meanResidual(x, y, line, begin, begin + step)) > off;
        end -= top ? step : 0;
        begin += foot ? step : 0;
        if (!top && !foot)
            return {begin, end, line};
    }
    return {begin, end, fitLine(part(x, begin, end), part(y, begin, end))};
}

/// Of a handful of points the longest stretch that lies on a line nearly as well as the best one,
/// and is not clearly flatter than the steepest.
StraightPart bestOfFew(std::span<const double> x, std::span<const double> y, double range)
{
    struct Stretch {
        size_t from, to;
        double slope, merit;
    };
    std::vector<Stretch> all;
    for (size_t i = 0; i + 3 <= x.size(); ++i)
        for (size_t j = i + 3; j <= x.size(); ++j) {
            const LineFit line = fitLine(part(x, i, j), part(y, i, j));
            const double span = y[j - 1] - y[i];
            if (line.valid() && line.slope > 0 && span >= leastShare * range)
                all.push_back({i, j, line.slope, line.residualRms / span});
        }
    if (all.empty())
        return fitStraightPart(x, y, 0, std::max(x.size() > 2 ? x.size() - 1 : x.size(), size_t{2}));
    double best = 0.003; // a line read to three digits is no better than that
    double steepest = 0;
    best = std::max(best, nearBest * std::ranges::min_element(all, {}, &Stretch::merit)->merit);
    for (const Stretch& s : all)
        if (s.merit <= best)
            steepest = std::max(steepest, s.slope);
    const Stretch* chosen = nullptr;
    for (const Stretch& s : all)
        if (s.merit <= best && s.slope >= leastSlopeShare * steepest
            && (!chosen || s.to - s.from > chosen->to - chosen->from))
            chosen = &s;
    return fitStraightPart(x, y, chosen->from, chosen->to);
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
    std::vector<double> rest(end - begin);
    for (size_t i = begin; i < end; ++i)
        rest[i - begin] = y[i] - found.line.at(x[i]);
    found.noise = noiseOf(rest);
    const size_t third = (end - begin) / 3;
    if (third >= 3 && found.line.slope != 0) {
        const LineFit low = fitLine(part(x, begin, begin + third), part(y, begin, begin + third));
        const LineFit high = fitLine(part(x, end - third, end), part(y, end - third, end));
        found.trendLow = low.slope / found.line.slope - 1;
        found.trendHigh = high.slope / found.line.slope - 1;
        found.trendNoise = 2 * std::max(low.relativeSlopeError(), high.relativeSlopeError());
    }
    return found;
}

Expected<StraightPart> findStraightPart(std::span<const double> x, std::span<const double> y, double noise)
{
    return findStraightPart(x, y, noise, extremesOf(y).greatest);
}

Expected<StraightPart> findStraightPart(std::span<const double> x, std::span<const double> y, double noise, double top)
{
    if (x.size() < 3)
        return Problem{"straight part", std::to_string(x.size()) + " points", "at least three",
                       "Was the record cut short?"};
    const double range = top - y[0];
    if (!(range > 0))
        return doesNotClimb();
    const Secant first = steepestSecant(climbLevels(x, y, top), range);
    if (!(first.slope > 0))
        return doesNotClimb();

    double slope = first.slope;
    double origin = first.x - first.y / first.slope;
    Ends found;
    size_t lastCap = 0;
    bool few = false;
    for (int pass = 0; pass < 3; ++pass) {
        const auto [cap, greatest] = capOf(x, y, slope, origin, noise, top);
        if (pass > 0
            && std::abs(static_cast<double>(cap) - static_cast<double>(lastCap)) <= 0.03 * static_cast<double>(cap))
            break;
        lastCap = cap;
        const auto cx = part(x, 0, cap);
        const auto cy = part(y, 0, cap);
        const double cappedRange = greatest - cy[0];
        few = cap < enoughPoints;
        if (few) {
            const StraightPart best = bestOfFew(cx, cy, cappedRange);
            found = {best.begin, best.end, best.line};
        } else {
            const auto window = surestWindow(cx, cy, leastShare * cappedRange, noise);
            if (!window)
                return doesNotClimb();
            found = refineEnds(cx, cy, window->begin, window->end, noise);
        }
        if (!found.line.valid() || !(found.line.slope > 0))
            return doesNotClimb();
        slope = found.line.slope;
        origin = found.line.meanX - found.line.meanY / slope;
    }
    StraightPart straight = fitStraightPart(x, y, found.begin, found.end);
    straight.fewPoints = straight.fewPoints || few;
    straight.proofGuess = y[lastCap - 1];
    return straight;
}

Expected<StraightPart> straightPartBetweenStresses(std::span<const double> x, std::span<const double> y, double low,
                                                   double high)
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
        return Problem{"straight part by hand",
                       std::to_string(end - begin) + " points between " + formatSignificant(low, 4) + " and "
                           + formatSignificant(high, 4) + " MPa",
                       "at least three points", "Move the ends apart."};
    StraightPart found = fitStraightPart(x, y, begin, end);
    if (!found.line.valid() || !(found.line.slope > 0))
        return doesNotClimb();
    return found;
}

Expected<StraightPart> chordBetweenStrains(std::span<const double> x, std::span<const double> y, double from, double to)
{
    if (!(to > from) || x.empty() || x.front() > from || *std::ranges::max_element(x) < to)
        return Problem{"chord",
                       "strains " + formatSignificant(from * 100, 3) + " and " + formatSignificant(to * 100, 3) + " %",
                       "two strains inside the record, the lower first",
                       {}};
    const auto pointAt = [&](double strain) {
        const auto at = static_cast<size_t>(std::ranges::find_if(x, [&](double v) { return v >= strain; }) - x.begin());
        // A twentieth of the chord to either side takes the noise out and a parabola follows its bend.
        const double near = 0.05 * (to - from);
        size_t a = at > 0 ? at - 1 : 0;
        size_t b = std::min(at + 1, x.size());
        while (a > 0 && at - a < 2000 && strain - x[a - 1] < near)
            --a;
        while (b < x.size() && b - at < 2000 && x[b] - strain < near)
            ++b;
        if (b - a >= 15)
            if (const QuadraticFit bent = fitQuadratic(part(x, a, b), part(y, a, b)); bent.n > 0)
                return std::pair{at, bent.at(strain)};
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
