// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/evaluate_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// A doubt in MPa that adds nothing to the value.
Term stressDoubt(double standard, const std::string& source)
{
    return Term::leaf("", 0, MPa(), standard, source);
}

/// How much higher a top may be than its highest reading, MPa: as much as the climb gained in one reading before it.
double besideTop(const StressStrain& data, size_t i)
{
    return i < 2 || i + 1 >= data.end
        ? 0
        : std::max(0.0,
                   std::max(data.stress[i] - data.stress[i - 1], data.stress[i - 1] - data.stress[i - 2])
                       - 4 * data.noise);
}

/// Proof strength with the doubt that line and strain scale bring in: h = Et·E/(E−Et).
Term proofTerm(const MetalFigures& f, const StressStrain& data, const CurvePoint& p, double offset,
               const SharedDoubts& doubts, const std::string& symbol, const std::string& formula)
{
    const StraightPart& s = f.reading->straight;
    const double E = s.slope();
    const double tangent = std::clamp(p.tangent, 0.0, 0.9 * E);
    const double h = E * tangent / (E - tangent);
    const double scale = h * offset * relativeStrainError(f.input, data, p.strain - f.reading->origin) / rectangle;
    const double slopeError = h * (p.stress / E) * s.line.relativeSlopeError();
    const Term force = forceAt(p.stress, f.section->value(), doubts, "Fp", formula, data.noise / 3);
    const Term stress = force / *f.section + stressDoubt(scale, f.input.instruments.extensionName)
        + stressDoubt(slopeError, "fit of the straight part");
    return stress
        .named(symbol, MPa(), formula, "linear between readings; local least-squares line where noise would hide it")
        .on(fmt::format("between readings {} and {}", p.before + 1, p.after + 1));
}

void yields(MetalFigures& f, const StressStrain& data, const SharedDoubts& doubts)
{
    const TensionReading& r = *f.reading;
    const std::string school = optionOr(f.input, "yield", "auto");
    const double So = f.section->value();
    f.yieldDrops = r.drop.has_value() && school != "offset";
    // Between two readings of a sharp top the true one may hide.
    const double between = f.yieldDrops ? besideTop(data, r.drop->upperIndex) : 0;
    const auto stress = [&](double value, const std::string& symbol, const std::string& force, const std::string& words,
                            const std::string& rule, const std::string& points) {
        const Term read = forceAt(value, So, doubts, force, words, data.noise / 3) / *f.section;
        return (symbol == "ReH" && between > 0 ? read + stressDoubt(between / rectangle, "readings apart at the top")
                                               : read)
            .named(symbol, MPa(), words, rule)
            .on(points);
    };
    if (f.yieldDrops) {
        const bool shortCut = optionOr(f.input, "lower_yield", "full") == "short-cut";
        f.set("ReH",
              stress(r.drop->upper, "ReH", "FeH", "first maximum before the drop",
                     "ISO 6892-1: drop of 0.5 %, not exceeded in the next 0.05 %",
                     fmt::format("reading {}", r.drop->upperIndex + 1)));
        f.set("ReL",
              stress(shortCut ? r.drop->lowerShortCut : r.drop->lower, "ReL", "FeL",
                     shortCut                       ? "least force within 0.25 % after ReH"
                         : r.drop->transientLeftOut ? "least force while yielding, first transient left out"
                                                    : "least force while yielding",
                     "ISO 6892-1", fmt::format("reading {}", r.drop->lowerIndex + 1)));
        if (r.drop->extension) {
            const Term ext = Term::leaf("Δε", *r.drop->extension, percentUnit(),
                                        std::hypot(relativeStrainError(f.input, data, *r.drop->extension)
                                                       * *r.drop->extension / rectangle,
                                                   r.drop->extensionDoubt),
                                        f.input.instruments.extensionName, "strain from ReH to the start of hardening");
            f.set("Ae",
                  ext.named("Ae", percentUnit(), "yield-point extension",
                            "the plateau's regression meets the tangent at the start of hardening", 3));
        }
    }
    const bool offsetToo = school == "offset" || (!r.drop && school != "upper-lower");
    if (offsetToo && r.proof02)
        f.set("Rp0.2",
              proofTerm(f, data, *r.proof02, 0.002, doubts, "Rp0.2",
                        "force where the curve meets the modulus line moved by 0.2 %"));
    if (offsetToo && r.proof && f.proofSymbol != "Rp0.2")
        f.set(f.proofSymbol,
              proofTerm(f, data, *r.proof, f.offset, doubts, f.proofSymbol,
                        fmt::format("force where the curve meets the modulus line moved by {:g} %", f.offset * 100)));
    for (size_t i = 0; i < f.alsoProofs.size() && i < r.also.size(); ++i) {
        const auto& [symbol, offset] = f.alsoProofs[i];
        if (r.also[i])
            f.set(symbol,
                  proofTerm(f, data, *r.also[i], offset, doubts, symbol,
                            fmt::format("force where the curve meets the modulus line moved by {:g} %", offset * 100)));
        else
            f.remark("yield-not-reached", Severity::Caution, {symbol},
                     fmt::format("The curve ends before it meets the line at {:g} % offset.", offset * 100));
    }
    if (r.underLoad)
        f.set("Rt0.5", proofTerm(f, data, *r.underLoad, 0.005, doubts, "Rt0.5", "force at 0.5 % total strain"));

    const auto notApplicable = [&](std::vector<std::string> symbols, const std::string& why) {
        f.remark("not-applicable", Severity::Note, std::move(symbols), why);
    };
    if (!r.drop && school != "offset")
        notApplicable({"ReH", "ReL", "Ae"}, "The curve yields without a drop: there is no upper and lower yield.");
    else if (school == "offset")
        notApplicable({"ReH", "ReL", "Ae"},
                      r.drop ? "The curve drops at yield; the chosen option reports the offset."
                             : "The curve yields without a drop, and the chosen option reports the offset.");
    if (!offsetToo)
        notApplicable(f.proofSymbol == "Rp0.2" ? std::vector<std::string>{"Rp0.2"}
                                               : std::vector<std::string>{"Rp0.2", f.proofSymbol},
                      r.drop ? "Yield drops; ReH and ReL take the place of the proof strength."
                             : "The chosen option asks for upper and lower yield only.");
    if (offsetToo && !r.proof02)
        f.remark("yield-not-reached", Severity::Caution, {"Rp0.2"},
                 "The curve ends before it meets the line at 0.2 % offset.",
                 "Was the record stopped, or did the bar break, before yield?");
    if (offsetToo && !r.proof && f.proofSymbol != "Rp0.2")
        f.remark("yield-not-reached", Severity::Caution, {f.proofSymbol},
                 fmt::format("The curve ends before it meets the line at {:g} % offset.", f.offset * 100));
}

