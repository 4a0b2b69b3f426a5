// SPDX-License-Identifier: GPL-3.0-or-later
// The turning points of a whole history: in memory while they are few, else in a file, so that a history full of noise
// needs no more room than a smooth one.
#pragma once

#include "history/turning.h"
#include "units/expected.h"

#include <algorithm>
#include <memory>
#include <optional>

namespace fortitor {

class LongTurning {
public:
    static constexpr size_t usual = size_t{1} << 22; ///< 50 MB
    explicit LongTurning(size_t inMemory = usual);
    LongTurning(LongTurning&&) noexcept;
    LongTurning& operator=(LongTurning&&) noexcept;
    ~LongTurning();
    static LongTurning of(std::span<const double> values);

    void add(double value, std::uint32_t where)
    {
        last_.add(value, where);
        if (last_.size() == inMemory_)
            putDown();
    }
    [[nodiscard]] size_t size() const { return putDown_ + last_.size(); }
    /// All in their order, in stretches that lie in place only while `take(values, at)` looks at them; any thread.
    template <class Take> void each(Take&& take) const
    {
        Turning some;
        for (size_t from = 0; from < putDown_; from += some.size()) {
            readBack(from, some);
            take(std::span<const double>(some.values), std::span<const std::uint32_t>(some.at));
        }
        take(std::span<const double>(last_.values), std::span<const std::uint32_t>(last_.at));
    }
    /// All of them in memory.
    [[nodiscard]] Turning all() const;
    /// A disk that is full, a file that can't be made or read: what came since is lost.
    [[nodiscard]] std::optional<Problem> trouble() const;

private:
    struct File;
    void putDown();
    /// Points from one on, up to the end of the stretch that was put down with it.
    void readBack(size_t from, Turning& some) const;

    Turning last_;
    size_t inMemory_;
    size_t putDown_ = 0;
    std::unique_ptr<File> file_;
};

} // namespace fortitor
