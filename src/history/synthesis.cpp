// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/synthesis.h"

#include "sim/random.h"

#include <fmt/format.h>

#include <iterator>

#include <algorithm>

namespace fortitor {
namespace {

/// Chances of a matrix, row by row and of the rows themselves, summed up.
class Chances {
public:
    Chances(std::span<const double> counts, size_t levels) : levels_(levels), cells_(counts.begin(), counts.end())
    {
        for (size_t row = 0; row < levels; ++row) {
            for (size_t k = 1; k < levels; ++k)
                cells_[row * levels + k] += cells_[row * levels + k - 1];
            rows_.push_back((rows_.empty() ? 0 : rows_.back()) + cells_[row * levels + levels - 1]);
        }
    }
    [[nodiscard]] double all() const { return rows_.back(); }
    [[nodiscard]] bool leaves(size_t level) const { return cells_[(level + 1) * levels_ - 1] > 0; }
    /// Where it goes from a level; from none: any start by how often it was left.
    [[nodiscard]] size_t next(size_t level, double even) const
    {
        return pick(std::span(cells_).subspan(level * levels_, levels_), even);
    }
    [[nodiscard]] size_t start(double even) const { return pick(rows_, even); }

private:
    static size_t pick(std::span<const double> sums, double even)
    {
        const auto at = std::ranges::upper_bound(sums, even * sums.back());
        return std::min<size_t>(static_cast<size_t>(at - sums.begin()), sums.size() - 1);
    }
    size_t levels_;
    std::vector<double> cells_, rows_;
};

} // namespace

Expected<std::vector<double>> synthesise(const Transitions& counted, std::uint64_t count, std::uint64_t seed)
{
    const size_t levels = counted.levels.size();
    if (count < 2 || count > 1'000'000'000)
        return Problem{"--count", fmt::format("{}", count), "2 to 1 000 000 000 turning points", {}};
    const Chances down(counted.peakToValley, levels), up(counted.valleyToPeak, levels);
    if (levels == 0 || !(down.all() > 0) || !(up.all() > 0))
        return Problem{"transitions", "none each way", "a history with several turning points", {}};
    Random random(seed);
    std::vector<double> points;
    points.reserve(count);
    bool peak = random.even() < down.all() / (down.all() + up.all());
    size_t level = (peak ? down : up).start(random.even());
    while (points.size() < count) {
        points.push_back(counted.levels[level]);
        const Chances& from = peak ? down : up;
        // Only the very last point of a history leads nowhere: any other of its kind goes on for it.
        level = from.next(from.leaves(level) ? level : from.start(random.even()), random.even());
        peak = !peak;
    }
    return points;
}

void addTrend(std::span<double> points, std::span<const double> trend, std::span<const double> joints)
{
    if (trend.size() < 2 || trend.size() != joints.size() || points.size() < 2)
        return;
    size_t piece = 1;
    for (size_t i = 0; i < points.size(); ++i) {
        const double at = joints.front()
            + (joints.back() - joints.front()) * static_cast<double>(i) / static_cast<double>(points.size() - 1);
        while (piece + 1 < joints.size() && joints[piece] < at)
            ++piece;
        const double share = (at - joints[piece - 1]) / (joints[piece] - joints[piece - 1]);
        points[i] += trend[piece - 1] + share * (trend[piece] - trend[piece - 1]);
    }
}

std::string pointsCsv(std::span<const double> points, const Unit& unit)
{
    std::string text = fmt::format("{} ({})\n", unit.kind == Kind::Stress ? "stress" : "strain", unit.symbol);
    for (const double value : points)
        fmt::format_to(std::back_inserter(text), "{:.9g}\n", value);
    return text;
}

} // namespace fortitor
