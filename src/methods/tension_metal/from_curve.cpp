// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/evaluate_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double rectangle = 1.7320508075688772; // half width ÷ this: standard uncertainty

const Unit& percent()
{
    return *findUnit("%", Kind::Strain);
}

/// Doubts that several figures share: one object a specimen, so that they cancel in ratios.
struct SharedDoubts {
    Term force;
    Term strain;
};

double relativeStrainError(const SpecimenInput& input, const StressStrain& data, double strainSpan)
{
    if (data.source == StrainSource::Crosshead)
        return 0.05;
    if (data.gaugeLength > 0)
        return std::max(input.instruments.extensionError, input.instruments.extensionFloor / std::max(strainSpan * data.gaugeLength, 1e-9));
    return input.instruments.extensionError;
}

Term factorDoubt(double relative, const std::string& source)
{
    return Term::leaf("", 1, baseUnit(Kind::Number), relative / rectangle, source);
}

Term forceAt(double stress, double section, const SharedDoubts& doubts, const std::string& symbol, const std::string& description, double noise)
{
    const double force = stress * section;
    const Unit& unit = force >= 1000 ? *findUnit("kN") : baseUnit(Kind::Force);
    const Term read = Term::leaf(symbol, force, unit, noise * section, "noise of the force", description);
    return (read * doubts.force).named(symbol, unit, description);
}

/// A doubt in MPa that adds nothing to the value.
Term stressDoubt(double standard, const std::string& source)
{
    return Term::leaf("", 0, MPa(), standard, source);
}

std::string pointsText(size_t from, size_t to)
{
    return fmt::format("readings {} to {}", from + 1, to);
}

void modulus(MetalFigures& f, const StressStrain& data, const SharedDoubts& doubts)
{
    const StraightPart& s = f.reading->straight;
    const double So = f.section->value();
    const std::string note = fmt::format("{}, R² {:.5f}", pointsText(s.begin, s.end), s.line.r2);
    if (data.gaugeLength > 0) {
        const double perLength = s.slope() * So / data.gaugeLength;
        static const Unit kNmm{"kN/mm", Kind::Number, 1e3};
        const Term slope = Term::leaf("m", perLength, kNmm, perLength * s.line.relativeSlopeError(), "fit of the straight part", "slope of force on extension");
        const Term length = Term::leaf("Le", data.gaugeLength, baseUnit(Kind::Length), 0, {}, data.source == StrainSource::Crosshead ? "length the crosshead motion is divided by" : "extensometer gauge length");
        f.set("E", ((slope * doubts.force * doubts.strain) * length / *f.section).named("E", MPa(), "slope of the straight part", "least squares over the best window (after ASTM E3076); ISO 6892-1 annex on modulus", 5).on(note));
    } else {
        const double perStrain = s.slope() * So / 1000;
        const Term slope = Term::leaf("m", perStrain * 1000, *findUnit("kN"), perStrain * 1000 * s.line.relativeSlopeError(), "fit of the straight part", "slope of force on strain");
        f.set("E", (slope * doubts.force * doubts.strain / *f.section).named("E", MPa(), "slope of the straight part", "least squares over the best window (after ASTM E3076); ISO 6892-1 annex on modulus", 5).on(note));
    }
}

/// Proof strength with the doubt that line and strain scale bring in: h = Et·E/(E−Et).
Term proofTerm(const MetalFigures& f, const StressStrain& data, const CurvePoint& p, double offset, const SharedDoubts& doubts, const std::string& symbol, const std::string& formula)
{
    const StraightPart& s = f.reading->straight;
    const double E = s.slope();
    const double tangent = std::clamp(p.tangent, 0.0, 0.9 * E);
    const double h = E * tangent / (E - tangent);
    const double scale = h * offset * relativeStrainError(f.input, data, p.strain - f.reading->origin) / rectangle;
    const double slopeError = h * (p.stress / E) * s.line.relativeSlopeError();
    const Term force = forceAt(p.stress, f.section->value(), doubts, "Fp", formula, data.noise / 3);
    const Term stress = force / *f.section + stressDoubt(scale, f.input.instruments.extensionName) + stressDoubt(slopeError, "fit of the straight part");
    return stress.named(symbol, MPa(), formula, "linear between readings; local least-squares line where noise would hide it").on(fmt::format("between readings {} and {}", p.before + 1, p.after + 1));
}

