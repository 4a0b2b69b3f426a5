// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/long_turning.h"

#include "history/raw_file.h"

#include <atomic>
#include <cstring>

namespace fortitor {

/// Stretches of `inMemory` points, of each the values, then the readings they stand at.
struct LongTurning::File {
    std::optional<Spill> spill;
    std::optional<Problem> trouble;
    std::atomic<bool> unread = false;
};

LongTurning::LongTurning(size_t inMemory) : inMemory_(std::max<size_t>(1, inMemory)) { }
LongTurning::LongTurning(LongTurning&&) noexcept = default;
LongTurning& LongTurning::operator=(LongTurning&&) noexcept = default;
LongTurning::~LongTurning() = default;

LongTurning LongTurning::of(std::span<const double> values)
{
    LongTurning out;
    for (const double value : values)
        out.add(value, 0);
    return out;
}

void LongTurning::putDown()
{
    if (!file_) {
        file_ = std::make_unique<File>();
        if (auto made = Spill::make())
            file_->spill.emplace(std::move(*made));
        else
            file_->trouble = made.problem();
    }
    if (!file_->trouble) {
        auto put = file_->spill->append(std::as_bytes(std::span(last_.values)));
        if (put)
            put = file_->spill->append(std::as_bytes(std::span(last_.at)));
        if (put)
            putDown_ += last_.size();
        else
            file_->trouble = put.problem();
    }
    last_.values.clear();
    last_.at.clear();
}

void LongTurning::readBack(size_t from, Turning& some) const
{
    constexpr size_t most = size_t{1} << 16;
    const size_t within = from % inMemory_, count = std::min(most, inMemory_ - within);
    const std::uint64_t stretch = (from - within) * (sizeof(double) + sizeof(std::uint32_t));
    some.values.resize(count);
    some.at.resize(count);
    const bool read =
        file_->spill->read(stretch + within * sizeof(double), std::as_writable_bytes(std::span(some.values)))
        && file_->spill->read(stretch + inMemory_ * sizeof(double) + within * sizeof(std::uint32_t),
                              std::as_writable_bytes(std::span(some.at)));
    if (!read)
        file_->unread = true;
}

Turning LongTurning::all() const
{
    Turning out;
    each([&](std::span<const double> values, std::span<const std::uint32_t> at) {
        out.values.insert(out.values.end(), values.begin(), values.end());
        out.at.insert(out.at.end(), at.begin(), at.end());
    });
    return out;
}

std::optional<Problem> LongTurning::trouble() const
{
    if (file_ && file_->trouble)
        return file_->trouble;
    if (file_ && file_->unread)
        return Problem{"temporary file", "turning points that can't be read back", "a disk that reads", {}};
    return std::nullopt;
}

} // namespace fortitor
