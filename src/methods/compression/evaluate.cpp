// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/compression/compression.h"

#include "curve/first_maximum.h"
#include "curve/proof_point.h"
#include "methods/common/figures.h"
#include "methods/common/first_climb.h"
#include "methods/common/section.h"
#include "methods/common/toe_correction.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

constexpr double mostSlender = 3.05; // height over least width; one cut to three times its width is not slender
constexpr double mostOfEuler = 0.4;

const PrepareRules& compressionRules()
{
    static const PrepareRules rules{{"E", "Rp0.2", "sigma_y", "sigma_max", "sigma_at_strain"},
                                    {"E", "Rp0.2", "sigma_at_strain"},
                                    {"sigma_at_strain"},
                                    {},
                                    true};
    return rules;
}

struct CompressionFigures : Figures {
    using Figures::Figures;
    std::optional<StraightPart> part;
    double origin = 0;
    double offset = 0.002;
    std::optional<CurvePoint> proof;
    std::optional<FirstMaximum> yield;
    PeakFit maximum;
    bool comesDown = false; ///< the stress fell again, so that its maximum is one
    SharedDoubts doubts{Term::constant(1), Term::constant(1)};
};

Term stressTerm(const CompressionFigures& f, const StressStrain& data, double stress, const std::string& symbol,
                const std::string& force, const std::string& words, const std::string& rule, size_t index)
{
    return (forceAt(stress, f.section->value(), f.doubts, force, words, data.noise / 3) / *f.section)
        .named(symbol, MPa(), words, rule, 4)
        .on(fmt::format("reading {}", index + 1));
}

Expected<Done> readMaximum(CompressionFigures& f, const StressStrain& data)
{
    const auto byHand = optionQuantity(f.input, "maximum_at", Kind::Strain);
    if (!byHand)
        return byHand.problem();
    const auto x = std::span(data.strain).first(data.end);
    const auto y = std::span(data.stress).first(data.end);
    f.maximum = smoothPeak(x, y, data.noise);
    f.yield = findFirstMaximum(x, y, data.onset, data.noise);
    // The way back does not count: the maximum must have been passed while still going down.
    f.comesDown = maximumPassed(data, f.maximum);
    if (*byHand) {
        f.maximum = {};
        f.maximum.index = indexAtStrain(data, f.origin + **byHand, data.onset, data.end);
        f.maximum.x = x[f.maximum.index];
        f.maximum.raw = f.maximum.value = valueAround(y, f.maximum.index);
        f.comesDown = true;
        f.remark("moved-by-hand", Severity::Note, {"sigma_max"},
                 fmt::format("The maximum was set by hand at {} % strain.", formatFixed(**byHand * 100, 2)),
                 "R on Read goes back to automatic.");
    }
    return Done{};
}

void stresses(CompressionFigures& f, const StressStrain& data)
{
    const bool raw = optionOr(f.input, "peak", "smooth") == "raw";
    if (f.yield
        && !(f.maximum.index == f.yield->peak.index && data.fracture && f.yield->peak.index + 10 > data.fracture->last))
        f.set("sigma_y",
              stressTerm(f, data, raw ? f.yield->peak.raw : f.yield->peak.value, "sigma_y", "Fy",
                         f.yield->level ? "first maximum, level after it" : "first maximum, falling after it",
                         "ISO 604", f.yield->peak.index));
    else
        f.notApplicable({"sigma_y"}, "The stress climbs on without a first maximum.");
    if (f.comesDown)
        f.set("sigma_max",
              stressTerm(f, data, raw ? f.maximum.raw : f.maximum.value, "sigma_max", "Fm", "greatest force", "ISO 604",
                         f.maximum.index));
    else if (!optionOr(f.input, "stated_strain", "").empty())
        f.notApplicable(
            {"sigma_max"},
            fmt::format(
                "The stress still rose when the test ended, at {} MPa; the stress at the stated strain stands in "
                "place of a strength.",
                formatSignificant(f.maximum.raw, 4)));
    else
        f.remark("no-maximum", Severity::Caution, {"sigma_max"},
                 fmt::format("The stress still rose when the test ended, at {} MPa: there is no strength to give.",
                             formatSignificant(f.maximum.raw, 4)),
                 "State a strain on Plan and report the stress there.", "stated_strain");
}

Expected<Done> atStatedStrain(CompressionFigures& f, const StressStrain& data, bool strainCounts)
{
    const auto stated = optionQuantity(f.input, "stated_strain", Kind::Strain);
    if (!stated)
        return stated.problem();
    if (!*stated) {
        f.notApplicable({"sigma_at_strain"}, "No strain is stated on Plan.");
        return Done{};
    }
    if (!strainCounts)
        return Done{}; // the crosshead remark names it
    const auto x = std::span(data.strain).subspan(data.onset, data.end - data.onset);
    const auto y = std::span(data.stress).subspan(data.onset, data.end - data.onset);
    const auto p = pointAtStrain(x, y, f.origin + **stated);
    if (!p)
        f.remark("strain-not-reached", Severity::Caution, {"sigma_at_strain"},
                 fmt::format("The record ends before {} % strain.", formatSignificant(**stated * 100, 3)), "");
    else
        f.set("sigma_at_strain",
              stressTerm(f, data, p->stress, "sigma_at_strain", "Fs",
                         fmt::format("force at {} % strain", formatSignificant(**stated * 100, 3)), "stated strain",
                         data.onset + p->after));
    return Done{};
}