void yields(MetalFigures& f, const StressStrain& data, const SharedDoubts& doubts)
{
    const TensionReading& r = *f.reading;
    const std::string school = optionOr(f.input, "yield", "auto");
    const double So = f.section->value();
    f.yieldDrops = r.drop.has_value() && school != "offset";
    const auto stress = [&](double value, const std::string& symbol, const std::string& force, const std::string& words, const std::string& rule, const std::string& points) {
        return (forceAt(value, So, doubts, force, words, data.noise / 3) / *f.section).named(symbol, MPa(), words, rule).on(points);
    };
    if (f.yieldDrops) {
        const bool shortCut = optionOr(f.input, "lower_yield", "full") == "short-cut";
        f.set("ReH", stress(r.drop->upper, "ReH", "FeH", "first maximum before the drop", "ISO 6892-1: drop of 0.5 %, not exceeded in the next 0.05 %", fmt::format("reading {}", r.drop->upperIndex + 1)));
        f.set("ReL", stress(shortCut ? r.drop->lowerShortCut : r.drop->lower, "ReL", "FeL", shortCut ? "least force within 0.25 % after ReH" : r.drop->transientLeftOut ? "least force while yielding, first transient left out" : "least force while yielding", "ISO 6892-1", fmt::format("reading {}", r.drop->lowerIndex + 1)));
        if (r.drop->extension) {
            const Term ext = Term::leaf("Δε", *r.drop->extension, percent(), relativeStrainError(f.input, data, *r.drop->extension) * *r.drop->extension / rectangle, f.input.instruments.extensionName, "strain from ReH to the start of hardening");
            f.set("Ae", ext.named("Ae", percent(), "yield-point extension", "horizontal through the last minimum meets the steepest tangent after it", 3));
        }
    }
    const bool offsetToo = school == "offset" || (!r.drop && school != "upper-lower");
    if (offsetToo && r.proof02)
        f.set("Rp0.2", proofTerm(f, data, *r.proof02, 0.002, doubts, "Rp0.2", "force where the curve meets the modulus line moved by 0.2 %"));
    if (offsetToo && r.proof && f.proofSymbol != "Rp0.2")
        f.set(f.proofSymbol, proofTerm(f, data, *r.proof, f.offset, doubts, f.proofSymbol, fmt::format("force where the curve meets the modulus line moved by {:g} %", f.offset * 100)));
    if (r.underLoad)
        f.set("Rt0.5", proofTerm(f, data, *r.underLoad, 0.005, doubts, "Rt0.5", "force at 0.5 % total strain"));

    const auto notApplicable = [&](std::vector<std::string> symbols, const std::string& why) { f.remark("not-applicable", Severity::Note, std::move(symbols), why); };
    if (!r.drop && school != "offset")
        notApplicable({"ReH", "ReL", "Ae"}, "The curve yields without a drop: there is no upper and lower yield.");
    else if (school == "offset")
        notApplicable({"ReH", "ReL", "Ae"}, r.drop ? "The curve drops at yield; the chosen school reports the offset." : "The curve yields without a drop, and the chosen school reports the offset.");
    if (!offsetToo)
        notApplicable(f.proofSymbol == "Rp0.2" ? std::vector<std::string>{"Rp0.2"} : std::vector<std::string>{"Rp0.2", f.proofSymbol},
                      r.drop ? "Yield drops; ReH and ReL take the place of the proof strength." : "The chosen school asks for upper and lower yield only.");
    if (offsetToo && !r.proof02)
        f.remark("yield-not-reached", Severity::Caution, {"Rp0.2"}, "The curve ends before it meets the line at 0.2 % offset.", "Was the record stopped, or did the bar break, before yield?");
    if (offsetToo && !r.proof && f.proofSymbol != "Rp0.2")
        f.remark("yield-not-reached", Severity::Caution, {f.proofSymbol}, fmt::format("The curve ends before it meets the line at {:g} % offset.", f.offset * 100));
}

