// SPDX-License-Identifier: GPL-3.0-or-later
// Parts of the families: how a record is changed, and those that another file makes.
#pragma once

#include "sim/family.h"
#include "sim/random.h"

#include <initializer_list>
#include <string_view>
#include <utility>
#include <vector>

namespace fortitor {

Channel* channelOf(Record& record, std::string_view name);

/// Every value of a channel put through a function of row and value.
template <class F> void change(Record& record, std::string_view name, F changed)
{
    Channel* channel = channelOf(record, name);
    if (!channel)
        return;
    Column out;
    for (size_t i = 0; i < channel->values.size(); ++i)
        out.append(changed(i, channel->values[i]));
    channel->values = std::move(out);
}

/// Only the rows for which `keeps` answers true.
template <class F> void keepRows(Record& record, F keeps)
{
    std::vector<size_t> rows;
    for (size_t i = 0; i < record.rows(); ++i)
        if (keeps(i))
            rows.push_back(i);
    for (Channel& channel : record.channels) {
        Column out;
        for (const size_t i : rows)
            out.append(channel.values[i]);
        channel.values = std::move(out);
    }
}

Random diceOf(std::uint64_t seed);
const CatalogueEntry& oneOf(Random& dice, std::initializer_list<const char*> names);

/// One past the last reading under load: where the force has fallen to a tenth of its greatest for good.
size_t loadEnd(const Record& record);

/// The specimen as drawn, with nothing left on the force channel.
SimulatedSpecimen wellZeroed(const CatalogueEntry& entry, std::uint64_t seed);
FamilyRun started(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed, double points = 0);

/// Stopped before it broke and driven back, slowly or fast.
FamilyRun stopped(const CatalogueEntry& shelf, std::uint64_t seed, double at, Random& dice);
FamilyRun coreStopped(std::uint64_t seed);
FamilyRun blockStopped(std::uint64_t seed);
FamilyRun softPressed(std::uint64_t seed);

/// A shell whose folds carry more than half of its peak, crushed together at the end; no crush is stated.
FamilyRun foldedStoutly(std::uint64_t seed);
FamilyRun beamSteps(std::uint64_t seed);

/// A beam bent on and unloaded before it broke, as a record.
FamilyRun beamStopped(std::uint64_t seed);
FamilyRun blockPlain(std::uint64_t seed);
FamilyRun shaftPlain(std::uint64_t seed);

} // namespace fortitor
