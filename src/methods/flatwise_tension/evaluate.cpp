// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/flatwise_tension/flatwise_tension.h"

#include "curve/maximum.h"
#include "methods/common/cure.h"
#include "methods/common/figures.h"
#include "methods/common/section.h"
#include "methods/common/toe_correction.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double soonest = 180; // s to the break
constexpr double latest = 360;

const PrepareRules& flatwiseRules()
{
    static const PrepareRules rules{{"Fz_tu", "E_z", "eps_z"}, {"E_z", "eps_z"}, {"eps_z"}, {}};
    return rules;
}

struct FlatwiseFigures : Figures {
    using Figures::Figures;
    std::optional<StraightPart> part;
    double origin = 0;
    PeakFit maximum;
    SharedDoubts doubts{Term::constant(1), Term::constant(1)};
};

/// E_z from a pick-up over the whole thickness.
Expected<Done> modulus(FlatwiseFigures& f, StressStrain& data)
{
    const auto h = lengthTerm(f.input, "thickness", "h", "mean thickness");
    if (!h || !(h->value() > 0)) {
        f.remark("missing-dimension", Severity::Caution, {"E_z", "eps_z"},
                 "The thickness is not measured; the pick-up's motion can't be made a strain.", "Enter it on Measure.",
                 "thickness");
        return Done{};
    }
    auto straight = straightPartByOption(f.input, data);
    if (!straight) {
        f.remark("no-straight-part", Severity::Caution, {"E_z", "eps_z"}, straight.problem().text(),
                 straight.problem().advice);
        return Done{};
    }
    f.part = *straight;
    f.origin = straight->origin();
    f.doubts = doubtsOf(f.input, data, data.strain[straight->end - 1] - data.strain[straight->begin]);
    f.set("E_z",
          modulusTerm(f, data, *straight, f.doubts, "E_z",
                      "least squares over the best window; pick-up over the thickness"));
    f.set("eps_z",
          strainAtTop(f, data, f.maximum, f.origin, "εm", "strain at the greatest force, as recorded")
              .named("eps_z", percentUnit(), "strain at the greatest force", "ASTM C297", 3));
    remarkFit(f, *straight, {"E_z"});
    remarkToe(f, data, *straight, f.origin, f.maximum.value, {"E_z", "eps_z"});
    return Done{};
}

void checkTime(FlatwiseFigures& f, const StressStrain& data)
{
    if (data.time.empty())
        return;
    const double took = data.time[f.maximum.index] - data.time[data.onset];
    if (took > 0 && (took < soonest || took > latest))
        f.remark("rate-out-of-range", Severity::Caution, {"Fz_tu"},
                 fmt::format("It broke after {} min; 3 to 6 min are wanted.", formatFixed(took / 60, 1)),
                 "Set the crosshead speed on Plan by what the first specimen took.");
}

/// The greatest force over the section; its place set by hand on the crosshead's way.
void strength(FlatwiseFigures& f, const StressStrain& data, std::optional<double> byHand)
{
    f.maximum = smoothPeak(data.strain, std::span(data.stress).first(data.end), data.noise);
    if (byHand && data.source == StrainSource::Crosshead) {
        const double place = *byHand / data.gaugeLength + data.strain[data.onset];
        f.maximum = {};
        f.maximum.index = indexAtStrain(data, place, data.onset, data.end);
        f.maximum.x = data.strain[f.maximum.index];
        f.maximum.raw = f.maximum.value = valueAround(data.stress, f.maximum.index);
        f.remark("moved-by-hand", Severity::Note, {"Fz_tu"}, "The maximum was set by hand.",
                 "R on Read goes back to automatic.");
    }
    const bool raw = optionOr(f.input, "peak", "smooth") == "raw";
    f.set("Fz_tu",
          (forceAt(raw ? f.maximum.raw : f.maximum.value, f.section->value(), f.doubts, "Fmax",
                   raw ? "greatest force, single reading" : "greatest force, without its noise", data.noise)
           / *f.section)
              .named("Fz_tu", MPa(), "flatwise tensile strength", "ASTM C297", 4)
              .on(fmt::format("reading {}", f.maximum.index + 1)));
}