/// Where readings stand far apart the true top, or the last strain, may lie between two of them.
void remarkSampling(MetalFigures& f, const StressStrain& data)
{
    const TensionReading& r = *f.reading;
    if (f.yieldDrops) {
        const double step = besideTop(data, r.drop->upperIndex);
        if (step > 0.02 * r.drop->upper)
            f.remark("sampling-coarse", Severity::Caution, {"ReH", "yield_ratio"},
                     fmt::format("The readings next to ReH differ from it by {} %: the true top may lie between them.",
                                 formatFixed(100 * step / r.drop->upper, 1)),
                     "Record faster, or run slower to yield.");
    }
    if (!data.fracture || data.end < 3 || data.forceEnd > data.end)
        return;
    const double last = data.strain[data.end - 1] - data.strain[data.end - 2];
    if (last > 0.02 * (data.strain[data.end - 1] - r.origin))
        f.remark(
            "sampling-coarse", Severity::Caution, {"At", "A_ext", "Ut"},
            fmt::format("The last two readings before the break are {} % strain apart: it may have stretched further.",
                        formatSignificant(100 * last, 2)),
            "Record faster after yield.");
}

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

/// The curve as read becomes the view; the data are used up.
void drawCurve(MetalFigures& f, StressStrain&& data)
{
    const TensionReading& r = *f.reading;
    std::vector<CurveMark> marks;
    if (f.yieldDrops) {
        marks.push_back({"ReH", "ReH", r.drop->upperStrain, r.drop->upper, "upper_yield_at", true});
        marks.push_back({"ReL", "ReL", data.strain[r.drop->lowerIndex], r.drop->lower, "lower_yield_at", true});
    } else if (r.proof) {
        marks.push_back({f.proofSymbol, f.proofSymbol, r.proof->strain, r.proof->stress, {}, true});
    }
    if (!f.strainLost && f.maximumSeen)
        marks.push_back({"Rm", "Rm", r.maximum.x, r.maximum.value, "maximum_at"});
    if (data.fracture && !f.strainLost)
        marks.push_back({"break",
                         "break",
                         data.strain[data.end - 1],
                         data.stress[data.end - 1],
                         "break_at",
                         false,
                         {},
                         CurveMark::Side::Right});
    const bool broke = data.fracture.has_value() && !f.strainLost;
    const double last = data.strain[data.end - 1] - r.origin;
    CurveView view = curveFrom(std::move(data), r.straight, r.origin, f.section->value(), std::move(marks));
    view.straight = {"slope", "manual ", false};
    view.offset = f.offset;
    view.uniform = f.strainLost || !f.maximumSeen ? 0 : r.maximum.x - r.origin;
    if (f.has("Ur"))
        view.areas.push_back({"Ur", 0, f.yieldDrops ? r.drop->upperStrain - r.origin : r.proof->strain - r.origin});
    if (broke && f.has("Ut"))
        view.areas.push_back({"Ut", 0, last});
    f.outcome.views.emplace_back(std::move(view));
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

/// Marks that a person put elsewhere. Each is told in a note.
Expected<Done> moveMarks(MetalFigures& f, StressStrain& data, TensionReading& reading)
{
    const auto x = std::span(data.strain);
    const auto told = [&](std::vector<std::string> symbols, const std::string& what, double strain) {
        f.remark("moved-by-hand", Severity::Note, std::move(symbols),
                 fmt::format("{} was set by hand at {} % strain.", what, formatFixed(strain * 100, 3)),
                 "R on Read goes back to automatic.");
    };
    const auto at = [&](double strain, size_t from) {
        return indexAtStrain(data, reading.origin + strain, from, data.end);
    };
    const auto broken = optionQuantity(f.input, "break_at", Kind::Strain);
    const auto top = optionQuantity(f.input, "maximum_at", Kind::Strain);
    const auto upper = optionQuantity(f.input, "upper_yield_at", Kind::Strain);
    const auto lower = optionQuantity(f.input, "lower_yield_at", Kind::Strain);
    for (const auto* place : {&broken, &top, &upper, &lower})
        if (!*place)
            return place->problem();
    if (*broken) {
        const size_t last = indexAtStrain(data, reading.origin + **broken, reading.straight.end, data.strain.size());
        data.end = data.forceEnd = last + 1;
        data.fracture = Fracture{last};
        auto again = readTensionCurve(f.input, data, f.offset, f.alsoProofs);
        if (!again)
            return again.problem();
        reading = *again;
        told({"At", "A_ext", "Ut"}, "The break", **broken);
    }
    if (*upper && reading.drop) {
        reading.drop->upperIndex = at(**upper, reading.straight.begin);
        reading.drop->upperStrain = x[reading.drop->upperIndex];
        reading.drop->upper = valueAround(data.stress, reading.drop->upperIndex);
        told({"ReH", "Ae"}, "ReH", **upper);
    }
    if (*lower && reading.drop) {
        reading.drop->lowerIndex = at(**lower, reading.straight.begin);
        reading.drop->lower = valueAround(data.stress, reading.drop->lowerIndex);
        told({"ReL"}, "ReL", **lower);
    }
    if (*top) {
        const size_t i = at(**top, reading.straight.begin);
        reading.maximum = {};
        reading.maximum.index = i;
        reading.maximum.x = x[i];
        reading.maximum.raw = data.stress[i];
        reading.maximum.value = valueAround(data.stress, i);
        told({"Rm", "Agt", "Ag"}, "The maximum", **top);
    }
    return Done{};
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

} // namespace

Expected<Done> figuresFromCurve(MetalFigures& f, StressStrain data)
{
    const double So = f.section->value();
    SharedDoubts doubts{factorDoubt(f.input.instruments.forceError, f.input.instruments.forceName), Term::constant(1)};
    const auto asRecorded = [&](std::span<const double> x) {
        const PeakFit top = smoothPeak(x, std::span(data.stress).first(data.end), data.noise);
        if (!maximumPassed(data, top) && data.turnedAt) {
            f.remark(
                "no-maximum", Severity::Caution, {"Rm"},
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
              (forceAt(top.value, So, doubts, "Fm", "greatest force", data.noise) / *f.section)
                  .named("Rm", MPa(), "strength", "ISO 6892-1"));
    };
    if (data.source == StrainSource::None) {
        // Strength needs no strain.
        std::vector<double> index(data.end);
        for (size_t i = 0; i < data.end; ++i)
            index[i] = static_cast<double>(i);
        asRecorded(index);
        f.remark("no-strain", Severity::Caution, {"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Agt", "At", "A_ext"},
                 "No channel gives a strain; only the strength can be read.",
                 "Import an extension, strain or crosshead column with its unit.");
        return Done{};
    }
    auto reading = readTensionCurve(f.input, data, f.offset, f.alsoProofs);
    if (!reading) {
        f.remark("no-straight-part", Severity::Reject, {"E", "ReH", "ReL", "Rp0.2", "Rt0.5", "Agt", "A_ext"},
                 "No straight part: " + reading.problem().text(), "");
        asRecorded(data.strain);
        return Done{};
    }
    if (auto moved = moveMarks(f, data, *reading); !moved)
        return moved;
    f.reading = *reading;
    const double span = data.strain[reading->straight.end - 1] - data.strain[reading->straight.begin];
    doubts = doubtsOf(f.input, data, span);
    remarkBending(f, data);

    const bool crosshead = data.source == StrainSource::Crosshead;
    const bool asked = optionOr(f.input, "strain_from", "extensometer") == "crosshead";
    if (!crosshead || asked)
        f.set("E",
              modulusTerm(f, data, reading->straight, doubts, "E",
                          "least squares over the best window (after ASTM E3076); ISO 6892-1 annex on modulus"));
    if (!crosshead || asked)
        yields(f, data, doubts);
    else if (reading->drop) {
        // Stresses at the drop need no true strain.
        yields(f, data, doubts);
    }
    if (crosshead)
        f.remark("crosshead-strain", Severity::Caution,
                 {"E", "Rp0.2", "Rt0.5", "Agt", "Ag", "At", "n", "K", "Ur", "Ut", "Ae"},
                 "Strain comes from the crosshead, which includes machine and grips.",
                 asked ? "E and proof strength are apparent values; do not use them as the material's."
                       : "E and proof strength are left out. Use an extensometer, or ask for crosshead strain on Plan.",
                 "strain_from");
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
