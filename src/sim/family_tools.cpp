// SPDX-License-Identifier: GPL-3.0-or-later
// What families of records are made with.
#include "sim/family.h"
#include "sim/family_parts.h"

#include <algorithm>
#include <cmath>

namespace fortitor {

Random diceOf(std::uint64_t seed)
{
    return Random(seed * 6364136223846793005ULL + 1442695040888963407ULL);
}

const CatalogueEntry& oneOf(Random& dice, std::initializer_list<const char*> names)
{
    const auto at = static_cast<size_t>(dice.between(0, static_cast<double>(names.size()) - 1e-9));
    return *findCatalogueEntry(*(names.begin() + at));
}

Channel* channelOf(Record& record, std::string_view name)
{
    const auto it = std::ranges::find(record.channels, name, &Channel::name);
    return it == record.channels.end() ? nullptr : &*it;
}

size_t loadEnd(const Record& record)
{
    const Column& force = record.find("force")->values;
    double top = 0;
    for (size_t i = 0; i < force.size(); ++i)
        top = std::max(top, std::abs(force[i]));
    size_t end = force.size();
    while (end > 0 && std::abs(force[end - 1]) < 0.1 * top)
        --end;
    return end;
}

SimulatedSpecimen wellZeroed(const CatalogueEntry& entry, std::uint64_t seed)
{
    SimulatedSpecimen specimen = drawSpecimen(entry, seed);
    specimen.conditions.zeroOffset = 0;
    return specimen;
}

FamilyRun started(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed, double points)
{
    FamilyRun out{entry, {}, {}};
    out.run = simulateRun(entry, std::move(specimen), seed, points);
    return out;
}

FamilyRun stopped(const CatalogueEntry& shelf, std::uint64_t seed, double at, Random& dice)
{
    CatalogueEntry entry = shelf;
    entry.stopStrain = at;
    entry.removeAtStrain = 0;
    // What falls within a reading or two can only be told from a break by the crosshead.
    const bool crosshead = dice.even() < 0.7;
    entry.backRate = entry.slowRate * std::pow(10, dice.between(0, crosshead ? 1.7 : 0.6));
    FamilyRun out = started(entry, wellZeroed(entry, seed), seed, dice.between(1500, 6000));
    if (!crosshead)
        std::erase_if(out.run.record.channels, [](const Channel& c) { return c.name == "displacement"; });
    return out;
}

} // namespace fortitor
