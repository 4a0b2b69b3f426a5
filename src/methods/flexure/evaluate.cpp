// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/flexure/flexure.h"

#include "curve/signal.h"
#include "curve/step_limit.h"
#include "curve/unloading.h"
#include "methods/common/section.h"
#include "methods/common/stepped.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

const std::vector<std::string> ofTheLine{"MOE", "sigma_pl", "F_pl", "MOE_point", "MOE_true", "MOE_12"};
const std::vector<std::string> all{"MOE",       "sigma_pl", "F_pl",   "MOR",   "W_max",
                                   "MOE_point", "MOE_true", "MOR_12", "MOE_12"};

struct Beam {
    Term b, h, L, a; ///< mm; a from a support to its load
};

struct FlexureFigures : Figures {
    using Figures::Figures;
    std::optional<Beam> beam;
    std::vector<double> force; ///< N, where both were read
    std::vector<double> deflection; ///< mm
    std::vector<size_t> number; ///< of the reading, from 1
    double greatest = 0; ///< N, over all readings of the load
    size_t greatestNumber = 0;
    bool greatestHasDeflection = false;
    bool fromCrosshead = false;
    double division = 0.01;
    std::vector<std::string> without; ///< results that do not apply, told together
    std::string whyWithout;
    void leave(std::vector<std::string> symbols, const std::string& why)
    {
        without.insert(without.end(), symbols.begin(), symbols.end());
        whyWithout += (whyWithout.empty() ? "" : " ") + why;
    }
    Term doubt = Term::constant(1);
};

Expected<Done> readBeam(FlexureFigures& f)
{
    const SpecimenInput& in = f.input;
    const auto b = lengthTerm(in, "width", "b", "mean width");
    const auto h = lengthTerm(in, "depth", "h", "mean depth");
    const auto L = lengthTerm(in, "span", "L", "span");
    for (const auto& [term, key] : {std::pair(b, "width"), {h, "depth"}, {L, "span"}}) {
        if (term && !(term->value() > 0))
            return Problem{in.label + ", " + key, formatSignificant(term->value(), 4), "above zero",
                           "Measure it again."};
        if (!term)
            f.remark("missing-dimension", Severity::Reject, all,
                     fmt::format("The {} is not measured; no stress can be given.", key), "Enter it on Measure.", key);
    }
    if (!b || !h || !L)
        return Done{};
    if (L->value() < 2 * h->value()) {
        f.remark("span-short", Severity::Reject, all,
                 fmt::format("A span of {} on a depth of {} is no bending.",
                             formatQuantity(L->value(), baseUnit(Kind::Length)),
                             formatQuantity(h->value(), baseUnit(Kind::Length))),
                 "Span and depth exchanged, or a unit slipped?", "span");
        return Done{};
    }
    const bool four = optionOr(in, "loading", "three-point") == "four-point";
    if (!four) {
        f.beam = Beam{*b, *h, *L, (*L / Term::constant(2)).named("a", baseUnit(Kind::Length), "support to load")};
        return Done{};
    }
    const auto loads = lengthTerm(in, "load_span", "Ls", "load span");
    if (!loads) {
        f.remark("missing-dimension", Severity::Reject, all,
                 "The load span is not given; with two loads no stress can be given without it.",
                 "Enter it on Measure.", "load_span");
        return Done{};
    }
    if (!(loads->value() >= 0) || loads->value() >= L->value())
        return Problem{
            in.label + ", load_span", formatQuantity(loads->value(), baseUnit(Kind::Length)), "less than the span", {}};
    f.beam =
        Beam{*b, *h, *L, ((*L - *loads) / Term::constant(2)).named("a", baseUnit(Kind::Length), "support to load")};
    return Done{};
}

