// SPDX-License-Identifier: GPL-3.0-or-later
// The shear modulus, by the gauge and by the twist.
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

void remarkLine(TorsionFigures& f, const TorsionLine& line, const std::string& symbol)
{
    if (!line.limit.lineAtStart)
        f.remark("no-line-at-start", Severity::Caution, {symbol, "tau_p"},
                 fmt::format("The first readings of {} do not lie on a line.",
                             symbol == "G" ? "the gauge" : "the twist"),
                 "Steps too wide to see the elastic part, a slipping chuck, or a reading off.");
    const size_t used = line.limit.line.n;
    if (used < 4)
        f.remark("few-readings", Severity::Caution, {symbol, "tau_p"},
                 fmt::format("Only {} readings lie on the straight part.", used),
                 "Smaller steps at the beginning tell it better.");
    std::vector<size_t> odd;
    for (const size_t i : line.limit.odd)
        odd.push_back(f.rows[line.rows[i]].number);
    if (!odd.empty())
        f.remark("reading-off-line", Severity::Caution, {symbol},
                 fmt::format("Reading {} lies off the line of the others.", stepsText(odd)),
                 "It is left out of the fit.");
}

/// G = (dT/dγ)/Wp, or with the twist (dT/dθ)·L/(Wp·r).
Term modulusOf(const TorsionFigures& f, const TorsionLine& line, const std::string& symbol, bool twist)
{
    static const Unit perStrain{"N·mm", Kind::Number, 1};
    static const Unit perAngle{"N·mm/rad", Kind::Number, 1};
    const double slope = 1 / line.limit.line.slope;
    const double scatter = line.limit.line.relativeSlopeError();
    const TorsionBar& bar = *f.bar;
    const size_t n = line.limit.line.n;
    const std::string points = fmt::format("{} readings, R² {:.5f}", n, line.limit.line.r2);
    if (!twist) {
        const Term m =
            Term::leaf("dT/dγ", slope, perStrain, slope * scatter, {"scatter of the readings", SourceKind::Fit},
                       "slope of the torque on the shear strain, γ = 2ε45")
                .on(points);
        return (m * f.doubt * factorDoubt(0.005, {"gauge factor, ±0.5 % (assumed)", SourceKind::Gauges}) / bar.modulus)
            .named(symbol, MPa(), "shear modulus", "slope of τ on γ, ASTM E143", 5);
    }
    const double perRadian = slope * 0.5 * bar.outer.value() / bar.length->value();
    const Term m = Term::leaf("dT/dθ", perRadian, perAngle, perRadian * scatter,
                              {"scatter of the readings", SourceKind::Fit}, "slope of the torque on the twist")
                       .on(points);
    const Term half = Term::constant(2) / bar.outer;
    return (m * f.doubt * *bar.length * half / bar.modulus)
        .named(symbol, MPa(), "shear modulus by the twist", "TL/(Jθ)", 5);
}

/// Chucks can only lower the modulus by the twist; more than that, or a twist gauge that disagrees, is a slip.
bool twistDisagrees(double ratio, bool twistGauge)
{
    return ratio > 1.1 || ratio < (twistGauge ? 0.9 : 0.4);
}

} // namespace

void moduli(TorsionFigures& f)
{
    if (f.byGauge) {
        f.set("G", modulusOf(f, *f.byGauge, "G", false));
        remarkLine(f, *f.byGauge, "G");
    }
    if (f.byTwist) {
        f.set("G_twist", modulusOf(f, *f.byTwist, "G_twist", true));
        remarkLine(f, *f.byTwist, "G_twist");
        if (!f.byGauge)
            f.set("G", modulusOf(f, *f.byTwist, "G", true));
        if (!f.twistGauge)
            f.remark("grip-twist", f.byGauge ? Severity::Note : Severity::Caution,
                     f.byGauge ? std::vector<std::string>{"G_twist"} : std::vector<std::string>{"G", "G_twist"},
                     "The twist between the chucks includes what the chucks give: G by it comes out low.",
                     "A 45° gauge, or a twist gauge on the bar, has no chucks in it.");
    }
    if (f.value("G") && f.value("G_twist") && f.byGauge
        && twistDisagrees(*f.value("G_twist") / *f.value("G"), f.twistGauge))
        f.remark("twist-off-gauge", Severity::Caution, {"G_twist", "gamma_b"},
                 fmt::format("G by the twist and by the gauge differ by {} %.",
                             formatFixed(100 * std::abs(*f.value("G_twist") / *f.value("G") - 1), 0)),
                 "A slipping chuck, a wrong length, or a gauge that is not at 45°.");
    if (const auto G = f.value("G"), expected = expectedShearModulus(f.input);
        G && expected && std::abs(*G / *expected - 1) > 0.1)
        f.remark("slope-off-published", Severity::Caution, {"G"},
                 fmt::format("G is {:.0f} % {} the published {} GPa ({}).", std::abs(*G / *expected - 1) * 100,
                             *G > *expected ? "above" : "below", formatSignificant(*expected / 1000, 3),
                             f.input.publishedSource),
                 "Likely, in order: twist with the chucks in it, a gauge not at 45°, γ taken for ε (a factor of 2), a "
                 "wrong unit, a wrong diameter.");
}

} // namespace fortitor
