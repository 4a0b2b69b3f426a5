// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/straight_window.h"

#include "curve/wide.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <vector>

namespace fortitor {
namespace {

constexpr size_t binCount = 320;
constexpr size_t leastBins = 7;
constexpr double never = std::numeric_limits<double>::infinity();

/// Equal-count bins of the capped range: means of x and y, centred.
struct Bins {
    std::vector<size_t> start; ///< first point of each bin, with the end behind the last
    std::vector<double> x, y; ///< centred means
};

Bins makeBins(std::span<const double> x, std::span<const double> y)
{
    Bins bins;
    const size_t n = x.size();
    const size_t count = std::min(binCount, n);
    double centreX = 0;
    double centreY = 0;
    for (size_t b = 0, from = 0, to = 0; b < count; ++b, from = to) {
        to = (b + 1) * n / count;
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
    double doubt = never; ///< relative: (noise of the slope)² + (bend seen beyond its noise)²
};

/// The least-squares cubic from its moments u (sums of powers of a strain in [−1, 1]) and v, by
/// L·D·Lᵀ written out: a search solves thousands of them. The matrix is well off singular there.
inline __attribute__((always_inline)) void solveCubic(const Four (&u)[7], const Four (&v)[4], Four (&z)[4])
{
    Four lower[4][4];
    Four pivot[4];
    for (size_t r = 0; r < 4; ++r) {
        z[r] = v[r];
        for (size_t c = 0; c < r; ++c) {
            Four sum = u[r + c];
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
}

/// Line and cubic over four stretches that begin at one bin. The cubic shows foot and rounding as bends of second and
/// third order; what of them stands clear of the noise counts as an error of the slope.
FORTITOR_WIDE void fillWindows(const Moments& m, Window (&windows)[4], double noise)
{
    const size_t i = windows[0].from;
    Four power[7], cross[4], square, last, n;
    for (size_t l = 0; l < 4; ++l) {
        const size_t j = windows[l].to;
        for (size_t q = 0; q < 7; ++q)
            power[q][l] = m.power[q][j] - m.power[q][i];
        for (size_t q = 0; q < 4; ++q)
            cross[q][l] = m.cross[q][j] - m.cross[q][i];
        square[l] = m.square[j] - m.square[i];
        last[l] = m.x[j - 1];
        n[l] = static_cast<double>(j - i);
    }
    const Four centre = 0.5 * (m.x[i] + last);
    const Four half = 0.5 * (last - m.x[i]);
    // Sums of powers of u = (x − centre)/half by the binomial theorem.
    static constexpr double binomial[7][7] = {
        {1}, {1, 1}, {1, 2, 1}, {1, 3, 3, 1}, {1, 4, 6, 4, 1}, {1, 5, 10, 10, 5, 1}, {1, 6, 15, 20, 15, 6, 1}};
    const Four zero = {};
    Four u[7], v[4], shift[7];
    shift[0] = zero + 1.0;
    for (size_t k = 1; k < 7; ++k)
        shift[k] = shift[k - 1] * -centre;
    Four h = zero + 1.0;
    for (size_t k = 0; k < 7; ++k) {
        u[k] = zero;
        for (size_t q = 0; q <= k; ++q)
            u[k] += binomial[k][q] * shift[k - q] * power[q];
        u[k] /= h;
        if (k < 4) {
            v[k] = zero;
            for (size_t q = 0; q <= k; ++q)
                v[k] += binomial[k][q] * shift[k - q] * cross[q];
            v[k] /= h;
        }
        h *= half;
    }
    const Four xx = u[2] - u[1] * u[1] / n;
    const Four xy = v[1] - u[1] * v[0] / n;
    Four fit[4];
    solveCubic(u, v, fit);
    const Four rest = square - fit[0] * v[0] - fit[1] * v[1] - fit[2] * v[2] - fit[3] * v[3];
    const Four seen = (zero < rest ? rest : zero) / (n - 4.0);
    const Four floor = zero + noise * noise;
    const Four variance = seen < floor ? floor : seen;
    const Four slope = xy / xx; // per u
    const Four second = 2.0 / 3 * fit[2]; // Legendre weights of the bend
    const Four third = 2.0 / 5 * fit[3];
    const Four bend = 2.25 * (second * second + third * third) - 2.25 * 12 * variance / n;
    const Four doubt = (variance / xx + (zero < bend ? bend : zero)) / (slope * slope);
    for (size_t l = 0; l < 4; ++l)
        if (half[l] > 0 && xx[l] > 0 && xy[l] > 0) {
            windows[l].slope = slope[l] / half[l];
            windows[l].doubt = doubt[l];
        }
}

/// All windows of seven bins or more that climb by `least`.
std::vector<Window> allWindows(const Bins& bins, double least, double noise)
{
    const Moments moments(bins);
    const size_t count = bins.x.size();
    const size_t stride = std::max(size_t{1}, count / 40);
    std::vector<Window> windows;
    Window four[4];
    size_t waiting = 0;
    const auto flush = [&] {
        if (waiting == 0)
            return;
        std::fill(four + waiting, four + 4, four[0]);
        fillWindows(moments, four, noise);
        windows.insert(windows.end(), four, four + waiting);
        waiting = 0;
    };
    for (size_t i = 0; i + leastBins <= count; i += stride, flush())
        for (size_t j = i + leastBins; j <= count; j += stride) {
            if (bins.y[j - 1] - bins.y[i] < least)
                continue;
            four[waiting++] = {.from = i, .to = j};
            if (waiting == 4)
                flush();
        }
    return windows;
}

} // namespace

std::optional<PointRange> surestWindow(std::span<const double> x, std::span<const double> y, double least, double noise)
{
    const Bins bins = makeBins(x, y);
    const double perBin = static_cast<double>(x.size()) / static_cast<double>(bins.x.size());
    const auto windows = allWindows(bins, least, noise / std::sqrt(perBin));
    double best = never;
    for (const Window& w : windows)
        best = std::min(best, w.doubt);
    if (!std::isfinite(best))
        return std::nullopt;
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
    if (chosen.to == 0)
        return std::nullopt;
    return PointRange{bins.start[chosen.from], bins.start[chosen.to]};
}

} // namespace fortitor
