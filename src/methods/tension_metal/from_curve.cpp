// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/evaluate_parts.h"

#include "methods/common/toe_correction.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// The strain may be lost before the greatest force: the strength stands on the force alone, and what
/// needs the strain there is left out.
void strengthWithoutStrain(MetalFigures& f, const StressStrain& data)
{
    if (data.forceEnd <= data.end)
        return;
    std::vector<double> index(data.forceEnd);
    for (size_t i = 0; i < index.size(); ++i)
        index[i] = static_cast<double>(i);
    const PeakFit top = smoothPeak(index, std::span(data.stress).first(data.forceEnd), data.noise);
    if (top.index < data.end)
        return;
    f.strainLost = true;
    f.reading->maximum = top;
    f.remark("strain-not-to-maximum", Severity::Caution, {"Agt", "Ag", "n", "K"},
             "The strain ends before the greatest force; what stands on the strain there is left out.",
             "Import the crosshead column, and enter the parallel length.", "parallel_length");
}

void strengths(MetalFigures& f, const StressStrain& data, const SharedDoubts& doubts)
{
    const TensionReading& r = *f.reading;
    if (!f.maximumSeen) {
        f.remark(
            "no-maximum", Severity::Caution, {"Rm", "Agt", "Ag", "n", "K", "yield_ratio"},
            fmt::format("The load was taken off at {} MPa, while the stress still rose: the strength is at least that.",
                        formatSignificant(r.maximum.raw, 4)),
            "Only a run past the greatest force gives a strength.");
        return;
    }
    const bool raw = optionOr(f.input, "peak", "smooth") == "raw";
    const double value = raw ? r.maximum.raw : r.maximum.value;
    const double noise =
        r.maximum.n > 0 && !raw ? data.noise / std::sqrt(static_cast<double>(r.maximum.n)) : data.noise;
    const std::string words = raw ? "greatest force, single reading" : "greatest force, without its noise";
    f.set("Rm",
          (forceAt(value, f.section->value(), doubts, "Fm", words, noise) / *f.section)
              .named("Rm", MPa(), "strength", "ISO 6892-1", 4)
              .on(fmt::format("{} readings about {}", std::max(r.maximum.n, size_t{1}), r.maximum.index + 1)));
    for (Result& result : f.outcome.results)
        if (result.symbol == "Rm")
            result.wouldChange.push_back(
                raw ? fmt::format("smooth top: {} MPa", formatFixed(r.maximum.value, 1))
                    : fmt::format("single highest reading: {} MPa", formatFixed(r.maximum.raw, 1)));
}

void elongations(MetalFigures& f, const StressStrain& data)
{
    const TensionReading& r = *f.reading;
    if (!f.maximumSeen)
        return;
    const bool crosshead = data.source == StrainSource::Crosshead;
    const Term strength = *f.outcome.find("Rm")->derivation;
    const auto& e = f.outcome.find("E")->derivation;
    const Term slope = e ? *e : Term::leaf("m", r.straight.slope(), MPa(), 0, {}, "slope of the curve's straight part");
    if (f.strainLost)
        return;
    const bool yielded = r.maximum.index > r.straight.end || r.proof02;
    if (!crosshead) {
        const Term atMax = strainAtTop(f, data, r.maximum, r.origin, "εm", "strain at the greatest force, as recorded");
        f.set("Agt",
              atMax.named("Agt", percentUnit(), "total strain at the greatest force",
                          "ISO 6892-1; middle of what is flat within the noise"));
        if (yielded)
            f.set("Ag",
                  (atMax - strength / slope)
                      .named("Ag", percentUnit(), "plastic strain at the greatest force", "ISO 6892-1"));
    }
    if (!data.fracture || data.forceEnd > data.end)
        return;
    const Term atBreak =
        strainAtLast(f, data, data.end - 1, r.origin, "εb", "strain at the last point before the fall, as recorded");
    const Term stress = Term::leaf("σb", data.stress[data.end - 1], MPa(), 0, {}, "stress at the break");
    if (!crosshead)
        f.set("At", atBreak.named("At", percentUnit(), "total strain at break", "ISO 6892-1"));
    f.set("A_ext",
          (atBreak - stress / slope)
              .named("A_ext", percentUnit(), "plastic strain at break", "ISO 6892-1, by extensometer"));
    if (crosshead)
        f.remark("crosshead-strain", Severity::Caution, {"A_ext"},
                 "Elongation at break comes from the crosshead and includes the grips.",
                 "Measure the fitted halves for A.");
}

