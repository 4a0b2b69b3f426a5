// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/torsion/figures.h"
#include "methods/torsion/nadai.h"
#include "methods/torsion/torsion.h"

#include "methods/common/section.h"
#include "methods/common/stepped.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {


/// The nominal curve: by the gauge while it lasts, then by the twist, less what the chucks give.
struct NominalCurve {
    std::vector<double> strain, stress;
    std::vector<size_t> row;
    size_t twistFrom = 0; ///< index from which the twist goes on; 0: never
};

NominalCurve nominal(const TorsionFigures& f)
{
    NominalCurve c;
    const bool gauge = f.byGauge.has_value();
    const double give =
        gauge && f.byTwist ? 1 / f.byTwist->modulus - 1 / f.byGauge->modulus : 0; // of the chucks, strain a stress
    double offset = unread;
    for (size_t i = 0; i < f.rows.size(); ++i) {
        const TorsionRow& r = f.rows[i];
        const double tau = f.stress(r.torque);
        const double turned = f.shear(r.twist) - give * tau;
        double g = gauge ? r.gauge : f.shear(r.twist);
        if (gauge && !std::isnan(g) && !std::isnan(turned))
            offset = g - turned;
        if (gauge && std::isnan(g) && !std::isnan(offset)) {
            g = turned + offset;
            if (c.twistFrom == 0 && f.lost && i >= *f.lost && !std::isnan(g))
                c.twistFrom = c.strain.size();
        }
        if (std::isnan(g))
            continue;
        c.strain.push_back(g);
        c.stress.push_back(tau);
        c.row.push_back(i);
    }
    return c;
}

/// Where the nominal curve meets the line moved by the offset, between two readings.
std::optional<CurveMark> offsetYield(TorsionFigures& f, const NominalCurve& c, const TorsionLine& line, double offset)
{
    const auto below = [&](size_t i) { return line.modulus * (c.strain[i] - line.origin - offset) - c.stress[i]; };
    for (size_t i = 1; i < c.strain.size() && c.row[i] <= std::max(f.top, c.row.size() > 1 ? c.row[1] : 0); ++i) {
        if (below(i) < 0 || below(i - 1) > 0)
            continue;
        const double a = below(i - 1);
        const double b = below(i);
        const double share = b - a > 0 ? -a / (b - a) : 0;
        const double tau = c.stress[i - 1] + share * (c.stress[i] - c.stress[i - 1]);
        const TorsionRow& one = f.rows[c.row[i - 1]];
        const TorsionRow& two = f.rows[c.row[i]];
        const double torque = one.torque + share * (two.torque - one.torque);
        const double step = std::abs(two.torque - one.torque);
        const Term T = Term::leaf("Tp", torque, *findUnit("N·m"), 0.1 * step / rectangle,
                                  {"between two readings", SourceKind::Steps}, "torque at the offset")
                           .on(fmt::format("between readings {} and {}", one.number, two.number));
        f.set("tau_p",
              (T * f.doubt / f.bar->modulus)
                  .named("tau_p", MPa(), "yield by offset",
                         fmt::format("T/Wp at {} % offset, nominal", formatSignificant(100 * offset, 2)), 4));
        if (step > 0.15 * torque)
            f.remark("coarse-steps", Severity::Caution, {"tau_p"},
                     fmt::format("The yield lies between readings {} and {}, {} % apart in torque.", one.number,
                                 two.number, formatFixed(100 * step / torque, 0)),
                     "Smaller steps there tell it better.");
        return CurveMark{"tau_p", "tau_p", line.origin + offset + tau / line.modulus, tau, {}};
    }
    f.remark("offset-not-reached", Severity::Caution, {"tau_p"},
             "The curve does not come to the offset: nothing yields in these readings.",
             "A brittle bar, or the twist ended early.");
    return std::nullopt;
}