/// Height over least width, and the stress against Euler's.
void slenderness(CompressionFigures& f)
{
    const SpecimenInput& in = f.input;
    const double h = meanLength(in, "height");
    const double least = in.shape == "round" ? meanLength(in, "diameter")
        : in.shape == "tube"                 ? meanLength(in, "outer_diameter")
                                             : std::min(meanLength(in, "width"), meanLength(in, "thickness"));
    if (!(h > 0) || !(least > 0))
        return;
    double radius = least / 4; // of gyration: d/4, or a/√12
    if (in.shape == "rectangular")
        radius = least / std::sqrt(12.0);
    else if (in.shape == "tube" && f.section) {
        const double outer = least;
        const double inner = std::sqrt(std::max(0.0, outer * outer - 4 * f.section->value() / std::numbers::pi));
        radius = std::sqrt(outer * outer + inner * inner) / 4;
    }
    if (h / least > mostSlender)
        f.remark("slender", Severity::Caution, {"sigma_max", "Rp0.2", "sigma_y"},
                 fmt::format("Height over least width is {:.1f}, above 3: it may buckle before it yields.", h / least),
                 "Shorten the pieces, or look closely at their shape after the test.", "height");
    const auto published = in.published.find("E");
    const double E = f.value("E").value_or(published == in.published.end() ? 0 : published->second);
    const double stress = f.value("sigma_max").value_or(f.value("Rp0.2").value_or(0));
    if (!(E > 0) || !(stress > 0))
        return;
    const double ends = optionOr(in, "ends", "flat on platens") == "pivoted" ? 1 : 0.5;
    const double slender = ends * h / radius;
    const double euler = std::numbers::pi * std::numbers::pi * E / (slender * slender);
    if (stress > mostOfEuler * euler)
        f.remark("slender", Severity::Caution, {"sigma_max", "Rp0.2"},
                 fmt::format("The stress reached {:.0f} % of the Euler stress ({} MPa): buckling has a hand in it.",
                             100 * stress / euler, formatSignificant(euler, 3)),
                 "Shorten the pieces.", "height");
}

void draw(CompressionFigures& f, StressStrain&& data)
{
    std::vector<CurveMark> marks;
    if (f.proof && f.has("Rp0.2"))
        marks.push_back({"Rp0.2", "Rp0.2", f.proof->strain, f.proof->stress, {}, true});
    if (f.has("sigma_y") && f.yield->peak.index != f.maximum.index)
        marks.push_back({"sigma_y", "σy", f.yield->peak.x, f.yield->peak.value, {}});
    if (f.comesDown)
        marks.push_back({"sigma_max", "σmax", f.maximum.x, f.maximum.value, "maximum_at"});
    CurveView view = curveFrom(std::move(data), f.part, f.origin, f.section->value(), std::move(marks));
    view.straight = {"slope", "manual ", false};
    if (f.proof && f.has("Rp0.2"))
        view.offset = f.offset;
    f.outcome.views.emplace_back(std::move(view));
}

/// The straight part, and where strain counts from.
void findStraightPart(CompressionFigures& f, StressStrain& data)
{
    if (data.source == StrainSource::None) {
        strainIsTheReading(data);
        f.remark("no-strain", Severity::Caution, {"E", "Rp0.2", "sigma_max", "sigma_at_strain"},
                 "No channel gives a strain: only the greatest stress can be read, and not whether the load was taken "
                 "off there.",
                 "Import an extension or displacement column with its unit.");
    } else if (auto straight = straightPartByOption(f.input, data, firstClimbEnds(data));
               straight && !climbsLate(*straight, data)) {
        f.part = *straight;
        f.origin = straight->origin();
    } else if (straight) {
        f.remark(
            "no-straight-part", Severity::Caution, {"E", "Rp0.2"},
            "The stress climbs ever more steeply: there is no straight part, and strain counts from the first load.",
            "Usual for elastomers and soft foams; report the stress at a stated strain.");
        f.origin = data.strain[firstClearOfNoise(data)];
    } else {
        f.remark("no-straight-part", Severity::Caution, {"E", "Rp0.2"}, straight.problem().text(),
                 straight.problem().advice);
        f.origin = data.strain[data.onset];
    }
}