void strengths(MetalFigures& f, const StressStrain& data, const SharedDoubts& doubts)
{
    const TensionReading& r = *f.reading;
    const bool raw = optionOr(f.input, "peak", "smooth") == "raw";
    const double value = raw ? r.maximum.raw : r.maximum.value;
    const double noise = r.maximum.n > 0 && !raw ? data.noise / std::sqrt(static_cast<double>(r.maximum.n)) : data.noise;
    const std::string words = raw ? "greatest force, single reading" : "greatest force, without its noise";
    f.set("Rm", (forceAt(value, f.section->value(), doubts, "Fm", words, noise) / *f.section).named("Rm", MPa(), "strength", "ISO 6892-1", 4)
                    .on(fmt::format("{} readings about {}", std::max(r.maximum.n, size_t{1}), r.maximum.index + 1)));
    for (Result& result : f.outcome.results)
        if (result.symbol == "Rm")
            result.wouldChange.push_back(raw ? fmt::format("smooth top: {} MPa", formatFixed(r.maximum.value, 1)) : fmt::format("single highest reading: {} MPa", formatFixed(r.maximum.raw, 1)));
}

void elongations(MetalFigures& f, const StressStrain& data)
{
    const TensionReading& r = *f.reading;
    const bool crosshead = data.source == StrainSource::Crosshead;
    const auto strainTerm = [&](double strain, const std::string& symbol, const std::string& words) {
        double relative = relativeStrainError(f.input, data, strain);
        if (data.crossheadAfterRemoval && strain + r.origin > data.strain[*data.removedAt])
            relative = 0.05;
        const Term read = Term::leaf(symbol, strain + r.origin, percent(), relative * strain / rectangle, relative >= 0.05 ? "crosshead strain" : f.input.instruments.extensionName, words);
        return read - Term::leaf("ε0", r.origin, percent(), 0, {}, "where the modulus line meets zero stress");
    };
    const Term strength = *f.outcome.find("Rm")->derivation;
    const auto& e = f.outcome.find("E")->derivation;
    const Term slope = e ? *e : Term::leaf("m", r.straight.slope(), MPa(), 0, {}, "slope of the curve's straight part");
    const bool yielded = r.maximum.index > r.straight.end || r.proof02;
    if (!crosshead) {
        const Term atMax = strainTerm(r.maximum.x - r.origin, "εm", "strain at the greatest force, as recorded");
        f.set("Agt", atMax.named("Agt", percent(), "total strain at the greatest force", "ISO 6892-1; middle of the plateau if flat"));
        if (yielded)
            f.set("Ag", (atMax - strength / slope).named("Ag", percent(), "plastic strain at the greatest force", "ISO 6892-1"));
    }
    if (!data.fracture)
        return;
    const double strain = data.strain[data.end - 1] - r.origin;
    const Term atBreak = strainTerm(strain, "εb", "strain at the last point before the fall, as recorded");
    const Term stress = Term::leaf("σb", data.stress[data.end - 1], MPa(), 0, {}, "stress at the break");
    if (!crosshead)
        f.set("At", atBreak.named("At", percent(), "total strain at break", "ISO 6892-1"));
    f.set("A_ext", (atBreak - stress / slope).named("A_ext", percent(), "plastic strain at break", "ISO 6892-1, by extensometer"));
    if (crosshead)
        f.remark("crosshead-strain", Severity::Caution, {"A_ext"}, "Elongation at break comes from the crosshead and includes the grips.", "Measure the fitted halves for A.");
}

