// SPDX-License-Identifier: GPL-3.0-or-later
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
                              {"step of the load at the end", SourceKind::Steps}, "greatest load")
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
        f.remark("no-record", Severity::Caution, f.all, "There are no readings yet.", "Take them on Load.");
    } else if (f.beam) {
        if (auto ok = readSteps(f); !ok)
            return ok.problem();
        f.doubt = forceDoubt(input);
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
            f.remark("crosshead-strain", Severity::Caution, f.ofTheLine,
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
