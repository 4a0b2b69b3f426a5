// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {

/// Takes closed cycles below the cut out of turning points as they come in, and small ranges at either end of what is
/// left; hands on what stays: `stays(value)`. Holds what later points may still touch. A cut of zero takes none.
template <class Stays> class SmallRanges {
public:
    SmallRanges(double cut, Stays stays) : cut_(cut), stays_(std::move(stays)) { }

    void take(double value)
    {
        if (!(cut_ > 0))
            return stays_(value);
        open_.push_back(value);
        while (open_.size() >= 4) {
            const size_t n = open_.size();
            const double inner = range(n - 3);
            if (inner >= cut_ || inner > range(n - 2) || inner > range(n - 4))
                break;
            open_[n - 3] = open_[n - 1];
            open_.resize(n - 2);
        }
        handOn();
    }

    /// Once all came in. What is left grows from its start and falls to its end.
    void end()
    {
        size_t last = open_.size();
        if (!begun_ && last > 0)
            settled_ = last - 1;
        while (last > settled_ + 1 && range(last - 2) < cut_)
            --last;
        for (; settled_ < last; ++settled_)
            stays_(open_[settled_]);
        open_.clear();
        settled_ = 0;
        begun_ = false;
    }

private:
    [[nodiscard]] double range(size_t i) const { return std::abs(open_[i + 1] - open_[i]); }

    /// A point between two ranges that are not below the cut stays: they only grow. So does the first of all, before
    /// the first such range; what came before that is too small.
    void handOn()
    {
        if (!begun_) {
            if (open_.size() < 2 || range(open_.size() - 2) < cut_)
                return;
            begun_ = true;
            settled_ = open_.size() - 2;
        }
        while (settled_ + 1 < open_.size() && range(settled_) >= cut_)
            stays_(open_[settled_++]);
        constexpr size_t most = 4096, neighbours = 3; // that a later cycle is held against
        if (settled_ > most) {
            open_.erase(open_.begin(), open_.begin() + static_cast<std::ptrdiff_t>(settled_ - neighbours));
            settled_ = neighbours;
        }
    }

    double cut_;
    Stays stays_;
    std::vector<double> open_;
    size_t settled_ = 0; ///< of the open ones: handed on, and here as neighbours only
    bool begun_ = false;
};

} // namespace fortitor
