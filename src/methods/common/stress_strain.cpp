// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/stress_strain.h"

#include "curve/unloading.h"
#include "methods/common/extensometer.h"
#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

const Quantity* dimension(const SpecimenInput& input, const std::string& key)
{
    const auto it = input.dimensions.find(key);
    return it == input.dimensions.end() || it->second.empty() ? nullptr : &it->second.front();
}

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

/// What shows where the drive went: the crosshead, else the strain; rising while the load is put on.
struct Way {
    std::span<const double> values; ///< in the record, or in `own` where they had to be changed
    std::vector<double> own;
    bool crosshead = false;
};

Way wayOf(const Channel* crosshead, const Channel* strain, const std::vector<size_t>& gaps, size_t topAt)
{
    Way way;
    const Channel* channel = crosshead ? crosshead : strain;
    if (!channel)
        return way;
    way.crosshead = crosshead != nullptr;
    way.values = channel->values.values();
    if (!gaps.empty() || channel->values.hasGaps()) {
        way.own = gatherWithout(channel->values, gaps);
        for (size_t i = 1; i < way.own.size(); ++i)
            if (std::isnan(way.own[i]))
                way.own[i] = way.own[i - 1];
        way.values = way.own;
    }
    if (way.values[topAt] < way.values.front()) {
        if (way.own.empty())
            way.own = channel->values.gather();
        for (double& v : way.own)
            v = -v;
        way.values = way.own;
    }
    return way;
}

/// Whether the fall at a supposed break is the load being taken off, by what the record holds to tell by.
bool isUnloading(std::span<const double> force, const Way& way, double wayNoise, size_t from, size_t last)
{
    if (way.crosshead)
        return fallsByGoingBack(force, way.values, wayNoise, from, last);
    return way.values.empty() ? fallsSteadily(force, from, last)
                              : fallsAlongUnloading(force, way.values, wayNoise, from, last);
}

/// The break by the rule of the method. What falls because it was driven back is none.
std::optional<Fracture> findBreak(const PrepareRules& rules, std::span<const double> force, double noise,
                                  const Way& way, StressStrain& data)
{
    auto fracture = findFracture(force, noise, data.topAt);
    const auto ran = way.values.subspan(std::min(data.onset, way.values.size()));
    const double wayNoise = noiseOfDrive(ran);
    const auto turn = findTurn(way.values, data.onset, wayNoise);
    if (fracture && isUnloading(force, way, wayNoise, data.onset, fracture->last)) {
        data.turnedAt = std::min(turn ? turn->first : fracture->last, fracture->last);
        const auto before = force.first(*data.turnedAt + 1);
        fracture = findFracture(before, noise, indexOfGreatest(before));
    } else if (!fracture && turn
               && (way.crosshead || fallsAlongUnloading(force, way.values, wayNoise, data.onset, turn->last))) {
        data.turnedAt = turn->first;
    }
    if (!fracture || !rules.drawing)
        return fracture;
    // A neck that runs down the bar lets the force down too, only not at once.
    const size_t soon = std::min(fracture->last + std::max(size_t{3}, force.size() / 100), force.size() - 1);
    double least = force[fracture->last];
    for (size_t i = fracture->last; i <= soon; ++i)
        least = std::min(least, force[i]);
    return fracture->cutInFall || least < 0.7 * force[fracture->last] ? fracture : std::nullopt;
}

