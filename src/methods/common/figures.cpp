// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace fortitor {

void Figures::begin(const Method& method, ResultSpec::Of of)
{
    for (const ResultSpec& spec : method.results)
        if (spec.of == of)
            outcome.results.push_back({.symbol = spec.symbol, .unit = &unitOf(spec)});
}

void Figures::set(const std::string& symbol, const Term& term)
{
    const auto r = std::ranges::find(outcome.results, symbol, &Result::symbol);
    if (r == outcome.results.end())
        throw std::logic_error("no result " + symbol + " is declared");
    const Term shown = term.node().op == Term::Op::Named ? term : term.named(symbol, *r->unit);
    r->value = term.value();
    r->derivation = shown;
    r->budget = uncertaintyBudget(shown);
}

bool Figures::has(const std::string& symbol) const
{
    return value(symbol).has_value();
}

std::optional<double> Figures::value(const std::string& symbol) const
{
    const Result* r = outcome.find(symbol);
    return r ? r->value : std::nullopt;
}

void Figures::remark(const std::string& code, Severity severity, std::vector<std::string> symbols,
                     const std::string& text, const std::string& advice, const std::string& field)
{
    outcome.remarks.push_back({code, severity, std::move(symbols), text, advice, field});
}

void Figures::notApplicable(std::vector<std::string> symbols, const std::string& why)
{
    remark("not-applicable", Severity::Note, std::move(symbols), why);
}

void Figures::sayMissing(const std::vector<std::string>& symbols, const std::string& code, const std::string& text,
                         const std::string& advice, const std::string& field)
{
    const auto named = [&](const std::string& symbol) {
        return std::ranges::any_of(outcome.remarks, [&](const Remark& r) {
            return std::ranges::find(r.symbols, symbol) != r.symbols.end()
                && (r.severity != Severity::Note || r.code == "not-applicable");
        });
    };
    std::vector<std::string> missing;
    for (const std::string& s : symbols)
        if (outcome.find(s) && !has(s) && !named(s))
            missing.push_back(s);
    if (!missing.empty())
        remark(code, Severity::Caution, std::move(missing), text, advice, field);
}

void Figures::sayRest()
{
    std::vector<std::string> all;
    for (const Result& r : outcome.results)
        all.push_back(r.symbol);
    if (input.record)
        sayMissing(all, "not-read", "These could not be read from this record.", "");
    else
        sayMissing(all, "no-record", "These need a record of the test.",
                   "Run it on Load, or drop a text record on the window.");
}

Expected<Done> checkOptions(const SpecimenInput& input, const Method& method)
{
    for (const OptionSpec& spec : method.options) {
        if (spec.key == "slope" && spec.choices.empty() && spec.fallback == "auto")
            if (auto ok = checkSlopeOption(optionOr(input, "slope", "auto")); !ok)
                return ok;
        const auto it = input.options.find(spec.key);
        if (it == input.options.end() || it->second.empty() || spec.choices.empty())
            continue;
        if (std::ranges::find(spec.choices, it->second) == spec.choices.end()) {
            std::string list;
            for (const std::string& c : spec.choices)
                list += (list.empty() ? "" : ", ") + c;
            return Problem{"options." + spec.key, '"' + it->second + '"', "one of: " + list, {}};
        }
    }
    return Done{};
}

double firstLength(const SpecimenInput& input, const std::string& key)
{
    const auto it = input.dimensions.find(key);
    return it == input.dimensions.end() || it->second.empty() ? 0 : it->second.front().base;
}

double meanLength(const SpecimenInput& input, const std::string& key)
{
    const auto it = input.dimensions.find(key);
    if (it == input.dimensions.end() || it->second.empty())
        return 0;
    double sum = 0;
    for (const Quantity& q : it->second)
        sum += q.base;
    return sum / static_cast<double>(it->second.size());
}

std::string noteOf(const SpecimenInput& input, const std::string& key)
{
    const auto it = input.notes.find(key);
    return it == input.notes.end() ? std::string() : it->second;
}

const Unit& MPa()
{
    static const Unit& unit = *findUnit("MPa");
    return unit;
}

const Unit& percentUnit()
{
    static const Unit& unit = *findUnit("%", Kind::Strain);
    return unit;
}

double relativeStrainError(const SpecimenInput& input, const StressStrain& data, double strainSpan)
{
    if (data.source == StrainSource::Crosshead)
        return 0.05;
    if (data.gaugeLength > 0)
        return std::max(input.instruments.extensionError,
                        input.instruments.extensionFloor / std::max(strainSpan * data.gaugeLength, 1e-9));
    return input.instruments.extensionError;
}

UncertaintySource extensionSource(const SpecimenInput& input, bool crosshead)
{
    if (crosshead)
        return {"crosshead strain", SourceKind::Crosshead};
    return {input.instruments.extensionName, SourceKind::Extensometer};
}

Term forceDoubt(const SpecimenInput& input)
{
    return factorDoubt(input.instruments.forceError, {input.instruments.forceName, SourceKind::Cell});
}

