// SPDX-License-Identifier: GPL-3.0-or-later
// The straight part, the limit of it, and what follows from its slope.
#include "methods/flexure/flexure.h"
#include "methods/flexure/figures.h"

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

const Unit cubic{"mm³", Kind::Number, 1};

const Unit fourth{"mm⁴", Kind::Number, 1};

} // namespace

Term stressOf(const Beam& k, const Term& force)
{
    const Term M = (force * k.a / Term::constant(2)).named("M", baseUnit(Kind::Torque), "bending moment", "F·a/2", 4);
    const Term W = (k.b * square(k.h) / Term::constant(6)).named("W", cubic, "section modulus", "b·h²/6", 5);
    return M / W;
}

namespace {

/// MOE of a slope of load on deflection: m·a(3L²−4a²)/(48I), or under the load m·a²(3L−4a)/(12I).
Term modulusOf(const FlexureFigures& f, const Term& slope)
{
    const Beam& k = *f.beam;
    const bool under = optionOr(f.input, "deflection_at", "mid-span") == "under the load";
    const Term section = k.b * square(k.h) * k.h / Term::constant(12);
    const Term I = section.named("I", fourth, "second moment of the section", "b·h³/12", 5);
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
    const Term stiffer = MOE * factor;
    f.set("MOE_true",
          stiffer.named("MOE_true", MPa(), "MOE with shear taken out", "MOE·(1 + 2.4(E/G)h²/(3L²−4a²))", 4));
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
                   {"dial, half a division at each end", SourceKind::Dial}, "slope of the chord, N/mm")
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

} // namespace

Expected<std::optional<StepLimit>> straightPart(FlexureFigures& f)
{
    if (f.force.size() < 3) {
        f.remark("too-few-readings", Severity::Reject, f.ofTheLine,
                 fmt::format("{} readings have load and deflection; a line needs three at least.", f.force.size()),
                 "Key the other readings.");
        return std::optional<StepLimit>();
    }
    const double span = f.beam->L.value();
    if (*std::ranges::max_element(f.deflection) > span / 2) {
        f.remark("columns-swapped", Severity::Reject, f.all,
                 "The deflections are greater than half of the span: load and deflection exchanged, or a unit slipped.",
                 "Look at the first reading.");
        return std::optional<StepLimit>();
    }
    auto chosen = chooseLimit(f);
    if (!chosen || !*chosen)
        return chosen;
    const StepLimit& limit = **chosen;
    if (!(limit.line.slope > 0)) {
        f.remark("no-straight-part", Severity::Reject, f.ofTheLine, "The deflection does not grow with the load.",
                 "Columns exchanged, or a dial that turned back?");
        return std::optional<StepLimit>();
    }
    if (!limit.lineAtStart)
        f.remark("no-line-at-start", Severity::Caution, f.ofTheLine, "The first readings do not lie on a line.",
                 "Seating, a dial that stuck, or a reading off: look at them.");
    if (!limit.odd.empty()) {
        std::vector<size_t> odd;
        for (const size_t i : limit.odd)
            odd.push_back(f.number[i]);
        f.remark("reading-off-line", Severity::Caution, f.ofTheLine,
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

namespace {

/// The slope of the load on the deflection. The last readings on the line may lean a little already: what it would be
/// without the last of them is an uncertainty of its own.
Term slopeOf(const FlexureFigures& f, const StepLimit& limit)
{
    const auto shorter =
        limit.limit > limit.begin + 3 ? stepLimitAt(f.force, f.deflection, f.division, limit.limit - 1) : std::nullopt;
    const double end =
        shorter && shorter->line.slope > 0 ? std::abs(1 / shorter->line.slope - 1 / limit.line.slope) : 0;
    const Term fitted =
        Term::leaf("m", 1 / limit.line.slope, baseUnit(Kind::Number),
                   limit.line.relativeSlopeError() / limit.line.slope, {"scatter of the readings", SourceKind::Fit},
                   "slope of the load on the deflection, N/mm")
            .on(fmt::format("readings {} to {}", f.number[limit.begin], f.number[limit.limit]));
    if (!(end > 0))
        return fitted;
    return (fitted
            + Term::leaf("", 0, baseUnit(Kind::Number), end, {"where the straight part ends", SourceKind::Steps}))
        .named("m", baseUnit(Kind::Number), "slope of the load on the deflection, N/mm");
}

/// MOE by the point at the limit alone; nothing where it has no deflection.
std::optional<Term> pointModulus(const FlexureFigures& f, const StepLimit& limit)
{
    const double F = f.force[limit.limit];
    const double d = f.deflection[limit.limit] - (limit.begin > 0 ? limit.line.at(0) : 0);
    if (!(d > 0))
        return std::nullopt;
    const Term ratio = Term::leaf("F_pl/δ_pl", F / d, baseUnit(Kind::Number), F / d * f.division / 2 / rectangle / d,
                                  {"dial, half a division", SourceKind::Dial}, "the single point at the limit, N/mm");
    return (modulusOf(f, ratio) * f.doubt)
        .named("MOE_point", MPa(), "MOE by the single point", "the older convention", 4);
}

void moduli(FlexureFigures& f, const StepLimit& limit, double ratio)
{
    const auto point = pointModulus(f, limit);
    if (point)
        f.set("MOE_point", *point);
    const std::string by = optionOr(f.input, "slope", "regression");
    const std::optional<Term> MOE = by == "chord" ? chordModulus(f, limit.line.at(0))
        : by == "point" && point
        ? point->named("MOE", MPa(), "modulus of elasticity", "single point at the limit", 4)
        : (modulusOf(f, slopeOf(f, limit)) * f.doubt)
              .named("MOE", MPa(), "modulus of elasticity", "least squares over the straight part", 4);
    if (MOE) {
        f.set("MOE", *MOE);
        shear(f, *MOE, ratio);
    }
}

} // namespace

void lineFigures(FlexureFigures& f, const StepLimit& limit, double ratio)
{
    const Unit& N = baseUnit(Kind::Force);
    moduli(f, limit, ratio);
    if (const auto F35 = loadAtStrain(f, 0.035, limit.line.at(0)))
        f.set("sigma_35",
              stressOf(*f.beam, Term::leaf("F", *F35, N, 0, {}, "load at 3.5 % edge strain") * f.doubt)
                  .named("sigma_35", MPa(), "stress at 3.5 % edge strain", "ISO 178", 4));
    else
        f.leave({"sigma_35"}, "The edge does not come to a strain of 3.5 % in these readings.");
    const double F = f.force[limit.limit];
    const double bracket = limit.reached ? bracketOf(f, limit) : 0;
    const std::string words = bracket > 0 && limit.limit + 1 < f.force.size()
        ? fmt::format("load at the proportional limit, before the next reading at {}",
                      formatQuantity(f.force[limit.limit + 1], N))
        : "load at the proportional limit";
    const Term at =
        Term::leaf("F_pl", F, N, bracket / rectangle, {"steps of the load at the limit", SourceKind::Steps}, words)
            .on(fmt::format("reading {}", f.number[limit.limit]))
        * f.doubt;
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

} // namespace fortitor
