// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/record.h"

#include <algorithm>
#include <span>
#include <vector>

namespace fortitor {

/// The rows of a column looked at in place, some of them left out: for channels that are asked for a
/// few values only, where a copy of a million rows would cost more than all of the looking. The
/// column (or the span) must outlive the view.
class RowView {
public:
    RowView() = default;
    RowView(std::span<const double> flat) : flat_(flat.data()), size_(flat.size()) { }
    RowView(const std::vector<double>& flat) : RowView(std::span<const double>(flat)) { }
    /// `leftOut`: rows to skip, rising.
    RowView(const Column& column, const std::vector<size_t>& leftOut)
        : flat_(column.values().data()), skipped_(leftOut), size_(column.size() - leftOut.size())
    {
        for (size_t k = 0; k < skipped_.size(); ++k)
            skipped_[k] -= k; // rows kept before the k-th that is left out
    }

    double operator[](size_t i) const { return flat_[skipped_.empty() ? i : rowOf(i)]; }
    [[nodiscard]] size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }

private:
    [[nodiscard]] size_t rowOf(size_t i) const
    {
        return i + static_cast<size_t>(std::ranges::upper_bound(skipped_, i) - skipped_.begin());
    }

    const double* flat_ = nullptr;
    std::vector<size_t> skipped_;
    size_t size_ = 0;
};

} // namespace fortitor