Term factorDoubt(double relative, const UncertaintySource& source)
{
    return Term::leaf("", 1, baseUnit(Kind::Number), relative / rectangle, source);
}

SharedDoubts doubtsOf(const SpecimenInput& input, const StressStrain& data, double strainSpan)
{
    return {forceDoubt(input),
            factorDoubt(relativeStrainError(input, data, strainSpan),
                        extensionSource(input, data.source == StrainSource::Crosshead))};
}

Term forceAt(double stress, double section, const SharedDoubts& doubts, const std::string& symbol,
             const std::string& description, double noise)
{
    const double force = stress * section;
    const Unit& unit = force >= 1000 ? *findUnit("kN") : baseUnit(Kind::Force);
    const Term read =
        Term::leaf(symbol, force, unit, noise * section, {"noise of the force", SourceKind::Noise}, description);
    return (read * doubts.force).named(symbol, unit, description);
}

Term modulusTerm(const Figures& f, const StressStrain& data, const StraightPart& s, const SharedDoubts& doubts,
                 const std::string& symbol, const std::string& rule)
{
    const double So = f.section->value();
    const std::string note = fmt::format("{}, R² {:.5f}", pointsText(s.begin, s.end), s.line.r2);
    const std::string words = "slope of the straight part";
    if (data.gaugeLength > 0) {
        const double perLength = s.slope() * So / data.gaugeLength;
        static const Unit kNmm{"kN/mm", Kind::Number, 1e3};
        const Term slope = Term::leaf("m", perLength, kNmm, perLength * s.line.relativeSlopeError(),
                                      {"fit of the straight part", SourceKind::Fit}, "slope of force on extension");
        const Term length =
            Term::leaf("Le", data.gaugeLength, baseUnit(Kind::Length), 0, {},
                       data.source == StrainSource::Crosshead ? "length the crosshead motion is divided by"
                                                              : "extensometer gauge length");
        return ((slope * doubts.force * doubts.strain) * length / *f.section)
            .named(symbol, MPa(), words, rule, 5)
            .on(note);
    }
    const double perStrain = s.slope() * So;
    const Term slope = Term::leaf("m", perStrain, *findUnit("kN"), perStrain * s.line.relativeSlopeError(),
                                  {"fit of the straight part", SourceKind::Fit}, "slope of force on strain");
    return (slope * doubts.force * doubts.strain / *f.section).named(symbol, MPa(), words, rule, 5).on(note);
}

Term strainTerm(const Figures& f, const StressStrain& data, double strain, double origin, const std::string& letter,
                const std::string& words)
{
    double relative = relativeStrainError(f.input, data, strain);
    if (data.crossheadAfterRemoval && strain + origin > data.strain[*data.removedAt])
        relative = 0.05;
    const Term read = Term::leaf(letter, strain + origin, percentUnit(), relative * std::abs(strain) / rectangle,
                                 extensionSource(f.input, relative >= 0.05), words);
    return read - Term::leaf("ε0", origin, percentUnit(), 0, {}, "where the modulus line meets zero stress");
}

Term strainAtTop(const Figures& f, const StressStrain& data, const PeakFit& peak, double origin,
                 const std::string& letter, const std::string& words)
{
    return strainTerm(f, data, peak.x - origin, origin, letter, words)
        + Term::leaf("", 0, percentUnit(), peak.half / 2, {"flat top", SourceKind::Noise});
}

Term strainAtLast(const Figures& f, const StressStrain& data, size_t last, double origin, const std::string& letter,
                  const std::string& words)
{
    const double step = last > 0 ? std::max(0.0, data.strain[last] - data.strain[last - 1]) : 0;
    return strainTerm(f, data, data.strain[last] - origin, origin, letter, words)
        + Term::leaf("", 0, percentUnit(), step / rectangle, {"readings apart at the break", SourceKind::Rate});
}

std::string pointsText(size_t from, size_t to)
{
    return fmt::format("readings {} to {}", from + 1, to);
}

constexpr double noiseExplains = 1.5;

void remarkFit(Figures& f, const StraightPart& s, const std::vector<std::string>& symbols, bool mayBend)
{
    const double wanted = mayBend ? 0.995 : 0.9995;
    // R² falls with the noise of the readings too, of which there may be many: what they can't follow counts.
    const double bends = 0.015 + s.trendNoise;
    const bool leaves = s.line.residualRms > noiseExplains * s.noise;
    const std::vector<std::string> slopeOnly{symbols.front()};
    if (s.fewPoints)
        f.remark("few-points-elastic", Severity::Caution, symbols,
                 fmt::format("Only {} readings lie on the straight part.", s.line.n),
                 "Record faster, or run slower to yield.");
    else if ((s.line.r2 < wanted && (leaves || s.line.relativeSlopeError() > 0.008))
             || s.line.relativeSlopeError() > 0.01)
        f.remark("slope-poor-fit", Severity::Caution, symbols,
                 fmt::format("The straight part is not very straight: R² {:.5f}, S_m {:.2f} %.", s.line.r2,
                             100 * s.line.relativeSlopeError()),
                 "Look at the toe and at the extensometer; move the ends by hand if the picture shows why.");
    else if (mayBend && s.trendLow < -bends)
        f.remark("slope-trend", Severity::Caution, slopeOnly,
                 fmt::format("The slope is {} % flatter in its lower third: the toe reaches into it.",
                             formatFixed(-100 * s.trendLow, 1)),
                 "Seating of the extensometer or slack in the grips; look at the magnifier.");
    else if (!mayBend && std::max(std::abs(s.trendLow), std::abs(s.trendHigh)) > bends)
        f.remark(
            "slope-trend", Severity::Caution, slopeOnly,
            fmt::format("The straight part bends: its lower third is {} % {}, its upper third {} % {} than the whole.",
                        formatFixed(100 * std::abs(s.trendLow), 1), s.trendLow < 0 ? "flatter" : "steeper",
                        formatFixed(100 * std::abs(s.trendHigh), 1), s.trendHigh < 0 ? "flatter" : "steeper"),
            "Foot or rounding reaches into it, or the noise hides where it ends. Move the ends by hand if the "
            "picture shows why.");
}

