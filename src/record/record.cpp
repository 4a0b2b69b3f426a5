// SPDX-License-Identifier: GPL-3.0-or-later
#include "record/record.h"

#include <algorithm>

namespace fortitor {

Column& Column::operator=(const Column& other)
{
    if (this == &other)
        return *this;
    chunks_.clear();
    for (const auto& chunk : other.chunks_)
        chunks_.push_back(std::make_unique<Chunk>(*chunk));
    size_ = other.size_;
    return *this;
}

bool Column::hasGaps() const
{
    for (size_t at = 0; at < size_; at += chunkSize) {
        const Chunk& chunk = *chunks_[at >> chunkBits];
        const size_t count = std::min(chunkSize, size_ - at);
        size_t gaps = 0; // counted rather than left at the first: that goes several values at a time
        for (size_t i = 0; i < count; ++i)
            gaps += chunk[i] != chunk[i] ? 1u : 0u;
        if (gaps > 0)
            return true;
    }
    return false;
}

std::vector<double> Column::gather(size_t from, size_t to) const
{
    std::vector<double> out;
    to = std::min(to, size_);
    out.reserve(to > from ? to - from : 0);
    for (size_t at = from; at < to;) {
        const Chunk& chunk = *chunks_[at >> chunkBits];
        const size_t first = at & (chunkSize - 1);
        const size_t count = std::min(chunkSize - first, to - at);
        out.insert(out.end(), chunk.begin() + static_cast<std::ptrdiff_t>(first),
                   chunk.begin() + static_cast<std::ptrdiff_t>(first + count));
        at += count;
    }
    return out;
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

Record thinnedRecord(const Record& record, size_t rows)
{
    Record thin;
    thin.events = record.events;
    thin.source = record.source;
    thin.notes = record.notes;
    thin.incompleteBecause = record.incompleteBecause;
    const size_t step = rows > 0 ? std::max(size_t{1}, record.rows() / rows) : 1;
    thin.channels.reserve(record.channels.size());
    for (const Channel& c : record.channels) {
        Channel& out = thin.add(c.name);
        out.unitFound = c.unitFound;
        out.headerFound = c.headerFound;
        for (size_t i = 0; i < c.values.size(); i += step)
            out.values.append(c.values[i]);
    }
    return thin;
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
        {"transverse_strain", Kind::Strain},
        {"deflection", Kind::Length},
        {"torque", Kind::Torque},
        {"twist", Kind::Angle},
        {"energy", Kind::Energy},
        {"temperature", Kind::Temperature},
    };
    return names;
}

const ChannelName* findChannelName(std::string_view name)
{
    const auto it = std::ranges::find(channelNames(), name, &ChannelName::name);
    return it == channelNames().end() ? nullptr : &*it;
}

} // namespace fortitor
