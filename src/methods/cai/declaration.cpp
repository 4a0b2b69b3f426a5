// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/cai/cai.h"

#include "methods/common/options.h"
#include "methods/common/run.h"
#include "methods/common/stress_strain.h"
#include "methods/common/section.h"

namespace fortitor {
namespace {

using Place = OptionSpec::Place;

std::vector<StepSpec> steps()
{
    return {
        {.stage = Stage::Plan, .text = "Identify: the plates of the drop weight job, by the same labels."},
        {.stage = Stage::Measure,
         .text = "Width and thickness at three places; ends flat and square.",
         .safety = "Fibres and dust: gloves, no dry sanding without extraction.",
         .watch = "measured"},
        {.stage = Stage::SetUp,
         .text = "Choose cell and platens for the strength that is left.",
         .safety = "Know the stop button before you start. Heavy platens and fixture: two people, both hands.",
         .watch = "margins"},
        {.stage = Stage::SetUp, .text = "Zero the force with nothing on the platens.", .watch = "force-zeroed"},
        {.stage = Stage::SetUp,
         .text = "Plate in the fixture, side supports snug and free to slide.",
         .safety = "Hands out of the platens before the crosshead moves.",
         .watch = "centred"},
        {.stage = Stage::SetUp, .text = "Balance the four gauges with no load on.", .watch = "extensometer-on"},
        {.stage = Stage::SetUp,
         .text = "Under a small load ease the corner that carries most, until all carry alike within 10 %.",
         .safety = "Adjust only with the drive stopped.",
         .watch = "balanced"},
        {.stage = Stage::SetUp,
         .text = "Close the guard.",
         .safety = "Eye protection on. Plates fail suddenly: splinters and dust fly.",
         .watch = "guard-closed"},
        {.stage = Stage::Load,
         .text = "1.25 mm/min to the failure.",
         .safety = "Guard stays closed. Stored energy is let go at once."},
        {.stage = Stage::Read,
         .text = "Note where it failed: through the damage, beside it, at an end.",
         .safety = "Splinters: gloves, and do not blow the dust."},
    };
}

std::map<std::string, Sketch> failureSketches()
{
    const Stroke plate{{10, 4}, {30, 4}, {30, 36}, {10, 36}, {10, 4}};
    const Stroke dent{{17, 20}, {20, 17}, {23, 20}, {20, 23}, {17, 20}};
    return {{"through", {{plate, dent, {{10, 21}, {14, 19}, {17, 20}}, {{23, 20}, {26, 19}, {30, 21}}}, {}}},
            {"beside", {{plate, dent, {{10, 29}, {15, 28}, {20, 30}, {25, 28}, {30, 29}}}, {}}},
            {"end", {{plate, dent, {{10, 7}, {14, 5}, {18, 7}, {22, 5}, {26, 7}, {30, 5}}}, {}}}};
}

} // namespace

Method compressionAfterImpact()
{
    Method m;
    m.id = "cai";
    m.name = "compression after impact";
    m.question = "What does a struck plate still carry?";
    m.standards = "ASTM D7137";
    m.shapes = {"plate", "rectangular"};
    m.fields = {
        {.key = "width", .label = "Width", .readings = 3, .place = "across", .help = "At three places."},
        {.key = "thickness", .label = "Thickness", .readings = 3, .place = "through", .help = "Clear of the damage."},
        {.key = "length", .label = "Length", .place = "along", .needed = false},
    };
    m.results = {
        {.symbol = "F_CAI",
         .name = "strength after the blow",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "Greatest force over the section."},
        {.symbol = "E_CAI",
         .name = "chord modulus",
         .unit = "MPa",
         .step = 100,
         .headline = true,
         .help = "Of the mean of four gauges, 1000 to 3000 µε."},
        {.symbol = "left_over",
         .name = "strength that is left",
         .unit = "%",
         .step = 0.1,
         .headline = true,
         .help = "Against undamaged plates.",
         .mark = "F_CAI",
         .written = "F/F0"},
        {.symbol = "By_max",
         .name = "bending at the end",
         .unit = "%",
         .step = 0.1,
         .headline = true,
         .help = "Front against back at the greatest force, signed.",
         .mark = "F_CAI"},
        {.symbol = "By_mid",
         .name = "bending half-way",
         .unit = "%",
         .step = 0.1,
         .help = "At the middle of the chord, signed."},
    };
    m.options = {
        {.key = "undamaged",
         .label = "Strength undamaged",
         .kind = Kind::Stress,
         .help = "Mean of plates that were not struck; for the strength that is left."},
        {.key = "chord",
         .label = "Chord between",
         .fallback = "1000 ue 3000 ue",
         .help = "Two strains of the mean of the gauges.",
         .place = Place::Both},
        usual::peak(),
        usual::forceZero(),
        usual::expectedForce("Of the plate; sizes the cell."),
    };
    m.steps = steps();
    m.notes = {
        {.key = "direction",
         .label = "Fibre direction",
         .choices = {"along 0°", "crossed ±45°", "across 90°"},
         .help = "Of the outer plies.",
         .shownAs = NoteSpec::Shown::Direction},
        {.key = "layup", .label = "Lay-up", .help = "Such as [45/0/-45/90]4s."},
        {.key = caiKeys::blow,
         .label = "Energy of the blow",
         .help = "From the drop weight job of the chain, or as you know it: 28.1 J."},
        {.key = caiKeys::dent, .label = "Dent at once", .help = "From the drop weight job of the chain."},
        {.key = caiKeys::first, .label = "First damage load", .help = "From the drop weight job of the chain."},
        {.key = "failure",
         .label = "Failure",
         .choices = {"through", "beside", "end"},
         .stage = Stage::Read,
         .help = "Through the damage, beside it, or crushed at an end.",
         .sketches = failureSketches()},
        {.key = "operator", .label = "Operator"},
    };
    m.rates = {.slow = 0, .fast = 0, .changeAt = 0, .speed = 1.25 / 60, .words = "1.25 mm/min (ASTM D7137)"};
    m.drawing = {.form = "plate", .across = {"width"}, .along = "length", .heading = "The struck plate, upright"};
    m.live = {.strain = true, .stress = true, .balance = true};
    m.train = trains::pressed();
    m.lengths = {"length"};
    m.channels = {{"force"}, {"strain", "displacement"}};
    m.onMaximum = {"F_CAI", "left_over", "By_max"};
    m.leavesSet = {"buckling"};
    m.leastSpecimens = 5;
    m.evaluate = evaluateCai;
    m.evaluateSet = evaluateCaiSet;
    m.loadedArea = sectionArea;
    m.expect = [](const SpecimenInput& input) -> std::optional<ExpectedMaximum> {
        const auto area = sectionArea(input);
        const auto whole = optionQuantity(input, "undamaged", Kind::Stress);
        if (!area || !whole || !*whole)
            return std::nullopt;
        return ExpectedMaximum{.load = **whole * *area, .basis = "no more than the plate undamaged"};
    };
    m.section = shownSection;
    m.program = [](const RunInput& in) -> Expected<RunProgram> { return runToBreak(in.rates, 0, 0); };
    return m;
}

} // namespace fortitor
