// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/tension_composite/tension_composite.h"

#include "methods/common/options.h"
#include "methods/common/section.h"
#include "methods/common/run.h"
#include "methods/tension_composite/sketches.h"

namespace fortitor {
namespace {

using Place = OptionSpec::Place;

std::vector<FieldSpec> fields()
{
    return {
        {.key = "width",
         .label = "Width",
         .readings = 3,
         .shape = "rectangular",
         .place = "across",
         .help = "At three places of the gauge length."},
        {.key = "thickness",
         .label = "Thickness",
         .readings = 3,
         .shape = "rectangular",
         .place = "through",
         .help = "Ball micrometer on the rough side, at the same places."},
        {.key = "diameter",
         .label = "Diameter",
         .readings = 3,
         .shape = "round",
         .place = "across",
         .help = "At three places."},
        {.key = "extensometer_gauge_length",
         .label = "Le of the extensometer",
         .place = "extensometer",
         .needed = false,
         .help = "Not needed where the record holds strain."},
        {.key = "grip_distance", .label = "Between the grips or tabs", .place = "grips", .needed = false},
    };
}

std::vector<ResultSpec> results()
{
    return {
        {.symbol = "E_chord",
         .name = "chord modulus",
         .unit = "MPa",
         .step = 100,
         .headline = true,
         .help = "Between two strains from the corrected origin."},
        {.symbol = "sigma_max",
         .name = "strength",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "Greatest force over the section."},
        {.symbol = "eps_max",
         .name = "strain at strength",
         .unit = "%",
         .step = 0.01,
         .headline = true,
         .help = "By extensometer or gauges only; never from the crosshead.",
         .mark = "sigma_max"},
        {.symbol = "nu12",
         .name = "Poisson's ratio",
         .unit = "1",
         .step = 0.01,
         .headline = true,
         .help = "Strain across over strain along, over the chord."},
        {.symbol = "By",
         .name = "bending",
         .unit = "%",
         .step = 0.1,
         .headline = true,
         .help = "Front against back strain at the middle of the chord."},
    };
}

std::vector<OptionSpec> options()
{
    return {
        {.key = "chord",
         .label = "Chord between",
         .fallback = "0.1 % 0.3 %",
         .help = "Two strains: 0.1 % 0.3 % (ASTM D3039) or 0.05 % 0.25 % (ISO 527-4, -5).",
         .place = Place::Both},
        {.key = "transition",
         .label = "Bilinear transition",
         .choices = {"none", "find"},
         .fallback = "none",
         .help = "Where a curve of two straight parts bends."},
        usual::strainFrom(),
        usual::compliance(),
        usual::areaFrom(),
        usual::forceZero(),
        usual::peak(),
        usual::firstGrip(),
        usual::expectedForce("Where the table knows nothing of the laminate."),
        {.key = "maximum_at",
         .label = "Maximum at",
         .kind = Kind::Strain,
         .help = "Strain where a person sees the maximum.",
         .place = Place::Curve},
    };
}

std::vector<StepSpec> steps()
{
    return usual::withGrips(
        {
            {.stage = Stage::Plan, .text = "Identify: panel, lay-up, direction, conditioning."},
            {.stage = Stage::Measure,
             .text = "Measure width and thickness at three places; look at tabs and edges.",
             .safety = "Fibres and dust: gloves, no dry sanding without extraction.",
             .watch = "measured"},
            {.stage = Stage::SetUp,
             .text = "Choose cell and grips for the strength of the laminate.",
             .safety = "Know the stop button before you start.",
             .watch = "margins"},
            {.stage = Stage::SetUp, .text = "Zero the force with nothing in the grips.", .watch = "force-zeroed"},
        },
        "Grip the top tab full length and in line.", "Grip the lower tab full length and in line.",
        "ease the clamp load to near zero.",
        {
            {.stage = Stage::SetUp, .text = "Balance front, back and transverse strain.", .watch = "extensometer-on"},
            {.stage = Stage::SetUp,
             .text = "Close the guard.",
             .safety = "Eye protection on. The strip bursts: splinters and dust fly.",
             .watch = "guard-closed"},
            {.stage = Stage::Load,
             .text = "2 mm/min to the break; extensometer off at 0.3 to 0.5 % if it can't stand the burst.",
             .safety = "Guard stays closed. Stored energy is let go at once."},
            {.stage = Stage::Read,
             .text = "Code the failure: kind, area, place.",
             .safety = "Splinters: gloves, and do not blow the dust."},
        });
}

} // namespace

Method tensionComposite()
{
    Method m;
    m.id = "tension-composite";
    m.name = "tension, fibre composites";
    m.question = "How strong and stiff is this laminate?";
    m.standards = "ISO 527-4";
    m.shapes = {"rectangular", "round"};
    m.fields = fields();
    m.results = results();
    m.options = options();
    m.steps = steps();
    m.notes = {
        {.key = "direction",
         .label = "Fibre direction",
         .choices = {"along 0°", "crossed ±45°", "across 90°"},
         .help = "Of the outer plies; drawn on the tag.",
         .shownAs = NoteSpec::Shown::Direction},
        {.key = "layup", .label = "Lay-up", .help = "Such as [0/90]4s."},
        {.key = "failure_kind",
         .label = "Kind of failure",
         .choices = {"A angled", "D edge delamination", "G at grip or tab", "L lateral", "M several kinds",
                     "S long splits", "X explosive"},
         .stage = Stage::Read,
         .help = "First letter of the code.",
         .sketches = failureKindSketches()},
        {.key = "failure_area",
         .label = "Area",
         .choices = {"I inside the grip", "A at the grip", "W within one width", "G gauge length", "M several places",
                     "V various"},
         .stage = Stage::Read,
         .help = "Second letter: how far from the grip.",
         .sketches = failureAreaSketches()},
        {.key = "failure_place",
         .label = "Place",
         .choices = {"T top", "M middle", "B bottom", "L left", "R right", "V various"},
         .stage = Stage::Read,
         .help = "Third letter: where on the strip.",
         .sketches = failurePlaceSketches()},
    };
    m.rates = {
        .slow = 0, .fast = 0, .changeAt = 0, .speed = 2.0 / 60, .words = "2 mm/min (ASTM D3039), break in 1 to 10 min"};
    m.drawing = {
        .form = "strip",
        .along = "grip_distance",
        .inner = {{"extensometer_gauge_length", "extensometer"}},
        .outer = {{"grip_distance", "between the grips"}},
    };
    m.train = trains::gripped("extensometer_gauge_length");
    m.lengths = {"grip_distance"};
    m.channels = {{"force"}, {"strain", "extension", "displacement"}};
    m.onMaximum = {"sigma_max", "eps_max", "W"};
    m.leastSpecimens = 5;
    m.evaluate = evaluateTensionComposite;
    m.loadedArea = sectionArea;
    m.section = shownSection;
    m.program = [](const RunInput& in) -> Expected<RunProgram> {
        return runToBreak(in.rates, extensometerOffAt(in.specimen, in.expected, "extensometer_gauge_length", ""), 0);
    };
    m.evaluateSet = checkCompositeSet;
    return m;
}

} // namespace fortitor