void topFigures(TorsionFigures& f)
{
    static const Unit& newtonMetre = *findUnit("N·m");
    const TorsionRow& top = f.rows[f.top];
    // Where it broke on the way to the next step, its torque was not read.
    const double step = f.top > 0 && f.top + 1 == f.rows.size() && f.rows.size() <= mostKeyed
        ? std::max(0.0, top.torque - f.rows[f.top - 1].torque)
        : 0;
    if (step > 0)
        f.remark("max-load-between", Severity::Note, {"T_max", "tau_max", "tau_u"},
                 fmt::format(
                     "The greatest torque is the last one read: at a break on the way to the next step it was greater, "
                     "by up to about {}.",
                     formatQuantity(step, baseUnit(Kind::Torque))),
                 "Key the torque at the break alone, without a twist, where it was seen.");
    const Term T = (Term::leaf("Tmax", top.torque, newtonMetre, step / rectangle,
                               {"step of the torque at the end", SourceKind::Steps}, "greatest torque")
                        .on(fmt::format("reading {}", top.number))
                    * f.doubt)
                       .named("T_max", newtonMetre, "greatest torque", {}, 4);
    f.set("T_max", T);
    f.set("tau_max",
          (T / f.bar->modulus)
              .named("tau_max", MPa(), "nominal modulus of rupture", f.bar->inner ? "16TD/(π(D⁴−d⁴))" : "16T/(πd³)",
                     4));
    f.set("tau_u",
          (T / f.bar->plastic)
              .named("tau_u", MPa(), "shear stress, section fully plastic",
                     f.bar->inner ? "12T/(π(D³−d³))" : "12T/(πd³)", 4));
    if (f.bar->inner) {
        f.notApplicable({"tau_N"}, "Nádai's correction is for solid bars.");
        return;
    }
    std::vector<double> theta, torque;
    for (const TorsionRow& r : f.rows)
        if (!std::isnan(r.twist)) {
            theta.push_back(r.twist);
            torque.push_back(r.torque);
        }
    const auto last = std::ranges::max_element(torque);
    if (theta.size() < 3 || *last < top.torque) {
        f.remark("no-twist", Severity::Caution, {"tau_N"},
                 "The twist at the greatest torque is not known: no slope of the torque for Nádai's correction.",
                 "Read the twist at every step.");
        return;
    }
    const auto at = static_cast<size_t>(last - torque.begin());
    const NadaiSlope slope = nadaiSlope(theta, torque, at);
    static const Unit perAngle{"N·mm/rad", Kind::Number, 1};
    const Term d =
        Term::leaf("dT/dθ", slope.slope, perAngle, slope.error, {"slope of the torque at the end", SourceKind::Steps},
                   "slope of the torque on the twist at the greatest torque")
            .on(fmt::format("{} readings", slope.readings));
    const Term angle = Term::leaf("θ", theta[at], baseUnit(Kind::Angle), 0, {}, "twist there");
    f.set("tau_N",
          (Term::constant(4) * (angle * d * f.doubt + Term::constant(3) * T)
           / (Term::pi() * square(f.bar->outer) * f.bar->outer))
              .named("tau_N", MPa(), "true shear stress at the surface, Nádai", "(4/(πd³))·(θ·dT/dθ + 3T)", 4));
}

/// The stress across the section for each of the three, for the Working.
void profiles(TorsionFigures& f)
{
    const auto put = [&](const char* symbol, StressProfile profile) {
        for (Result& r : f.outcome.results)
            if (r.symbol == symbol && r.value)
                r.profile = std::move(profile);
    };
    const double inner = f.bar->inner ? f.bar->inner->value() / f.bar->outer.value() : 0;
    const auto two = [&](const char* symbol, double atInner, const char* words) {
        if (const auto v = f.value(symbol))
            put(symbol, {{inner, 1}, {*v * atInner, *v}, words});
    };
    two("tau_max", inner, "as if elastic: grows with the radius");
    two("tau_u", 1, "as if fully plastic: the same at every radius");
    if (!f.value("tau_N"))
        return;
    std::vector<double> theta, torque;
    for (const TorsionRow& r : f.rows)
        if (!std::isnan(r.twist) && r.number <= f.rows[f.top].number) {
            theta.push_back(r.twist);
            torque.push_back(r.torque);
        }
    StressProfile profile{{0}, {0}, "by Nádai: from the readings themselves"};
    const double d = f.bar->outer.value();
    for (size_t i = 1; i + 1 < theta.size(); ++i) {
        const double before = theta[i] - theta[i - 1];
        const double after = theta[i + 1] - theta[i];
        if (!(before > 0) || !(after > 0) || !(theta[i] > 0))
            continue;
        // The tangent of the parabola through three readings.
        const double slope =
            ((torque[i] - torque[i - 1]) / before * after + (torque[i + 1] - torque[i]) / after * before)
            / (before + after);
        profile.radius.push_back(theta[i] / theta.back());
        profile.stress.push_back(4 / (std::numbers::pi * d * d * d) * (theta[i] * slope + 3 * torque[i]));
    }
    profile.radius.push_back(1);
    profile.stress.push_back(*f.value("tau_N"));
    if (profile.radius.size() > 2)
        put("tau_N", std::move(profile));
}

