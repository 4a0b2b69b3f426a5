// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/flat_top.h"

#include "curve/line_fit.h"
#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr size_t mostBins = 800;
constexpr double lookDown = 0.02; // of the top
constexpr double smoothingShare = 0.15; // of half the stretch
constexpr double certain = 1; // noise widths, before the choice among places is counted

struct TopBins {
    std::vector<double> x, y;
    double noise = 0;
};

/// The readings about the top, in means of equal counts where there are many.
TopBins gather(std::span<const double> x, std::span<const double> y, size_t from, size_t to, double noise)
{
    const size_t n = to - from;
    const size_t count = std::min(n, mostBins);
    TopBins bins;
    bins.x.reserve(count);
    bins.y.reserve(count);
    for (size_t b = 0, a = from, e = from; b < count; ++b, a = e) {
        e = from + (b + 1) * n / count;
        double mx = 0;
        double my = 0;
        for (size_t i = a; i < e; ++i) {
            mx += x[i] - x[from];
            my += y[i] - y[from];
        }
        bins.x.push_back(x[from] + mx / static_cast<double>(e - a));
        bins.y.push_back(my / static_cast<double>(e - a));
    }
    // Noise that lasts over several readings does not leave by averaging.
    bins.noise = std::max(noise * std::sqrt(static_cast<double>(count) / static_cast<double>(n)),
                          n > count ? noiseOf(bins.y) : 0);
    return bins;
}

/// Running sums of y, y·i and y·i²: with some two thousand bins twelve digits are left.
struct Sums {
    explicit Sums(const std::vector<double>& values) : y(values)
    {
        s0.assign(y.size() + 1, 0);
        s1 = s2 = s0;
        for (size_t i = 0; i < y.size(); ++i) {
            const auto k = static_cast<double>(i);
            s0[i + 1] = s0[i] + y[i];
            s1[i + 1] = s1[i] + y[i] * k;
            s2[i + 1] = s2[i] + y[i] * k * k;
        }
    }
    const std::vector<double>& y;
    std::vector<double> s0, s1, s2;
};

/// Sums of the powers 0, 2 and 4 of −h … h, and the determinant of the quadratic through them.
struct Powers {
    explicit Powers(size_t h) : half(h)
    {
        const auto m = static_cast<double>(h);
        count = 2 * m + 1;
        square = m * (m + 1) * (2 * m + 1) / 3;
        fourth = square * (3 * m * m + 3 * m - 1) / 5;
        det = count * fourth - square * square;
    }
    size_t half;
    double count, square, fourth, det;
};

size_t halfAt(size_t i, size_t half, size_t n)
{
    return std::min({half, i, n - 1 - i});
}

/// Local quadratics, or means, over 2·half+1 bins, fewer at both ends.
std::vector<double> smoothOf(const Sums& s, size_t half, bool mean)
{
    const size_t n = s.y.size();
    std::vector<double> out(n);
    Powers p(0);
    for (size_t i = 0; i < n; ++i) {
        const size_t h = halfAt(i, half, n);
        if (p.half != h)
            p = Powers(h);
        const auto k = static_cast<double>(i);
        const double sum0 = s.s0[i + h + 1] - s.s0[i - h];
        if (mean) {
            out[i] = sum0 / p.count;
            continue;
        }
        const double sum1 = s.s1[i + h + 1] - s.s1[i - h];
        const double sum2 = s.s2[i + h + 1] - s.s2[i - h] - 2 * k * sum1 + k * k * sum0;
        out[i] = p.det > 0 ? (sum0 * p.fourth - sum2 * p.square) / p.det : s.y[i];
    }
    return out;
}

/// What smoothing leaves of the noise.
double leftOfNoise(size_t half, bool mean)
{
    const Powers p(half);
    return mean ? 1 / std::sqrt(p.count) : p.det > 0 ? std::sqrt(p.fourth / p.det) : 1;
}

