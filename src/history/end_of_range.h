// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <limits>
#include <span>

namespace fortitor {

/// The greatest or the least reading: how many stand there, and at the one next to it.
struct Extreme {
    double value = 0;
    std::uint64_t count = 0, next = 0;
};

/// The greatest of what comes, of either sign, with how many stand there and at the next.
class EndOfRange {
public:
    explicit EndOfRange(double sign) : sign_(sign) { }
    void take(std::span<const double> values)
    {
        double second = second_;
        const double sign = sign_;
        for (const double value : values)
            if (const double v = sign * value; v >= second) { // seldom
                place(v, 1);
                second = second_;
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
        if (count == 0 || v < second_)
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
