// SPDX-License-Identifier: GPL-3.0-or-later
// Gaps and spikes, bridged by a straight line.
#pragma once

#include "history/source.h"

#include <optional>

namespace fortitor {

/// How many sizes lie in a bucket, those that hold some.
using SpikeCounts = std::vector<std::pair<std::uint32_t, std::uint64_t>>;

/// How large readings less the median of the five about them are. Their median is exact where it lies among the sizes
/// that were watched, else it is told from counts, to a part in four thousand.
class SpikeLevel {
public:
    SpikeLevel();
    /// Keeps sizes from `low` to below `high` as they are; before any come.
    void watch(double low, double high);
    /// `values` with two readings before and after those that count.
    void add(std::span<const double> values);
    void add(const SpikeLevel& other); ///< that watched the same
    void add(const SpikeCounts& counts);
    [[nodiscard]] SpikeCounts counts() const;
    /// Sizes that may lie on one side of one limit and on the other side of the other.
    [[nodiscard]] std::uint64_t between(double limit, double other) const;
    /// Sizes between which that median lies; {0, 0} where all are nothing.
    [[nodiscard]] std::pair<double, double> medianWithin() const;
    [[nodiscard]] bool exact() const;
    /// 1.4826 × the median; where more than a quarter of all are nothing, as on a smooth signal or a coarse step, × the
    /// median of the others. 0 where all are nothing.
    [[nodiscard]] double deviation() const;
    /// Above it a size is a spike's: twelve deviations; infinite where all is smooth.
    [[nodiscard]] double limit() const;

private:
    static std::uint32_t bucketOf(double size);
    /// How many sizes count, and the places of those in the middle among all.
    struct Ranks {
        std::uint64_t count = 0, lower = 0, upper = 0;
    };
    [[nodiscard]] Ranks middle() const;
    [[nodiscard]] std::optional<double> median() const;

    std::vector<std::uint64_t> counts_;
    double low_ = 0, high_ = 0;
    std::uint64_t below_ = 0; ///< sizes under those that are watched
    std::vector<double> watched_;
};

/// A signal whose gaps and spikes are bridged; any thread.
class Repaired {
public:
    /// `limit`: size of reading less median above which it is a spike; infinite: spikes stay.
    Repaired(const HistorySource& source, double limit) : source_(source), limit_(limit) { }
    /// Readings [from, from + out.size()); how many of them were bridged. What it gives of a reading does not depend on
    /// the stretch that is asked for. A history without one sound reading gives zeros.
    std::uint64_t read(std::uint64_t from, std::span<double> out) const;
    /// Gaps alone bridged, with two readings more at either end (the first and last held beyond the ends): what the
    /// spikes are told from.
    void readGapless(std::uint64_t from, std::span<double> out) const;
    [[nodiscard]] std::uint64_t size() const { return source_.size(); }

private:
    struct Stretch;
    [[nodiscard]] bool sound(Stretch& stretch) const;
    [[nodiscard]] Stretch about(std::uint64_t from, std::uint64_t to) const;

    const HistorySource& source_;
    double limit_;
};

} // namespace fortitor