void hardening(MetalFigures& f, const StressStrain& data)
{
    const TensionReading& r = *f.reading;
    if (data.source == StrainSource::Crosshead)
        return;
    if (r.hardeningExponent) {
        const std::string rule = "ln σt on ln of true strain between 2 % (or the end of Ae) and Ag";
        f.set("n", Term::leaf("n", *r.hardeningExponent, *findUnit("1"), 0, {}, "slope of ln σt on ln ε").named("n", *findUnit("1"), "hardening exponent", rule).on(fmt::format("{} points", r.hardeningPoints)));
        f.set("K", Term::leaf("K", *r.hardeningCoefficient, MPa(), 0, {}, "true stress at a true strain of 1").named("K", MPa(), "hardening coefficient", rule));
    } else {
        f.remark("few-points-hardening", Severity::Caution, {"n", "K"}, fmt::format("{} points lie between 2 % strain and the maximum; n and K need ten.", r.hardeningPoints), "The metal may neck too early for them.");
    }
    const Unit& energy = *findUnit("MJ/m³");
    if (r.resilience && (f.has("Rp0.2") || f.has("ReH") || f.has(f.proofSymbol)))
        f.set("Ur", Term::leaf("Ur", *r.resilience, energy, 0, {}, "area under the curve up to yield").named("Ur", energy, "resilience", "trapezoids; the foot replaced by the modulus line"));
    if (r.toughness)
        f.set("Ut", Term::leaf("Ut", *r.toughness, energy, 0, {}, "area under the curve up to the break").named("Ut", energy, "toughness", "trapezoids; the foot replaced by the modulus line"));
}

/// The curve as read becomes the view; the data are used up.
void drawCurve(MetalFigures& f, StressStrain&& data)
{
    const TensionReading& r = *f.reading;
    CurveView view;
    const size_t to = data.fracture ? std::min(data.stress.size(), data.end) : data.end;
    const size_t from = data.onset > 20 ? data.onset - 20 : 0;
    const auto mark = [&](const std::string& id, const std::string& label, double strain, double stress) { view.marks.push_back({id, label, strain - r.origin, stress}); };
    if (f.yieldDrops) {
        mark("ReH", "ReH", r.drop->upperStrain, r.drop->upper);
        mark("ReL", "ReL", data.strain[r.drop->lowerIndex], r.drop->lower);
    } else if (r.proof) {
        mark(f.proofSymbol, f.proofSymbol, r.proof->strain, r.proof->stress);
    }
    mark("Rm", "Rm", r.maximum.x, r.maximum.value);
    if (data.fracture)
        mark("break", "break", data.strain[data.end - 1], data.stress[data.end - 1]);
    view.straightLow = r.straight.line.at(data.strain[r.straight.begin]);
    view.straightHigh = r.straight.line.at(data.strain[r.straight.end - 1]);
    view.slope = r.straight.slope();
    view.straightPoints = r.straight.line.n;
    view.r2 = r.straight.line.r2;
    view.toe = r.toe;
    view.offset = f.offset;
    if (data.crossheadAfterRemoval)
        view.crossheadFrom = *data.removedAt - std::min(*data.removedAt, from);
    const auto keep = [&](std::vector<double>& column) {
        column.erase(column.begin() + static_cast<std::ptrdiff_t>(to), column.end());
        column.erase(column.begin(), column.begin() + static_cast<std::ptrdiff_t>(from));
        return std::move(column);
    };
    view.strain = keep(data.strain);
    view.stress = keep(data.stress);
    for (double& e : view.strain)
        e -= r.origin;
    f.outcome.curve = std::move(view);
}

