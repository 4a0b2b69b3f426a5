// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/unit.h"

#include <cstdlib>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// A growing column of doubles that lie one behind the other, so that it is read in place. It grows by half of itself
/// each time; large ones are moved by the page table, not copied. Index and size are 64 bit.
class Column {
public:
    Column() = default;
    Column(Column&& other) noexcept { swap(other); }
    Column& operator=(Column&& other) noexcept;
    Column(const Column& other);
    Column& operator=(const Column& other);

    void append(double value)
    {
        if (size_ == room_)
            reserve(room_ + room_ / 2 + 64);
        data_.get()[size_++] = value;
        gaps_ |= value != value;
    }
    void append(std::span<const double> values); ///< not its own
    /// Room for that many values in all; std::bad_alloc when there is none.
    void reserve(size_t size);

    double operator[](size_t i) const { return data_.get()[i]; }
    [[nodiscard]] size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }
    [[nodiscard]] double back() const { return (*this)[size_ - 1]; }
    /// The values in place; until the next is appended.
    [[nodiscard]] std::span<const double> values() const { return {data_.get(), size_}; }

    /// Whether any value is NaN: a gap.
    [[nodiscard]] bool hasGaps() const { return gaps_; }
    /// A copy of all rows.
    [[nodiscard]] std::vector<double> gather() const { return {data_.get(), data_.get() + size_}; }

private:
    struct Free {
        void operator()(double* data) const { std::free(data); }
    };
    void swap(Column& other) noexcept;

    std::unique_ptr<double, Free> data_;
    size_t size_ = 0;
    size_t room_ = 0;
    bool gaps_ = false;
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

struct ChannelName {
    std::string_view name;
    Kind kind;
};

/// The channels of the exchange format, in its order.
const std::vector<ChannelName>& channelNames();

/// The kind of quantity a channel of that name holds; nullptr when there is no such channel.
const ChannelName* findChannelName(std::string_view name);

} // namespace fortitor