void hardening(MetalFigures& f, const StressStrain& data)
{
    const TensionReading& r = *f.reading;
    if (data.source == StrainSource::Crosshead)
        return;
    if (f.strainLost || !f.maximumSeen) {
        // said with the maximum
    } else if (r.hardeningExponent) {
        const std::string rule = "ln σt on ln of true strain between 2 % (or the end of Ae) and Ag";
        f.set("n",
              Term::leaf("n", *r.hardeningExponent, *findUnit("1"), 0, {}, "slope of ln σt on ln ε")
                  .named("n", *findUnit("1"), "hardening exponent", rule)
                  .on(fmt::format("{} points", r.hardeningPoints)));
        f.set("K",
              Term::leaf("K", *r.hardeningCoefficient, MPa(), 0, {}, "true stress at a true strain of 1")
                  .named("K", MPa(), "hardening coefficient", rule));
    } else {
        f.remark("few-points-hardening", Severity::Caution, {"n", "K"},
                 fmt::format("{} points lie between 2 % strain and the maximum; n and K need ten.", r.hardeningPoints),
                 "The metal may neck too early for them.");
    }
    const Unit& energy = *findUnit("MJ/m³");
    if (r.resilience && (f.has("Rp0.2") || f.has("ReH") || f.has(f.proofSymbol)))
        f.set("Ur",
              Term::leaf("Ur", *r.resilience, energy, 0, {}, "area under the curve up to yield")
                  .named("Ur", energy, "resilience", "trapezoids; the toe replaced by the modulus line"));
    if (r.toughness && data.forceEnd <= data.end)
        f.set("Ut",
              Term::leaf("Ut", *r.toughness, energy, 0, {}, "area under the curve up to the break")
                  .named("Ut", energy, "toughness", "trapezoids; the toe replaced by the modulus line"));
}

/// The rate before yield: method A1 by the extensometer, A2 by the crosshead, B by the stress rate.
void remarkRate(MetalFigures& f, const StressStrain& data)
{
    const TensionReading& r = *f.reading;
    if (data.time.empty() || data.source == StrainSource::Crosshead)
        return;
    const auto at = [&](double stress) {
        return static_cast<size_t>(std::find_if(data.stress.begin() + static_cast<std::ptrdiff_t>(data.onset),
                                                data.stress.end(), [&](double v) { return v >= stress; })
                                   - data.stress.begin());
    };
    const double yield = f.yieldDrops ? r.drop->upper : r.proof02 ? r.proof02->stress : 0;
    const size_t a = at(0.2 * yield);
    const size_t b = at(0.8 * yield);
    if (!(yield > 0) || b >= data.end || b <= a + 2 || !(data.time[b] > data.time[a]))
        return;
    const double stressRate = (data.stress[b] - data.stress[a]) / (data.time[b] - data.time[a]);
    const size_t c = f.yieldDrops ? r.drop->upperIndex : r.proof02->after;
    const size_t near = at(0.95 * yield);
    const double strainRate = c > near && data.time[c] > data.time[near]
        ? (data.strain[c] - data.strain[near]) / (data.time[c] - data.time[near])
        : 0;
    const bool stiff = r.straight.slope() >= 150e3;
    const auto near00025 = [](double rate) { return std::abs(rate / 0.00025 - 1) <= 0.2; };
    const double crossheadRate =
        !data.displacement.empty() && data.parallelLength > 0 && c > near && data.time[c] > data.time[near]
        ? (data.displacement[c] - data.displacement[near]) / (data.time[c] - data.time[near]) / data.parallelLength
        : 0;
    const bool methodA = near00025(strainRate) || near00025(crossheadRate);
    const bool methodB = stiff ? stressRate >= 6 && stressRate <= 60 : stressRate >= 2 && stressRate <= 20;
    if (methodA || methodB)
        f.remark("rate-in-range", Severity::Note, {},
                 methodA ? fmt::format("Rate at yield {:.2g} /s{}, inside the window of method A.",
                                       near00025(strainRate) ? strainRate : crossheadRate,
                                       near00025(strainRate) ? "" : " by crosshead")
                         : fmt::format("Stress rate {:.3g} MPa/s, inside the window of method B.", stressRate));
    else
        f.remark("rate-out-of-range", Severity::Caution, {"ReH", "ReL", "Rp0.2"},
                 fmt::format(
                     "Rate at yield {:.2g} /s and {:.3g} MPa/s: outside method A (0.00025 /s ± 20 %) and method B ({} "
                     "MPa/s).",
                     strainRate, stressRate, stiff ? "6 to 60" : "2 to 20"),
                 "Fast running raises the yield. Set the speed on Plan.");
}

/// Two extensometers on opposite faces: how far the bar bends, at the middle of the straight part.
void remarkBending(MetalFigures& f, const StressStrain& data)
{
    const StraightPart& s = f.reading->straight;
    const auto bending = bendingAt(data, s.begin + (s.end - s.begin) / 2);
    if (!bending)
        return;
    const bool much = std::abs(*bending) > 0.1;
    f.remark("bending", much ? Severity::Caution : Severity::Note, {"E", "Rp0.2"},
             fmt::format("The two faces differ by {} % bending in the straight part.",
                         formatFixed(std::abs(*bending) * 100, 1)),
             much ? "Over 10 %: the mean still serves for E, but look at the alignment of the grips." : "");
}

