// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/tension_metal/tension_metal.h"

#include "methods/common/options.h"
#include "methods/common/section.h"
#include "methods/common/run.h"
#include "methods/tension_metal/proof_symbol.h"
#include "methods/tension_metal/sketches.h"

#include <algorithm>

namespace fortitor {
namespace {

std::vector<FieldSpec> fields()
{
    const std::string width = "Across the wide face, calliper square to the edge.";
    return {
        {.key = "diameter",
         .label = "Diameter",
         .readings = 3,
         .shape = "round",
         .place = "across",
         .help = "At three places of the parallel part, two ways each if it looks oval."},
        {.key = "width", .label = "Width", .readings = 3, .shape = "rectangular", .place = "across", .help = width},
        {.key = "thickness",
         .label = "Thickness",
         .readings = 3,
         .shape = "rectangular",
         .place = "through",
         .help = "At the same three places."},
        {.key = "outer_diameter",
         .label = "Outer diameter",
         .readings = 3,
         .shape = "tube",
         .place = "across",
         .help = "At three places."},
        {.key = "wall",
         .label = "Wall",
         .readings = 3,
         .shape = "tube",
         .place = "through",
         .help = "Ball micrometer, at three places."},
        {.key = "gauge_length",
         .label = "L0 between marks",
         .place = "between-marks",
         .needed = false,
         .help = "Marked with light taps or ink: 5.65·√So or a fixed 50 or 80 mm."},
        {.key = "extensometer_gauge_length",
         .label = "Le of the extensometer",
         .place = "extensometer",
         .needed = false,
         .help = "At least half of L0."},
        {.key = "parallel_length",
         .label = "Parallel length Lc",
         .place = "parallel",
         .needed = false,
         .help = "At least L0 + d/2."},
        {.key = "grip_distance",
         .label = "Between the grips",
         .place = "grips",
         .needed = false,
         .help = "Serves where there is no parallel part (wire, full section)."},
        {.key = "final_gauge_length",
         .label = "Lu after the break",
         .place = "between-marks",
         .afterBreak = true,
         .needed = false,
         .help = "Fit the halves, measure between the marks."},
        {.key = "final_diameter",
         .label = "Diameter at the neck",
         .readings = 2,
         .shape = "round",
         .place = "neck",
         .afterBreak = true,
         .needed = false,
         .help = "Two across, at the least place."},
        {.key = "final_width",
         .label = "Width at the neck",
         .shape = "rectangular",
         .place = "neck",
         .afterBreak = true,
         .needed = false},
        {.key = "final_thickness",
         .label = "Thickness at the neck",
         .shape = "rectangular",
         .place = "neck",
         .afterBreak = true,
         .needed = false},
        {.key = "mark_interval",
         .label = "Between subdividing marks",
         .place = "between-marks",
         .afterBreak = true,
         .needed = false,
         .help = "L0 divided evenly, 5 or 10 mm; only for the step method."},
        {.key = "length_xy",
         .label = "X to Y",
         .place = "between-marks",
         .afterBreak = true,
         .needed = false,
         .help = "X: the mark at the end of the short half. Y: on the long half, as far from the break as X."},
        {.key = "intervals_xy",
         .label = "Intervals X to Y",
         .kind = Kind::Number,
         .place = "between-marks",
         .afterBreak = true,
         .needed = false,
         .help = "Counted over both halves."},
        {.key = "length_yz",
         .label = "Y to Z",
         .readings = 2,
         .place = "between-marks",
         .afterBreak = true,
         .needed = false,
         .help = "Z lies (N−n)/2 intervals beyond Y; for an odd count both neighbours."},
        {.key = "break_distance",
         .label = "Break to the nearer mark",
         .place = "neck",
         .afterBreak = true,
         .needed = false,
         .negative = true,
         .help = "Nearer than a third of L0 may make A low."},
    };
}

std::vector<ResultSpec> results()
{
    return {
        {.symbol = "E",
         .name = "modulus",
         .unit = "MPa",
         .step = 100,
         .headline = true,
         .help = "Slope of the straight part."},
        {.symbol = "ReH",
         .name = "upper yield",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "First maximum before a drop.",
         .published = "yield"},
        {.symbol = "ReL",
         .name = "lower yield",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "Least stress while yielding, the first transient left out."},
        {.symbol = "Ae",
         .name = "yield-point extension",
         .unit = "%",
         .step = 0.1,
         .help = "From ReH to the start of even hardening."},
        {.symbol = "Rp0.2",
         .name = "proof strength",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "The curve meets the modulus line moved by 0.2 %.",
         .published = "yield"},
        {.symbol = "Rt0.5",
         .name = "stress at 0.5 % strain",
         .unit = "MPa",
         .step = 1,
         .help = "By extension under load."},
        {.symbol = "Rm",
         .name = "strength",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "Greatest force over the first section."},
        {.symbol = "Agt",
         .name = "total strain at maximum",
         .unit = "%",
         .step = 0.1,
         .headline = true,
         .help = "Elastic part included.",
         .mark = "Rm"},
        {.symbol = "Ag", .name = "plastic strain at maximum", .unit = "%", .step = 0.1, .help = "Agt less Rm/E."},
        {.symbol = "At", .name = "total strain at break", .unit = "%", .step = 0.5, .mark = "break"},
        {.symbol = "A_ext",
         .name = "after break, by extensometer",
         .unit = "%",
         .step = 0.5,
         .help = "At less the elastic part.",
         .mark = "break"},
        {.symbol = "A",
         .name = "after break",
         .unit = "%",
         .step = 0.5,
         .headline = true,
         .help = "From the fitted halves, between the marks.",
         .fromPieces = true},
        {.symbol = "Z",
         .name = "necking",
         .unit = "%",
         .step = 1,
         .headline = true,
         .help = "Loss of section at the neck.",
         .fromPieces = true},
        {.symbol = "n",
         .name = "hardening exponent",
         .unit = "1",
         .step = 0.001,
         .help = "Of σ = K·εⁿ on the true curve."},
        {.symbol = "K", .name = "hardening coefficient", .unit = "MPa", .step = 1},
        {.symbol = "Ur", .name = "resilience", .unit = "MJ/m³", .step = 0.01, .help = "Area up to yield."},
        {.symbol = "Ut", .name = "toughness", .unit = "MJ/m³", .step = 0.1, .help = "Area up to the break."},
        {.symbol = "yield_ratio",
         .name = "yield ratio",
         .unit = "1",
         .step = 0.01,
         .help = "Yield over strength.",
         .written = "Re/Rm"},
    };
}

std::vector<OptionSpec> options()
{
    return {
        {.key = "yield",
         .label = "Yield by",
         .choices = {"auto", "offset", "upper-lower", "under-load"},
         .fallback = "auto",
         .help = "auto takes ReH and ReL where the curve drops, else the offset."},
        {.key = "yield_offset",
         .label = "Offset",
         .fallback = "0.2 %",
         .kind = Kind::Strain,
         .help = "Plastic strain of the proof strength.",
         .place = OptionSpec::Place::Both},
        usual::areaFrom("mean of the places (ISO 6892-1), or the least of them."),
        {.key = "slope",
         .label = "Straight part",
         .fallback = "auto",
         .help = "auto, chord A B (strains), secant A B or manual A B (stresses).",
         .place = OptionSpec::Place::Both},
        usual::strainFrom(),
        usual::compliance(),
        usual::forceZero(),
        usual::peak(),
        {.key = "lower_yield",
         .label = "ReL by",
         .choices = {"full", "short-cut"},
         .fallback = "full",
         .help = "The short cut takes the least within 0.25 % after ReH."},
        {.key = "near_mark",
         .label = "Break near a mark",
         .choices = {"third", "quarter"},
         .fallback = "third",
         .help = "Which edition's share of L0.",
         .words = {{"third", "within Lo/3"}, {"quarter", "within Lo/4"}}},
        {.key = "convert_gauge_length",
         .label = "A at another gauge length",
         .kind = Kind::Length,
         .help = "Elongation carried over to another gauge length, ISO 2566."},
        {.key = "convert_family",
         .label = "Conversion for",
         .choices = {"none", "plain steel", "austenitic"},
         .fallback = "none",
         .help = "Exponent 0.4 or 0.127; refused outside their bands of strength."},
        {.key = "hardening_strain",
         .label = "n and K from",
         .choices = {"plastic", "total"},
         .fallback = "plastic",
         .help = "True plastic or true total strain."},
        {.key = "elongation_by",
         .label = "A by",
         .choices = {"marks", "subdivided marks"},
         .fallback = "marks",
         .help = "Over the two marks, or by the step method when the break lies near one of them."},
        usual::extensometerOff("3 %"),
        usual::firstGrip(
            "Top first hangs the bar free of load; lower first is common on heavy frames. The steps follow."),
        {.key = "upper_yield_at",
         .label = "ReH at",
         .kind = Kind::Strain,
         .help = "Strain where a person sees the upper yield.",
         .place = OptionSpec::Place::Curve},
        {.key = "lower_yield_at",
         .label = "ReL at",
         .kind = Kind::Strain,
         .help = "Strain where a person sees the lower yield.",
         .place = OptionSpec::Place::Curve},
        {.key = "maximum_at",
         .label = "Maximum at",
         .kind = Kind::Strain,
         .help = "Strain where a person sees the maximum.",
         .place = OptionSpec::Place::Curve},
        {.key = "break_at",
         .label = "Break at",
         .kind = Kind::Strain,
         .help = "Strain of the last reading before the break.",
         .place = OptionSpec::Place::Curve},
    };
}

std::vector<StepSpec> steps()
{
    return usual::withGrips(
        {
            {.stage = Stage::Plan, .text = "Identify: lot, heat, colour mark, direction of cutting."},
            {.stage = Stage::Measure,
             .text = "Mark the gauge length with light taps or ink; deep marks start the break.",
             .safety = "Edges of cut bars are sharp: gloves."},
            {.stage = Stage::Measure, .text = "Measure at three places.", .watch = "measured"},
            {.stage = Stage::SetUp,
             .text = "Choose cell and grips; see the margins.",
             .safety = "Know the stop button before you start.",
             .watch = "margins"},
            {.stage = Stage::SetUp, .text = "Zero the force with nothing in the grips.", .watch = "force-zeroed"},
        },
        "Grip the top end; the bar hangs free.", "Grip the lower end; the bar stands free of the top.",
        "ease the clamp load to near zero.",
        {
            {.stage = Stage::SetUp, .text = "Put the extensometer on and balance it.", .watch = "extensometer-on"},
            {.stage = Stage::SetUp,
             .text = "Close the guard.",
             .safety = "Eye protection on. The bar can jump when it breaks.",
             .watch = "guard-closed"},
            {.stage = Stage::Load,
             .text = "Slow to yield, extensometer off if it can't stand the break, then faster.",
             .safety = "Guard stays closed. Hands off the grips."},
            {.stage = Stage::Read,
             .text = "Fit the halves, measure Lu and the neck, look at the fracture.",
             .safety = "Broken ends are sharp and may be hot."},
        });
}

/// A proof strength at another offset, and the elongation at another gauge length.
std::optional<ResultSpec> specLike(const std::string& symbol)
{
    const auto all = results();
    const auto of = [&](const char* listed) { return *std::ranges::find(all, listed, &ResultSpec::symbol); };
    if (proofOffset(symbol)) {
        ResultSpec spec = of("Rp0.2");
        spec.help = "The curve meets the modulus line moved by " + symbol.substr(2) + " %.";
        return spec;
    }
    if (symbol != "A_converted")
        return std::nullopt;
    ResultSpec spec = of("A");
    spec.name = "after break, converted";
    spec.help = "Carried over to another gauge length, not measured.";
    return spec;
}

} // namespace

Method tensionMetal()
{
    Method m;
    m.id = "tension-metal";
    m.name = "tension, metals";
    m.question = "How strong is this metal bar, and when does it yield?";
    m.standards = "ISO 6892-1";
    m.shapes = {"round", "rectangular", "tube"};
    m.fields = fields();
    m.results = results();
    m.options = options();
    m.steps = steps();
    m.channels = {{"force"}, {"extension", "strain", "displacement"}};
    m.rates.words = "0.00025 /s ± 20 %, ISO 6892-1 method A";
    m.notes = {{.key = "fracture",
                .label = "Fracture",
                .choices = {"cup and cone", "slant", "flat", "granular", "at grip"},
                .stage = Stage::Read,
                .help = "Look at the broken ends before they are put away.",
                .sketches = metalFractureSketches()}};
    m.drawing = {
        .along = "parallel_length",
        .marks = "gauge_length",
        .inner = {{"gauge_length", "L₀ between marks"}},
        .outer = {{"parallel_length", "parallel length"}},
        .innerAfter = {{"final_gauge_length", "Lu between marks"}},
        .headingAfter = "Halves fitted together: the length between the marks, and the neck two ways",
    };
    m.train = trains::gripped("extensometer_gauge_length");
    m.lengths = {"parallel_length", "grip_distance"};
    m.leads = "Rp0.2";
    m.specLike = specLike;
    m.onMaximum = {"Rm", "Agt", "Ag", "n", "K", "Ut", "yield_ratio"};
    m.leastSpecimens = 3;
    m.evaluate = evaluateTensionMetal;
    m.loadedArea = sectionArea;
    m.section = shownSection;
    m.program = [](const RunInput& in) -> Expected<RunProgram> {
        const double off = extensometerOffAt(in.specimen, in.expected, "extensometer_gauge_length", "3 %");
        return runToBreak(in.rates, off, 0);
    };
    return m;
}

} // namespace fortitor