Expected<Done> readSteps(FlexureFigures& f)
{
    const Record& record = *f.input.record;
    const Channel* force = record.find("force");
    const Channel* way = record.find("deflection");
    if (!way) {
        way = record.find("displacement");
        f.fromCrosshead = way != nullptr;
    }
    if (!force)
        return Problem{f.input.label + ", record", "no force", "force and deflection", {}};
    std::vector<size_t> missed;
    double sign = 1;
    for (size_t i = 0; i < force->values.size(); ++i)
        if (std::abs(force->values[i]) > std::abs(f.greatest)) {
            f.greatest = force->values[i];
            f.greatestNumber = i + 1;
            f.greatestHasDeflection = way && !std::isnan(way->values[i]);
        }
    if (f.greatest < 0) {
        sign = -1;
        f.greatest = -f.greatest;
        f.remark("sign-turned", Severity::Note, {}, "The load was recorded as negative; the sign was turned.");
    }
    for (size_t i = 0; i < force->values.size(); ++i) {
        const double F = sign * force->values[i];
        const double d = way ? way->values[i] : std::nan("");
        if (std::isnan(F) || std::isnan(d)) {
            missed.push_back(i + 1);
            continue;
        }
        f.force.push_back(F);
        f.deflection.push_back(d);
        f.number.push_back(i + 1);
    }
    if (!missed.empty())
        f.remark("reading-missed", Severity::Note, {},
                 fmt::format("Reading {} lacks its load or its deflection.", stepsText(missed)));
    const double most = f.deflection.empty() ? 0 : *std::ranges::max_element(f.deflection);
    const double least = f.deflection.empty() ? 0 : *std::ranges::min_element(f.deflection);
    if (std::abs(least) > most) // a dial that turns the other way
        for (double& d : f.deflection)
            d = -d;
    return Done{};
}

const Unit cubic{"mm³", Kind::Number, 1};
const Unit fourth{"mm⁴", Kind::Number, 1};

/// σ = M/W with M = F·a/2 and W = b·h²/6: 3Fa/(bh²).
Term stressOf(const Beam& k, const Term& force)
{
    const Term M = (force * k.a / Term::constant(2)).named("M", baseUnit(Kind::Torque), "bending moment", "F·a/2", 4);
    const Term W = (k.b * square(k.h) / Term::constant(6)).named("W", cubic, "section modulus", "b·h²/6", 5);
    return M / W;
}

/// MOE of a slope of load on deflection: m·a(3L²−4a²)/(48I), or under the load m·a²(3L−4a)/(12I).
Term modulusOf(const FlexureFigures& f, const Term& slope)
{
    const Beam& k = *f.beam;
    const bool under = optionOr(f.input, "deflection_at", "mid-span") == "under the load";
    const Term I =
        (k.b * square(k.h) * k.h / Term::constant(12)).named("I", fourth, "second moment of the section", "b·h³/12", 5);
    if (optionOr(f.input, "loading", "three-point") == "three-point")
        return slope * square(k.L) * k.L / (Term::constant(48) * I); // both ways to read it meet in the middle
    if (under)
        return slope * square(k.a) * (Term::constant(3) * k.L - Term::constant(4) * k.a) / (Term::constant(12) * I);
    return slope * k.a * (Term::constant(3) * square(k.L) - Term::constant(4) * square(k.a)) / (Term::constant(48) * I);
}

void shear(FlexureFigures& f, const Term& MOE, double ratio)
{
    const Beam& k = *f.beam;
    if (k.L.value() >= 20 * k.h.value()) {
        f.leave({"MOE_true"}, "The span is 20 depths or more: shear hardly counts.");
        return;
    }
    const Term lengths = Term::constant(3) * square(k.L) - Term::constant(4) * square(k.a);
    const Term factor = Term::constant(1) + Term::constant(2.4) * Term::constant(ratio, "E/G") * square(k.h) / lengths;
    f.set("MOE_true",
          (MOE * factor).named("MOE_true", MPa(), "MOE with shear taken out", "MOE·(1 + 2.4(E/G)h²/(3L²−4a²))", 4));
}

