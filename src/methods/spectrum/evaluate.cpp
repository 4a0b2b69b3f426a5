// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/spectrum/spectrum.h"

#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

const std::vector<std::string> ranges{"equivalent_range", "range_max", "cut_at", "range_low_chance"};

std::vector<std::string> allOf(const Method& method)
{
    std::vector<std::string> all;
    for (const ResultSpec& spec : method.results)
        if (spec.of == ResultSpec::Of::Specimen)
            all.push_back(spec.symbol);
    return all;
}

/// A counted figure: its doubt is that of the chain, which is not known.
void count(Figures& f, const char* symbol, double value, const Unit& unit, const char* words)
{
    f.set(symbol, Term::leaf(symbol, value, unit, 0, {"counted", SourceKind::Other}, words));
}

/// "--low-pass" is the option low_pass.
std::string optionOf(std::string flag)
{
    if (flag.starts_with("--"))
        flag.erase(0, 2);
    std::ranges::replace(flag, '-', '_');
    return flag;
}

void setRanges(Figures& f, const HistoryFigures& h)
{
    const Unit& unit = *h.spectrum.unit;
    const Counts& c = h.spectrum.counts;
    if (unit.kind != Kind::Stress)
        for (Result& r : f.outcome.results)
            if (std::ranges::find(ranges, r.symbol) != ranges.end())
                r.unit = &unit;
    count(f, "range_max", unit.toBase(c.rangeMax), unit, "greatest of all counted cycles");
    count(f, "range_low_chance", unit.toBase(c.rangeLowChance), unit, "0.25 % of counts above it");
    count(f, "cut_at", unit.toBase(c.cutAt), unit, "cycles below it are dropped");
    if (c.equivalentRange)
        count(f, "equivalent_range", unit.toBase(*c.equivalentRange), unit, "does as much in as many cycles");
}

void setDamage(Figures& f, const HistoryFigures& h)
{
    const Counts& c = h.spectrum.counts;
    const Unit& one = baseUnit(Kind::Number);
    if (!c.damage) {
        f.notApplicable({"damage", "life", "damage_cut_share"},
                        "Ranges are strains: damage needs a stress. State the "
                        "modulus on Plan.");
        return;
    }
    count(f, "damage", *c.damage, one, "sum of n over N, over the damage sum");
    count(f, "damage_cut_share", *c.damageCutShare, *findUnit("%", Kind::Strain), "of the damage before the cut");
    if (h.life)
        count(f, "life", *h.life, *findUnit("d", Kind::Time), "length over damage");
    else
        f.notApplicable({"life"}, "Nothing of this history does damage by this line.");
    if (h.life && h.seconds < 3600)
        f.remark("history-short", Severity::Caution, {"life"},
                 fmt::format("Life is told from {:.3g} min of loading.", h.seconds / 60),
                 "Take a history that holds all that happens: days rather than minutes.", "");
    if (h.rayleighDamage && *c.damage > 0)
        f.remark(
            "rayleigh", Severity::Note, {},
            fmt::format("A Rayleigh spectrum of the same root mean square, with as many kept cycles, would give {:.2g} "
                        "times the damage.",
                        *h.rayleighDamage / *c.damage));
}

} // namespace

Expected<Outcome> evaluateSpectrum(const SpecimenInput& input)
{
    static const Method method = loadSpectrum();
    const auto settings = spectrumSettings(input.options);
    if (!settings) {
        Problem p = settings.problem();
        if (const OptionSpec* option = method.findOption(optionOf(p.place)))
            p.place = input.label + ", " + option->label;
        return p;
    }
    Figures f{input};
    f.begin(method);
    if (!input.history) {
        f.notApplicable(allOf(method), "No history is taken in yet.");
        return std::move(f.outcome);
    }
    const auto request = historyRequest(*input.history);
    const auto file = request ? keptHistory(input.history->files, *request)
                              : Expected<std::shared_ptr<const HistoryFile>>(request.problem());
    if (!file) {
        Problem p = file.problem();
        p.place = input.label + ", " + p.place;
        return p;
    }
    const auto read = historyFigures(*file, *settings);
    if (!read) {
        Problem p = read.problem();
        const OptionSpec* option = method.findOption(optionOf(p.place));
        p.place = input.label + ", " + (option ? option->label : p.place);
        return p;
    }
    const HistoryFigures& h = **read;
    if (h.stopped) {
        f.remark("counting-stopped", Severity::Caution, allOf(method), "The counting was stopped.",
                 "Count again on Read.", "");
        return std::move(f.outcome);
    }
    setRanges(f, h);
    setDamage(f, h);
    count(f, "cycles", h.spectrum.counts.cycles, baseUnit(Kind::Number), "kept cycles");
    for (Remark r : h.spectrum.remarks) {
        if (r.code == "no-damage")
            continue; // said
        r.field = optionOf(r.field);
        std::erase_if(r.symbols, [&](const std::string& symbol) { return !method.findResult(symbol); });
        f.outcome.remarks.push_back(std::move(r));
    }
    f.sayRest();
    f.outcome.views = spectrumViews(h);
    f.outcome.history = *read;
    return std::move(f.outcome);
}

Expected<Outcome> evaluateSpectrumSet(const SetInput& set)
{
    static const Method method = loadSpectrum();
    Figures f{*set.inputs.front()};
    f.begin(method, ResultSpec::Of::Set);
    double sum = 0;
    size_t told = 0;
    for (const Outcome* outcome : set.outcomes)
        if (const Result* damage = outcome ? outcome->find("damage") : nullptr; damage && damage->value) {
            sum += *damage->value;
            ++told;
        }
    if (told == 0 || told < set.outcomes.size())
        f.notApplicable({"damage_all"},
                        told == 0 ? "No history has a damage yet."
                                  : fmt::format("Only {} of {} histories have a damage.", told, set.outcomes.size()));
    else
        f.set("damage_all",
              Term::leaf("Dall", sum, baseUnit(Kind::Number), 0, {"counted", SourceKind::Other},
                         "sum over the histories"));
    f.outcome.views = spectrumSetViews(set);
    return std::move(f.outcome);
}

} // namespace fortitor
