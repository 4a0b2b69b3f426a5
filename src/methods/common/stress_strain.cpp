// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/stress_strain.h"

#include "curve/unloading.h"
#include "methods/common/extensometer.h"
#include "methods/common/figures.h"
#include "methods/common/stress_strain_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Rows on which every used channel has a reading; the others are left out.
std::vector<size_t> wholeRows(const std::vector<const Channel*>& used)
{
    std::vector<size_t> gaps;
    for (const Channel* channel : used) {
        if (!channel->values.hasGaps())
            continue;
        for (size_t i = 0; i < channel->values.size(); ++i)
            if (std::isnan(channel->values[i]))
                gaps.push_back(i);
    }
    std::ranges::sort(gaps);
    const auto [first, last] = std::ranges::unique(gaps);
    gaps.erase(first, last);
    return gaps;
}

/// Whether a channel has no reading any more while another goes on, for five rows or more.
bool endsEarly(const Channel& channel, const Channel& other)
{
    size_t last = channel.values.size();
    while (last > 0 && std::isnan(channel.values[last - 1]))
        --last;
    size_t more = 0;
    for (size_t i = last; i < other.values.size(); ++i)
        more += !std::isnan(other.values[i]);
    return last > 0 && more >= 5;
}

/// The channel standing at its last reading from there on.
Channel heldToTheEnd(const Channel& channel)
{
    Channel held{channel.name, channel.kind, channel.unitFound, channel.headerFound, {}};
    size_t last = channel.values.size();
    while (last > 0 && std::isnan(channel.values[last - 1]))
        --last;
    for (size_t i = 0; i < channel.values.size(); ++i)
        held.values.append(channel.values[std::min(i, last - 1)]);
    return held;
}

} // namespace

const Quantity* dimensionOf(const SpecimenInput& input, const std::string& key)
{
    const auto it = input.dimensions.find(key);
    return it == input.dimensions.end() || it->second.empty() ? nullptr : &it->second.front();
}

std::vector<double> gatherWithout(const Column& column, const std::vector<size_t>& gaps)
{
    if (gaps.empty())
        return column.gather();
    std::vector<double> out;
    out.reserve(column.size() - gaps.size());
    size_t next = 0;
    for (size_t i = 0; i < column.size(); ++i) {
        if (next < gaps.size() && gaps[next] == i)
            ++next;
        else
            out.push_back(column[i]);
    }
    return out;
}

Readings::Readings(const Column& column, const std::vector<size_t>& gaps) : values(column.values())
{
    if (!gaps.empty())
        take(gatherWithout(column, gaps));
}

std::span<double> Readings::toChange()
{
    if (own.empty())
        take({values.begin(), values.end()});
    return own;
}

void Readings::take(std::vector<double> changed)
{
    own = std::move(changed);
    values = own;
}

void Readings::turnSign()
{
    for (double& v : toChange())
        v = -v;
}

std::string optionOr(const SpecimenInput& input, const std::string& key, const std::string& fallback)
{
    const auto it = input.options.find(key);
    return it == input.options.end() || it->second.empty() ? fallback : it->second;
}

Expected<std::optional<double>> optionQuantity(const SpecimenInput& input, const std::string& key, Kind kind)
{
    const auto it = input.options.find(key);
    if (it == input.options.end() || it->second.empty())
        return std::optional<double>();
    auto quantity = parseQuantity(it->second, kind);
    if (!quantity) {
        Problem problem = quantity.problem();
        problem.place = "options." + key;
        return problem;
    }
    return std::optional(quantity->base);
}