/// Strain of the edge at mid-span for a deflection: 12h/(3L²−4a²), or under the load 3h/(a(3L−4a)).
double edgeStrain(const FlexureFigures& f, double deflection)
{
    const double h = f.beam->h.value();
    const double L = f.beam->L.value();
    const double a = f.beam->a.value();
    if (optionOr(f.input, "deflection_at", "mid-span") == "under the load")
        return deflection * 3 * h / (a * (3 * L - 4 * a));
    return deflection * 12 * h / (3 * L * L - 4 * a * a);
}

/// The load where the edge comes to a strain, counted from the origin of the straight part.
std::optional<double> loadAtStrain(const FlexureFigures& f, double strain, double origin)
{
    for (size_t i = 1; i < f.force.size() && f.number[i] <= f.greatestNumber; ++i) {
        const double a = edgeStrain(f, f.deflection[i - 1] - origin);
        const double b = edgeStrain(f, f.deflection[i] - origin);
        if (a <= strain && b >= strain && b > a)
            return f.force[i - 1] + (strain - a) / (b - a) * (f.force[i] - f.force[i - 1]);
    }
    return std::nullopt;
}

/// The chord between two edge strains, the modulus of plastics (ISO 178).
std::optional<Term> chordModulus(FlexureFigures& f, double origin)
{
    constexpr double low = 0.0005;
    constexpr double high = 0.0025;
    const auto F1 = loadAtStrain(f, low, origin);
    const auto F2 = loadAtStrain(f, high, origin);
    if (!F1 || !F2) {
        f.remark("chord-out-of-reach", Severity::Reject, {"MOE", "MOE_true", "MOE_12"},
                 "The readings do not span 0.05 to 0.25 % of edge strain.",
                 "Finer steps at the beginning, or MOE from least squares.");
        return std::nullopt;
    }
    const double span = (high - low) / edgeStrain(f, 1); // mm
    const Term slope =
        Term::leaf("m", (*F2 - *F1) / span, baseUnit(Kind::Number), (*F2 - *F1) / span * f.division / rectangle / span,
                   "dial, half a division at each end", "slope of the chord, N/mm")
            .on("0.05 and 0.25 % edge strain");
    return (modulusOf(f, slope) * f.doubt)
        .named("MOE", MPa(), "modulus of elasticity", "chord 0.05 to 0.25 %, ISO 178", 4);
}

/// The load between the last reading on the line and the next one, N: the limit lies in there. Where the reading at
/// the limit leans off the line itself, the step before it counts as well.
double bracketOf(const FlexureFigures& f, const StepLimit& limit)
{
    const double at = f.force[limit.limit];
    const double next = limit.limit + 1 < f.force.size() ? f.force[limit.limit + 1] - at : 0;
    const double before = limit.close && limit.limit > limit.begin ? at - f.force[limit.limit - 1] : 0;
    return std::max(next, 0.0) + std::max(before, 0.0);
}

/// How far a neighbour as the limit would move σ_pl, where the steps are coarse.
void neighbours(FlexureFigures& f, const StepLimit& limit)
{
    const double at = f.force[limit.limit];
    const double change = std::max(limit.limit + 1 < f.force.size() ? f.force[limit.limit + 1] - at : 0,
                                   limit.limit > limit.begin ? at - f.force[limit.limit - 1] : 0)
        / at;
    if (change > 0.15)
        f.remark("limit-uncertain", Severity::Caution, {"sigma_pl", "F_pl"},
                 fmt::format("The steps are coarse there: the next reading as the limit would move it by {} %.",
                             formatFixed(100 * change, 0)),
                 "Finer steps near the limit tell it better.");
}

