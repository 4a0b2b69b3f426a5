// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_plastic/tension_plastic.h"
#include "methods/tension_plastic/figures.h"

#include "curve/first_maximum.h"
#include "methods/common/figures.h"
#include "methods/common/first_climb.h"
#include "methods/common/section.h"
#include "methods/common/segment_slope.h"
#include "methods/common/toe_correction.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace fortitor {
namespace {

const PrepareRules& plasticRules()
{
    static const PrepareRules rules{{"Et", "sigma_y", "sigma_m", "sigma_b", "eps_y", "eps_m", "eps_b"},
                                    {"Et", "eps_y", "eps_m", "eps_b"},
                                    {"eps_y", "eps_m", "eps_b"},
                                    {"sigma_b", "eps_b", "eps_tb"},
                                    false,
                                    false,
                                    true};
    return rules;
}

Expected<Done> readSlope(PlasticFigures& f, const StressStrain& data)
{
    const auto ends = twoStrains(optionOr(f.input, "segment", "0.05 % 0.25 %"), "segment");
    if (!ends)
        return ends.problem();
    const std::string option = optionOr(f.input, "modulus", "regression");
    const auto slope = slopeBetween(data, ends->first, ends->second,
                                    option == "secant"        ? SegmentRule::Secant
                                        : option == "tangent" ? SegmentRule::Tangent
                                                              : SegmentRule::Regression);
    if (!slope) {
        // Where no slope can be had the origin is the first point clear of noise.
        f.reading.origin = data.strain[firstClearOfNoise(data)];
        f.remark("no-straight-part", Severity::Caution, {"Et"}, slope.problem().text(), slope.problem().advice);
        return Done{};
    }
    f.reading.part = slope->part;
    f.reading.origin = slope->origin;
    return Done{};
}

Expected<Done> readPoints(PlasticFigures& f, StressStrain& data)
{
    PlasticReading& r = f.reading;
    const auto byHand = optionQuantity(f.input, "break_at", Kind::Strain);
    const auto yieldByHand = optionQuantity(f.input, "yield_at", Kind::Strain);
    if (!byHand || !yieldByHand)
        return byHand ? yieldByHand.problem() : byHand.problem();
    r.broken = data.fracture.has_value();
    if (*byHand) {
        data.end = indexAtStrain(data, r.origin + **byHand, data.onset, data.strain.size()) + 1;
        r.broken = true;
        f.remark("moved-by-hand", Severity::Note, {"sigma_b", "eps_b", "eps_tb"},
                 fmt::format("The break was set by hand at {} % strain.", formatFixed(**byHand * 100, 2)),
                 "R on Read goes back to automatic.");
    }
    const auto x = std::span(data.strain).first(data.end);
    const auto y = std::span(data.stress).first(data.end);
    r.last = data.end - 1;
    r.yield = findFirstMaximum(x, y, data.onset, data.noise);
    if (r.yield && !r.broken && !r.yield->level && !goesOnBelow(data, r.yield->peak.index, 0.998 * r.yield->peak.value))
        r.yield.reset();
    if (*yieldByHand) {
        FirstMaximum chosen;
        chosen.peak.index = indexAtStrain(data, r.origin + **yieldByHand, data.onset, data.end);
        chosen.peak.x = x[chosen.peak.index];
        chosen.peak.raw = y[chosen.peak.index];
        chosen.peak.value = valueAround(y, chosen.peak.index);
        r.yield = chosen;
        f.remark("moved-by-hand", Severity::Note, {"sigma_y", "eps_y"},
                 fmt::format("The yield was set by hand at {} % strain.", formatFixed(**yieldByHand * 100, 2)),
                 "R on Read goes back to automatic.");
    }
    const bool greatest = optionOr(f.input, "strength", "first maximum") == "greatest";
    r.maximum = r.yield && !greatest ? r.yield->peak : smoothPeak(x, y, data.noise);
    r.passed = r.broken || r.yield || maximumPassed(data, r.maximum);
    return Done{};
}

Term stressTerm(const PlasticFigures& f, const StressStrain& data, double stress, size_t points,
                const std::string& symbol, const std::string& force, const std::string& words, size_t index)
{
    return (forceAt(stress, f.section->value(), f.doubts, force, words,
                    data.noise / std::sqrt(static_cast<double>(std::max(points, size_t{1}))))
            / *f.section)
        .named(symbol, MPa(), words, "ISO 527-1", 4)
        .on(fmt::format("reading {}", index + 1));
}

void stresses(PlasticFigures& f, const StressStrain& data)
{
    const PlasticReading& r = f.reading;
    const bool raw = optionOr(f.input, "peak", "smooth") == "raw";
    const auto top = [&](const PeakFit& p) { return raw ? p.raw : p.value; };
    if (r.yield)
        f.set("sigma_y",
              stressTerm(f, data, top(r.yield->peak), raw ? 1 : r.yield->peak.n, "sigma_y", "Fy",
                         r.yield->level ? "first maximum, level after it" : "first maximum, falling after it",
                         r.yield->peak.index));
    else if (r.passed || !data.turnedAt)
        f.notApplicable({"sigma_y", "eps_y"}, "The stress climbs to the break: this bar did not yield.");
    if (!r.passed && data.turnedAt)
        f.remark(
            "no-maximum", Severity::Caution, {"sigma_m", "eps_m", "sigma_y", "eps_y"},
            fmt::format("The load was taken off at {} MPa, while the stress still rose: the strength is at least that.",
                        formatSignificant(r.maximum.raw, 4)),
            "Only a run past the yield or to the break gives a strength.");
    else if (!r.passed && data.stress.size() >= keyedAtMost)
        f.remark("lower-bound", Severity::Caution, {"sigma_m", "eps_m", "sigma_y", "eps_y"},
                 "The record ends while the stress still rises: the strength is at least this.",
                 "Was the frame stopped, or the record cut?");
    if (r.passed || !data.turnedAt)
        f.set("sigma_m",
              stressTerm(f, data, top(r.maximum), raw ? 1 : r.maximum.n, "sigma_m", "Fm",
                         "greatest force of the strength", r.maximum.index));
    if (r.broken)
        f.set("sigma_b",
              stressTerm(f, data, valueAround(std::span(data.stress).first(data.end), r.last), 1, "sigma_b", "Fb",
                         "force at the last reading before the break", r.last));
}

void checks(PlasticFigures& f, const StressStrain& data)
{
    const PlasticReading& r = f.reading;
    if (r.part) {
        remarkFit(f, *r.part, {"Et"}, true);
        remarkToe(f, data, *r.part, r.origin, r.maximum.value, {"Et", "eps_y"});
    }
    const double most = std::max(r.part ? r.part->slope() / 2000 : 0.0, 0.01 * r.maximum.value);
    if (data.zeroLeft > 0 && data.zeroLeft / f.section->value() > most)
        f.remark("prestress", Severity::Caution, {"Et", "eps_y"},
                 fmt::format("The grips left {} MPa on the bar before the start, over Et/2000 and 1 % of the strength.",
                             formatSignificant(data.zeroLeft / f.section->value(), 2)),
                 "Ease the clamp load off before the start.");
    const double travel = f.input.instruments.extensionTravel;
    const double strain = r.last > 0 ? data.strain[r.last] - r.origin : 0;
    if (travel > 0 && data.source == StrainSource::Extensometer && !data.removedAt
        && strain * data.gaugeLength > travel)
        f.remark("extensometer-unsuitable", Severity::Caution, {"eps_y", "eps_m", "eps_b"},
                 fmt::format("The bar stretched by {} mm over the gauge length; the extensometer travels {} mm.",
                             formatSignificant(strain * data.gaugeLength, 3), formatSignificant(travel, 3)),
                 "Take it off before the draw, or measure without contact.");
    if (noteOf(f.input, "fracture") == "at the grip")
        f.remark("break-at-grip",
                 optionOr(f.input, "grip_break", "counts") == "is thrown out" ? Severity::Reject : Severity::Caution,
                 {"sigma_m", "sigma_b", "eps_b", "eps_tb"}, "The bar broke at a grip.",
                 "The strength is a lower bound; look at alignment and grip pressure.");
    // Rate while the modulus is read.
    if (r.part && !data.time.empty()) {
        const double dt = data.time[r.part->end - 1] - data.time[r.part->begin];
        const double rate = dt > 0 ? (data.strain[r.part->end - 1] - data.strain[r.part->begin]) / dt : 0;
        if (rate > 0 && (rate < 0.5 / 6000 || rate > 2.0 / 6000))
            f.remark("rate-out-of-range", Severity::Caution, {"Et"},
                     fmt::format("The modulus was run at {:.2g} %/min.", rate * 6000),
                     "1 %/min is usual for Et; faster running stiffens a plastic.");
    }
    againstPublished(f, "Et", {"Et"});
}

void draw(PlasticFigures& f, StressStrain&& data)
{
    const PlasticReading& r = f.reading;
    std::vector<CurveMark> marks;
    const bool same = r.yield && r.yield->peak.index == r.maximum.index;
    if (r.yield)
        marks.push_back({"sigma_y", "σy", r.yield->peak.x, r.yield->peak.value, "yield_at"});
    if (!same)
        marks.push_back({"sigma_m", "σm", r.maximum.x, r.maximum.value, {}});
    if (r.broken)
        marks.push_back({"break",
                         "break",
                         data.strain[r.last],
                         data.stress[r.last],
                         "break_at",
                         false,
                         {},
                         CurveMark::Side::Right});
    const double top = r.maximum.x - r.origin;
    CurveView view = curveFrom(std::move(data), r.part, r.origin, f.section->value(), std::move(marks));
    view.straight = {"segment", "", true};
    view.uniform = top;
    f.outcome.views.emplace_back(std::move(view));
}

Expected<Done> fromRecord(PlasticFigures& f)
{
    auto prepared = prepareStressStrain(f.input, f.section->value(), plasticRules(), f.outcome.remarks);
    if (!prepared)
        return prepared.problem();
    StressStrain& data = *prepared;
    const auto compliance = optionQuantity(f.input, "compliance", Kind::Compliance);
    const bool asked = optionOr(f.input, "strain_from", "extensometer") == "crosshead";
    if (data.source == StrainSource::None) {
        strainIsTheReading(data);
        f.doubts = doubtsOf(f.input, data, 0.002);
        f.strainCounts = false;
        const PeakFit top = smoothPeak(data.strain, std::span(data.stress).first(data.end), data.noise);
        f.reading.maximum = top;
        f.set("sigma_m", stressTerm(f, data, top.value, top.n, "sigma_m", "Fm", "greatest force", top.index));
        f.remark("no-strain", Severity::Caution, {"Et", "sigma_y", "eps_y", "eps_m", "sigma_b", "eps_b", "eps_tb"},
                 "No channel gives a strain; only the greatest stress can be read.",
                 "Import an extension, strain or crosshead column with its unit.");
        return Done{};
    }
    if (auto ok = readSlope(f, data); !ok)
        return ok;
    if (auto ok = readPoints(f, data); !ok)
        return ok;
    f.doubts = doubtsOf(f.input, data, 0.002);
    f.strainCounts = data.source != StrainSource::Crosshead || asked;
    if (f.reading.part && f.strainCounts)
        f.set("Et",
              modulusTerm(f, data, *f.reading.part, f.doubts, "Et",
                          "slope between two strains, ISO 527-1: " + optionOr(f.input, "modulus", "regression")));
    if (data.source == StrainSource::Crosshead)
        f.remark("crosshead-strain", Severity::Caution, {"Et", "eps_y", "eps_m", "eps_b"},
                 "Strain comes from the crosshead, which includes machine and grips.",
                 asked ? "Modulus and strains are apparent values; do not use them as the material's."
                       : "Modulus and extensometer strains are left out; the nominal strain is given.",
                 "strain_from");
    stresses(f, data);
    strains(f, data);
    nominalStrain(f, data, compliance->value_or(0));
    checks(f, data);
    draw(f, std::move(data));
    return Done{};
}

} // namespace

