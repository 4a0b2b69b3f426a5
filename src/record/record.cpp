// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/record.h"

#include <algorithm>
#include <cstring>
#include <new>
#include <utility>

namespace fortitor {

void Column::swap(Column& other) noexcept
{
    std::swap(data_, other.data_);
    std::swap(size_, other.size_);
    std::swap(room_, other.room_);
    std::swap(gaps_, other.gaps_);
}

Column& Column::operator=(Column&& other) noexcept
{
    Column taken(std::move(other));
    swap(taken);
    return *this;
}

Column::Column(const Column& other)
{
    append(other.values());
}

Column& Column::operator=(const Column& other)
{
    Column copy(other);
    swap(copy);
    return *this;
}

void Column::reserve(size_t size)
{
    if (size <= room_)
        return;
    auto* grown = static_cast<double*>(std::realloc(data_.get(), size * sizeof(double)));
    if (!grown)
        throw std::bad_alloc();
    static_cast<void>(data_.release());
    data_.reset(grown);
    room_ = size;
}

void Column::append(std::span<const double> values)
{
    if (size_ + values.size() > room_)
        reserve(std::max(size_ + values.size(), size_ > 0 ? room_ + room_ / 2 : size_t{0}));
    if (!values.empty())
        std::memcpy(data_.get() + size_, values.data(), values.size_bytes());
    size_ += values.size();
    for (const double v : values)
        gaps_ |= v != v;
}

const Channel* Record::find(std::string_view name) const
{
    const auto it = std::ranges::find(channels, name, &Channel::name);
    return it == channels.end() ? nullptr : &*it;
}

bool Record::has(std::string_view event) const
{
    return std::ranges::find(events, event, &Event::code) != events.end();
}

Channel& Record::add(std::string_view name)
{
    Channel channel;
    channel.name = name;
    if (const ChannelName* known = findChannelName(name))
        channel.kind = known->kind;
    channel.unitFound = baseUnit(channel.kind).symbol;
    channels.push_back(std::move(channel));
    return channels.back();
}

const std::vector<ChannelName>& channelNames()
{
    static const std::vector<ChannelName> names{
        {"time", Kind::Time},
        {"force", Kind::Force},
        {"extension", Kind::Length},
        {"extension_2", Kind::Length},
        {"displacement", Kind::Length},
        {"strain", Kind::Strain},
        {"strain_2", Kind::Strain},
        {"strain_3", Kind::Strain},
        {"strain_4", Kind::Strain},
        {"strain_5", Kind::Strain},
        {"strain_6", Kind::Strain},
        {"strain_7", Kind::Strain},
        {"strain_8", Kind::Strain},
        {"transverse_strain", Kind::Strain},
        {"deflection", Kind::Length},
        {"torque", Kind::Torque},
        {"twist", Kind::Angle},
        {"energy", Kind::Energy},
        {"temperature", Kind::Temperature},
        {"cycles", Kind::Number},
        {"potential", Kind::Potential},
    };
    return names;
}

const ChannelName* findChannelName(std::string_view name)
{
    const auto it = std::ranges::find(channelNames(), name, &ChannelName::name);
    return it == channelNames().end() ? nullptr : &*it;
}

} // namespace fortitor
