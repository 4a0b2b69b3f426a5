// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/unit.h"

#include <array>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// A growing column of doubles in chunks, so that a live test appends without ever moving what is
/// there. Index and size are 64 bit.
class Column {
public:
    static constexpr size_t chunkBits = 14;
    static constexpr size_t chunkSize = size_t{1} << chunkBits;

    Column() = default;
    Column(Column&&) noexcept = default;
    Column& operator=(Column&&) noexcept = default;
    Column(const Column& other) { *this = other; }
    Column& operator=(const Column& other);

    void append(double value)
    {
        if (size_ == chunks_.size() * chunkSize)
            chunks_.push_back(std::make_unique_for_overwrite<Chunk>());
        (*chunks_.back())[size_ & (chunkSize - 1)] = value;
        ++size_;
    }
    double operator[](size_t i) const { return (*chunks_[i >> chunkBits])[i & (chunkSize - 1)]; }
    [[nodiscard]] size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }
    [[nodiscard]] double back() const { return (*this)[size_ - 1]; }

    /// Whether any value is NaN: a gap.
    [[nodiscard]] bool hasGaps() const;
    /// A contiguous copy of rows [from, to).
    [[nodiscard]] std::vector<double> gather(size_t from, size_t to) const;
    [[nodiscard]] std::vector<double> gather() const { return gather(0, size_); }

private:
    using Chunk = std::array<double, chunkSize>;
    std::vector<std::unique_ptr<Chunk>> chunks_;
    size_t size_ = 0;
};

/// One measured quantity over the rows of a record, in the base unit of its kind. NaN: no reading.
struct Channel {
    std::string name; ///< force, extension, displacement … (see channelNames)
    Kind kind = Kind::Number;
    std::string unitFound; ///< the unit in the source, as written there
    std::string headerFound; ///< the column's name in the source
    Column values;
};

/// Something that happened during a test, at a time in seconds from its start.
struct Event {
    double time = 0;
    std::string code; ///< "force-zero", "grip-closed", "extensometer-off", "stop" …
    std::string text;
};

/// A test record: channels of equal length with what is known of how they were taken.
struct Record {
    std::vector<Channel> channels;
    std::vector<Event> events;
    std::string source; ///< file name, or the frame it came from
    std::vector<std::string> notes; ///< what the reader of the source should know
    std::string incompleteBecause; ///< empty when the record was closed in order

    [[nodiscard]] const Channel* find(std::string_view name) const;
    [[nodiscard]] size_t rows() const { return channels.empty() ? 0 : channels.front().values.size(); }
    [[nodiscard]] bool has(std::string_view event) const;
    Channel& add(std::string_view name);
};

/// Every n-th row of a record, so that about `rows` are left; for pictures that must keep up with a
/// hand, never for figures that are kept.
Record thinnedRecord(const Record& record, size_t rows);

struct ChannelName {
    std::string_view name;
    Kind kind;
};

/// The channels of the exchange format, in its order.
const std::vector<ChannelName>& channelNames();

/// The kind of quantity a channel of that name holds; nullptr when there is no such channel.
const ChannelName* findChannelName(std::string_view name);

} // namespace fortitor
