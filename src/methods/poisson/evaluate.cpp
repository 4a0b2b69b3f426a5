// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/poisson/poisson.h"

#include "methods/common/section.h"
#include "methods/common/stepped.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor {
namespace {

constexpr double makersNu = 0.285; // of the bar that gauge factors are found on
constexpr double noStrain = 0.2; // no gauge reads a strain of twenty per cent
constexpr double readingFloor = 2e-6; // strain
constexpr double nan = std::numeric_limits<double>::quiet_NaN();

struct Step {
    size_t number = 0; ///< as a person counts, from 1
    double force = nan;
    double along = nan;
    double across = nan;
};

struct PoissonFigures : Figures {
    using Figures::Figures;
    std::vector<Step> steps; ///< going up
    std::optional<Step> back; ///< the zero read again
    double factor = 1; ///< of the gauge factors
    double sensitivity = 0;
};

double meanOf(double a, double b)
{
    return std::isnan(b) ? a : std::isnan(a) ? b : 0.5 * (a + b);
}

Expected<Done> readOptions(PoissonFigures& f)
{
    const auto gauge = optionQuantity(f.input, "gauge_factor", Kind::Number);
    const auto set = optionQuantity(f.input, "gauge_factor_set", Kind::Number);
    const auto kt = optionQuantity(f.input, "transverse_sensitivity", Kind::Number);
    for (const auto* one : {&gauge, &set, &kt})
        if (!*one)
            return one->problem();
    if ((*gauge && !(**gauge > 0)) || (*set && !(**set > 0)))
        return Problem{"options.gauge_factor", "a factor that is not above zero", "about 2", {}};
    if (*kt && !(std::abs(**kt) < 0.2))
        return Problem{"options.transverse_sensitivity", formatSignificant(**kt, 3), "a fraction such as 0.01",
                       "1 % is written 0.01."};
    if (gauge->has_value() != set->has_value())
        f.remark("gauge-factor-half", Severity::Caution, {"nu", "nu_load", "E"},
                 "Only one of the two gauge factors is given; the strains are taken as read.",
                 "State the gauges' factor and the one set on the indicator.", "gauge_factor");
    else if (*gauge)
        f.factor = **set / **gauge;
    f.sensitivity = kt->value_or(0);
    return Done{};
}

/// What the gauges would show without their answer to strain across them.
void correct(Step& s, double factor, double kt)
{
    s.along *= factor;
    s.across *= factor;
    if (kt == 0 || std::isnan(s.along) || std::isnan(s.across))
        return;
    const double scale = (1 - makersNu * kt) / (1 - kt * kt);
    const double along = scale * (s.along - kt * s.across);
    s.across = scale * (s.across - kt * s.along);
    s.along = along;
}

Expected<Done> readSteps(PoissonFigures& f)
{
    const Record& record = *f.input.record;
    const auto column = [&](const char* name, size_t i) {
        const Channel* c = record.find(name);
        return c && i < c->values.size() ? c->values[i] : nan;
    };
    if (!record.find("strain") || !record.find("transverse_strain"))
        return Problem{f.input.label + ", record", "no strain and transverse strain", "both",
                       "A gauge along and one across are needed."};
    std::vector<size_t> missed;
    double greatest = 0;
    size_t top = 0;
    std::vector<Step> all;
    for (size_t i = 0; i < record.rows(); ++i) {
        Step s{i + 1, column("force", i), meanOf(column("strain", i), column("strain_2", i)),
               column("transverse_strain", i)};
        if (std::isnan(s.along) || std::isnan(s.across))
            missed.push_back(s.number);
        for (const double v : {s.along, s.across})
            greatest = std::max(greatest, std::isnan(v) ? 0 : std::abs(v));
        correct(s, f.factor, f.sensitivity);
        all.push_back(s);
        if (!std::isnan(s.along) && (std::isnan(all[top].along) || std::abs(s.along) > std::abs(all[top].along)))
            top = all.size() - 1;
    }
    if (greatest > noStrain) {
        f.remark("unit-slip", Severity::Reject, {"nu", "nu_load", "E"},
                 fmt::format("A strain of {} is no strain a gauge can read: microstrain taken for strain?",
                             formatSignificant(greatest, 3)),
                 "Key it with its unit, such as 118 µε.");
        return Done{};
    }
    if (!record.find("strain_2"))
        f.remark("one-face", Severity::Note, {"nu", "nu_load", "E"},
                 "The strain along was read on one face: what the bar bends is not averaged out.",
                 "A second gauge on the opposite face takes bending out.");
    if (!missed.empty())
        f.remark("reading-missed", Severity::Note, {},
                 fmt::format("A gauge has no reading at step {}.", stepsText(missed)));
    if (!all.empty() && top + 1 < all.size())
        for (size_t i = all.size(); i-- > top + 1;)
            if (!std::isnan(all[i].along) && std::abs(all[i].along) < 0.1 * std::abs(all[top].along)) {
                f.back = all[i];
                break;
            }
    all.resize(std::min(all.size(), top + 1)); // what comes down again is not the line
    f.steps = std::move(all);
    return Done{};
}

Term slopeTerm(const LineFit& fit, const char* symbol, const char* words, const Unit& unit, size_t n)
{
    return Term::leaf(symbol, fit.slope, unit, std::abs(fit.slope) * fit.relativeSlopeError(),
                      {"scatter of the readings", SourceKind::Fit}, words)
        .on(fmt::format("{} readings", n));
}

/// Pairs of columns where both are there.
void pairs(const std::vector<Step>& steps, double Step::*x, double Step::*y, std::vector<double>& xs,
           std::vector<double>& ys, std::vector<size_t>& numbers)
{
    for (const Step& s : steps)
        if (!std::isnan(s.*x) && !std::isnan(s.*y)) {
            xs.push_back(s.*x);
            ys.push_back(s.*y);
            numbers.push_back(s.number);
        }
}

/// The zero that came back, held against the line of the first one.
void checkZero(PoissonFigures& f, const LineFit& alongOnForce, double span)
{
    if (!f.back)
        return;
    double drift = f.back->along;
    if (alongOnForce.valid() && !std::isnan(f.back->force))
        drift -= alongOnForce.at(f.back->force);
    else if (!f.steps.empty() && std::abs(f.steps.front().along) < 0.1 * span)
        drift -= f.steps.front().along;
    else
        return;
    if (std::abs(drift) > 0.02 * span)
        f.remark("zero-drift", Severity::Caution, {"nu", "nu_load", "E"},
                 fmt::format("The zero came back {} µε off, {} % of the span.", formatFixed(drift * 1e6, 0),
                             formatFixed(100 * std::abs(drift) / span, 1)),
                 "Temperature, a loose gauge, or slip in the grips. Balance and repeat.");
}

void judgeNu(PoissonFigures& f, double nu, bool positive)
{
    if (std::abs(nu) > 1)
        f.remark("gauges-swapped", Severity::Caution, {"nu", "nu_load"},
                 fmt::format("ν comes out at {}: the two gauges look swapped.", formatSignificant(nu, 3)),
                 "The one along reads the greater strain.");
    else if (nu < 0 || nu > 0.5)
        f.remark("implausible", Severity::Caution, {"nu"},
                 fmt::format("ν = {} lies outside 0 to 0.5.", formatSignificant(nu, 3)),
                 "Metals lie near 0.3; laminates may lie elsewhere. Check gauges, signs and directions.");
    if (positive)
        f.remark("sign", Severity::Note, {},
                 "The transverse strain was keyed without its minus; it counts as shortening.");
}

/// ν and E by the slopes on the load, where it was read at the steps.
void byLoad(PoissonFigures& f, double span, double sign, const Term& doubt)
{
    std::vector<double> forceA, alongF, forceB, acrossF;
    std::vector<size_t> stepsA, stepsB;
    pairs(f.steps, &Step::force, &Step::along, forceA, alongF, stepsA);
    pairs(f.steps, &Step::force, &Step::across, forceB, acrossF, stepsB);
    const LineFit alongFit = fitLine(forceA, alongF);
    const LineFit acrossFit = fitLine(forceB, acrossF);
    checkZero(f, alongFit, span);
    if (!alongFit.valid() || !acrossFit.valid() || alongFit.slope == 0) {
        f.notApplicable({"nu_load", "E"}, "The load was not read at the steps.");
        return;
    }
    if (forceA.size() <= mostKeyed)
        checkSteps(f, forceA, stepsA, {"nu_load", "E"});
    const Unit& perForce = baseUnit(Kind::Number);
    const Term onLoad =
        slopeTerm(alongFit, "dεl/dF", "slope of the longitudinal strain on the load, 1/N", perForce, forceA.size());
    const Term acrossOnLoad =
        slopeTerm(acrossFit, "dεt/dF", "slope of the transverse strain on the load, 1/N", perForce, forceB.size());
    f.set("nu_load",
          (Term::constant(sign) * acrossOnLoad / onLoad * doubt)
              .named("nu_load", baseUnit(Kind::Number), "Poisson's ratio by the slopes on load", "ASTM E132", 4));
    if (f.section) {
        const Term force = forceDoubt(f.input);
        f.set("E",
              (Term::constant(1) / (onLoad * *f.section) * force * doubt)
                  .named("E", MPa(), "modulus", "slope of the load on the strain over the section", 4));
        againstPublished(f, "E", {"E"});
    } else {
        f.notApplicable({"E"}, "No section is given: ν needs none.");
    }
}

Expected<Done> work(PoissonFigures& f)
{
    std::vector<double> along;
    std::vector<double> across;
    std::vector<size_t> numbers;
    pairs(f.steps, &Step::along, &Step::across, along, across, numbers);
    const SteppedLine line = lineThrough(along, across);
    if (along.size() < 2 || !line.fit.valid()) {
        f.remark("too-few-readings", Severity::Reject, {"nu", "nu_load", "E"},
                 fmt::format("{} of the steps have both strains; a slope needs two at least, five are wanted.",
                             along.size()),
                 "Key the readings of the other steps.");
        return Done{};
    }
    if (along.size() < 5)
        f.remark("few-readings", Severity::Caution, {"nu", "nu_load", "E"},
                 fmt::format("{} readings; five or more are wanted.", along.size()), "");
    const double span = *std::ranges::max_element(along) - *std::ranges::min_element(along);
    std::vector<size_t> off;
    for (const size_t i : offLine(line, across, readingFloor, 0.01))
        off.push_back(numbers[i]);
    if (!off.empty())
        f.remark("reading-off-line", Severity::Caution, {"nu", "nu_load"},
                 fmt::format("Reading {} lies off the line of the others.", stepsText(off)),
                 "Read it again while it can be read, or look for a writing error.");
    const bool positive = line.fit.slope > 0;
    const double sign = positive ? 1 : -1;
    // Makers state their factors to half a per cent; both gauges of one pack share most of it.
    const Term doubt = factorDoubt(0.005, {"gauge factors, ±0.5 % (assumed)", SourceKind::Gauges});
    const Term slope = slopeTerm(line.fit, "dεt/dεl", "slope of the transverse on the longitudinal strain",
                                 baseUnit(Kind::Number), along.size());
    f.set("nu",
          (Term::constant(sign) * slope * doubt)
              .named("nu", baseUnit(Kind::Number), "Poisson's ratio", "ASTM E132, least squares over the steps", 4));
    judgeNu(f, sign * line.fit.slope, positive);

    byLoad(f, span, sign, doubt);
    return Done{};
}

/// Both strains over the load with their lines; without loads, one strain over the other.
void makeView(PoissonFigures& f)
{
    CurveView view;
    view.keyed = f.steps.size() <= mostKeyed;
    const double turned = !f.steps.empty() && f.steps.back().across < 0 ? -1 : 1;
    std::vector<size_t> numbers;
    std::vector<double> along, loads;
    pairs(f.steps, &Step::force, &Step::along, loads, along, numbers);
    const LineFit onLoad = fitLine(loads, along);
    if (loads.size() >= 2 && onLoad.valid() && onLoad.slope > 0) {
        view.xAxis = {"load", Kind::Force};
        view.yAxis = {"strain; across turned", Kind::Strain};
        view.label = "along";
        SecondCurve across{.label = "across"};
        pairs(f.steps, &Step::force, &Step::across, across.x, across.y, numbers);
        for (double& y : across.y)
            y *= turned;
        const LineFit fit = fitLine(across.x, across.y);
        if (fit.valid() && fit.slope != 0) {
            across.slope = fit.slope;
            across.toe = -fit.intercept / fit.slope;
        }
        view.x = std::move(loads);
        view.y = std::move(along);
        view.slope = onLoad.slope;
        view.toe = -onLoad.intercept / onLoad.slope;
        view.straightPoints = onLoad.n;
        view.r2 = onLoad.r2;
        // x counts from where the line along the strip meets zero.
        for (double& x : view.x)
            x -= view.toe;
        for (double& x : across.x)
            x -= view.toe;
        across.toe -= view.toe;
        view.second = std::move(across);
    } else {
        view.xAxis = {"longitudinal strain", Kind::Strain};
        view.yAxis = {"transverse strain, turned", Kind::Strain};
        pairs(f.steps, &Step::along, &Step::across, view.x, view.y, numbers);
        for (double& y : view.y)
            y *= turned;
        const LineFit fit = fitLine(view.x, view.y);
        if (fit.valid() && fit.slope != 0) {
            view.slope = fit.slope;
            view.straightPoints = fit.n;
            view.r2 = fit.r2;
            view.toe = -fit.intercept / fit.slope;
            for (double& x : view.x)
                x -= view.toe;
        }
    }
    if (view.x.size() < 2)
        return;
    view.straightLow = *std::ranges::min_element(view.y);
    view.straightHigh = *std::ranges::max_element(view.y);
    f.outcome.views.emplace_back(std::move(view));
}

} // namespace

Expected<Outcome> evaluatePoisson(const SpecimenInput& input)
{
    static const Method method = poisson();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    PoissonFigures f{input};
    f.begin(method);
    if (auto ok = readOptions(f); !ok)
        return ok.problem();
    auto section = sectionTerm(input, "", "S");
    if (!section)
        return section.problem();
    f.section = *section;
    if (f.section)
        for (Remark& remark : checkReadings(input))
            f.outcome.remarks.push_back(std::move(remark));
    if (input.record) {
        if (auto ok = readSteps(f); !ok)
            return ok.problem();
        if (!f.outcome.remarked("unit-slip")) {
            if (auto ok = work(f); !ok)
                return ok.problem();
            makeView(f);
        }
    } else {
        f.remark("no-record", Severity::Caution, {"nu", "nu_load", "E"}, "There are no readings yet.",
                 "Take them on Load.");
    }
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
