// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/compression/compression.h"

#include "methods/common/options.h"
#include "methods/common/section.h"
#include "methods/common/run.h"
#include "methods/common/figures.h"
#include "methods/compression/sketches.h"

#include <algorithm>

namespace fortitor {

Method compression()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "compression";
    m.name = "compression";
    m.question = "What does this block carry under compression?";
    m.standards = "ISO 604";
    m.shapes = {"round", "rectangular", "tube"};
    m.fields = {
        {.key = "diameter",
         .label = "Diameter",
         .readings = 3,
         .shape = "round",
         .place = "across",
         .help = "At three places."},
        {.key = "width",
         .label = "Width",
         .readings = 3,
         .shape = "rectangular",
         .place = "across",
         .help = "At three places."},
        {.key = "thickness",
         .label = "Depth",
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
         .help = "At three places."},
        {.key = "height",
         .label = "Height",
         .place = "along",
         .help = "Between the faces; both must be flat and parallel."},
        {.key = "extensometer_gauge_length",
         .label = "Le of the compressometer",
         .place = "extensometer",
         .needed = false,
         .help = "Without one the strain comes from the platens."},
    };
    m.results = {
        {.symbol = "E",
         .name = "modulus",
         .unit = "MPa",
         .step = 100,
         .headline = true,
         .help = "Slope of the straight part."},
        {.symbol = "Rp0.2",
         .name = "proof stress",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "The curve meets the modulus line moved by 0.2 %.",
         .published = "yield"},
        {.symbol = "sigma_y",
         .name = "yield stress",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "First maximum with falling or level stress after it."},
        {.symbol = "sigma_max",
         .name = "strength",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "Greatest stress, where it comes down again or the piece breaks."},
        {.symbol = "sigma_at_strain",
         .name = "stress at the stated strain",
         .unit = "MPa",
         .step = 0.1,
         .help = "Where no break comes.",
         .written = "sigma_x"},
    };
    m.options = {
        {.key = "slope",
         .label = "Straight part",
         .fallback = "auto",
         .help = "auto, chord A B (strains), secant A B or manual A B (stresses).",
         .place = Place::Both},
        {.key = "yield_offset",
         .label = "Offset",
         .fallback = "0.2 %",
         .kind = Kind::Strain,
         .help = "Plastic strain of the proof stress.",
         .place = Place::Both},
        {.key = "stated_strain",
         .label = "Stress also at",
         .kind = Kind::Strain,
         .help = "A strain, for pieces that never break."},
        usual::strainFrom("The platens include the machine."),
        usual::compliance("Taken off platen motion; with it the modulus is given from the platens too."),
        usual::areaFrom(),
        {.key = "ends",
         .label = "Ends",
         .choices = {"flat on platens", "pivoted"},
         .fallback = "flat on platens",
         .help = "How the ends are held counts for buckling."},
        usual::forceZero(),
        usual::peak(),
        usual::expectedForce(),
        {.key = "maximum_at",
         .label = "Maximum at",
         .kind = Kind::Strain,
         .help = "Strain where a person sees the maximum.",
         .place = Place::Curve},
    };
    m.steps = {
        {.stage = Stage::Plan, .text = "Identify: material, direction, moisture; faces flat and parallel."},
        {.stage = Stage::Measure,
         .text = "Measure across at three places, and the height.",
         .safety = "Edges are sharp: gloves.",
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
        {.stage = Stage::SetUp, .text = "Compressometer on and balanced, if there is one.", .watch = "extensometer-on"},
        {.stage = Stage::SetUp,
         .text = "Close the guard.",
         .safety = "Eye protection on. Brittle pieces burst; slender ones jump out.",
         .watch = "guard-closed"},
        {.stage = Stage::Load,
         .text = "Down to the touch, then slowly on to the end.",
         .safety = "Guard stays closed. Hands out of the platens."},
        {.stage = Stage::Read,
         .text = "Look at the shape: barrelled, buckled, sheared, split.",
         .safety = "Crushed pieces are sharp."},
    };
    m.notes = {
        {.key = "direction",
         .label = "Direction",
         .help = "Such as along the grain.",
         .shownAs = NoteSpec::Shown::Direction},
        {.key = "moisture", .label = "Moisture", .help = "Of wood, such as 12 %."},
        {.key = "shape_after",
         .label = "Shape after",
         .choices = {"even", "barrelled", "buckled", "sheared", "split", "end crushed"},
         .stage = Stage::Read,
         .help = "What the piece looks like now.",
         .sketches = pressedShapeSketches()},
    };
    m.rates = {.slow = 0.0005, .fast = 0.003, .changeAt = 0.02, .window = 0.5, .words = "0.0005 /s, faster past yield"};
    m.drawing = {.form = "column", .along = "height", .outer = {{"height", "height"}}};
    m.train = trains::pressed("extensometer_gauge_length");
    m.lengths = {"height"};
    m.channels = {{"force"}, {"extension", "strain", "displacement"}};
    m.leavesSet = {"buckled"};
    m.onMaximum = {"sigma_max"};
    m.leastSpecimens = 3;
    m.evaluate = evaluateCompression;
    m.loadedArea = sectionArea;
    m.section = shownSection;
    m.program = [](const RunInput& in) -> Expected<RunProgram> {
        // Down to the stated strain and a little on, or to where most metals have long yielded, and back.
        const auto stated = optionQuantity(in.specimen, "stated_strain", Kind::Strain);
        const double end = std::max(0.12, stated && *stated ? 1.05 * **stated : 0.0);
        return runToBreak(in.rates, 0, end * firstLength(in.specimen, "height"));
    };
    return m;
}

} // namespace fortitor