void againstPublished(Figures& f, const std::string& symbol, const std::vector<std::string>& symbols)
{
    const auto own = f.input.published.find(symbol);
    const auto it = own != f.input.published.end() ? own : f.input.published.find("E");
    const auto E = f.value(symbol);
    if (!E || it == f.input.published.end() || !(it->second > 0))
        return;
    const double off = *E / it->second - 1;
    if (std::abs(off) > 0.1)
        f.remark("slope-off-published", Severity::Caution, symbols,
                 fmt::format("{} is {:.0f} % {} the published {} GPa ({}).", symbol, std::abs(off) * 100,
                             off > 0 ? "above" : "below", formatSignificant(it->second / 1000, 3),
                             f.input.publishedSource),
                 "Likely, in order: strain from the crosshead, wrong gauge length, wrong unit, wrong section, "
                 "extensometer slip.");
}

namespace {

/// Of a very long curve the least and the greatest of each bundle of readings, in their order: it looks the same at any
/// width of paper, and needs less memory than the record.
void bundle(CurveView& view)
{
    constexpr size_t whole = 2'000'000; // readings: shorter ones are kept whole
    constexpr size_t most = 500'000; // points
    const size_t n = view.x.size();
    if (n <= whole)
        return;
    view.bundled = (2 * n + most - 1) / most;
    size_t kept = 0;
    for (size_t from = 0; from < n; from += view.bundled) {
        const auto piece = std::span(view.y).subspan(from, std::min(view.bundled, n - from));
        const auto [least, greatest] = std::ranges::minmax_element(piece);
        size_t a = from + static_cast<size_t>(least - piece.begin());
        size_t b = from + static_cast<size_t>(greatest - piece.begin());
        if (a > b)
            std::swap(a, b);
        if (view.crossheadFrom > 0 && from <= view.crossheadFrom && view.crossheadFrom < from + view.bundled)
            view.crossheadFrom = std::max(kept, size_t{1});
        for (const size_t i : {a, b}) {
            view.x[kept] = view.x[i];
            view.y[kept++] = view.y[i];
        }
    }
    view.x.resize(kept);
    view.y.resize(kept);
    view.x.shrink_to_fit();
    view.y.shrink_to_fit();
}

} // namespace

CurveView curveFrom(StressStrain&& data, const std::optional<StraightPart>& part, double origin, double section,
                    std::vector<CurveMark> marks)
{
    CurveView view;
    view.marks = std::move(marks);
    for (CurveMark& m : view.marks)
        m.x -= origin;
    if (part) {
        view.straightLow = part->line.at(data.strain[part->begin]);
        view.straightHigh = part->line.at(data.strain[part->end - 1]);
        view.slope = part->slope();
        view.straightPoints = part->line.n;
        view.r2 = part->line.r2;
        view.toe = std::max(0.0, origin - data.strain[data.onset]);
    }
    view.section = section;
    view.length = data.gaugeLength;
    size_t to = std::min(data.stress.size(), std::max(data.end, data.drawnEnd));
    if (data.removedAt && !data.crossheadAfterRemoval)
        to = std::min(to, *data.removedAt + 1); // beyond it the strain says nothing
    const size_t from = data.onset > 20 ? data.onset - 20 : 0;
    if (data.crossheadAfterRemoval)
        view.crossheadFrom = *data.removedAt - std::min(*data.removedAt, from);
    view.x = std::move(data.strain);
    view.y = std::move(data.stress);
    for (size_t i = from; i < to; ++i)
        view.x[i - from] = view.x[i] - origin;
    view.x.resize(to - from);
    view.y.resize(to);
    view.y.erase(view.y.begin(), view.y.begin() + static_cast<std::ptrdiff_t>(from));
    bundle(view);
    return view;
}

size_t indexAtStrain(const StressStrain& data, double strain, size_t from, size_t to)
{
    for (size_t i = from; i < to; ++i)
        if (data.strain[i] >= strain)
            return i;
    return to > from ? to - 1 : from;
}

} // namespace fortitor
