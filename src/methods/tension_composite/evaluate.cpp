// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_composite/tension_composite.h"

#include "curve/maximum.h"
#include "methods/common/figures.h"
#include "methods/common/section.h"
#include "methods/common/segment_slope.h"
#include "methods/common/toe_correction.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double mostBending = 0.1;

const PrepareRules& compositeRules()
{
    static const PrepareRules rules{
        {"E_chord", "sigma_max", "eps_max"}, {"E_chord", "eps_max", "nu12", "By"}, {"eps_max"}, {}};
    return rules;
}

struct CompositeFigures : Figures {
    using Figures::Figures;
    std::optional<StraightPart> part;
    double origin = 0;
    PeakFit maximum;
    SharedDoubts doubts{Term::constant(1), Term::constant(1)};
};

/// −Δε across over Δε along between the ends of the chord, by least squares.
void poisson(CompositeFigures& f, const StressStrain& data)
{
    if (data.transverse.empty()) {
        f.notApplicable({"nu12"}, "No channel holds the strain across.");
        return;
    }
    std::vector<double> along;
    std::vector<double> across;
    for (size_t i = f.part->begin; i < f.part->end; ++i)
        if (std::isfinite(data.transverse[i])) {
            along.push_back(data.strain[i]);
            across.push_back(data.transverse[i]);
        }
    const LineFit line = fitLine(along, across);
    if (!line.valid() || along.size() < 3) {
        f.remark("no-transverse", Severity::Caution, {"nu12"}, "The strain across has no readings over the chord.",
                 "Look at the transverse gauge and its wire.");
        return;
    }
    const double nu = -line.slope;
    f.set("nu12",
          Term::leaf("ν", nu, baseUnit(Kind::Number),
                     std::abs(nu)
                         * std::max(line.relativeSlopeError(),
                                    f.input.instruments.extensionError * std::sqrt(2.0) / rectangle),
                     {"fit and both gauges", SourceKind::Gauges}, "slope of strain across on strain along")
              .named("nu12", baseUnit(Kind::Number), "Poisson's ratio", "−Δε across / Δε along over the chord", 3)
              .on(pointsText(f.part->begin, f.part->end)));
    if (nu < 0 || nu > 0.8)
        f.remark("poisson-unusual", Severity::Caution, {"nu12"},
                 fmt::format("A Poisson's ratio of {:.2f} is unusual.", nu),
                 "Channels exchanged, or a sign turned? Angle plies can reach 0.8.");
}

void bending(CompositeFigures& f, const StressStrain& data, double from, double to)
{
    const size_t middle = indexAtStrain(data, f.origin + (from + to) / 2, data.onset, data.end);
    const auto by = bendingAt(data, middle);
    if (!by) {
        f.notApplicable({"By"}, "Strain comes from one face only.");
        return;
    }
    f.set("By",
          Term::leaf("By", *by, percentUnit(), 0, {}, "(front − back) / (front + back) at the middle of the chord")
              .named("By", percentUnit(), "bending", "ASTM D3039", 3)
              .on(fmt::format("reading {}", middle + 1)));
    if (std::abs(*by) > mostBending)
        f.remark("bending", Severity::Caution, {"E_chord", "sigma_max", "By"},
                 fmt::format("Front and back differ by {} % bending, over 10 %.", formatFixed(std::abs(*by) * 100, 1)),
                 "Look at the alignment of the grips and at tabs of unequal thickness.");
}

/// The strain where two straight lines meet that fit the curve best together.
std::optional<double> transitionStrain(std::span<const double> x, std::span<const double> y)
{
    const size_t bins = std::min<size_t>(x.size(), 200);
    if (bins < 20)
        return std::nullopt;
    std::vector<double> bx;
    std::vector<double> by;
    for (size_t b = 0; b < bins; ++b) {
        const size_t i = b * (x.size() - 1) / (bins - 1);
        bx.push_back(x[i]);
        by.push_back(valueAround(y, i));
    }
    double best = 1e300;
    std::optional<double> at;
    for (size_t k = bins / 10; k + bins / 10 < bins; ++k) {
        const LineFit low = fitLine(std::span(bx).first(k), std::span(by).first(k));
        const LineFit high = fitLine(std::span(bx).subspan(k), std::span(by).subspan(k));
        const double rest = low.residualRms * low.residualRms * static_cast<double>(k)
            + high.residualRms * high.residualRms * static_cast<double>(bins - k);
        if (rest < best && std::abs(low.slope - high.slope) > 0.03 * std::abs(low.slope)) {
            best = rest;
            at = (high.intercept - low.intercept) / (low.slope - high.slope);
        }
    }
    return at;
}