Expected<std::optional<StepLimit>> chooseLimit(FlexureFigures& f)
{
    const std::string text = optionOr(f.input, "limit", "auto");
    if (text == "auto" || text.empty())
        return findStepLimit(f.force, f.deflection, f.division);
    const auto number = parseNumber(text);
    const auto it = number ? std::ranges::find(f.number, static_cast<size_t>(std::max(0.0, *number))) : f.number.end();
    if (it == f.number.end())
        return Problem{"options.limit", text, "auto, or the number of a reading with load and deflection", {}};
    auto chosen = stepLimitAt(f.force, f.deflection, f.division, static_cast<size_t>(it - f.number.begin()));
    if (!chosen)
        return Problem{"options.limit", text, "a reading beyond the second", "A line needs two readings at least."};
    f.remark("moved-by-hand", Severity::Note, {"sigma_pl", "F_pl", "MOE"}, "The limit was set by hand.",
             "auto goes back to what is found.");
    return chosen;
}

Expected<std::optional<StepLimit>> straightPart(FlexureFigures& f)
{
    if (f.force.size() < 3) {
        f.remark("too-few-readings", Severity::Reject, ofTheLine,
                 fmt::format("{} readings have load and deflection; a line needs three at least.", f.force.size()),
                 "Key the other readings.");
        return std::optional<StepLimit>();
    }
    const double span = f.beam->L.value();
    if (*std::ranges::max_element(f.deflection) > span / 2) {
        f.remark("columns-swapped", Severity::Reject, all,
                 "The deflections are greater than half of the span: load and deflection exchanged, or a unit slipped.",
                 "Look at the first reading.");
        return std::optional<StepLimit>();
    }
    auto chosen = chooseLimit(f);
    if (!chosen || !*chosen)
        return chosen;
    const StepLimit& limit = **chosen;
    if (!(limit.line.slope > 0)) {
        f.remark("no-straight-part", Severity::Reject, ofTheLine, "The deflection does not grow with the load.",
                 "Columns exchanged, or a dial that turned back?");
        return std::optional<StepLimit>();
    }
    if (!limit.lineAtStart)
        f.remark("no-line-at-start", Severity::Caution, ofTheLine, "The first readings do not lie on a line.",
                 "Seating, a dial that stuck, or a reading off: look at them.");
    if (!limit.odd.empty()) {
        std::vector<size_t> odd;
        for (const size_t i : limit.odd)
            odd.push_back(f.number[i]);
        f.remark("reading-off-line", Severity::Caution, ofTheLine,
                 fmt::format("Reading {} lies off the line, those after it on it again; it is left out of the slope.",
                             stepsText(odd)),
                 "A writing error?");
    }
    if (limit.begin > 0)
        f.remark("toe-corrected", Severity::Note, {"MOE"},
                 fmt::format("The first {} off the line of the next: the toe was left out.",
                             limit.begin == 1 ? "reading lies" : "two readings lie"));
    return chosen;
}