Expected<Outcome> evaluateTensionPlastic(const SpecimenInput& input)
{
    static const Method method = tensionPlastic();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    PlasticFigures f{input};
    f.begin(method);
    auto section = sectionTerm(input, "", "A");
    if (!section)
        return section.problem();
    f.section = *section;
    f.outcome.remarks = checkReadings(input);
    if (!f.section)
        f.remark("missing-dimension", Severity::Reject, {"Et", "sigma_y", "sigma_m", "sigma_b"},
                 "The section is not measured; no stress can be given.", "Enter the readings on Measure.",
                 input.shape == "rectangular" ? "width" : "diameter");
    else if (input.record)
        if (auto ok = fromRecord(f); !ok)
            return ok.problem();
    f.sayMissing({"sigma_b", "eps_b", "eps_tb"}, "no-break-strain",
                 "The record shows no break; nothing can be given at the break.",
                 "Was the frame stopped before the bar broke?");
    f.sayRest();
    return std::move(f.outcome);
}

Expected<Outcome> checkPlasticSet(const SetInput& set)
{
    std::map<std::string, int> bars;
    for (const SpecimenInput* one : set.inputs)
        ++bars[noteOf(*one, "direction")];
    Outcome outcome;
    if (bars.size() < 2)
        return outcome; // one direction: the rule of the whole set says it
    for (const auto& [direction, count] : bars)
        if (count < 5)
            outcome.remarks.push_back({"few-specimens",
                                       Severity::Caution,
                                       {},
                                       fmt::format("{} bars {}; five of each direction are asked for.", count,
                                                   direction.empty() ? "without a direction" : direction),
                                       "Directions are different materials: do not take their figures together.",
                                       {}});
    return outcome;
}

} // namespace fortitor