/// The crosshead is for the picture only: it includes blocks, pins and frame.
void draw(FlatwiseFigures& f, StressStrain&& data)
{
    const bool travel = data.source == StrainSource::Crosshead;
    std::vector<CurveMark> marks{{"Fz_tu", "Fz_tu", f.maximum.x, f.maximum.value, travel ? "maximum_at" : ""}};
    if (travel)
        f.origin = data.strain[data.onset];
    const double length = data.gaugeLength;
    CurveView view = curveFrom(std::move(data), f.part, f.origin, f.section->value(), std::move(marks));
    if (f.part)
        view.straight = {"slope", "manual ", false};
    if (travel) {
        view.xAxis = {"crosshead", Kind::Length};
        for (double& v : view.x)
            v *= length;
        for (CurveMark& m : view.marks)
            m.x *= length;
        view.length = 0;
    }
    f.outcome.views.emplace_back(std::move(view));
}

Expected<Done> fromRecord(FlatwiseFigures& f)
{
    const auto byHand = optionQuantity(f.input, "maximum_at", Kind::Length);
    if (!byHand)
        return byHand.problem();
    auto prepared = prepareStressStrain(f.input, f.section->value(), flatwiseRules(), f.outcome.remarks);
    if (!prepared)
        return prepared.problem();
    StressStrain& data = *prepared;
    f.doubts = doubtsOf(f.input, data, 0.005);
    const bool pickUp = data.source == StrainSource::Extensometer || data.source == StrainSource::StrainChannel;
    if (data.source == StrainSource::None)
        strainIsTheReading(data);
    strength(f, data, *byHand);
    if (pickUp) {
        if (auto ok = modulus(f, data); !ok)
            return ok;
    } else {
        f.notApplicable({"E_z", "eps_z"},
                        "No displacement pick-up on the specimen: the crosshead includes blocks, pins and frame.");
    }
    if (!data.fracture)
        f.remark("lower-bound", Severity::Caution, {"Fz_tu", "eps_z"},
                 "The record ends without a break: the strength is at least this.", "Was the frame stopped?");
    checkTime(f, data);
    if (data.source == StrainSource::None)
        return Done{};
    draw(f, std::move(data));
    return Done{};
}

void failurePlace(FlatwiseFigures& f)
{
    const std::string place = noteOf(f.input, "failure_place");
    if (place == "block adhesive")
        f.remark("adhesive-failure", Severity::Reject, {"Fz_tu"},
                 "It failed in the block adhesive: the figure is the adhesive's, not the panel's.",
                 "It leaves the set. Choose a stronger adhesive, or look at roughening and cure.", "failure_place");
    else if (place.empty() && f.input.record)
        f.remark("failure-not-noted", Severity::Caution, {"Fz_tu"}, "The place of failure is not noted.",
                 "Pick it on the cross-section on Read: block-adhesive failures do not count.", "failure_place");
}

} // namespace

Expected<Outcome> evaluateFlatwiseTension(const SpecimenInput& input)
{
    static const Method method = flatwiseTension();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    SpecimenInput block = input;
    block.dimensions["extensometer_gauge_length"] =
        input.dimensions.contains("thickness") ? input.dimensions.at("thickness") : std::vector<Quantity>{};
    block.dimensions["grip_distance"] = block.dimensions["extensometer_gauge_length"];
    FlatwiseFigures f{block};
    f.begin(method);
    const auto a = lengthTerm(input, "width", "a", "width");
    const auto b = lengthTerm(input, "length", "b", "length");
    f.outcome.remarks = checkDimensions(input, {"width", "length", "thickness"});
    if (a && b) {
        if (!(a->value() > 0) || !(b->value() > 0))
            return Problem{input.label + ", dimensions", "a width or length of zero", "both above zero",
                           "Measure the block again."};
        f.section = (*a * *b).named("A", baseUnit(Kind::Area), "bonded area");
    }
    if (const auto cure = cureRemark(input, {"Fz_tu"}))
        f.outcome.remarks.push_back(*cure);
    failurePlace(f);
    if (!f.section)
        f.remark("missing-dimension", Severity::Reject, {"Fz_tu", "E_z", "eps_z"},
                 "Width or length is not measured; no stress can be given.", "Enter them on Measure.",
                 a ? "length" : "width");
    else if (input.record)
        if (auto ok = fromRecord(f); !ok)
            return ok.problem();
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
