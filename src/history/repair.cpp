// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/repair.h"

#include "curve/wide.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <limits>

namespace fortitor {
namespace {

constexpr int dropped = 11; // bits of the size's mantissa: a part in 2¹²
constexpr size_t buckets = size_t{1} << (31 - dropped);

template <class T> void smaller(T& into, const T& a, const T& b)
{
    into = a < b ? a : b;
}

template <class T> void greater(T& into, const T& a, const T& b)
{
    into = a > b ? a : b; // not by the comparison of the other: each is then one instruction
}

template <class T> void medianOfFive(T& into, const T& a, const T& b, const T& c, const T& d, const T& e)
{
    T low, high, other, inner;
    smaller(low, a, b);
    smaller(other, c, d);
    greater(low, low, other);
    greater(high, a, b);
    greater(other, c, d);
    smaller(high, high, other);
    // The middle of e and the inner two of the other four.
    smaller(inner, low, high);
    greater(other, low, high);
    smaller(other, other, e);
    greater(into, inner, other);
}

/// |x − median of five| of values[2 …]; as many as `out`.
FORTITOR_WIDE void sizesOf(const double* values, double* out, size_t n)
{
    size_t i = 0;
    for (; i + 4 <= n; i += 4) {
        Four a, b, c, d, e, m;
        loadFour(a, values + i);
        loadFour(b, values + i + 1);
        loadFour(c, values + i + 2);
        loadFour(d, values + i + 3);
        loadFour(e, values + i + 4);
        medianOfFive(m, a, b, d, e, c);
        Four off = c - m;
        off = off < 0 ? -off : off;
        std::memcpy(out + i, &off, sizeof off);
    }
    for (; i < n; ++i) {
        double m;
        medianOfFive(m, values[i], values[i + 1], values[i + 3], values[i + 4], values[i + 2]);
        out[i] = std::abs(values[i + 2] - m);
    }
}

/// Whether each of n steps from one reading to the next is at most `most`: not where one is no number.
FORTITOR_WIDE bool smooth(const double* values, size_t n, double most)
{
    const Four limit{most, most, most, most};
    auto within = limit <= limit;
    size_t i = 0;
    for (; i + 4 <= n; i += 4) {
        Four a, b;
        loadFour(a, values + i);
        loadFour(b, values + i + 1);
        const Four step = b - a;
        within &= (step <= limit) & (-step <= limit);
    }
    bool rest = within[0] & within[1] & within[2] & within[3];
    for (; i < n; ++i)
        rest &= std::abs(values[i + 1] - values[i]) <= most;
    return rest;
}

/// Whether all of values[2 … n − 2) are readings no further than `limit` from their median.
bool quiet(const double* values, size_t n, double limit)
{
    constexpr size_t stretch = 64;
    limit = std::min(limit, std::numeric_limits<double>::max()); // an infinite reading is none
    std::array<double, stretch> sizes;
    for (size_t i = 0; i + 4 < n; i += stretch) {
        const size_t count = std::min(stretch, n - 4 - i);
        // Two steps of half of it at most lead from a reading to any of the five.
        if (smooth(values + i, count + 3, limit / 2))
            continue;
        sizesOf(values + i, sizes.data(), count);
        for (size_t k = 0; k < count; ++k)
            if (!(sizes[k] <= limit))
                return false;
        // A gap among the five may hide in the median of its neighbours.
        for (size_t k = 0; k < count + 4; ++k)
            if (!std::isfinite(values[i + k]))
                return false;
    }
    return true;
}

} // namespace

SpikeLevel::SpikeLevel() : counts_(buckets, 0) { }

void SpikeLevel::add(std::span<const double> values)
{
    constexpr size_t stretch = 1024;
    std::array<double, stretch> sizes, watched;
    std::uint64_t* const counts = counts_.data();
    const double low = low_, high = high_;
    for (size_t at = 0; at + 4 < values.size(); at += stretch) {
        const size_t count = std::min(stretch, values.size() - 4 - at);
        sizesOf(values.data() + at, sizes.data(), count);
        // Those that are watched are written in any case, and kept by moving on: a branch would guess wrong too often.
        std::uint64_t below = 0;
        size_t kept = 0;
        for (size_t i = 0; i < count; ++i) {
            const double size = sizes[i];
            ++counts[bucketOf(size)];
            below += size < low;
            watched[kept] = size;
            kept += static_cast<size_t>(size >= low) & static_cast<size_t>(size < high);
        }
        below_ += below;
        watched_.insert(watched_.end(), watched.begin(), watched.begin() + static_cast<std::ptrdiff_t>(kept));
    }
}

void SpikeLevel::add(const SpikeLevel& other)
{
    for (size_t i = 0; i < buckets; ++i)
        counts_[i] += other.counts_[i];
    below_ += other.below_;
    watched_.insert(watched_.end(), other.watched_.begin(), other.watched_.end());
}

void SpikeLevel::watch(double low, double high)
{
    low_ = low;
    high_ = high;
}

std::uint32_t SpikeLevel::bucketOf(double size)
{
    return std::bit_cast<std::uint32_t>(static_cast<float>(size)) >> dropped & (buckets - 1);
}

void SpikeLevel::add(const SpikeCounts& counts)
{
    for (const auto& [bucket, count] : counts)
        counts_[bucket & (buckets - 1)] += count;
}

SpikeCounts SpikeLevel::counts() const
{
    SpikeCounts out;
    for (size_t i = 0; i < buckets; ++i)
        if (counts_[i] > 0)
            out.emplace_back(static_cast<std::uint32_t>(i), counts_[i]);
    return out;
}

std::uint64_t SpikeLevel::between(double limit, double other) const
{
    if (limit == other)
        return 0;
    std::uint64_t found = 0;
    const size_t last = std::min<size_t>(bucketOf(std::max(limit, other)), buckets - 1);
    for (size_t i = bucketOf(std::min(limit, other)); i <= last; ++i)
        found += counts_[i];
    return found;
}

double SpikeLevel::limit() const
{
    constexpr double deviations = 12;
    const double one = deviation();
    return one > 0 ? deviations * one : std::numeric_limits<double>::infinity();
}

SpikeLevel::Ranks SpikeLevel::middle() const
{
    std::uint64_t n = 0;
    for (const std::uint64_t count : counts_)
        n += count;
    // On a smooth signal most readings are the median themselves: that says nothing of how they scatter.
    const std::uint64_t skipped = 4 * counts_.front() > n ? counts_.front() : 0;
    n -= skipped;
    return {n, n > 0 ? skipped + (n - 1) / 2 : 0, skipped + n / 2};
}

std::pair<double, double> SpikeLevel::medianWithin() const
{
    const Ranks ranks = middle();
    const auto edge = [](size_t bucket) {
        return static_cast<double>(std::bit_cast<float>(static_cast<std::uint32_t>(bucket) << dropped));
    };
    std::uint64_t below = 0;
    double from = 0;
    for (size_t at = 0; at < buckets && ranks.count > 0; ++at) {
        const std::uint64_t before = below;
        below += counts_[at];
        if (before <= ranks.lower && below > ranks.lower)
            from = edge(at);
        if (below > ranks.upper) // sizes are rounded to the nearest float: one may lie just beside its bucket
            return {from * (1 - 1e-6), edge(at + 1) * (1 + 1e-6)};
    }
    return {0, 0};
}

/// Mean of the two in the middle, as of any even number.
std::optional<double> SpikeLevel::median() const
{
    const Ranks ranks = middle();
    if (ranks.count == 0 || below_ > ranks.lower || ranks.upper - below_ >= watched_.size())
        return std::nullopt;
    std::vector<double> sizes = watched_;
    const auto upper = sizes.begin() + static_cast<std::ptrdiff_t>(ranks.upper - below_);
    std::ranges::nth_element(sizes, upper);
    return ranks.lower == ranks.upper ? *upper : 0.5 * (*upper + *std::max_element(sizes.begin(), upper));
}

bool SpikeLevel::exact() const
{
    return median().has_value();
}

double SpikeLevel::deviation() const
{
    constexpr double normal = 1.4826;
    const auto [low, high] = medianWithin();
    return normal * median().value_or((low + high) / 2);
}

/// Readings [first, first + values.size()) of the source, and which of them are not sound.
struct Repaired::Stretch {
    std::uint64_t first = 0;
    std::vector<double> values{};
    std::vector<char> bad{};