void remarkStraightPart(MetalFigures& f, const StressStrain& data)
{
    const TensionReading& r = *f.reading;
    const StraightPart& s = r.straight;
    if (s.fewPoints)
        f.remark("few-points-elastic", Severity::Caution, {"E", "Rp0.2"}, fmt::format("Only {} readings lie on the straight part.", s.line.n), "Record faster, or run slower to yield.");
    else if (s.line.r2 < 0.9995 || s.line.relativeSlopeError() > 0.01)
        f.remark("slope-poor-fit", Severity::Caution, {"E", "Rp0.2"}, fmt::format("The straight part is not very straight: R² {:.5f}, S_m {:.2f} %.", s.line.r2, 100 * s.line.relativeSlopeError()),
                 "Look at the foot and at the extensometer; move the ends by hand if the picture shows why.");
    else if (std::max(std::abs(s.trendLow), std::abs(s.trendHigh)) > 0.015)
        f.remark("slope-trend", Severity::Caution, {"E"}, fmt::format("The straight part bends: its lower third is {} % {}, its upper third {} % {} than the whole.", formatFixed(100 * std::abs(s.trendLow), 1), s.trendLow < 0 ? "flatter" : "steeper", formatFixed(100 * std::abs(s.trendHigh), 1), s.trendHigh < 0 ? "flatter" : "steeper"),
                 "Foot or rounding reaches into it, or the noise hides where it ends. Move the ends by hand if the picture shows why.");
    if (std::abs(r.toe) > 2e-5)
        f.remark("toe-corrected", Severity::Note, {"E", "Rp0.2", "Rt0.5", "Agt", "At"}, fmt::format("A foot of {} % strain was taken off.", formatSignificant(r.toe * 100, 2)), "Slack in the grips. The dashed line in the magnifier shows where zero now is.");
    const double foot = s.line.at(data.strain[s.begin]);
    if (r.toe > 1e-4 && foot > 0.3 * r.maximum.value)
        f.remark("toe-large", Severity::Caution, {"E", "Rp0.2"}, fmt::format("The foot reaches up to {} % of the maximum.", formatFixed(100 * foot / r.maximum.value, 0)), "Look at grips and alignment; the modulus stands on what is left.");
}

/// The rate before yield: method A1 by the extensometer, A2 by the crosshead, B by the stress rate.
void remarkRate(MetalFigures& f, const StressStrain& data)
{
    const TensionReading& r = *f.reading;
    if (data.time.empty() || data.source == StrainSource::Crosshead)
        return;
    const auto at = [&](double stress) { return static_cast<size_t>(std::find_if(data.stress.begin() + static_cast<std::ptrdiff_t>(data.onset), data.stress.end(), [&](double v) { return v >= stress; }) - data.stress.begin()); };
    const double yield = f.yieldDrops ? r.drop->upper : r.proof02 ? r.proof02->stress : 0;
    const size_t a = at(0.2 * yield);
    const size_t b = at(0.8 * yield);
    if (!(yield > 0) || b >= data.end || b <= a + 2 || !(data.time[b] > data.time[a]))
        return;
    const double stressRate = (data.stress[b] - data.stress[a]) / (data.time[b] - data.time[a]);
    const size_t c = f.yieldDrops ? r.drop->upperIndex : r.proof02->after;
    const size_t near = at(0.95 * yield);
    const double strainRate = c > near && data.time[c] > data.time[near] ? (data.strain[c] - data.strain[near]) / (data.time[c] - data.time[near]) : 0;
    const bool stiff = r.straight.slope() >= 150e3;
    const auto near00025 = [](double rate) { return std::abs(rate / 0.00025 - 1) <= 0.2; };
    const double crossheadRate = !data.displacement.empty() && data.parallelLength > 0 && c > near && data.time[c] > data.time[near]
        ? (data.displacement[c] - data.displacement[near]) / (data.time[c] - data.time[near]) / data.parallelLength : 0;
    const bool methodA = near00025(strainRate) || near00025(crossheadRate);
    const bool methodB = stiff ? stressRate >= 6 && stressRate <= 60 : stressRate >= 2 && stressRate <= 20;
    if (methodA || methodB)
        f.remark("rate-in-range", Severity::Note, {}, methodA ? fmt::format("Rate at yield {:.2g} /s{}, inside the window of method A.", near00025(strainRate) ? strainRate : crossheadRate, near00025(strainRate) ? "" : " by crosshead") : fmt::format("Stress rate {:.3g} MPa/s, inside the window of method B.", stressRate));
    else
        f.remark("rate-out-of-range", Severity::Caution, {"ReH", "ReL", "Rp0.2"}, fmt::format("Rate at yield {:.2g} /s and {:.3g} MPa/s: outside method A (0.00025 /s ± 20 %) and method B ({} MPa/s).", strainRate, stressRate, stiff ? "6 to 60" : "2 to 20"),
                 "Fast running raises the yield. Set the speed on Plan.");
}

} // namespace