void endFigures(TorsionFigures& f)
{
    const auto last =
        std::find_if(f.rows.rbegin(), f.rows.rend(), [](const TorsionRow& r) { return !std::isnan(r.twist); });
    if (last == f.rows.rend()) {
        if (!f.outcome.remarked("degree-for-radian") && !f.outcome.remarked("columns-swapped"))
            f.notApplicable({"turns", "gamma_b", "G_twist"}, "The twist was not read.");
        return;
    }
    const Unit& rev = *findUnit("rev");
    const Term angle =
        Term::leaf("θ", last->twist, rev, 0, {}, "greatest twist").on(fmt::format("reading {}", last->number));
    f.set("turns", angle.named("turns", rev, "twist at the last reading", {}, 3));
    if (f.bar->length)
        f.set("gamma_b",
              (f.bar->outer * Term::leaf("θ", last->twist, baseUnit(Kind::Angle), 0, {}, "greatest twist")
               / (Term::constant(2) * *f.bar->length))
                  .named("gamma_b", percentUnit(), "surface shear strain at the last reading", "rθ/L", 3));
}

/// What the break looks like, in words.
void readFracture(TorsionFigures& f)
{
    const std::string look = noteOf(f.input, "fracture");
    const auto end = f.value("gamma_b");
    if (look == "at the chuck") {
        f.remark("break-at-grip", Severity::Caution, {"tau_max", "tau_u", "tau_N", "turns", "gamma_b"},
                 "It broke at the chuck: the jaws notch the bar there.",
                 "The figures are lower bounds; a waisted bar breaks between the chucks.");
    } else if (look == "flat across") {
        f.remark("fracture-ductile", Severity::Note, {},
                 "Flat across: it failed along the plane of the greatest shear. Ductile.");
        if (end && *end < 0.02)
            f.remark("fracture-odd", Severity::Caution, {"gamma_b", "turns"},
                     fmt::format("A flat break after a shear strain of {} % only does not fit a ductile bar.",
                                 formatFixed(100 * *end, 1)),
                     "Look again, or see whether readings are missing.");
    } else if (look == "helix at 45°") {
        f.remark("fracture-brittle", Severity::Note, {},
                 "A helix at 45°: it was torn across the greatest tension. Brittle.");
        if (end && *end > 0.3)
            f.remark("fracture-odd", Severity::Caution, {"gamma_b", "turns"},
                     fmt::format("A helix after a shear strain of {} % does not fit a brittle bar.",
                                 formatFixed(100 * *end, 0)),
                     "Look again at the break.");
    }
}

