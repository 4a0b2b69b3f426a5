// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace fortitor {

/// Turning points with the readings they stand at.
struct Turning {
    std::vector<double> values{};
    std::vector<std::uint32_t> at{}; ///< reading; a history has fewer than 2³² of them

    void add(double value, std::uint32_t where)
    {
        values.push_back(value);
        at.push_back(where);
    }
    [[nodiscard]] size_t size() const { return values.size(); }
};

/// First, last, and each reversal between; of a level stretch its first reading. Figures come in one by one or joined
/// from stretches: the turning points of their turning points are those of the whole.
template <class Into = Turning> class TurningFinder {
public:
    explicit TurningFinder(Into& into) : into_(into) { }
    void take(double value, std::uint32_t where)
    {
        if (count_ == 0) {
            into_.add(value, where);
        } else if (value != last_) {
            const int way = value > last_ ? 1 : -1;
            if (way_ != 0 && way != way_)
                into_.add(last_, lastAt_);
            way_ = way;
        } else {
            return; // level: its first reading counts
        }
        ++count_;
        last_ = value;
        lastAt_ = where;
    }
    /// The last one, once all came in.
    void end()
    {
        if (count_ > 1)
            into_.add(last_, lastAt_);
        count_ = 0;
        way_ = 0;
    }

private:
    Into& into_;
    double last_ = 0;
    std::uint32_t lastAt_ = 0;
    int way_ = 0;
    std::uint64_t count_ = 0;
};

/// Of eight lanes of interleaved figures, one behind the other: the first reading of lane k stands at first + k·rows.
void findTurningOfLanes(std::span<Turning, 8> into, std::span<const double> interleaved, std::uint32_t first);

} // namespace fortitor