/// Force at the quiet start: a zero error, real preload, or not known (methods basis, section 0).
void settleZero(const SpecimenInput& input, const PrepareRules& rules, std::vector<double>& force, double noise,
                const Way& way, StressStrain& data, std::vector<Remark>& remarks)
{
    const QuietStart quiet = findQuietStart(force, noise, force[data.topAt]);
    data.onset = quiet.onset;
    const double top = quiet.top;
    data.peakRaw = top;
    data.fracture = findBreak(rules, force, noise, way, data);
    const auto& broken = data.fracture;
    const bool residual = broken && broken->residualCount > 0;
    // One or two readings before the climb are hardly a quiet start; what follows the break may bear them out.
    const bool hardly = quiet.quiet == 0 && quiet.onset > 0 && quiet.onset < 3;
    const double certain =
        3 * std::max(quiet.scatter, noise) / std::sqrt(static_cast<double>(std::max(quiet.quiet, size_t{1})));
    const bool started = quiet.quiet > 0 && std::abs(quiet.level) > std::max(certain, 1e-6 * top);
    const std::string option = optionOr(input, "force_zero", "auto");
    const bool toldOpen = input.record->has("force-zero-open");
    const bool agrees = residual && quiet.quiet > 0
        && std::abs(quiet.level - broken->residual)
            <= std::max({0.15 * std::abs(quiet.level),
                         4 * noise / std::sqrt(static_cast<double>(broken->residualCount)), 5e-4 * top});
    const double head = medianOf(
        {force.begin(), force.begin() + static_cast<std::ptrdiff_t>(std::clamp(quiet.onset, size_t{1}, size_t{3}))});
    const bool take =
        option == "start" ? started : option == "auto" && started && (agrees || toldOpen || rules.compression);
    const auto percent = [&](double f) { return formatFixed(100 * std::abs(f) / top, 2); };

    if (take) {
        data.zeroTaken = quiet.level;
        data.peakRaw -= quiet.level;
        for (double& f : force)
            f -= quiet.level;
        const bool large = std::abs(quiet.level) > 0.005 * top;
        const std::string why = option == "start" ? "by the chosen rule"
            : rules.compression                   ? "nothing lay between the platens before the touch"
            : toldOpen                            ? "it was taken before the second grip closed"
                                                  : fmt::format("the force left after the break ({}) agrees",
                                                                formatQuantity(broken->residual, baseUnit(Kind::Force), 3));
        remarks.push_back(
            {"zero-offset", large ? Severity::Caution : Severity::Note, rules.stresses,
             fmt::format("{} ({} % of the maximum) at the quiet start was taken off; {}.",
                         formatQuantity(quiet.level, baseUnit(Kind::Force), 3), percent(quiet.level), why),
             large ? "Zero the force with nothing in the grips before each specimen." : "", "force_zero"});
        return;
    }
    if (started && option != "none") {
        data.zeroLeft = quiet.level;
        if (std::abs(quiet.level) > 0.001 * top)
            remarks.push_back(
                {"zero-offset", Severity::Caution, rules.stresses,
                 fmt::format(
                     "{} ({} % of the maximum) stands at the quiet start and was left in: zero error or preload "
                     "can't be told.",
                     formatQuantity(quiet.level, baseUnit(Kind::Force), 3), percent(quiet.level)),
                 "Say on Set up whether it was there before the second grip closed (force zero: start or none).",
                 "force_zero"});
    } else if (quiet.quiet == 0 && residual && std::abs(broken->residual) > std::max(0.001 * top, 5 * noise)) {
        data.zeroLeft = broken->residual;
        remarks.push_back(
            {"zero-offset", Severity::Caution, rules.stresses,
             fmt::format("After the break {} ({} % of the maximum) is left on the force channel.",
                         formatQuantity(broken->residual, baseUnit(Kind::Force), 3), percent(broken->residual)),
             "The zero may be off by that much; there is no quiet start to tell by.", "force_zero"});
    } else if (quiet.quiet == 0 && !residual && std::abs(head) > std::max(0.003 * top, 5 * noise)
               && force.size() >= 60) {
        remarks.push_back(
            {"zero-offset", Severity::Caution, rules.stresses,
             fmt::format(
                 "The record starts at {} ({} % of the maximum){} and shows no quiet end: load or zero error can't "
                 "be told.",
                 formatQuantity(head, baseUnit(Kind::Force), 3), percent(head),
                 hardly ? " with hardly a quiet reading" : ""),
             "Record a moment before the start and after the break, and zero the force with nothing in the grips.",
             "force_zero"});
    } else if (started && std::abs(quiet.level) > 0.001 * top) {
        data.zeroLeft = quiet.level;
        remarks.push_back({"zero-offset", Severity::Caution, rules.stresses,
                           fmt::format("{} ({} % of the maximum) at the quiet start is left in by choice.",
                                       formatQuantity(quiet.level, baseUnit(Kind::Force), 3), percent(quiet.level)),
                           "", "force_zero"});
    }
}