namespace {

/// The force as read, rows without a reading left out, its sign turned where it was recorded as negative.
struct ForceRead : Readings {
    StrainChoice choice;
    std::vector<size_t> gaps; ///< rows left out, rising
    bool turned = false;
};

Expected<ForceRead> readForce(const SpecimenInput& input, const PrepareRules& rules, const Channel& channel,
                              StressStrain& data, std::vector<Remark>& remarks)
{
    ForceRead force;
    force.choice = chooseStrain(input, rules, remarks);
    // A strain channel that has no more readings from some row on was taken off: the force goes on without it.
    data.held.reserve(2);
    for (const Channel** c : {&force.choice.first, &force.choice.second})
        if (*c && force.choice.source != StrainSource::Crosshead && endsEarly(**c, channel))
            *c = &data.held.emplace_back(heldToTheEnd(**c));
    std::vector<const Channel*> used{&channel};
    for (const Channel* c : {force.choice.first, force.choice.second})
        if (c)
            used.push_back(c);
    force.gaps = wholeRows(used);
    if (!force.gaps.empty())
        remarks.push_back({"reading-missed",
                           Severity::Note,
                           {},
                           fmt::format("{} of {} rows lack a reading and were left out (first: row {}).",
                                       force.gaps.size(), channel.values.size(), force.gaps.front() + 1),
                           "",
                           {}});
    static_cast<Readings&>(force) = Readings(channel.values, force.gaps);
    if (force.values.size() < 3)
        return Problem{
            input.label + ", record", std::to_string(force.values.size()) + " whole rows", "at least three", {}};
    Extremes ends;
    data.topAt = indexOfGreatest(force.values, &ends);
    force.turned = -ends.least > 3 * std::abs(ends.greatest);
    if (force.turned) {
        force.turnSign();
        data.topAt = indexOfGreatest(force.values);
        remarks.push_back({"sign-turned",
                           Severity::Note,
                           {},
                           fmt::format("{} was recorded as negative force; the sign was turned.",
                                       rules.compression ? "Compression" : "Tension"),
                           "",
                           {}});
    }
    return force;
}

/// What the strain is read from, and the lengths that belong to it.
void settleLengths(const SpecimenInput& input, const PrepareRules& rules, StrainSource source, StressStrain& data,
                   std::vector<Remark>& remarks)
{
    data.source = source;
    data.parallelLength = meanLength(input, "parallel_length");
    if (!(data.parallelLength > 0))
        data.parallelLength = meanLength(input, rules.compression ? "height" : "grip_distance");
    if (data.source == StrainSource::Extensometer)
        data.gaugeLength = meanLength(input, "extensometer_gauge_length");
    if (data.source == StrainSource::Crosshead)
        data.gaugeLength = data.parallelLength;
    if (data.source == StrainSource::Crosshead && !(data.gaugeLength > 0)) {
        remarks.push_back({"missing-dimension", Severity::Caution, rules.strains,
                           "There is only the crosshead, and no length to divide its motion by.",
                           "Enter the parallel length or the grip distance on Measure.", "parallel_length"});
        data.source = StrainSource::None;
    }
}

/// A strain is looked at as the motion of the whole length, so that it can be held against the crosshead.
void watchAsMotion(const PrepareRules& rules, std::span<const double> force, double forceNoise, bool turned,
                   Readings& strain, StressStrain& data, std::vector<Remark>& remarks)
{
    constexpr double usualLength = 100; // mm, where none is given
    const double watched = data.source != StrainSource::StrainChannel ? 1
        : data.parallelLength > 0                                     ? data.parallelLength
                                                                      : usualLength;
    if (watched != 1)
        for (double& e : strain.toChange())
            e *= watched;
    watchExtensometer(strain, turned ? -watched : watched, rules, force, forceNoise, data, remarks);
    if (watched != 1)
        for (double& e : strain.toChange())
            e /= watched;
}

/// The strain as it is read from, its sign turned where needed, the machine's own stretch taken off.
void readStrain(const PrepareRules& rules, const ForceRead& force, double compliance, double forceNoise,
                StressStrain& data, std::vector<Remark>& remarks)
{
    Readings strain =
        readStrainChannel({force.choice.first, force.choice.second, data.source}, rules, force.gaps, data, remarks);
    const size_t far = rules.compression ? indexOfGreatest(force.values.first(data.end)) : data.end - 1;
    const bool turned = (force.turned || rules.compression) && strain.values[far] < strain.values[data.onset];
    if (turned) {
        strain.turnSign();
        if (!force.turned)
            remarks.push_back({"sign-turned",
                               Severity::Note,
                               {},
                               "Shortening was recorded as negative; the sign was turned.",
                               "",
                               {}});
    }
    // The machine's own stretch goes off once both have the same sign.
    if (data.source != StrainSource::Crosshead)
        watchAsMotion(rules, force.values, forceNoise, turned, strain, data, remarks);
    else if (compliance != 0)
        for (size_t i = 0; i < force.values.size(); ++i)
            strain.toChange()[i] -= compliance * force.values[i];
    data.strain = scaled(strain.values, 0, data.gaugeLength > 0 ? data.gaugeLength : 1);
    if (data.removedAt)
        goOnWithoutExtensometer(rules, *force.choice.first, force.values, compliance, data, remarks);
    if (rules.compression && !data.fracture)
        data.end = std::min(data.end, indexOfGreatest(data.strain) + 1); // what follows is the way back
}

void remarkEnd(const PrepareRules& rules, size_t rows, const StressStrain& data, std::vector<Remark>& remarks)
{
    if (data.fracture && data.fracture->last + 5 < rows)
        remarks.push_back({"data-after-break",
                           Severity::Note,
                           {},
                           fmt::format("{} readings after the break were cut.", rows - data.end),
                           "",
                           {}});
    if (!data.fracture && !rules.compression)
        remarks.push_back({"no-fracture",
                           Severity::Note,
                           rules.atBreak,
                           data.turnedAt ? fmt::format("There is no break: the load was taken off from reading {} on.",
                                                       *data.turnedAt + 1)
                                         : "The record ends without a break.",
                           "",
                           {}});
}

} // namespace