void makeView(TorsionFigures& f, NominalCurve&& c, const TorsionLine* line, std::optional<double> offset,
              std::optional<CurveMark> mark)
{
    if (c.strain.size() < 2)
        return;
    CurveView view;
    view.xAxis = {"shear strain", Kind::Strain};
    view.yAxis = {"shear stress, nominal", Kind::Stress};
    view.other = {{"twist", Kind::Angle}, {"torque", Kind::Torque}};
    view.x = std::move(c.strain);
    view.y = std::move(c.stress);
    view.section = f.bar->modulus.value();
    view.length = f.bar->length ? 2 * f.bar->length->value() / f.bar->outer.value() : 0;
    view.crossheadFrom = c.twistFrom;
    view.crossheadWords = "gauge lost";
    view.offsetOption = "shear_offset";
    view.offsetMark = "tau_p";
    view.keyed = view.x.size() <= mostKeyed;
    if (line) {
        view.slope = line->modulus;
        view.toe = line->origin;
        view.straightLow = f.stress(f.rows[line->rows[line->limit.begin]].torque);
        view.straightHigh = line->last;
        view.straightPoints = line->limit.line.n;
        view.r2 = line->limit.line.r2;
        view.offset = offset;
        for (double& x : view.x)
            x -= view.toe;
        if (mark) {
            mark->x -= view.toe;
            view.marks.push_back(*mark);
        }
    }
    f.outcome.views.emplace_back(std::move(view));
}

Expected<Done> work(TorsionFigures& f, double offset)
{
    const auto division = optionQuantity(f.input, "twist_division", Kind::Angle);
    if (!division)
        return division.problem();
    if (auto ok = readTorsionRows(f); !ok)
        return ok;
    if (f.rows.empty()) {
        if (!f.outcome.remarked("unit-slip"))
            f.remark("too-few-readings", Severity::Reject, allOfTorsion, "No reading has a torque.",
                     "Key the readings.");
        return Done{};
    }
    f.doubt = forceDoubt(f.input);
    f.twistGauge = optionOr(f.input, "twist_from", "between the chucks") == "by a twist gauge";
    findTorsionLines(f, division->value_or(0.1 / degreesOfRadian));
    const TorsionLine* line = f.byGauge ? &*f.byGauge : f.byTwist ? &*f.byTwist : nullptr;
    moduli(f);
    NominalCurve curve = nominal(f);
    std::optional<CurveMark> mark;
    if (line)
        mark = offsetYield(f, curve, *line, offset);
    else if (!f.outcome.remarked("degree-for-radian") && !f.outcome.remarked("columns-swapped"))
        f.remark("too-few-readings", Severity::Reject, ofTorsionLine,
                 f.rows.size() < 3 ? fmt::format("{} readings; a line needs three at least.", f.rows.size())
                                   : "No straight part is found: the strain does not grow with the torque.",
                 "Key the other readings, or look for exchanged columns.");
    topFigures(f);
    profiles(f);
    endFigures(f);
    readFracture(f);
    makeView(f, std::move(curve), line, line ? std::optional(offset) : std::nullopt, mark);
    return Done{};
}

} // namespace

std::optional<ExpectedMaximum> expectTorsion(const SpecimenInput& input)
{
    const auto strength = input.published.find("Rm");
    const auto yield = input.published.find("yield");
    TorsionFigures f{input};
    if (strength == input.published.end() || !readTorsionBar(f) || !f.bar)
        return std::nullopt;
    const double toShear = 1 / std::numbers::sqrt3;
    return ExpectedMaximum{strength->second * toShear * f.bar->plastic.value(),
                           yield == input.published.end() ? 0 : yield->second * toShear * f.bar->modulus.value(),
                           fmt::format("Rm {} MPa ({}) over √3 on the whole section",
                                       formatSignificant(strength->second, 3), input.publishedSource)};
}

Expected<Outcome> evaluateTorsion(const SpecimenInput& input)
{
    static const Method method = torsion();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    TorsionFigures f{input};
    f.begin(method);
    const auto offset = optionQuantity(input, "shear_offset", Kind::Strain);
    if (!offset)
        return offset.problem();
    if (*offset && !(**offset > 0 && **offset < 0.05))
        return Problem{"options.shear_offset", input.options.at("shear_offset"), "an offset such as 0.2 %", {}};
    if (auto ok = readTorsionBar(f); !ok)
        return ok.problem();
    for (Remark& remark : checkDimensions(input, {"diameter", "outer_diameter", "wall"}))
        f.outcome.remarks.push_back(std::move(remark));
    if (!input.record)
        f.remark("no-record", Severity::Caution, allOfTorsion, "There are no readings yet.", "Take them on Load.");
    else if (f.bar)
        if (auto ok = work(f, offset->value_or(0.002)); !ok)
            return ok.problem();
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