void lineFigures(FlexureFigures& f, const StepLimit& limit, double ratio)
{
    const Unit& N = baseUnit(Kind::Force);
    const double origin = limit.line.at(0); // deflection at no load by the line
    const std::string on = fmt::format("readings {} to {}", f.number[limit.begin], f.number[limit.limit]);
    // The last readings on the line may lean a little already: what the slope would be without the last of them.
    const auto shorter =
        limit.limit > limit.begin + 3 ? stepLimitAt(f.force, f.deflection, f.division, limit.limit - 1) : std::nullopt;
    const double end =
        shorter && shorter->line.slope > 0 ? std::abs(1 / shorter->line.slope - 1 / limit.line.slope) : 0;
    const Term fitted = Term::leaf("m", 1 / limit.line.slope, baseUnit(Kind::Number),
                                   limit.line.relativeSlopeError() / limit.line.slope, "scatter of the readings",
                                   "slope of the load on the deflection, N/mm")
                            .on(on);
    const Term slope = end > 0
        ? (fitted + Term::leaf("", 0, baseUnit(Kind::Number), end, "where the straight part ends"))
              .named("m", baseUnit(Kind::Number), "slope of the load on the deflection, N/mm")
        : fitted;
    const Term regression =
        (modulusOf(f, slope) * f.doubt)
            .named("MOE", MPa(), "modulus of elasticity", "least squares over the straight part", 4);
    const double F = f.force[limit.limit];
    const double bracket = limit.reached ? bracketOf(f, limit) : 0;
    const std::string words = bracket > 0 && limit.limit + 1 < f.force.size()
        ? fmt::format("load at the proportional limit, before the next reading at {}",
                      formatQuantity(f.force[limit.limit + 1], N))
        : "load at the proportional limit";
    const Term at = Term::leaf("F_pl", F, N, bracket / rectangle, "steps of the load at the limit", words)
                        .on(fmt::format("reading {}", f.number[limit.limit]))
        * f.doubt;
    const double d = f.deflection[limit.limit] - (limit.begin > 0 ? origin : 0);
    const bool point = optionOr(f.input, "slope", "regression") == "point";
    std::optional<Term> single;
    if (d > 0) {
        const Term ratioTerm =
            Term::leaf("F_pl/δ_pl", F / d, baseUnit(Kind::Number), F / d * f.division / 2 / rectangle / d,
                       "dial, half a division", "the single point at the limit, N/mm");
        single = (modulusOf(f, ratioTerm) * f.doubt)
                     .named("MOE_point", MPa(), "MOE by the single point", "the older convention", 4);
        f.set("MOE_point", *single);
    }
    const bool chord = optionOr(f.input, "slope", "regression") == "chord";
    const std::optional<Term> MOE = chord ? chordModulus(f, origin)
        : point && single ? single->named("MOE", MPa(), "modulus of elasticity", "single point at the limit", 4)
                          : regression;
    if (MOE) {
        f.set("MOE", *MOE);
        shear(f, *MOE, ratio);
    }
    if (const auto F35 = loadAtStrain(f, 0.035, origin))
        f.set("sigma_35",
              stressOf(*f.beam, Term::leaf("F", *F35, N, 0, {}, "load at 3.5 % edge strain") * f.doubt)
                  .named("sigma_35", MPa(), "stress at 3.5 % edge strain", "ISO 178", 4));
    else
        f.leave({"sigma_35"}, "The edge does not come to a strain of 3.5 % in these readings.");
    if (!limit.reached) {
        f.remark("limit-not-reached", Severity::Caution, {"sigma_pl", "F_pl"},
                 "Every reading lies on the line: the limit is not reached.",
                 "At least one step beyond it is wanted. The figures are lower bounds.");
    } else {
        neighbours(f, limit);
    }
    f.set("F_pl", at.named("F_pl", N, words, "last reading on the line", 4));
    f.set("sigma_pl",
          stressOf(*f.beam, at).named("sigma_pl", MPa(), "stress at the proportional limit", "3Fa/(bh²)", 4));
}

/// What each other reading as the limit would give.
void limitChoices(FlexureFigures& f, const StepLimit& now)
{
    if (f.force.size() > mostKeyed)
        return;
    for (size_t i = now.begin + 1; i < f.force.size() && f.number[i] <= f.greatestNumber; ++i) {
        const auto limit = stepLimitAt(f.force, f.deflection, f.division, i);
        if (!limit || !(limit->line.slope > 0))
            continue;
        const Term slope = Term::constant(1 / limit->line.slope);
        const Term load = Term::constant(f.force[i]);
        f.outcome.choices.push_back({"limit",
                                     std::to_string(f.number[i]),
                                     fmt::format("reading {}", f.number[i]),
                                     {{"F_pl", f.force[i]},
                                      {"sigma_pl", stressOf(*f.beam, load).value()},
                                      {"MOE", modulusOf(f, slope).value()}},
                                     i == now.limit});
    }
}

