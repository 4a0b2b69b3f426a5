// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "history/detrend.h"
#include "history/end_of_range.h"
#include "history/low_pass.h"
#include "history/repair.h"
#include "history/turning.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <tuple>

namespace fortitor {

inline constexpr size_t laneCount = 8;
inline constexpr double reflectedSeconds = 20; ///< that the ends are continued by

/// The last pass: lanes of a block side by side, each with what its filter needs before and after.
class Blocks {
public:
    /// Readings [first, last) of the history are its own; those beside them serve the filter.
    Blocks(const Repaired& repaired, const TrendPieces* pieces, std::span<const double> trend,
           const std::optional<LowPass>& filter, double rate, std::uint64_t first, std::uint64_t last)
        : repaired_(repaired), pieces_(pieces), trend_(trend), filter_(filter),
          first_(static_cast<std::int64_t>(first)), last_(static_cast<std::int64_t>(last))
    {
        const auto n = static_cast<std::int64_t>(repaired.size());
        const std::int64_t own = last_ - first_;
        around_ = filter ? static_cast<std::int64_t>(filter->warmUp) : 0;
        beyond_ = std::min(static_cast<std::int64_t>(std::llround(reflectedSeconds * rate)), n - 1);
        const std::int64_t usual = std::max<std::int64_t>(1 << 14, std::min<std::int64_t>(1 << 16, 16 * around_));
        // A short history is shared among the lanes.
        core_ = std::min(std::max(usual, 2 * around_),
                         (own + static_cast<std::int64_t>(laneCount) - 1) / static_cast<std::int64_t>(laneCount));
    }
    [[nodiscard]] std::int64_t each() const { return core_ * static_cast<std::int64_t>(laneCount); }
    [[nodiscard]] size_t count() const { return static_cast<size_t>((last_ - first_ + each() - 1) / each()); }
    /// First reading of a block.
    [[nodiscard]] std::int64_t start(size_t block) const { return first_ + static_cast<std::int64_t>(block) * each(); }
    [[nodiscard]] std::int64_t last() const { return last_; }
    [[nodiscard]] std::int64_t core() const { return core_; }
    [[nodiscard]] std::int64_t around() const { return around_; }

    struct Ends {
        EndOfRange top{1}, bottom{-1};
    };
    /// Interleaved, with `around` rows before and after each lane's own; readings bridged in the block itself.
    std::uint64_t fill(std::int64_t first, std::vector<double>& into, std::vector<double>& line,
                       Ends* ends = nullptr) const
    {
        const auto n = static_cast<std::int64_t>(repaired_.size());
        const std::int64_t from = first - around_, to = first + each() + around_;
        line.resize(static_cast<size_t>(to - from));
        const std::int64_t inFrom = std::max<std::int64_t>(from, 0), inTo = std::min(to, n);
        const std::span<double> inside =
            std::span(line).subspan(static_cast<size_t>(inFrom - from), static_cast<size_t>(inTo - inFrom));
        const std::uint64_t bridged = readInside(first, inFrom, inside, ends);
        if (from < 0)
            reflectStart(line, from);
        if (to > n)
            reflectEnd(line, from, to);
        const auto rows = static_cast<size_t>(core_ + 2 * around_);
        into.resize(rows * laneCount);
        double* out = into.data();
        const auto apart = static_cast<size_t>(core_);
        for (size_t i = 0; i < rows; ++i)
            for (size_t lane = 0; lane < laneCount; ++lane)
                *out++ = line[lane * apart + i];
        if (filter_)
            filterBothWays(into, laneCount, *filter_);
        return bridged;
    }

private:
    /// The overlap is bridged too, but counted where it belongs.
    std::uint64_t readInside(std::int64_t first, std::int64_t inFrom, std::span<double> inside, Ends* ends) const
    {
        const std::int64_t end = inFrom + static_cast<std::int64_t>(inside.size());
        const std::int64_t own = std::max(first, inFrom), ownEnd = std::min({first + each(), end, last_});
        std::uint64_t bridged = 0;
        for (const auto& [a, b, counts] : {std::tuple(inFrom, own, false), {own, ownEnd, true}, {ownEnd, end, false}})
            if (b > a) {
                const auto part = inside.subspan(static_cast<size_t>(a - inFrom), static_cast<size_t>(b - a));
                const std::uint64_t found = repaired_.read(static_cast<std::uint64_t>(a), part);
                bridged += counts ? found : 0;
                if (counts && ends) {
                    ends->top.take(part);
                    ends->bottom.take(part);
                }
            }
        if (pieces_)
            takeOff(inside, static_cast<std::uint64_t>(inFrom), *pieces_, trend_);
        return bridged;
    }
    [[nodiscard]] double settled(std::int64_t i) const
    {
        double value = 0;
        const std::span one(&value, 1);
        repaired_.read(static_cast<std::uint64_t>(i), one);
        if (pieces_)
            takeOff(one, static_cast<std::uint64_t>(i), *pieces_, trend_);
        return value;
    }
    /// 2·y(0) − y(−i), as far as 20 s, then held.
    void reflectStart(std::vector<double>& line, std::int64_t from) const
    {
        const auto n = static_cast<std::int64_t>(repaired_.size());
        const std::int64_t far = std::min({beyond_, -from, n - 1});
        const auto at = [&](std::int64_t i) { return line[static_cast<size_t>(i - from)]; };
        const bool here = far < from + static_cast<std::int64_t>(line.size());
        for (std::int64_t i = 1; i <= far; ++i)
            line[static_cast<size_t>(-i - from)] = 2 * at(0) - (here ? at(i) : settled(i));
        for (std::int64_t i = far + 1; i <= -from; ++i)
            line[static_cast<size_t>(-i - from)] = line[static_cast<size_t>(-far - from)];
    }
    void reflectEnd(std::vector<double>& line, std::int64_t from, std::int64_t to) const
    {
        const auto n = static_cast<std::int64_t>(repaired_.size());
        const std::int64_t far = std::min({beyond_, to - n, n - 1});
        const double last = from < n ? line[static_cast<size_t>(n - 1 - from)] : settled(n - 1);
        const auto before = [&](std::int64_t i) {
            return i >= from && i >= 0 ? line[static_cast<size_t>(i - from)] : settled(i);
        };
        for (std::int64_t i = 1; i <= far; ++i)
            line[static_cast<size_t>(n - 1 + i - from)] = 2 * last - before(n - 1 - i);
        const double held = far > 0 ? line[static_cast<size_t>(n - 1 + far - from)] : last;
        for (std::int64_t i = n + far; i < to; ++i)
            line[static_cast<size_t>(i - from)] = held;
    }

    const Repaired& repaired_;
    const TrendPieces* pieces_;
    std::span<const double> trend_;
    const std::optional<LowPass>& filter_;
    std::int64_t first_, last_, around_ = 0, beyond_ = 0, core_ = 0;
};

} // namespace fortitor