void remarkPreload(const SpecimenInput& input, const PrepareRules& rules, const StressStrain& data, double section,
                   std::vector<Remark>& remarks)
{
    size_t closed = 0;
    for (const Event& event : input.record->events) {
        if (event.code == "grip-closed")
            ++closed;
        if (event.code == "force-zero" && closed >= 2)
            remarks.push_back(
                {"preload-zeroed", Severity::Caution, rules.stresses,
                 "The force was zeroed after both grips had closed.",
                 "Clamp load is taken off with the fine wheel, not by zeroing: the zero may hide real force.",
                 "force_zero"});
    }
    const auto yield = input.published.find("yield");
    if (data.zeroLeft > 0 && yield != input.published.end() && data.zeroLeft / section > 0.05 * yield->second)
        remarks.push_back(
            {"grip-preload",
             Severity::Caution,
             {},
             fmt::format("The grips left {} on the specimen before the start, over 5 % of the expected yield.",
                         formatQuantity(data.zeroLeft, baseUnit(Kind::Force), 3)),
             "Ease it off with the fine wheel before balancing strain.",
             {}});
}

struct StrainChoice {
    const Channel* first = nullptr;
    const Channel* second = nullptr;
    StrainSource source = StrainSource::None;
};

StrainChoice chooseStrain(const SpecimenInput& input, const PrepareRules& rules, std::vector<Remark>& remarks)
{
    const Record& record = *input.record;
    const bool wantsCrosshead = optionOr(input, "strain_from", "extensometer") == "crosshead";
    if (!wantsCrosshead) {
        if (const Channel* strain = record.find("strain"))
            return {strain, record.find("strain_2"), StrainSource::StrainChannel};
        if (const Channel* extension = record.find("extension")) {
            if (dimension(input, "extensometer_gauge_length"))
                return {extension, record.find("extension_2"), StrainSource::Extensometer};
            remarks.push_back(
                {"missing-dimension", Severity::Caution, rules.strains,
                 "The gauge length of the extensometer is not given; its extension can't be made a strain.",
                 "Enter the gauge length of the extensometer on Measure.", "extensometer_gauge_length"});
        }
    }
    if (const Channel* crosshead = record.find("displacement"))
        return {crosshead, nullptr, StrainSource::Crosshead};
    return {};
}

/// Strain after the extensometer is off: ε = ε_j + ((δ−δ_j) − C(F−F_j))/Lc.
void continueFromCrosshead(StressStrain& data, const std::vector<double>& force, double compliance)
{
    const size_t j = *data.removedAt;
    const double sign =
        data.displacement[data.strain.size() - 1] < data.displacement[0] ? -1 : 1; // written as negative by some frames
    for (size_t i = j + 1; i < data.strain.size(); ++i)
        data.strain[i] = data.strain[j]
            + (sign * (data.displacement[i] - data.displacement[j]) - compliance * (force[i] - force[j]))
                / data.parallelLength;
    data.crossheadAfterRemoval = true;
}

/// What an extension (mm) shows besides the specimen.
struct Watched {
    std::optional<size_t> removedAt;
    std::optional<ExtensometerSlip> slip;
};

