// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/maximum.h"

#include "curve/flat_top.h"
#include "curve/line_fit.h"
#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

/// How far the run of points above `level` goes from `from` in one direction; three in a row below
/// it end the run.
size_t runLength(std::span<const double> y, size_t from, double level, int direction, size_t widest)
{
    size_t reach = 0;
    size_t misses = 0;
    for (size_t k = 1; k <= widest; ++k) {
        if (direction < 0 ? k > from : from + k >= y.size())
            break;
        const double v = direction < 0 ? y[from - k] : y[from + k];
        misses = v < level ? misses + 1 : 0;
        if (misses >= 3)
            break;
        if (v >= level)
            reach = k;
    }
    return reach;
}

} // namespace

namespace {

/// The parabola over the run of readings about the top that stay above `level`; n = 0 when it
/// explains nothing.
QuadraticFit topParabola(std::span<const double> x, std::span<const double> y, const PeakFit& peak, double level,
                         double noise, size_t widest)
{
    const size_t a = peak.index - runLength(y, peak.index, level, -1, widest);
    const size_t b = peak.index + runLength(y, peak.index, level, +1, widest) + 1;
    if (b - a < 7)
        return {};
    const QuadraticFit fit = fitQuadratic(x.subspan(a, b - a), y.subspan(a, b - a));
    // A parabola that leaves the readings by more than their noise explains nothing.
    if (fit.n == 0 || !(fit.c < 0)
        || std::abs(fit.at(fit.vertex()) - peak.raw) > std::max(6 * noise, 0.002 * std::abs(peak.raw)))
        return {};
    return fit;
}

} // namespace

PeakFit smoothPeak(std::span<const double> x, std::span<const double> y, double noise, double share, size_t widest)
{
    return smoothPeakAt(x, y, indexOfGreatest(y), noise, share, widest);
}

PeakFit smoothPeakAt(std::span<const double> x, std::span<const double> y, size_t index, double noiseOfAll,
                     double share, size_t widest)
{
    PeakFit peak;
    if (y.empty())
        return peak;
    peak.index = index;
    peak.raw = peak.value = y[peak.index];
    peak.x = x[peak.index];
    const size_t from = peak.index > 200 ? peak.index - 200 : 0;
    const size_t about = std::min(y.size() - from, size_t{401});
    const double noise = about < 30 ? noiseOfAll : noiseOf(y.subspan(from, about));
    const FlatTop flat = findFlatTop(x, y, peak.index, noise);
    peak.x = flat.x;
    peak.half = flat.half;
    const QuadraticFit wide = topParabola(x, y, peak, std::min(share * peak.raw, peak.raw - 6 * noise), noise, widest);
    if (wide.n == 0)
        return peak;
    // A sharp peak has few readings near its top; a parabola through them cuts it off.
    constexpr size_t few = 15;
    if (wide.n < few && peak.raw - wide.at(wide.vertex()) > 3 * noise)
        return peak;
    peak.value = wide.at(wide.vertex());
    peak.n = wide.n;
    return peak;
}

double valueAround(std::span<const double> y, size_t at)
{
    const size_t half = std::min({y.size() / 2000, size_t{25}, at, y.size() - 1 - at});
    if (half < 2)
        return y[at];
    std::vector<double> x(2 * half + 1);
    for (size_t i = 0; i < x.size(); ++i)
        x[i] = static_cast<double>(i);
    return fitLine(x, y.subspan(at - half, x.size())).at(static_cast<double>(half));
}

} // namespace fortitor
