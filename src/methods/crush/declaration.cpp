// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/crush/crush.h"

#include "methods/common/options.h"
#include "methods/common/section.h"
#include "methods/common/run.h"
#include "methods/common/figures.h"
#include "methods/crush/sketches.h"

#include <algorithm>

namespace fortitor {

Method crush()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "crush";
    m.name = "crush of hollow pieces";
    m.question = "How much energy does this hollow piece take?";
    m.standards = "own procedure";
    m.shapes = {"shell", "round", "rectangular", "tube"};
    m.fields = {
        {.key = "height", .label = "Height", .place = "along", .help = "Between the faces."},
        {.key = "diameter", .label = "Diameter", .shape = "round", .place = "across", .needed = false},
        {.key = "diameter", .label = "Diameter", .shape = "shell", .place = "across", .needed = false},
        {.key = "width", .label = "Width", .shape = "rectangular", .place = "across", .needed = false},
        {.key = "thickness", .label = "Depth", .shape = "rectangular", .place = "through", .needed = false},
        {.key = "outer_diameter", .label = "Outer diameter", .shape = "tube", .place = "across", .needed = false},
        {.key = "wall", .label = "Wall", .shape = "tube", .place = "through", .needed = false},
    };
    m.results = {
        {.symbol = "F_peak",
         .name = "peak force",
         .unit = "N",
         .step = 1,
         .headline = true,
         .help = "Greatest force before the piece is crushed together."},
        {.symbol = "d_peak",
         .name = "travel at peak",
         .unit = "mm",
         .step = 0.01,
         .headline = true,
         .help = "From the touch.",
         .mark = "F_peak"},
        {.symbol = "W",
         .name = "energy",
         .unit = "J",
         .step = 0.1,
         .headline = true,
         .help = "Area under the curve up to the stated crush.",
         .mark = "crush end"},
        {.symbol = "F_mean",
         .name = "mean crush force",
         .unit = "N",
         .step = 1,
         .headline = true,
         .help = "Energy over that crush.",
         .mark = "crush end"},
        {.symbol = "efficiency",
         .name = "crush efficiency",
         .unit = "1",
         .step = 0.01,
         .headline = true,
         .help = "Mean over peak force."},
        {.symbol = "crush",
         .name = "crush counted",
         .unit = "mm",
         .step = 0.1,
         .help = "How far the energy is counted."},
    };
    m.options = {
        {.key = "crush_to",
         .label = "Energy up to",
         .kind = Kind::Length,
         .help = "A crush in mm from the touch; empty: to where the piece is crushed together.",
         .place = Place::Both},
        {.key = "touch",
         .label = "Touch at",
         .kind = Kind::Force,
         .help = "The force that counts as touching; empty: clear of noise."},
        usual::compliance("Taken off platen motion."),
        usual::forceZero(),
        usual::peak(),
        usual::expectedForce("Of the peak; sizes the cell."),
        {.key = "touch_at",
         .label = "Touch moved to",
         .kind = Kind::Length,
         .help = "Travel from the touch found, where a person sees it.",
         .place = Place::Curve},
        {.key = "peak_at",
         .label = "Peak at",
         .kind = Kind::Length,
         .help = "Travel where a person sees the peak.",
         .place = Place::Curve},
    };
    m.steps = {
        {.stage = Stage::Plan, .text = "Identify: batch, supplier, drained and dry."},
        {.stage = Stage::Measure,
         .text = "Height, and a look for dents before the test.",
         .safety = "Rims are sharp: gloves.",
         .watch = "measured"},
        {.stage = Stage::SetUp,
         .text = "Choose the cell and the platens; see the margins.",
         .safety = "Know the stop button before you start. Heavy platens: two people, both hands.",
         .watch = "margins"},
        {.stage = Stage::SetUp, .text = "Zero the force with nothing on the platens.", .watch = "force-zeroed"},
        {.stage = Stage::SetUp,
         .text = "Centre the piece by the ring; leave a small visible gap above it.",
         .safety = "Hands out of the platens before the crosshead moves.",
         .watch = "centred"},
        {.stage = Stage::SetUp,
         .text = "Close the guard.",
         .safety = "Eye protection on. Shells snap; closed ones burst.",
         .watch = "guard-closed"},
        {.stage = Stage::Load,
         .text = "Down to the touch, then on to the stated crush and back to the start.",
         .safety = "Hands out of the platens until the crosshead stands."},
        {.stage = Stage::Read, .text = "Look at the folds.", .safety = "Crushed edges cut: gloves."},
    };
    m.notes = {
        {.key = "operator", .label = "Operator", .help = "Scatter is shared out by operator and batch on Judge."},
        {.key = "batch", .label = "Batch"},
        {.key = "condition",
         .label = "Before the test",
         .choices = {"sound", "dented", "scratched"},
         .help = "A dent halves the peak of a thin shell."},
        {.key = "centring", .label = "Centring", .choices = {"by ring", "by eye"}},
        {.key = "folds",
         .label = "Folds",
         .choices = {"one fold", "several folds", "tilted", "burst"},
         .stage = Stage::Read,
         .help = "How it gave way.",
         .sketches = foldSketches()},
    };
    m.rates = {.slow = 0, .fast = 0, .changeAt = 0, .speed = 10.0 / 60, .words = "10 mm/min"};
    m.drawing = {
        .form = "shell",
        .along = "height",
        .outer = {{"height", "height"}},
        .heading = "Height between the faces; look for dents before the test",
    };
    m.live = {.strain = false, .stress = false};
    m.train = trains::pressed();
    m.lengths = {"height"};
    m.channels = {{"force"}, {"displacement", "deflection", "extension"}};
    m.onMaximum = {"F_peak", "d_peak", "W", "F_mean", "efficiency"};
    m.leastSpecimens = 5;
    m.evaluate = evaluateCrush;
    m.loadedArea = noArea;
    m.section = shownSection;
    m.program = [](const RunInput& in) -> Expected<RunProgram> {
        const auto stated = optionQuantity(in.specimen, "crush_to", Kind::Length);
        const double most = 0.4 * firstLength(in.specimen, "height");
        return runToBreak(in.rates, 0, std::max(most, stated && *stated ? 1.05 * **stated : 0.0));
    };
    return m;
}

} // namespace fortitor