Watched watch(std::span<const double> extension, const std::vector<double>& force, double forceNoise,
              const StressStrain& data)
{
    Watched seen;
    const size_t topAt = data.topAt < data.end ? data.topAt : indexOfGreatest(std::span(force).first(data.end));
    const std::span<const double> crosshead = data.displacement.empty() ? std::span<const double>() : data.way;
    const double noise = crosshead.empty() ? noiseOf(extension.first(data.end))
                                           : noiseAlong(crosshead.first(data.end), extension.first(data.end));
    if (!crosshead.empty())
        seen.removedAt = findExtensometerOff(extension, crosshead, data.onset, data.end, noise);
    else
        seen.removedAt = findFrozen(extension, force, data.onset, data.end, noise, forceNoise);
    size_t until = seen.removedAt.value_or(std::min(data.end, topAt + 1));
    // Once yielding drops the force, the bar itself moves by steps.
    until = firstDip(std::span(force).first(until), data.onset, 0.2 * force[topAt], 0.996, 6 * forceNoise);
    seen.slip = findSlip(extension, force, crosshead, data.onset, until, noise, forceNoise);
    return seen;
}

void remarkSlip(const ExtensometerSlip& slip, const std::string& which, const PrepareRules& rules,
                const std::vector<double>& force, std::vector<Remark>& remarks)
{
    remarks.push_back(
        {"extensometer-slip",
         Severity::Caution,
         rules.strains,
         fmt::format("{} steps by {} µm at {} with no event in the force.", which, formatFixed(slip.step * 1000, 1),
                     formatQuantity(force[slip.at], *findUnit("kN"), 3)),
         "It slipped. Clean the knives, set the clip force, and look where the step stands against the straight part.",
         {}});
}

/// ExtensometerSlip and removal, seen on the extension itself (mm). Of two faces each is looked at by itself: the
/// mean shows
/// half of what happens to one. Where one is lost, the other's increments go on.
void watchExtensometer(std::span<double> extension, double perUnit, const PrepareRules& rules,
                       const std::vector<double>& force, double forceNoise, StressStrain& data,
                       std::vector<Remark>& remarks)
{
    if (data.front.empty() || data.back.empty()) {
        const Watched seen = watch(extension, force, forceNoise, data);
        data.removedAt = seen.removedAt;
        if (seen.slip)
            remarkSlip(*seen.slip, "The extensometer", rules, force, remarks);
        return;
    }
    std::vector<double> faces[2];
    Watched seen[2];
    for (size_t k = 0; k < 2; ++k) {
        const RowView& view = k == 0 ? data.front : data.back;
        faces[k].resize(view.size());
        for (size_t i = 0; i < view.size(); ++i)
            faces[k][i] = view[i] * perUnit;
        seen[k] = watch(faces[k], force, forceNoise, data);
    }
    for (size_t k = 0; k < 2; ++k)
        if (seen[k].slip)
            remarkSlip(*seen[k].slip, k == 0 ? "The first face" : "The second face", rules, force, remarks);
    if (seen[0].removedAt && seen[1].removedAt) {
        data.removedAt = std::min(*seen[0].removedAt, *seen[1].removedAt);
        return;
    }
    for (size_t k = 0; k < 2; ++k) {
        if (!seen[k].removedAt)
            continue;
        const size_t j = *seen[k].removedAt;
        for (size_t i = j + 1; i < extension.size(); ++i)
            extension[i] = extension[j] + faces[1 - k][i] - faces[1 - k][j];
        remarks.push_back({"gauge-lost",
                           Severity::Caution,
                           rules.strains,
                           fmt::format("The {} face stops following at {}; beyond it the strain stands on the other.",
                                       k == 0 ? "first" : "second", formatQuantity(force[j], *findUnit("kN"), 3)),
                           "A gauge, a wire or a clip came off. Bending can't be told from there on.",
                           {}});
    }
}

