// SPDX-License-Identifier: GPL-3.0-or-later
// What a record beside the readings tells: when a crack is first seen, how it grows.
#include "methods/fatigue_sn/crack_growth.h"
#include "methods/fatigue_sn/crack_watch.h"
#include "methods/fatigue_sn/fatigue_sn.h"

#include "curve/signal.h"
#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

namespace fortitor {
namespace {

const std::vector<std::string> ofTheCrack{fatigueKeys::start, fatigueKeys::parisC, fatigueKeys::parisM};

/// "front, Back" as a set.
std::set<std::string> faces(const std::string& note)
{
    std::set<std::string> all;
    std::string word;
    for (const char c : note + ",")
        if (c == ',' || c == ';') {
            if (!word.empty())
                all.insert(word);
            word.clear();
        } else if (c != ' ') {
            word += static_cast<char>(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
        }
    return all;
}

std::string nameOf(const std::string& channel)
{
    return channel == "potential" ? "the potential"
        : channel == "strain"     ? "extensometer 1"
                                  : "extensometer " + channel.substr(channel.find('_') + 1);
}

/// Whether the faces that were watched are those that cracked.
void checkFaces(Figures& f, bool found)
{
    const auto watched = faces(noteOf(f.input, fatigueKeys::facesWatched));
    const auto cracked = faces(noteOf(f.input, fatigueKeys::crackFace));
    const bool missed = !cracked.empty() && !watched.empty()
        && std::ranges::none_of(cracked, [&](const std::string& face) { return watched.contains(face); });
    const bool broke = noteOf(f.input, fatigueKeys::outcome) == fatigueKeys::broken;
    if (missed)
        f.remark("crack-not-watched", Severity::Caution, {fatigueKeys::start},
                 "It cracked on " + noteOf(f.input, fatigueKeys::crackFace) + "; watched was "
                     + noteOf(f.input, fatigueKeys::facesWatched) + ": the crack began unseen, before what is told.",
                 "Take the start from the face that cracked, or leave it out.", fatigueKeys::crackFace);
    else if (!found && broke)
        f.remark("crack-not-watched", Severity::Caution, {fatigueKeys::start},
                 "It broke without a lasting change in what watched it: the crack was elsewhere, or grew too fast.",
                 "Note the faces that were watched and the one that cracked.", fatigueKeys::facesWatched);
    else if (watched.empty())
        f.remark("faces-not-noted", Severity::Note, {}, "The faces that were watched are not noted.",
                 "Note them: a crack elsewhere is not seen.", fatigueKeys::facesWatched);
}

void tellChannel(Figures& f, const ChannelStart& one, ToldGroup& told)
{
    ToldRow row{.label = nameOf(one.name), .words = "no lasting change"};
    if (one.start) {
        row.words = "changes at " + cyclesText(one.start->at) + " cycles";
        row.more =
            fmt::format("{} to {}; {} of a false alarm", cyclesText(one.start->within.first),
                        cyclesText(one.start->within.second),
                        one.start->falseAlarm <= 0.0011 ? std::string("at most 0.1 % chance")
                                                        : fmt::format("{:.1f} % chance", 100 * one.start->falseAlarm));
    }
    if (one.settled > 0)
        row.more += (row.more.empty() ? "" : "; ") + std::string("settled in by ") + cyclesText(one.settled);
    told.rows.push_back(std::move(row));
    if (one.passing)
        f.remark("passing-change", Severity::Note, {},
                 fmt::format("{} changed at {} cycles and went back: no start.", nameOf(one.name),
                             cyclesText(*one.passing)));
    if (!one.jumps.empty())
        f.remark("jump", Severity::Note, {},
                 fmt::format("{} jumped at {} cycles and went on as before.", nameOf(one.name),
                             cyclesText(one.jumps.front())),
                 "Look whether the run was stopped there, or the gauge moved.", "");
    if (one.start && one.settled > 0 && !one.jumps.empty())
        f.remark(
            "restless-before-start", Severity::Caution, {fatigueKeys::start},
            fmt::format("{} settled in by {} cycles and jumped at {}: the change at {} may be what is left of these.",
                        nameOf(one.name), cyclesText(one.settled), cyclesText(one.jumps.front()),
                        cyclesText(one.start->at)),
            "Look at its course, and at the fracture surface.", "");
}

ScatterView watchView(const std::vector<WatchedChannel>& channels, bool potential)
{
    ScatterView view{.xAxis = {"cycles", Kind::Number},
                     .yAxis = {potential ? "potential" : "strain at the load's peak",
                               potential ? Kind::Potential : Kind::Strain}};
    constexpr size_t most = 300; // places a channel, each the median of its neighbours
    for (const WatchedChannel& one : channels) {
        if ((one.name == "potential") != potential)
            continue;
        FittedLine line{.label = potential ? std::string("potential") : nameOf(one.name)};
        const size_t n = one.cycles.size(), places = std::min(n, most);
        std::vector<double> part;
        for (size_t k = 0; k < places; ++k) {
            const size_t first = k * n / places, last = (k + 1) * n / places;
            part.assign(one.values.begin() + static_cast<std::ptrdiff_t>(first),
                        one.values.begin() + static_cast<std::ptrdiff_t>(last));
            line.x.push_back(one.cycles[first]);
            line.y.push_back(medianIn(part));
        }
        view.lines.push_back(std::move(line));
    }
    return view;
}

struct Growth {
    std::vector<CrackLength> lengths{};
    std::vector<GrowthRate> rates{};
    std::optional<ParisLine> line{};
};

/// Lengths from the potential by the laboratory's calibration; over that of the first readings.
Expected<std::vector<CrackLength>> lengthsOf(Figures& f, const WatchedChannel& potential, double start)
{
    std::vector<CrackLength> lengths;
    const std::string stated = optionOr(f.input, fatigueKeys::calibration, "");
    if (stated.empty()) {
        f.notApplicable({fatigueKeys::parisC, fatigueKeys::parisM},
                        "The potential is not calibrated: no length, no rates. State it on Plan.");
        return lengths;
    }
    const auto table = readTable(fatigueKeys::calibration, stated);
    if (!table)
        return table.problem();
    // The whole piece: what was read before the crack began, at most the first twentieth.
    std::vector<double> first;
    const double whole = potential.cycles.empty() ? 0 : potential.cycles.back();
    for (size_t i = 0; i < potential.cycles.size(); ++i)
        if (first.size() < 5 || potential.cycles[i] <= std::min(start, 0.05 * whole))
            first.push_back(potential.values[i]);
    if (first.empty())
        return lengths;
    const double zero = medianIn(first);
    if (!(std::abs(zero) > 0))
        return Problem{f.input.label + ", potential", "zero at the start", "a potential of the whole piece", {}};
    size_t beyond = 0;
    for (size_t i = 0; i < potential.cycles.size(); ++i) {
        const double over = potential.values[i] / zero;
        if (const auto length = table->at(over))
            lengths.push_back({potential.cycles[i], *length});
        else if (over > table->x.back())
            ++beyond;
    }
    if (beyond > 0)
        f.remark("calibration-left", Severity::Caution, {fatigueKeys::parisC, fatigueKeys::parisM},
                 fmt::format("{} readings lie above the last potential of the calibration, {:.4g}: they are left out.",
                             beyond, table->x.back()),
                 "Extend the calibration, never the line.", fatigueKeys::calibration);
    return lengths;
}

/// Rates and the Paris line; what keeps it from being is told.
Expected<Growth> growthOf(Figures& f, const WatchedChannel& potential, double start)
{
    Growth out;
    auto lengths = lengthsOf(f, potential, start);
    if (!lengths)
        return lengths.problem();
    if (lengths->empty()) {
        f.sayMissing({fatigueKeys::parisC, fatigueKeys::parisM}, "no-length",
                     "No reading of the potential lies within the calibration.", "Look at calibration and unit.",
                     fatigueKeys::calibration);
        return out;
    }
    const auto step = parseQuantity(optionOr(f.input, fatigueKeys::crackStep, "0.25 mm"), Kind::Length);
    if (!step || !(step->base > 0))
        return Problem{
            fatigueKeys::crackStep, optionOr(f.input, fatigueKeys::crackStep, ""), "a length above zero", {}};
    out.lengths = thinnedLengths(*lengths, step->base);
    const bool polynomial = optionOr(f.input, fatigueKeys::ratesBy, "secant") == "polynomial";
    out.rates = polynomial ? ratesByPolynomial(out.lengths) : ratesBySecant(out.lengths);
    const std::string stated = optionOr(f.input, fatigueKeys::geometry, "");
    const auto range = keyedRange(f.input);
    const auto ratio = notedRatio(f.input);
    if (!range)
        return range.problem();
    if (!ratio)
        return ratio.problem();
    const std::optional<double> planned = *range ? *range : plannedRange(f.input);
    if (stated.empty() || !planned) {
        f.notApplicable({fatigueKeys::parisC, fatigueKeys::parisM},
                        stated.empty() ? "Y of the crack is not stated: rates stand over the length alone."
                                       : "No stress range is keyed: rates stand over the length alone.");
        return out;
    }
    const auto geometry = readTable(fatigueKeys::geometry, stated);
    if (!geometry)
        return geometry.problem();
    // Under compression the crack is shut: only the pull counts where R is below zero.
    const double opening = *ratio && **ratio < 0 ? *planned / (1 - **ratio) : *planned;
    const auto withK = [&](std::vector<GrowthRate>& rates) {
        for (GrowthRate& one : rates)
            if (const auto Y = geometry->at(one.length))
                one.deltaK = deltaK(opening, one.length, *Y);
    };
    withK(out.rates);
    constexpr size_t sevenShared = 6;
    out.line = parisLine(out.rates, polynomial ? sevenShared : 0);
    if (polynomial && out.line) {
        std::vector<GrowthRate> secants = ratesBySecant(out.lengths);
        withK(secants);
        if (const auto line = parisLine(secants))
            out.line = widened(*out.line, *line);
    }
    return out;
}

void setParis(Figures& f, const Growth& growth)
{
    if (!growth.line) {
        f.sayMissing({fatigueKeys::parisC, fatigueKeys::parisM}, "few-rates",
                     fmt::format("{} rates with a ΔK: a Paris line needs four, over more than one ΔK.",
                                 std::ranges::count_if(growth.rates, [](const GrowthRate& r) { return r.deltaK > 0; })),
                     "Read more often, take a smaller step, or state Y further.", fatigueKeys::geometry);
        return;
    }
    const ParisLine& line = *growth.line;
    const Unit& one = baseUnit(Kind::Number);
    f.set(fatigueKeys::parisC,
          Term::leaf("C", line.C, *findUnit("mm/cycle"), 0, {"rates", SourceKind::Other}, "growth at 1 MPa√m"));
    f.set(fatigueKeys::parisM,
          Term::leaf("mP", line.m, one, 0, {"rates", SourceKind::Other},
                     fmt::format("slope of {} rates, scatter of log rate {:.3f}", line.points, line.scatter)));
    const auto put = [&](const char* symbol, const std::pair<double, double>& within) {
        std::ranges::find(f.outcome.results, symbol, &Result::symbol)->interval = within;
    };
    put(fatigueKeys::parisC, line.cWithin);
    put(fatigueKeys::parisM, line.mWithin);
    double low = INFINITY, high = 0;
    for (const GrowthRate& rate : growth.rates)
        if (rate.deltaK > 0) {
            low = std::min(low, rate.deltaK);
            high = std::max(high, rate.deltaK);
        }
    constexpr double narrow = 1.3;
    if (high < narrow * low)
        f.remark("narrow-growth", Severity::Caution, {fatigueKeys::parisC, fatigueKeys::parisM},
                 fmt::format("ΔK runs from {:.3g} to {:.3g} MPa√m only: C and m hang together.", low, high),
                 "Hold C and m of it against nothing outside that range.", "");
}

void addGrowthViews(Figures& f, const Growth& growth)
{
    if (growth.lengths.size() > 1) {
        ScatterView lengths{.xAxis = {"cycles", Kind::Number}, .yAxis = {"crack length", Kind::Length}};
        for (const CrackLength& one : growth.lengths)
            lengths.points.push_back({.x = one.cycles, .y = one.length});
        f.outcome.views.emplace_back(std::move(lengths));
    }
    const bool known = std::ranges::any_of(growth.rates, [](const GrowthRate& r) { return r.deltaK > 0; });
    if (growth.rates.empty())
        return;
    ScatterView rates{.xAxis = {known ? "ΔK, MPa√m" : "crack length", known ? Kind::Number : Kind::Length, Scale::Log},
                      .yAxis = {"da/dN", Kind::CrackRate, Scale::Log}};
    double low = INFINITY, high = 0;
    for (const GrowthRate& one : growth.rates)
        if (!known || one.deltaK > 0) {
            const double x = known ? one.deltaK : one.length;
            rates.points.push_back({.x = x, .y = one.rate});
            low = std::min(low, x);
            high = std::max(high, x);
        }
    if (growth.line) {
        FittedLine line{.label = fmt::format("Paris, m {:.2f}", growth.line->m)};
        for (const double x : {low, high}) {
            line.x.push_back(x);
            line.y.push_back(growth.line->C * std::pow(x, growth.line->m));
        }
        rates.lines.push_back(std::move(line));
    }
    f.outcome.views.emplace_back(std::move(rates));
}

/// The starts of all channels; the earliest is the piece's.
std::optional<double> tellStarts(Figures& f, const std::vector<WatchedChannel>& channels)
{
    std::vector<ChannelStart> starts;
    ToldGroup told{.heading = "crack watch",
                   .note = "A start is the first change of slope that lasts; later ones are the crack that arrives, "
                           "or cracks that join."};
    for (const WatchedChannel& one : channels) {
        starts.push_back(findStart(one, startLevel / static_cast<double>(channels.size())));
        tellChannel(f, starts.back(), told);
    }
    f.outcome.told.push_back(std::move(told));
    const ChannelStart* first = nullptr;
    for (const ChannelStart& one : starts)
        if (one.start && (!first || one.start->at < first->start->at))
            first = &one;
    for (const bool potential : {false, true}) {
        ScatterView view = watchView(channels, potential);
        if (view.lines.empty())
            continue;
        for (const ChannelStart& one : starts)
            if (one.start && (one.name == "potential") == potential)
                if (&one != first)
                    view.marks.push_back({one.start->at, true, "later"});
        if (first)
            view.marks.push_back({first->start->at, true, "seen from"});
        f.outcome.views.emplace_back(std::move(view));
    }
    if (!first)
        return std::nullopt;
    const double alarm = std::min(1.0, first->start->falseAlarm * static_cast<double>(channels.size()));
    f.set(fatigueKeys::start,
          Term::leaf("Nstart", first->start->at, baseUnit(Kind::Number), 0, {"crack watch", SourceKind::Other},
                     "first lasting change of " + nameOf(first->name))
              .named("Nstart", baseUnit(Kind::Number), "cycles to the first lasting change",
                     fmt::format("{:.2g} % chance of a false alarm", 100 * alarm), 9));
    std::ranges::find(f.outcome.results, fatigueKeys::start, &Result::symbol)->interval = first->start->within;
    return first->start->at;
}

} // namespace

void tellFracture(Figures& f)
{
    ToldGroup told{.heading = "fracture"};
    const auto tell = [&](const char* key, const char* words) {
        if (const std::string note = noteOf(f.input, key); !note.empty())
            told.rows.push_back({.label = words, .words = note});
    };
    tell(fatigueKeys::starts, "starts");
    tell(fatigueKeys::ratchetMarks, "ratchet marks");
    tell(fatigueKeys::startPlace, "place of start");
    const auto length = [&](const char* key) -> std::optional<double> {
        const auto read = parseQuantity(noteOf(f.input, key), Kind::Length, findUnit("mm"));
        return read && read->base > 0 ? std::optional(read->base) : std::nullopt;
    };
    const auto depth = length(fatigueKeys::depth), along = length(fatigueKeys::length);
    if (depth && along)
        told.rows.push_back({.label = "depth over length",
                             .words = fmt::format("{:.2f}", *depth / *along),
                             .more = fmt::format("{:.4g} mm deep, {:.4g} mm long", *depth, *along)});
    else
        for (const char* key : {fatigueKeys::depth, fatigueKeys::length})
            if (const std::string note = noteOf(f.input, key); !note.empty() && !length(key))
                f.remark("size-unread", Severity::Caution, {}, "\"" + note + "\" is no size of a crack.",
                         "Note it as 2.4 mm.", key);
    if (!told.rows.empty())
        f.outcome.told.push_back(std::move(told));
}

Expected<Done> readCrack(Figures& f)
{
    const auto drop = [&](const std::vector<std::string>& symbols) {
        std::erase_if(f.outcome.results,
                      [&](const Result& r) { return std::ranges::find(symbols, r.symbol) != symbols.end(); });
    };
    if (!f.input.record) {
        drop(ofTheCrack);
        return Done{};
    }
    const auto channels = watchedChannels(*f.input.record);
    if (channels.empty()) {
        f.remark("no-watch", Severity::Caution, ofTheCrack,
                 f.input.record->find("cycles") ? "The record has neither strain nor potential over its cycles."
                                                : "The record has no cycles: a crack can't be placed.",
                 "Name the columns: cycles, strain, strain 2 …, potential.", "");
        return Done{};
    }
    for (const WatchedChannel& one : channels)
        if (constexpr size_t few = 24; one.cycles.size() < few)
            f.remark("few-readings", Severity::Caution, {fatigueKeys::start},
                     fmt::format("{} readings of {}: too few to tell a change from noise.", one.cycles.size(),
                                 nameOf(one.name)),
                     "Read at least a hundred times over the life.", "");
    const auto start = tellStarts(f, channels);
    if (!start)
        f.sayMissing({fatigueKeys::start}, "no-start", "No lasting change in what watched the piece.",
                     "It may be whole; else the crack was not watched.");
    checkFaces(f, start.has_value());
    const auto potential = std::ranges::find(channels, "potential", &WatchedChannel::name);
    if (potential == channels.end()) {
        drop({fatigueKeys::parisC, fatigueKeys::parisM});
        return Done{};
    }
    auto growth = growthOf(f, *potential, start.value_or(INFINITY));
    if (!growth)
        return growth.problem();
    setParis(f, *growth);
    addGrowthViews(f, *growth);
    return Done{};
}

} // namespace fortitor