void strainAtMaximum(CompositeFigures& f, const StressStrain& data)
{
    if (data.removedAt && f.maximum.index > *data.removedAt) {
        f.remark("strain-not-to-break", Severity::Caution, {"eps_max"},
                 "The strain stops before the greatest force; what the crosshead shows after it is no strain of the "
                 "laminate.",
                 "Leave the extensometer on if it can stand the burst, or use gauges.");
        return;
    }
    f.set("eps_max",
          strainAtTop(f, data, f.maximum, f.origin, "εm", "strain at the greatest force, as recorded")
              .named("eps_max", percentUnit(), "strain at the greatest force", "ASTM D3039", 4));
}

void failureCode(CompositeFigures& f)
{
    const std::string parts[] = {noteOf(f.input, "failure_kind"), noteOf(f.input, "failure_area"),
                                 noteOf(f.input, "failure_place")};
    if (parts[0].empty() || parts[1].empty() || parts[2].empty())
        return;
    std::string words;
    for (const std::string& p : parts)
        words += (words.empty() ? "" : ", ") + (p.size() > 2 ? p.substr(2) : p);
    f.remark("failure-code", Severity::Note, {},
             fmt::format("Failure {}{}{}: {}.", parts[0][0], parts[1][0], parts[2][0], words));
}

void draw(CompositeFigures& f, StressStrain&& data)
{
    std::vector<CurveMark> marks{{"sigma_max", "σmax", f.maximum.x, f.maximum.value, "maximum_at"}};
    std::vector<double> bend;
    std::vector<double> bendX;
    for (size_t k = 1; k <= 120; ++k) {
        const size_t i = data.onset + (f.maximum.index - data.onset) * k / 120;
        if (const auto b = bendingAt(data, i)) {
            bend.push_back(*b);
            bendX.push_back(data.strain[i] - f.origin);
        }
    }
    const double top = f.maximum.x - f.origin;
    CurveView view = curveFrom(std::move(data), f.part, f.origin, f.section->value(), std::move(marks));
    view.straight = {"chord", "", true};
    view.uniform = top;
    view.bending = std::move(bend);
    view.bendingX = std::move(bendX);
    f.outcome.views.emplace_back(std::move(view));
}

/// The chord, and where strain counts from.
void findChord(CompositeFigures& f, StressStrain& data, const std::pair<double, double>& ends)
{
    if (data.source == StrainSource::None) {
        strainIsTheReading(data);
        f.remark("no-strain", Severity::Caution, {"E_chord", "eps_max", "nu12", "By"},
                 "No channel gives a strain; only the strength can be read.",
                 "Import an extension or strain column with its unit.");
    } else if (auto slope = slopeBetween(data, ends.first, ends.second, SegmentRule::Secant); !slope) {
        f.origin = data.strain[data.onset];
        f.remark("no-straight-part", Severity::Caution, {"E_chord", "nu12", "By"}, slope.problem().text(),
                 slope.problem().advice);
    } else {
        f.part = slope->part;
        f.origin = slope->origin;
    }
}

void strength(CompositeFigures& f, const StressStrain& data, std::optional<double> byHand)
{
    f.maximum = smoothPeak(data.strain, std::span(data.stress).first(data.end), data.noise);
    if (byHand) {
        f.maximum = {};
        f.maximum.index = indexAtStrain(data, f.origin + *byHand, data.onset, data.end);
        f.maximum.x = data.strain[f.maximum.index];
        f.maximum.raw = f.maximum.value = valueAround(data.stress, f.maximum.index);
        f.remark("moved-by-hand", Severity::Note, {"sigma_max", "eps_max"},
                 fmt::format("The maximum was set by hand at {} % strain.", formatFixed(*byHand * 100, 3)),
                 "R on Read goes back to automatic.");
    }
    const bool raw = optionOr(f.input, "peak", "smooth") == "raw";
    f.set("sigma_max",
          (forceAt(raw ? f.maximum.raw : f.maximum.value, f.section->value(), f.doubts, "Fm",
                   raw ? "greatest force, single reading" : "greatest force, without its noise", data.noise)
           / *f.section)
              .named("sigma_max", MPa(), "strength", "ASTM D3039, ISO 527-4", 4)
              .on(fmt::format("reading {}", f.maximum.index + 1)));
}