/// What becomes of the strain once the extensometer is off.
void goOnWithoutExtensometer(const PrepareRules& rules, const Channel& channel, const std::vector<double>& force,
                             double compliance, StressStrain& data, std::vector<Remark>& remarks)
{
    const double at = data.strain[*data.removedAt];
    const bool gauge = channel.kind == Kind::Strain && channel.unitFound != "%" && channel.unitFound != "mm/mm"
        && channel.unitFound != "1";
    const std::string code = gauge ? "gauge-lost" : "extensometer-removed";
    const std::string what = gauge ? "The strain gauge" : "The extensometer";
    if (data.parallelLength > 0 && !data.displacement.empty()) {
        continueFromCrosshead(data, force, compliance);
        remarks.push_back(
            {code,
             Severity::Note,
             rules.late,
             fmt::format("{} stopped following at {} % strain.", what, formatFixed(at * 100, 2)),
             "Strain after the extensometer was off comes from the crosshead over the parallel length, and is "
             "marked so.",
             {}});
        return;
    }
    remarks.push_back(
        {code, Severity::Caution, rules.late,
         fmt::format("{} stopped following at {} % strain, and without {} nothing can take over.", what,
                     formatFixed(at * 100, 2), data.displacement.empty() ? "a crosshead channel" : "a parallel length"),
         data.displacement.empty() ? "Import the crosshead column too."
                                   : "Enter the parallel length or the grip distance on Measure.",
         data.displacement.empty() ? "" : "parallel_length"});
    if (rules.cutWithStrain)
        data.end = std::min(data.end, *data.removedAt + 1);
}

double travelOf(const std::vector<double>& x, size_t from, size_t to)
{
    const Extremes e = extremesOf(std::span(x).subspan(from, to - from));
    return e.greatest - e.least;
}

/// The chosen channel as it was read: an extension in mm, or a strain; of two faces the mean. A face
/// that does not move while the other does is dead, and left out with a caution.
void readStrainChannel(const StrainChoice& choice, const PrepareRules& rules, const std::vector<size_t>& gaps,
                       StressStrain& data, std::vector<Remark>& remarks)
{
    constexpr double dead = 0.05;
    data.strain = gatherWithout(choice.first->values, gaps);
    if (!choice.second)
        return;
    auto other = gatherWithout(choice.second->values, gaps);
    const double first = travelOf(data.strain, data.onset, data.end);
    const double second = travelOf(other, data.onset, data.end);
    if (std::min(first, second) < dead * std::max(first, second)) {
        const bool firstDead = first < second;
        remarks.push_back({"gauge-lost",
                           Severity::Caution,
                           rules.strains,
                           fmt::format("\"{}\" does not move while the other face does; it was left out.",
                                       firstDead ? choice.first->name : choice.second->name),
                           "A gauge, a wire or a clip came off. The figures stand on one face; bending can't be told.",
                           {}});
        if (firstDead)
            data.strain = std::move(other);
        return;
    }
    for (size_t i = 0; i < data.strain.size(); ++i)
        data.strain[i] = 0.5 * (data.strain[i] + other[i]);
    data.front = RowView(choice.first->values, gaps);
    data.back = RowView(choice.second->values, gaps);
}

} // namespace

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