/// Held against the table of species: a difference is a remark, never a verdict.
void againstSpecies(FlexureFigures& f)
{
    const std::string grade = noteOf(f.input, "grade");
    for (const char* symbol : {"MOE", "MOR"}) {
        const auto it = f.input.published.find(symbol);
        const auto value = f.value(symbol);
        if (it == f.input.published.end() || !value || !(it->second > 0))
            continue;
        const double off = *value / it->second - 1;
        if (std::abs(off) > 0.2)
            f.remark("off-species", Severity::Note, {symbol},
                     fmt::format("{} is {} % {} the mean of {}, {} MPa.", symbol, formatFixed(100 * std::abs(off), 0),
                                 off > 0 ? "above" : "below", f.input.publishedSource,
                                 formatSignificant(it->second, 3)),
                     grade.empty() || grade == "clear"
                         ? "Moisture, growth and slope of grain move it; boards with knots lie lower. A guide only."
                         : "That is the mean of clear wood: the knots and slope of grain of a " + grade
                             + " grade lower it.");
    }
}

void density(FlexureFigures& f)
{
    const auto length = lengthTerm(f.input, "length", "l", "length of the piece");
    const auto mass = f.input.dimensions.find("mass_wet");
    if (!length || mass == f.input.dimensions.end() || mass->second.empty() || !f.beam) {
        f.leave({"density"}, "The length of the whole piece and its mass are not given.");
        return;
    }
    const Term m =
        Term::leaf("m_wet", mass->second.front().base, baseUnit(Kind::Mass),
                   mass->second.front().resolution / 2 / rectangle, "resolution of the scale", "mass as tested");
    const Term volume = f.beam->b * f.beam->h * *length / Term::constant(1e9);
    f.set("density", (m / volume).named("density", baseUnit(Kind::Density), "density as tested", "m/(b·h·l)", 4));
}

/// Whether the load fell after its greatest while the beam bent on; a break loses its deflection, or the record ends.
bool greatestPassed(const FlexureFigures& f)
{
    const auto top = std::ranges::find(f.number, f.greatestNumber);
    if (top == f.number.end() || f.number.back() == f.greatestNumber)
        return true;
    const auto i = static_cast<size_t>(top - f.number.begin());
    if (fallsByGoingBack(f.force, f.deflection, noiseOfDrive(f.deflection), 0, i))
        return false;
    const double noise = noiseOf(f.deflection);
    double furthest = f.deflection[i];
    for (size_t k = i + 1; k < f.force.size(); ++k) {
        furthest = std::max(furthest, f.deflection[k]);
        if (f.force[k] < 0.995 * f.greatest && f.deflection[k] >= furthest - 3 * noise)
            return true;
    }
    return false;
}

void maximum(FlexureFigures& f)
{
    const bool keyed = f.force.size() <= mostKeyed;
    const bool ends = !f.number.empty() && f.number.back() == f.greatestNumber;
    if (!greatestPassed(f))
        f.remark("lower-bound", Severity::Caution, {"MOR", "W_max"},
                 fmt::format("The load was taken off after {}: nothing broke, and the strength is at least this.",
                             formatQuantity(f.greatest, baseUnit(Kind::Force))),
                 "Was the test stopped?");
    const bool lost = keyed && ends && f.greatestHasDeflection && f.force.size() > 1;
    const double step = lost ? std::max(0.0, f.force.back() - f.force[f.force.size() - 2]) : 0;
    const Term F = Term::leaf("Fmax", f.greatest, baseUnit(Kind::Force), step / rectangle,
                              "step of the load at the end", "greatest load")
                       .on(fmt::format("reading {}", f.greatestNumber))
        * f.doubt;
    f.set("MOR", stressOf(*f.beam, F).named("MOR", MPa(), "modulus of rupture", "3Fa/(bh²) at the greatest load", 4));
    if (lost)
        f.remark(
            "max-load-between", Severity::Note, {"MOR", "W_max"},
            fmt::format("The load at the break was not read: it lies between {} and the next step, about {}.",
                        formatQuantity(f.greatest, baseUnit(Kind::Force)),
                        formatQuantity(f.greatest + step, baseUnit(Kind::Force))),
            "MOR and work are lower bounds. Key the load at the break alone, without a deflection, where it was seen.");
    double work = 0; // N·mm
    double d0 = f.deflection.empty() ? 0 : f.deflection.front();
    double F0 = f.force.empty() ? 0 : f.force.front();
    if (!f.force.empty() && F0 > 0) // from the unloaded state, along the first reading
        work += 0.5 * F0 * std::max(0.0, d0);
    for (size_t i = 1; i < f.force.size() && f.number[i] <= f.greatestNumber; ++i) {
        work += 0.5 * (f.force[i] + F0) * (f.deflection[i] - d0);
        d0 = f.deflection[i];
        F0 = f.force[i];
    }
    if (f.force.size() > 1)
        f.set("W_max",
              (Term::leaf("∫F dδ", work / 1000, baseUnit(Kind::Energy), 0, {}, "area under load and deflection")
               * f.doubt)
                  .named("W_max", baseUnit(Kind::Energy), "work to the maximum",
                         f.greatestHasDeflection ? "trapezoids" : "trapezoids, to the last reading with a deflection",
                         3));
    if (!f.greatestHasDeflection && f.force.size() > 1)
        f.remark("lower-bound", Severity::Note, {"W_max"},
                 "The deflection at the greatest load was not read: the work is a lower bound.");
    if (!f.deflection.empty() && *std::ranges::max_element(f.deflection) > 0.1 * f.beam->L.value())
        f.remark("large-deflection", Severity::Caution, {"MOR", "W_max"},
                 "The deflection goes above a tenth of the span: the supports no longer act as the formulas have it.",
                 "");
}