void transition(CompositeFigures& f, const StressStrain& data)
{
    const auto x = std::span(data.strain).subspan(data.onset, f.maximum.index - data.onset + 1);
    const auto y = std::span(data.stress).subspan(data.onset, f.maximum.index - data.onset + 1);
    if (const auto at = transitionStrain(x, y))
        f.set("eps_transition",
              Term::leaf("εt", *at - f.origin, percentUnit(), 0, {}, "where two straight parts meet")
                  .named("eps_transition", percentUnit(), "transition strain", "two lines that fit the curve best"));
    else
        f.remark("no-transition", Severity::Caution, {"eps_transition"},
                 "The curve has no two straight parts that differ by 3 %.", "");
}

Expected<Done> fromRecord(CompositeFigures& f)
{
    const auto ends = twoStrains(optionOr(f.input, "chord", "0.1 % 0.3 %"), "chord");
    if (!ends)
        return ends.problem();
    const auto byHand = optionQuantity(f.input, "maximum_at", Kind::Strain);
    if (!byHand)
        return byHand.problem();
    auto prepared = prepareStressStrain(f.input, f.section->value(), compositeRules(), f.outcome.remarks);
    if (!prepared)
        return prepared.problem();
    StressStrain& data = *prepared;
    const bool crosshead = data.source == StrainSource::Crosshead;
    const bool asked = optionOr(f.input, "strain_from", "extensometer") == "crosshead";
    findChord(f, data, *ends);
    f.doubts = doubtsOf(f.input, data, ends->second - ends->first);
    strength(f, data, *byHand);
    if (crosshead)
        f.remark("crosshead-strain", Severity::Caution, {"E_chord", "eps_max", "nu12", "By"},
                 "Strain comes from the crosshead, which includes machine and grips.",
                 asked ? "The modulus is an apparent value; do not use it as the laminate's."
                       : "Modulus and strains are left out. Use an extensometer or gauges.",
                 "strain_from");
    if (f.part && (!crosshead || asked)) {
        f.set("E_chord",
              modulusTerm(f, data, *f.part, f.doubts, "E_chord",
                          "chord between " + optionOr(f.input, "chord", "0.1 % 0.3 %") + " from the corrected origin"));
        poisson(f, data);
        bending(f, data, ends->first, ends->second);
        remarkFit(f, *f.part, {"E_chord"}, true);
        remarkToe(f, data, *f.part, f.origin, f.maximum.value, {"E_chord", "eps_max"});
        againstPublished(f, "E_chord", {"E_chord"});
    }
    if (data.source != StrainSource::None && !crosshead)
        strainAtMaximum(f, data);
    if (f.part && optionOr(f.input, "transition", "none") == "find")
        transition(f, data);
    if (!data.fracture)
        f.remark("lower-bound", Severity::Caution, {"sigma_max", "eps_max"},
                 "The record ends without a break: the strength is at least this.", "Was the frame stopped?");
    if (data.source != StrainSource::None)
        draw(f, std::move(data));
    return Done{};
}

} // namespace

Expected<Outcome> evaluateTensionComposite(const SpecimenInput& input)
{
    static const Method method = tensionComposite();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    CompositeFigures f{input};
    f.begin(method);
    if (optionOr(input, "transition", "none") == "find")
        f.outcome.results.push_back({"eps_transition", &percentUnit(), {}, {}, {}, {}});
    auto section = sectionTerm(input, "", "A");
    if (!section)
        return section.problem();
    f.section = *section;
    f.outcome.remarks = checkReadings(input);
    failureCode(f);
    if (!f.section)
        f.remark("missing-dimension", Severity::Reject, {"E_chord", "sigma_max"},
                 "The section is not measured; no stress can be given.", "Enter the readings on Measure.",
                 input.shape == "round" ? "diameter" : "width");
    else if (input.record)
        if (auto ok = fromRecord(f); !ok)
            return ok.problem();
    f.sayRest();
    return std::move(f.outcome);
}

Expected<Outcome> checkCompositeSet(const SetInput& set)
{
    size_t coded = 0;
    size_t grips = 0;
    for (const SpecimenInput* one : set.inputs) {
        const std::string kind = noteOf(*one, "failure_kind");
        const std::string area = noteOf(*one, "failure_area");
        coded += kind.empty() && area.empty() ? 0 : 1;
        grips += kind.starts_with("G") || area.starts_with("I") || area.starts_with("A") ? 1 : 0;
    }
    Outcome outcome;
    if (coded > 0 && grips * 2 > set.inputs.size())
        outcome.remarks.push_back(
            {"grip-failures",
             Severity::Caution,
             {"sigma_max"},
             fmt::format("{} of {} strips failed at the grips or tabs, more than half.", grips, set.inputs.size()),
             "The strength of the set is too low: look at tabs, grip pressure and alignment, and test again.",
             {}});
    return outcome;
}

} // namespace fortitor