/// How far from `i` the values stay above a level; `gap` bins below it end the way.
size_t edgeOf(const std::vector<double>& y, size_t i, int step, double level, size_t gap)
{
    size_t last = i;
    size_t missed = 0;
    for (size_t k = i; (step < 0 ? k > 0 : k + 1 < y.size()) && missed <= gap;) {
        k = step < 0 ? k - 1 : k + 1;
        missed = y[k] >= level ? 0 : missed + 1;
        if (missed == 0)
            last = k;
    }
    return last;
}

struct TopStretch {
    size_t from = 0, to = 0;
};

TopStretch stretchBy(const TopBins& bins, const Sums& sums, size_t half, bool mean)
{
    const std::vector<double> y = smoothOf(sums, half, mean);
    const size_t n = y.size();
    const size_t margin = half > 1 ? std::min(half, n / 8) : 0;
    size_t i = margin;
    for (size_t k = margin; k < n - margin; ++k)
        if (y[k] > y[i])
            i = k;
    const double noise = bins.noise * leftOfNoise(halfAt(i, half, n), mean);
    const size_t a = edgeOf(y, i, -1, y[i] - 8 * noise, half);
    const size_t b = edgeOf(y, i, +1, y[i] - 8 * noise, half);
    const double places = std::max(1.0, static_cast<double>(b - a) / static_cast<double>(2 * half + 1));
    const double level = y[i] - (certain + std::sqrt(2 * std::log(places))) * noise;
    TopStretch out{i, i};
    for (size_t k = a; k <= b; ++k)
        if (y[k] >= level) {
            out.from = std::min(out.from, k);
            out.to = std::max(out.to, k);
        }
    return out;
}

/// A quadratic overshoots where a level top breaks off, a mean lags where the top is sharp: what either finds.
TopStretch stretchOf(const TopBins& bins, const Sums& sums, size_t half)
{
    const TopStretch a = stretchBy(bins, sums, half, false);
    const TopStretch b = stretchBy(bins, sums, half, true);
    return {std::min(a.from, b.from), std::max(a.to, b.to)};
}

} // namespace

FlatTop findFlatTop(std::span<const double> x, std::span<const double> y, size_t top, double noise)
{
    const double level = y[top] - std::max(lookDown * std::abs(y[top]), 12 * noise);
    size_t from = top;
    size_t to = top;
    for (size_t missed = 0; from > 0 && missed < 3; missed = y[from] < level ? missed + 1 : 0)
        --from;
    for (size_t missed = 0; to + 1 < y.size() && missed < 3; missed = y[to] < level ? missed + 1 : 0)
        ++to;
    if (to - from < 6)
        return {x[top], 0.5 * std::abs(x[to] - x[from])};
    const TopBins bins = gather(x, y, from, to + 1, noise);
    const Sums sums(bins.y);
    const size_t n = bins.y.size();
    size_t half = 1;
    TopStretch found = stretchOf(bins, sums, half);
    for (int round = 0; round < 14; ++round) {
        const auto next =
            std::min(static_cast<size_t>(smoothingShare * 0.5 * static_cast<double>(found.to - found.from)), n / 6);
        if (static_cast<double>(next) <= 1.1 * static_cast<double>(half))
            break;
        half = next;
        found = stretchOf(bins, sums, half);
    }
    const size_t more = std::max(size_t{1}, half / 2); // smoothing itself moves a top that is not symmetric
    const size_t a = found.from > more ? found.from - more : 0;
    const size_t b = std::min(n - 1, found.to + more);
    if (b + 1 == n && to + 1 == y.size()) {
        const LineFit climb = fitLine(std::span(bins.x).subspan(a), std::span(bins.y).subspan(a));
        if (climb.valid()
            && climb.slope * (x[to] - bins.x[a]) > 4 * bins.noise / std::sqrt(static_cast<double>(b - a + 1)))
            return {x[to], 0.5 * std::abs(bins.x[b] - bins.x[b > 1 ? b - 1 : 0])};
    }
    return {0.5 * (bins.x[a] + bins.x[b]), 0.5 * std::abs(bins.x[b] - bins.x[a])};
}

} // namespace fortitor
