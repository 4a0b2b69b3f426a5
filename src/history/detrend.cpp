// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/detrend.h"

#include "curve/wide.h"

#include <algorithm>
#include <cmath>

namespace fortitor {

TrendPieces::TrendPieces(std::uint64_t readings, double length) : readings_(readings)
{
    const auto last = static_cast<double>(readings - 1);
    joints_.push_back(0);
    // A piece that would end within half a length of the end is the last one.
    for (double at = length; last - at >= 0.5 * length; at = length * static_cast<double>(joints_.size()))
        joints_.push_back(at);
    joints_.push_back(std::max(last, 1.0));
}

std::pair<std::uint64_t, std::uint64_t> TrendPieces::readingsOf(size_t piece) const
{
    const auto from = static_cast<std::uint64_t>(std::ceil(joints_[piece]));
    const auto to = piece + 1 == count() ? readings_ : static_cast<std::uint64_t>(std::ceil(joints_[piece + 1]));
    return {from, to};
}

namespace {

/// Σ y and Σ i·y of a stretch, four side by side.
FORTITOR_WIDE std::pair<double, double> levelAndRise(const double* values, size_t n)
{
    Four level{}, rise{}, place{0, 1, 2, 3}, y;
    size_t i = 0;
    for (; i + 4 <= n; i += 4) {
        loadFour(y, values + i);
        level += y;
        rise += y * place;
        place += 4;
    }
    double all = level[0] + level[1] + (level[2] + level[3]), up = rise[0] + rise[1] + (rise[2] + rise[3]);
    for (; i < n; ++i) {
        all += values[i];
        up += values[i] * static_cast<double>(i);
    }
    return {all, up};
}

FORTITOR_WIDE void takeLine(double* values, size_t n, double level, double slope)
{
    Four place{0, 1, 2, 3}, y;
    size_t i = 0;
    for (; i + 4 <= n; i += 4) {
        loadFour(y, values + i);
        y -= level + slope * place;
        std::memcpy(values + i, &y, sizeof y);
        place += 4;
    }
    for (; i < n; ++i)
        values[i] -= level + slope * static_cast<double>(i);
}

} // namespace

void addToTrend(TrendSums& sums, const TrendPieces& pieces, size_t piece, std::uint64_t from,
                std::span<const double> values)
{
    const double start = pieces.joints()[piece], length = pieces.joints()[piece + 1] - start;
    const double step = 1 / length, first = (static_cast<double>(from) - start) * step;
    constexpr size_t stretch = 1024;
    for (size_t at = 0; at < values.size(); at += stretch) {
        const auto part = values.subspan(at, std::min(stretch, values.size() - at));
        const auto [level, rise] = levelAndRise(part.data(), part.size());
        const double up = (first + step * static_cast<double>(at)) * level + step * rise;
        sums.first += level - up;
        sums.second += up;
    }
    // Σu and Σu² of evenly spaced u.
    const auto n = static_cast<double>(values.size());
    const double count = n * (n - 1) / 2, squares = (n - 1) * n * (2 * n - 1) / 6;
    const double u = n * first + step * count,
                 uu = n * first * first + 2 * first * step * count + step * step * squares;
    sums.firstFirst += n - 2 * u + uu;
    sums.firstSecond += u - uu;
    sums.secondSecond += uu;
}

/// Three bands, well conditioned: the hats overlap their neighbours by a quarter only.
std::vector<double> solveTrend(std::span<const TrendSums> sums)
{
    const size_t n = sums.size() + 1;
    std::vector<double> diagonal(n, 0), beside(n, 0), level(n, 0);
    for (size_t k = 0; k + 1 < n; ++k) {
        diagonal[k] += sums[k].firstFirst;
        diagonal[k + 1] += sums[k].secondSecond;
        beside[k] = sums[k].firstSecond;
        level[k] += sums[k].first;
        level[k + 1] += sums[k].second;
    }
    for (size_t k = 1; k < n; ++k) {
        if (!(diagonal[k - 1] > 0))
            continue;
        const double share = beside[k - 1] / diagonal[k - 1];
        diagonal[k] -= share * beside[k - 1];
        level[k] -= share * level[k - 1];
    }
    for (size_t k = n; k-- > 0;) {
        const double next = k + 1 < n ? beside[k] * level[k + 1] : 0;
        level[k] = diagonal[k] > 0 ? (level[k] - next) / diagonal[k] : 0;
    }
    return level;
}

void takeOff(std::span<double> values, std::uint64_t from, const TrendPieces& pieces, std::span<const double> levels)
{
    const auto& joints = pieces.joints();
    size_t piece = 0;
    {
        const auto after = std::ranges::upper_bound(joints, static_cast<double>(from));
        piece = static_cast<size_t>(
            std::clamp<std::ptrdiff_t>(after - joints.begin() - 1, 0, static_cast<std::ptrdiff_t>(pieces.count()) - 1));
    }
    for (size_t i = 0; i < values.size();) {
        const double start = joints[piece], end = joints[piece + 1];
        const double slope = (levels[piece + 1] - levels[piece]) / (end - start), level = levels[piece];
        const double first = static_cast<double>(from) - start;
        size_t to = values.size();
        if (piece + 1 < pieces.count())
            to = std::min(to, static_cast<size_t>(std::ceil(end) - static_cast<double>(from)));
        takeLine(values.data() + i, to - i, level + slope * (first + static_cast<double>(i)), slope);
        i = to;
        ++piece;
    }
}

} // namespace fortitor