    [[nodiscard]] std::uint64_t end() const { return first + values.size(); }
    /// Straight lines over what is bad, between the sound readings beside it; held at the ends.
    void bridge()
    {
        const size_t n = values.size();
        size_t i = 0;
        while (i < n) {
            if (!bad[i]) {
                ++i;
                continue;
            }
            size_t end = i;
            while (end < n && bad[end])
                ++end;
            const bool before = i > 0, after = end < n;
            for (size_t k = i; k < end; ++k)
                if (before && after) {
                    const double share = static_cast<double>(k - i + 1) / static_cast<double>(end - i + 1);
                    values[k] = values[i - 1] + (values[end] - values[i - 1]) * share;
                } else {
                    values[k] = before ? values[i - 1] : after ? values[end] : 0;
                }
            i = end;
        }
    }
};

/// Marks gaps, then spikes of what is bridged over them; true where every bad reading that counts has a sound one on
/// both sides, or the history ends there.
bool Repaired::sound(Stretch& s) const
{
    const size_t n = s.values.size();
    s.bad.assign(n, 0);
    bool any = false;
    for (size_t i = 0; i < n; ++i)
        any |= (s.bad[i] = !std::isfinite(s.values[i])) != 0;
    const bool atStart = s.first == 0, atEnd = s.end() == source_.size();
    if (any) {
        if ((!atStart && s.bad.front()) || (!atEnd && s.bad.back()))
            return false;
        s.bridge();
    }
    if (std::isfinite(limit_) && n > 0) {
        std::vector<double> padded(n + 4), sizes(n);
        std::copy(s.values.begin(), s.values.end(), padded.begin() + 2);
        padded[0] = padded[1] = s.values.front();
        padded[n + 2] = padded[n + 3] = s.values.back();
        sizesOf(padded.data(), sizes.data(), n);
        // The two at an end inside the history lack neighbours: they are no part of what is asked for.
        const size_t from = atStart ? 0 : std::min<size_t>(2, n), to = atEnd ? n : n - std::min<size_t>(2, n);
        for (size_t i = from; i < to; ++i)
            if (sizes[i] > limit_) {
                s.bad[i] = 1;
                any = true;
            }
        if (any && ((!atStart && (n < 5 || s.bad[2])) || (!atEnd && (n < 5 || s.bad[n - 3]))))
            return false;
    }
    if (any)
        s.bridge();
    return true;
}

/// With enough about it for its gaps and spikes.
Repaired::Stretch Repaired::about(std::uint64_t from, std::uint64_t to) const
{
    for (std::uint64_t room = 8;; room *= 8) {
        Stretch s;
        s.first = from > room ? from - room : 0;
        s.values.resize(std::min(source_.size(), to + room) - s.first);
        source_.read(s.first, s.values);
        if (sound(s) || (s.first == 0 && s.end() == source_.size()))
            return s;
    }
}

std::uint64_t Repaired::read(std::uint64_t from, std::span<double> out) const
{
    constexpr size_t edge = 8;
    if (from >= 2 && from + out.size() + 2 <= size() && out.size() >= edge) {
        // Most stretches have nothing to bridge.
        source_.read(from, out);
        std::array<double, edge> first, last;
        source_.read(from - 2, std::span(first).first(2));
        source_.read(from + out.size(), std::span(last).last(2));
        std::copy_n(out.begin(), edge - 2, first.begin() + 2);
        std::copy_n(out.end() - (edge - 2), edge - 2, last.begin());
        if (quiet(out.data(), out.size(), limit_) && quiet(first.data(), edge, limit_)
            && quiet(last.data(), edge, limit_))
            return 0;
    }
    const Stretch s = about(from, from + out.size());
    const auto at = static_cast<std::ptrdiff_t>(from - s.first);
    std::copy_n(s.values.begin() + at, out.size(), out.begin());
    const auto bad = s.bad.begin() + at;
    return static_cast<std::uint64_t>(std::count(bad, bad + static_cast<std::ptrdiff_t>(out.size()), 1));
}

void Repaired::readGapless(std::uint64_t from, std::span<double> out) const
{
    const Repaired gapsOnly(source_, std::numeric_limits<double>::infinity());
    const auto count = static_cast<std::uint64_t>(out.size()) - 4;
    const std::uint64_t first = from >= 2 ? from - 2 : 0, last = std::min(size(), from + count + 2);
    const size_t before = from >= 2 ? 0 : static_cast<size_t>(2 - from);
    const auto inside = static_cast<size_t>(last - first);
    gapsOnly.read(first, out.subspan(before, inside));
    std::fill_n(out.begin(), before, out[before]);
    std::fill(out.begin() + static_cast<std::ptrdiff_t>(before + inside), out.end(), out[before + inside - 1]);
}

} // namespace fortitor