void figuresFromCurve(MetalFigures& f, StressStrain data)
{
    const double So = f.section->value();
    SharedDoubts doubts{factorDoubt(f.input.instruments.forceError, f.input.instruments.forceName), Term::constant(1)};
    if (data.source == StrainSource::None) {
        // Strength needs no strain.
        std::vector<double> index(data.end);
        for (size_t i = 0; i < data.end; ++i)
            index[i] = static_cast<double>(i);
        const PeakFit top = smoothPeak(index, std::span(data.stress).first(data.end));
        f.set("Rm", (forceAt(top.value, So, doubts, "Fm", "greatest force", data.noise) / *f.section).named("Rm", MPa(), "strength", "ISO 6892-1"));
        f.remark("no-strain", Severity::Caution, {"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Agt", "At", "A_ext"}, "No channel gives a strain; only the strength can be read.", "Import an extension, strain or crosshead column with its unit.");
        return;
    }
    auto reading = readTensionCurve(f.input, data, f.offset);
    if (!reading) {
        f.remark("no-straight-part", Severity::Reject, {"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Agt", "A_ext"}, "No straight part: " + reading.problem().text(), "");
        const PeakFit top = smoothPeak(data.strain, std::span(data.stress).first(data.end));
        f.set("Rm", (forceAt(top.value, So, doubts, "Fm", "greatest force", data.noise) / *f.section).named("Rm", MPa(), "strength", "ISO 6892-1"));
        return;
    }
    f.reading = *reading;
    const double span = data.strain[reading->straight.end - 1] - data.strain[reading->straight.begin];
    doubts.strain = factorDoubt(relativeStrainError(f.input, data, span), data.source == StrainSource::Crosshead ? "crosshead strain" : f.input.instruments.extensionName);

    const bool crosshead = data.source == StrainSource::Crosshead;
    const bool asked = optionOr(f.input, "strain_from", "extensometer") == "crosshead";
    if (!crosshead || asked)
        modulus(f, data, doubts);
    if (!crosshead || asked)
        yields(f, data, doubts);
    else if (reading->drop) {
        // Stresses at the drop need no true strain.
        yields(f, data, doubts);
    }
    if (crosshead)
        f.remark("crosshead-strain", Severity::Caution, {"E", "Rp0.2", "Rt0.5", "Agt", "Ag", "At", "n", "K", "Ur", "Ut", "Ae"}, "Strain comes from the crosshead, which includes machine and grips.",
                 asked ? "E and proof strength are apparent values; do not use them as the material's." : "E and proof strength are left out. Use an extensometer, or ask for crosshead strain on Plan.", "strain_from");
    strengths(f, data, doubts);
    elongations(f, data);
    hardening(f, data);
    remarkStraightPart(f, data);
    remarkRate(f, data);
    drawCurve(f, std::move(data));
}

} // namespace fortitor