Expected<Done> moisture(FlexureFigures& f)
{
    const auto mass = [&](const char* key, const char* symbol, const char* words) -> std::optional<Term> {
        const auto it = f.input.dimensions.find(key);
        if (it == f.input.dimensions.end() || it->second.empty())
            return std::nullopt;
        return Term::leaf(symbol, it->second.front().base, baseUnit(Kind::Mass), 0, {}, words);
    };
    const auto wet = mass("mass_wet", "m_wet", "mass as tested");
    const auto dry = mass("mass_dry", "m_dry", "mass oven-dry");
    if (!wet || !dry) {
        f.leave({"moisture", "MOR_12", "MOE_12"}, "The two weighings are not given.");
        return Done{};
    }
    if (!(dry->value() > 0) || wet->value() < dry->value()) {
        f.remark("masses-odd", Severity::Reject, {"moisture", "MOR_12", "MOE_12"},
                 "The piece weighs less as tested than oven-dry.", "Masses exchanged, or a unit slipped?", "mass_dry");
        return Done{};
    }
    const Term W =
        ((*wet - *dry) / *dry).named("moisture", percentUnit(), "moisture content", "(m_wet − m_dry)/m_dry", 3);
    f.set("moisture", W);
    const double percent = 100 * W.value();
    if (percent < 7 || percent > 17) {
        f.remark("moisture-out-of-range", Severity::Caution, {"MOR_12", "MOE_12"},
                 fmt::format("At {} % moisture the correction to 12 % does not hold.", formatFixed(percent, 1)),
                 "Condition the wood to between 7 and 17 %.");
        return Done{};
    }
    for (const auto& [from, to, key] :
         {std::tuple("MOR", "MOR_12", "moisture_MOR"), {"MOE", "MOE_12", "moisture_MOE"}}) {
        const auto coefficient = optionQuantity(f.input, key, Kind::Number);
        if (!coefficient)
            return coefficient.problem();
        const Result* r = f.outcome.find(from);
        if (!r->derivation)
            continue;
        const double c = coefficient->value_or(std::string_view(from) == "MOR" ? 0.04 : 0.02);
        const Term factor =
            Term::constant(1) + Term::constant(100 * c, fmt::format("{}·100", c)) * (W - Term::constant(0.12));
        f.set(to,
              (*r->derivation * factor)
                  .named(to, MPa(), std::string(from) + " at 12 % moisture",
                         "ISO 13061, coefficient from the laboratory's own copy", 4));
    }
    return Done{};
}