Expected<StressStrain> prepareStressStrain(const SpecimenInput& input, double section, const PrepareRules& rules,
                                           std::vector<Remark>& remarks)
{
    StressStrain data;
    const Channel* forceChannel = input.record->find("force");
    if (!forceChannel || forceChannel->values.size() < 3)
        return Problem{input.label + ", record",
                       forceChannel ? std::to_string(forceChannel->values.size()) + " rows" : "no force",
                       "a force channel with at least three readings",
                       {}};
    auto compliance = optionQuantity(input, "compliance", Kind::Compliance);
    if (!compliance)
        return compliance.problem();

    StrainChoice choice = chooseStrain(input, rules, remarks);
    const Channel* crosshead = input.record->find("displacement");
    const Channel* clock = input.record->find("time");
    // A strain channel that has no more readings from some row on was taken off: the force goes on without it.
    data.held.reserve(2);
    for (const Channel** c : {&choice.first, &choice.second})
        if (*c && choice.source != StrainSource::Crosshead && endsEarly(**c, *forceChannel))
            *c = &data.held.emplace_back(heldToTheEnd(**c));
    std::vector<const Channel*> used{forceChannel};
    for (const Channel* c : {choice.first, choice.second})
        if (c)
            used.push_back(c);
    const auto gaps = wholeRows(used);
    if (!gaps.empty())
        remarks.push_back({"reading-missed",
                           Severity::Note,
                           {},
                           fmt::format("{} of {} rows lack a reading and were left out (first: row {}).", gaps.size(),
                                       forceChannel->values.size(), gaps.front() + 1),
                           "",
                           {}});
    std::vector<double> force = gatherWithout(forceChannel->values, gaps);
    if (force.size() < 3)
        return Problem{input.label + ", record", std::to_string(force.size()) + " whole rows", "at least three", {}};
    const Extremes ends = extremesOf(force);
    const bool turned = -ends.least > 3 * std::abs(ends.greatest);
    if (turned) {
        for (double& f : force)
            f = -f;
        remarks.push_back({"sign-turned",
                           Severity::Note,
                           {},
                           fmt::format("{} was recorded as negative force; the sign was turned.",
                                       rules.compression ? "Compression" : "Tension"),
                           "",
                           {}});
    }

    data.source = choice.source;
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

    const double forceNoise = noiseOf(force);
    data.topAt = indexOfGreatest(force);
    Way way = wayOf(crosshead, choice.source == StrainSource::Crosshead ? nullptr : choice.first, gaps, data.topAt);
    settleZero(input, rules, force, forceNoise, way, data, remarks);
    data.way = way.values;
    data.wayOwn = std::move(way.own);
    remarkPreload(input, rules, data, section, remarks);
    if (crosshead)
        data.displacement = RowView(crosshead->values, gaps);
    if (clock)
        data.time = RowView(clock->values, gaps);
    data.end = data.fracture ? data.fracture->last + 1 : data.turnedAt ? *data.turnedAt + 1 : force.size();
    data.forceEnd = data.end;
    if (const Channel* across = input.record->find("transverse_strain"))
        data.transverse = RowView(across->values, gaps);
    if (data.source != StrainSource::None) {
        readStrainChannel({choice.first, choice.second, data.source}, rules, gaps, data, remarks);
        const size_t far = rules.compression ? indexOfGreatest(std::span(force).first(data.end)) : data.end - 1;
        const bool strainTurned = (turned || rules.compression) && data.strain[far] < data.strain[data.onset];
        if (strainTurned) {
            for (double& e : data.strain)
                e = -e;
            if (!turned)
                remarks.push_back({"sign-turned",
                                   Severity::Note,
                                   {},
                                   "Shortening was recorded as negative; the sign was turned.",
                                   "",
                                   {}});
        }
        // The machine's own stretch goes off once both have the same sign.
        if (data.source == StrainSource::Crosshead)
            for (size_t i = 0; i < data.strain.size(); ++i)
                data.strain[i] -= compliance->value_or(0) * force[i];
        // A strain is looked at as the motion of the whole length, so that it can be held against the crosshead.
        constexpr double usualLength = 100; // mm, where none is given
        const double watched = data.source != StrainSource::StrainChannel ? 1
            : data.parallelLength > 0                                     ? data.parallelLength
                                                                          : usualLength;
        if (data.source != StrainSource::Crosshead) {
            if (watched != 1)
                for (double& e : data.strain)
                    e *= watched;
            watchExtensometer(data.strain, strainTurned ? -watched : watched, rules, force, forceNoise, data, remarks);
            if (watched != 1)
                for (double& e : data.strain)
                    e /= watched;
        }
        if (data.gaugeLength > 0)
            for (double& e : data.strain)
                e /= data.gaugeLength;
        if (data.removedAt)
            goOnWithoutExtensometer(rules, *choice.first, force, compliance->value_or(0), data, remarks);
        if (rules.compression && !data.fracture)
            data.end = std::min(data.end, indexOfGreatest(data.strain) + 1); // what follows is the way back
    }
    if (data.fracture && data.fracture->last + 5 < force.size())
        remarks.push_back({"data-after-break",
                           Severity::Note,
                           {},
                           fmt::format("{} readings after the break were cut.", force.size() - data.end),
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

    data.stress = std::move(force);
    for (double& s : data.stress)
        s /= section;
    data.noise = forceNoise / section;
    data.drawnEnd = data.end;
    return data;
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