/// Modulus and proof stress on the straight part.
void modulusAndProof(CompressionFigures& f, const StressStrain& data)
{
    f.set("E", modulusTerm(f, data, *f.part, f.doubts, "E", "least squares over the best window"));
    const size_t from = f.part->begin + (f.part->end - f.part->begin) / 2;
    const auto x = std::span(data.strain).first(data.end);
    const auto y = std::span(data.stress).first(data.end);
    f.proof = offsetPoint(x.subspan(from), y.subspan(from), f.part->slope(), f.origin, f.offset, 0);
    if (f.proof) {
        f.set("Rp0.2",
              stressTerm(f, data, f.proof->stress, "Rp0.2", "Fp",
                         fmt::format("force where the curve meets the modulus line moved by {:g} %", f.offset * 100),
                         "ASTM E9", from + f.proof->after));
        if (std::abs(f.offset - 0.002) > 1e-9)
            f.remark("other-offset", Severity::Note, {"Rp0.2"},
                     fmt::format("The offset is {:g} %, not 0.2 %.", f.offset * 100));
    } else {
        f.remark("yield-not-reached", Severity::Caution, {"Rp0.2"},
                 fmt::format("The curve ends before it meets the line at {:g} % offset.", f.offset * 100),
                 "It broke first, or the test was ended.");
    }
    remarkFit(f, *f.part, {"E", "Rp0.2"});
}

Expected<Done> fromRecord(CompressionFigures& f)
{
    auto prepared = prepareStressStrain(f.input, f.section->value(), compressionRules(), f.outcome.remarks);
    if (!prepared)
        return prepared.problem();
    StressStrain& data = *prepared;
    const auto offset = optionQuantity(f.input, "yield_offset", Kind::Strain);
    const auto compliance = optionQuantity(f.input, "compliance", Kind::Compliance);
    if (!offset || !compliance)
        return !offset ? offset.problem() : compliance.problem();
    f.offset = offset->value_or(0.002);
    if (!(f.offset > 0) || f.offset > 0.05)
        return Problem{
            "options.yield_offset", formatSignificant(f.offset * 100, 4) + " %", "an offset above 0 and up to 5 %", {}};
    const bool platens = data.source == StrainSource::Crosshead;
    const bool counts =
        !platens || compliance->has_value() || optionOr(f.input, "strain_from", "extensometer") == "crosshead";
    findStraightPart(f, data);
    f.doubts = doubtsOf(f.input, data, 0.005);
    if (auto ok = readMaximum(f, data); !ok)
        return ok;
    stresses(f, data);
    if (f.part && counts)
        modulusAndProof(f, data);
    if (f.part)
        remarkToe(f, data, *f.part, f.origin, f.maximum.raw, {"E", "Rp0.2", "sigma_at_strain"});
    if (platens)
        f.remark(
            "crosshead-strain", Severity::Caution, {"E", "Rp0.2", "sigma_at_strain"},
            "Strain comes from the platens, which includes the machine.",
            counts ? "Modulus and proof stress stand on the compliance taken off."
                   : "Modulus and proof stress are left out. Use a compressometer, or give the machine's compliance on "
                     "Plan.",
            "compliance");
    if (auto ok = atStatedStrain(f, data, counts); !ok)
        return ok;
    againstPublished(f, "E", {"E", "Rp0.2"});
    if (data.source != StrainSource::None)
        draw(f, std::move(data));
    return Done{};
}

} // namespace

Expected<Outcome> evaluateCompression(const SpecimenInput& input)
{
    static const Method method = compression();
    if (auto ok = checkOptions(input, method); !ok)
        return ok.problem();
    CompressionFigures f{input};
    f.begin(method);
    auto section = sectionTerm(input, "", "S0");
    if (!section)
        return section.problem();
    f.section = *section;
    f.outcome.remarks = checkReadings(input);
    if (!f.section)
        f.remark("missing-dimension", Severity::Reject, {"E", "Rp0.2", "sigma_y", "sigma_max", "sigma_at_strain"},
                 "The section is not measured; no stress can be given.", "Enter the readings on Measure.",
                 input.shape == "rectangular" ? "width"
                     : input.shape == "tube"  ? "outer_diameter"
                                              : "diameter");
    else if (input.record)
        if (auto ok = fromRecord(f); !ok)
            return ok.problem();
    if (!input.dimensions.contains("height"))
        f.remark("missing-dimension", Severity::Caution, {}, "The height is not measured; slenderness can't be told.",
                 "Enter it on Measure.", "height");
    slenderness(f);
    if (const std::string shape = noteOf(input, "shape_after"); shape == "barrelled")
        f.remark("barrelling", Severity::Note, {"sigma_max", "Rp0.2"},
                 "The piece barrelled: friction on the platens holds its ends.",
                 "Grease or film on the platens lowers it.");
    else if (shape == "buckled")
        f.remark("buckled", Severity::Reject, {"sigma_max", "Rp0.2", "sigma_y"},
                 "The piece buckled: the figures are not the material's.", "Shorten the pieces.", "shape_after");
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