Expected<StressStrain> prepareStressStrain(const SpecimenInput& input, double section, const PrepareRules& rules,
                                           std::vector<Remark>& remarks)
{
    const Channel* channel = input.record->find("force");
    if (!channel || channel->values.size() < 3)
        return Problem{input.label + ", record",
                       channel ? std::to_string(channel->values.size()) + " rows" : "no force",
                       "a force channel with at least three readings",
                       {}};
    auto compliance = optionQuantity(input, "compliance", Kind::Compliance);
    if (!compliance)
        return compliance.problem();
    StressStrain data;
    auto read = readForce(input, rules, *channel, data, remarks);
    if (!read)
        return read.problem();
    ForceRead& force = *read;
    settleLengths(input, rules, force.choice.source, data, remarks);

    const double forceNoise = noiseOf(force.values);
    const Channel* crosshead = input.record->find("displacement");
    Way way = wayOf(crosshead, force.choice.source == StrainSource::Crosshead ? nullptr : force.choice.first,
                    force.gaps, data.topAt);
    settleZero(input, rules, force, forceNoise, way, data, remarks);
    data.way = way.values;
    data.wayOwn = std::move(way.own);
    remarkPreload(input, rules, data, section, remarks);
    if (crosshead)
        data.displacement = RowView(crosshead->values, force.gaps);
    if (const Channel* clock = input.record->find("time"))
        data.time = RowView(clock->values, force.gaps);
    if (const Channel* across = input.record->find("transverse_strain"))
        data.transverse = RowView(across->values, force.gaps);
    data.end = data.fracture ? data.fracture->last + 1 : data.turnedAt ? *data.turnedAt + 1 : force.values.size();
    data.forceEnd = data.end;
    if (data.source != StrainSource::None)
        readStrain(rules, force, compliance->value_or(0), forceNoise, data, remarks);
    remarkEnd(rules, force.values.size(), data, remarks);

    data.stress = scaled(force.values, 0, section);
    data.noise = forceNoise / section;
    data.drawnEnd = data.end;
    return data;
}

void strainIsTheReading(StressStrain& data)
{
    data.strain.resize(data.stress.size());
    for (size_t i = 0; i < data.strain.size(); ++i)
        data.strain[i] = static_cast<double>(i);
}

bool goesOnBelow(const StressStrain& data, size_t index, double level)
{
    // A fall while the drive stands or goes back is unloading.
    const double noise = noiseOfDrive(data.way);
    if (!data.way.empty()) // what going back by less than can be seen would take off
        level -= 6 * noise * steepestClimb(data.stress, data.way, noise, data.onset, indexOfGreatest(data.stress));
    const double beyond = data.way.empty() ? 0 : data.way[index] + 3 * noise;
    double furthest = beyond;
    size_t below = 0;
    for (size_t i = index + 1; i < data.end && below < 3; ++i) {
        bool counts = data.stress[i] < level;
        if (!data.way.empty()) {
            furthest = std::max(furthest, data.way[i]);
            counts = counts && data.way[i] > beyond && data.way[i] >= furthest - 3 * noise;
        }
        below = counts ? below + 1 : 0; // three running: among many one beyond its noise is chance
    }
    return below == 3;
}

bool maximumPassed(const StressStrain& data, const PeakFit& peak)
{
    return data.fracture || goesOnBelow(data, peak.index, 0.995 * peak.value - 5 * data.noise);
}

std::optional<double> bendingAt(const StressStrain& data, size_t index)
{
    if (data.front.empty() || data.back.empty() || index >= data.end)
        return std::nullopt;
    const auto mean = [](const RowView& face, size_t from, size_t to) {
        double sum = 0;
        for (size_t i = from; i < to; ++i)
            sum += face[i];
        return sum / static_cast<double>(to - from);
    };
    const size_t half = std::min({data.end / 200, index, data.end - 1 - index});
    const size_t quiet = std::max(size_t{1}, data.onset - data.onset / 10);
    const double a = mean(data.front, index - half, index + half + 1) - mean(data.front, 0, quiet);
    const double b = mean(data.back, index - half, index + half + 1) - mean(data.back, 0, quiet);
    if (!(std::abs(a + b) > 0) || !std::isfinite(a + b))
        return std::nullopt;
    return (a - b) / (a + b);
}

} // namespace fortitor
