// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/straight_part.h"

#include "curve/signal.h"
#include "units/quantity.h"

#include <Eigen/Dense>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <vector>

namespace fortitor {
namespace {

constexpr size_t binCount = 320;
constexpr size_t enoughPoints = 20;
constexpr double proofOffset = 0.002;
constexpr double leastShare = 0.2; // of the capped stress range
constexpr double nearBest = 1.1; // windows within 10 % of the best merit
constexpr double leastSlopeShare = 0.9; // of the steepest acceptable window

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

/// Index where the curve first meets the 0.2 % offset of a line, or drops by over 2 % before that.
size_t capIndex(std::span<const double> x, std::span<const double> y, double slope, double origin, double noise,
                double top)
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

/// Equal-count bins of the capped range: means of x and y, centred.
struct Bins {
    std::vector<size_t> start; ///< first point of each bin, with the end behind the last
    std::vector<double> x, y; ///< centred means
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
    for (size_t b = 0; b < count; ++b) {
        bins.x[b] -= centreX;
        bins.y[b] -= centreY;
    }
    return bins;
}

/// Running sums of powers of a scaled strain, so that any window's line and cubic cost nothing more.
/// The strain is scaled to [−1, 1] over the capped range: a window of a fifth of it keeps ten digits.
struct Moments {
    explicit Moments(const Bins& bins) : x(bins.x)
    {
        const double half = std::max(std::abs(bins.x.front()), std::abs(bins.x.back()));
        scale = half > 0 ? half : 1;
        for (double& u : x)
            u /= scale;
        for (auto& s : power)
            s.assign(x.size() + 1, 0);
        for (auto& s : cross)
            s.assign(x.size() + 1, 0);
        square.assign(x.size() + 1, 0);
        for (size_t i = 0; i < x.size(); ++i) {
            double p = 1;
            for (size_t k = 0; k < power.size(); ++k, p *= x[i]) {
                power[k][i + 1] = power[k][i] + p;
                if (k < cross.size())
                    cross[k][i + 1] = cross[k][i] + p * bins.y[i];
            }
            square[i + 1] = square[i] + bins.y[i] * bins.y[i];
        }
    }
    std::vector<double> x;
    double scale = 1;
    std::array<std::vector<double>, 7> power;
    std::array<std::vector<double>, 4> cross;
    std::vector<double> square;
};

/// A stretch of bins with its line and what is left of a bend in it.
struct Window {
    size_t from = 0, to = 0; ///< bins [from, to)
    double slope = 0; ///< of the line, per scaled strain
    double doubt =
        std::numeric_limits<double>::infinity(); ///< relative: (noise of the slope)² + (bend seen beyond its noise)²
};

/// The least-squares cubic from its moments u (sums of powers of a strain in [−1, 1]) and v, by
/// L·D·Lᵀ written out: a search solves thousands of them. The matrix is well off singular there.
std::array<double, 4> solveCubic(const std::array<double, 7>& u, const std::array<double, 4>& v)
{
    double lower[4][4] = {};
    double pivot[4] = {};
    std::array<double, 4> z = v;
    for (size_t r = 0; r < 4; ++r) {
        for (size_t c = 0; c < r; ++c) {
            double sum = u[r + c];
            for (size_t k = 0; k < c; ++k)
                sum -= lower[r][k] * lower[c][k] * pivot[k];
            lower[r][c] = sum / pivot[c];
            z[r] -= lower[r][c] * z[c];
        }
        pivot[r] = u[2 * r];
        for (size_t k = 0; k < r; ++k)
            pivot[r] -= lower[r][k] * lower[r][k] * pivot[k];
    }
    for (size_t r = 0; r < 4; ++r)
        z[r] /= pivot[r];
    for (size_t r = 4; r-- > 0;)
        for (size_t k = r + 1; k < 4; ++k)
            z[r] -= lower[k][r] * z[k];
    return z;
}

/// Line and cubic over bins [i, j). The cubic shows foot and rounding as bends of second and third
/// order; what of them stands clear of the noise counts as an error of the slope.
Window windowOf(const Moments& m, size_t i, size_t j, double noise)
{
    Window w{i, j, 0, std::numeric_limits<double>::infinity()};
    const double centre = 0.5 * (m.x[i] + m.x[j - 1]);
    const double half = 0.5 * (m.x[j - 1] - m.x[i]);
    const auto n = static_cast<double>(j - i);
    if (!(half > 0) || n < 7)
        return w;
    // Sums of powers of u = (x − centre)/half by the binomial theorem.
    static constexpr double binomial[7][7] = {
        {1}, {1, 1}, {1, 2, 1}, {1, 3, 3, 1}, {1, 4, 6, 4, 1}, {1, 5, 10, 10, 5, 1}, {1, 6, 15, 20, 15, 6, 1}};
    std::array<double, 7> u{};
    std::array<double, 4> v{};
    std::array<double, 7> shift{1};
    for (size_t k = 1; k < 7; ++k)
        shift[k] = shift[k - 1] * -centre;
    double h = 1;
    for (size_t k = 0; k < 7; ++k, h *= half) {
        for (size_t q = 0; q <= k; ++q) {
            u[k] += binomial[k][q] * shift[k - q] * (m.power[q][j] - m.power[q][i]);
            if (k < 4)
                v[k] += binomial[k][q] * shift[k - q] * (m.cross[q][j] - m.cross[q][i]);
        }
        u[k] /= h;
        if (k < 4)
            v[k] /= h;
    }
    const double xx = u[2] - u[1] * u[1] / n;
    const double xy = v[1] - u[1] * v[0] / n;
    if (!(xx > 0) || !(xy > 0))
        return w;
    const auto fit = solveCubic(u, v);
    const double left =
        std::max(0.0, m.square[j] - m.square[i] - fit[0] * v[0] - fit[1] * v[1] - fit[2] * v[2] - fit[3] * v[3]);
    const double variance = std::max(left / (n - 4), noise * noise);
    const double slope = xy / xx; // per u
    const double second = 2.0 / 3 * fit[2]; // Legendre weights of the bend
    const double third = 2.0 / 5 * fit[3];
    const double bend = 2.25 * (second * second + third * third);
    const double bendNoise = 2.25 * 12 * variance / n;
    w.slope = slope / half;
    w.doubt = (variance / xx + std::max(0.0, bend - bendNoise)) / (slope * slope);
    return w;
}

/// The window whose slope is surest: long enough to beat the noise, short enough to leave foot and
/// rounding out. Among windows nearly as sure the longest. An empty one (to = 0) when there is none.
Window bestWindow(const Bins& bins, double range, double noise)
{
    const Moments moments(bins);
    const size_t count = bins.x.size();
    const size_t stride = std::max(size_t{1}, count / 40);
    std::vector<Window> windows;
    double best = std::numeric_limits<double>::infinity();
    for (size_t i = 0; i + 7 <= count; i += stride)
        for (size_t j = i + 7; j <= count; j += stride) {
            if (bins.y[j - 1] - bins.y[i] < leastShare * range)
                continue;
            windows.push_back(windowOf(moments, i, j, noise));
            best = std::min(best, windows.back().doubt);
        }
    if (!std::isfinite(best))
        return {};
    const double acceptable = std::max(4 * best, 1e-9);
    double steepest = 0;
    for (const Window& w : windows)
        if (w.doubt <= acceptable)
            steepest = std::max(steepest, w.slope);
    Window chosen;
    for (const Window& w : windows)
        if (w.doubt <= nearBest * nearBest * best + 1e-10 && w.slope >= leastSlopeShare * steepest
            && w.to - w.from > chosen.to - chosen.from)
            chosen = w;
    return chosen;
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
    if (x.size() < 3)
        return Problem{"straight part", std::to_string(x.size()) + " points", "at least three",
                       "Was the record cut short?"};
    const double top = extremesOf(y).greatest;
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
        const size_t cap = capIndex(x, y, slope, origin, noise, top);
        if (pass > 0
            && std::abs(static_cast<double>(cap) - static_cast<double>(lastCap)) <= 0.03 * static_cast<double>(cap))
            break;
        lastCap = cap;
        const auto cx = part(x, 0, cap);
        const auto cy = part(y, 0, cap);
        const double cappedRange = extremesOf(cy).greatest - cy[0];
        few = cap < enoughPoints;
        if (few) {
            const StraightPart best = bestOfFew(cx, cy, cappedRange);
            found = {best.begin, best.end, best.line};
        } else {
            const Bins bins = makeBins(cx, cy, binCount);
            const double perBin = static_cast<double>(cap) / static_cast<double>(bins.x.size());
            const Window w = bestWindow(bins, cappedRange, noise / std::sqrt(perBin));
            if (w.to == 0)
                return doesNotClimb();
            found = refineEnds(cx, cy, bins.start[w.from], bins.start[w.to], noise);
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