/// The strength where nothing else can be read: the greatest force over whatever the readings stand on.
void strengthAlone(MetalFigures& f, const StressStrain& data, std::span<const double> x)
{
    const SharedDoubts doubts{forceDoubt(f.input), Term::constant(1)};
    const PeakFit top = smoothPeak(x, std::span(data.stress).first(data.end), data.noise);
    if (!maximumPassed(data, top) && data.turnedAt) {
        f.remark("no-maximum", Severity::Caution, {"Rm"},
                 fmt::format("The load was taken off before the force fell by itself: the strength is at least {} MPa.",
                             formatSignificant(top.raw, 4)),
                 "Was the frame stopped?");
        return;
    }
    if (!maximumPassed(data, top) && data.stress.size() >= keyedAtMost)
        f.remark("lower-bound", Severity::Caution, {"Rm"},
                 "The record ends while the force still rises: the strength is at least this.",
                 "Was the frame stopped, or the record cut?");
    f.set("Rm",
          (forceAt(top.value, f.section->value(), doubts, "Fm", "greatest force", data.noise) / *f.section)
              .named("Rm", MPa(), "strength", "ISO 6892-1"));
}

/// Strength needs no strain.
void withoutStrain(MetalFigures& f, const StressStrain& data)
{
    std::vector<double> index(data.end);
    for (size_t i = 0; i < data.end; ++i)
        index[i] = static_cast<double>(i);
    strengthAlone(f, data, index);
    f.remark("no-strain", Severity::Caution, {"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Agt", "At", "A_ext"},
             "No channel gives a strain; only the strength can be read.",
             "Import an extension, strain or crosshead column with its unit.");
}

/// Modulus and yield; by the crosshead only what needs no true strain, unless asked for.
void modulusAndYield(MetalFigures& f, const StressStrain& data, const SharedDoubts& doubts)
{
    const bool crosshead = data.source == StrainSource::Crosshead;
    const bool asked = optionOr(f.input, "strain_from", "extensometer") == "crosshead";
    if (!crosshead || asked)
        f.set("E",
              modulusTerm(f, data, f.reading->straight, doubts, "E",
                          "least squares over the best window (after ASTM E3076); ISO 6892-1 annex on modulus"));
    if (!crosshead || asked || f.reading->drop) // stresses at the drop need no true strain
        yields(f, data, doubts);
    if (crosshead)
        f.remark("crosshead-strain", Severity::Caution,
                 {"E", "Rp0.2", "Rt0.5", "Agt", "Ag", "At", "n", "K", "Ur", "Ut", "Ae"},
                 "Strain comes from the crosshead, which includes machine and grips.",
                 asked ? "E and proof strength are apparent values; do not use them as the material's."
                       : "E and proof strength are left out. Use an extensometer, or ask for crosshead strain on Plan.",
                 "strain_from");
}

} // namespace

Expected<Done> figuresFromCurve(MetalFigures& f, StressStrain data)
{
    if (data.source == StrainSource::None) {
        withoutStrain(f, data);
        return Done{};
    }
    auto reading = readTensionCurve(f.input, data, f.offset, f.alsoProofs);
    if (!reading) {
        f.remark("no-straight-part", Severity::Reject, {"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Agt", "A_ext"},
                 "No straight part: " + reading.problem().text(), "");
        strengthAlone(f, data, data.strain);
        return Done{};
    }
    if (auto moved = moveMarks(f, data, *reading); !moved)
        return moved;
    f.reading = *reading;
    const double span = data.strain[reading->straight.end - 1] - data.strain[reading->straight.begin];
    const SharedDoubts doubts = doubtsOf(f.input, data, span);
    remarkBending(f, data);
    modulusAndYield(f, data, doubts);
    strengthWithoutStrain(f, data);
    const bool passed = maximumPassed(data, f.reading->maximum) || !optionOr(f.input, "maximum_at", "").empty();
    f.maximumSeen = passed || !data.turnedAt;
    if (!passed && f.maximumSeen && data.stress.size() >= keyedAtMost)
        f.remark("lower-bound", Severity::Caution, {"Rm", "Agt", "Ag", "n", "K", "yield_ratio"},
                 "The record ends while the stress still rises: the strength is at least this.",
                 "Was the frame stopped, or the record cut?");
    strengths(f, data, doubts);
    elongations(f, data);
    hardening(f, data);
    remarkFit(f, reading->straight, {"E", "Rp0.2"});
    remarkToe(f, data, reading->straight, reading->origin, reading->maximum.value,
              {"E", "Rp0.2", "Rt0.5", "Agt", "At"});
    remarkRate(f, data);
    remarkSampling(f, data);
    drawCurve(f, std::move(data));
    return Done{};
}

} // namespace fortitor