void makeView(FlexureFigures& f, const std::optional<StepLimit>& limit)
{
    CurveView view;
    view.xAxis = {"deflection", Kind::Length};
    view.yAxis = {"load", Kind::Force};
    view.x = f.deflection;
    view.y = f.force;
    view.keyed = view.x.size() <= mostKeyed;
    if (view.x.size() < 2)
        return;
    if (limit) {
        view.slope = 1 / limit->line.slope;
        view.toe = limit->line.at(0);
        view.straightLow = f.force[limit->begin];
        view.straightHigh = f.force[limit->limit];
        view.straightPoints = limit->line.n;
        view.r2 = limit->line.r2;
        for (double& x : view.x)
            x -= view.toe;
        CurveMark mark{"sigma_pl", "sigma_pl", view.x[limit->limit], f.force[limit->limit], "limit"};
        for (const StepChoice& choice : f.outcome.choices)
            if (const auto at = std::ranges::find(f.number, std::stoul(choice.value)); at != f.number.end())
                mark.stops.emplace_back(view.x[static_cast<size_t>(at - f.number.begin())], choice.value);
        view.marks.push_back(std::move(mark));
    }
    f.outcome.views.emplace_back(std::move(view));
}

} // namespace

std::optional<ExpectedMaximum> expectFlexure(const SpecimenInput& input)
{
    const auto rupture = input.published.find("MOR");
    FlexureFigures f{input};
    if (rupture == input.published.end() || !readBeam(f) || !f.beam)
        return std::nullopt;
    const Beam& k = *f.beam;
    const double load = rupture->second * k.b.value() * k.h.value() * k.h.value() / (3 * k.a.value());
    return ExpectedMaximum{
        load, 0, fmt::format("MOR {} MPa ({})", formatSignificant(rupture->second, 3), input.publishedSource)};
}

Expected<Outcome> evaluateFlexure(const SpecimenInput& input)
{
    static const Method method = flexure();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    FlexureFigures f{input};
    f.begin(method);
    const auto division = optionQuantity(input, "dial_division", Kind::Length);
    const auto ratio = optionQuantity(input, "shear_ratio", Kind::Number);
    for (const auto* one : {&division, &ratio})
        if (!*one)
            return one->problem();
    f.division = division->value_or(0.01);
    if (auto ok = readBeam(f); !ok)
        return ok.problem();
    for (Remark& remark : checkDimensions(input, {"width", "depth"}))
        f.outcome.remarks.push_back(std::move(remark));
    if (!input.record) {
        f.remark("no-record", Severity::Caution, all, "There are no readings yet.", "Take them on Load.");
    } else if (f.beam) {
        if (auto ok = readSteps(f); !ok)
            return ok.problem();
        f.doubt = factorDoubt(input.instruments.forceError, input.instruments.forceName);
        auto limit = straightPart(f);
        if (!limit)
            return limit.problem();
        if (f.force.size() <= mostKeyed && !f.outcome.remarked("columns-swapped")) {
            const auto top = std::ranges::find(f.number, f.greatestNumber);
            const auto n = static_cast<std::ptrdiff_t>(
                top == f.number.end() ? f.number.size() : static_cast<size_t>(top - f.number.begin()) + 1);
            checkSteps(f, {f.force.begin(), f.force.begin() + n}, {f.number.begin(), f.number.begin() + n},
                       {"MOE", "sigma_pl"});
        }
        if (*limit) {
            lineFigures(f, **limit, ratio->value_or(16));
            limitChoices(f, **limit);
        }
        if (f.greatest > 0 && !f.outcome.remarked("columns-swapped"))
            maximum(f);
        if (f.fromCrosshead)
            f.remark("crosshead-strain", Severity::Caution, ofTheLine,
                     "The deflection is the crosshead's: it includes frame and supports.",
                     "Read the mid-span against the supports.");
        makeView(f, *limit);
        againstSpecies(f);
    }
    density(f);
    if (auto ok = moisture(f); !ok)
        return ok.problem();
    if (!f.without.empty())
        f.notApplicable(f.without, f.whyWithout);
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
