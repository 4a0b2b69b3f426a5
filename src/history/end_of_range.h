// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <cstdint>
#include <limits>
#include <span>

namespace fortitor {

/// The greatest or the least reading: how many stand there, and at the one next to it.
struct Extreme {
    double value = 0;
    std::uint64_t count = 0, next = 0;
};

/// Whether any of them times `sign` is at least that.
bool anyAtLeast(std::span<const double> values, double sign, double least);

/// The greatest of what comes, of either sign, with how many stand there and at the next.
class EndOfRange {
public:
    explicit EndOfRange(double sign) : sign_(sign) { }
    void take(std::span<const double> values)
    {
        constexpr size_t stretch = 256;
        for (; !values.empty(); values = values.subspan(std::min(stretch, values.size()))) {
            const auto some = values.first(std::min(stretch, values.size()));
            if (anyAtLeast(some, sign_, second_)) // seldom
                for (const double value : some)
                    place(sign_ * value, 1);
        }
    }
    void take(const EndOfRange& other)
    {
        place(other.first_, other.count_);
        place(other.second_, other.next_);
    }
    [[nodiscard]] Extreme found(double scale) const { return {sign_ * first_ * scale, count_, next_}; }

private:
    void place(double v, std::uint64_t count)
    {
        if (count == 0 || !(v >= second_))
            return;
        if (v == first_) {
            count_ += count;
        } else if (v > first_) {
            second_ = first_;
            next_ = count_;
            first_ = v;
            count_ = count;
        } else if (v == second_) {
            next_ += count;
        } else {
            second_ = v;
            next_ = count;
        }
    }
    static constexpr double none = -std::numeric_limits<double>::infinity();
    double sign_, first_ = none, second_ = none;
    std::uint64_t count_ = 0, next_ = 0;
};

} // namespace fortitor
