// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/tension_plastic/tension_plastic.h"

#include "methods/common/options.h"
#include "methods/common/section.h"
#include "methods/common/run.h"
#include "methods/tension_plastic/sketches.h"

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
         .help = "Across the narrow part; of a printed bar over the beads."},
        {.key = "thickness",
         .label = "Thickness",
         .readings = 3,
         .shape = "rectangular",
         .place = "through",
         .help = "At the same three places; light pressure on soft plastics."},
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
         .help = "50 or 75 mm on the usual bar; 25 mm on the small one."},
        {.key = "grip_distance",
         .label = "Between the grips",
         .place = "grips",
         .needed = false,
         .help = "115 mm on the usual bar. Nominal strain is crosshead motion over it."},
    };
}

std::vector<ResultSpec> results()
{
    return {
        {.symbol = "Et",
         .name = "modulus",
         .unit = "MPa",
         .step = 10,
         .headline = true,
         .help = "Slope between 0.05 and 0.25 % strain."},
        {.symbol = "sigma_y",
         .name = "yield stress",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "First maximum with falling or level stress after it."},
        {.symbol = "eps_y",
         .name = "strain at yield",
         .unit = "%",
         .step = 0.1,
         .headline = true,
         .help = "By extensometer.",
         .mark = "sigma_y"},
        {.symbol = "sigma_m",
         .name = "strength",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "First maximum of the stress, or the greatest of all."},
        {.symbol = "eps_m",
         .name = "strain at strength",
         .unit = "%",
         .step = 0.1,
         .help = "By extensometer.",
         .mark = "sigma_m"},
        {.symbol = "sigma_b",
         .name = "stress at break",
         .unit = "MPa",
         .step = 0.1,
         .help = "At the last reading before the fall.",
         .mark = "break"},
        {.symbol = "eps_b",
         .name = "strain at break",
         .unit = "%",
         .step = 0.1,
         .headline = true,
         .help = "Of a bar that broke before it yielded.",
         .mark = "break"},
        {.symbol = "eps_tb",
         .name = "nominal strain at break",
         .unit = "%",
         .step = 1,
         .headline = true,
         .help = "Crosshead over the grip distance.",
         .mark = "break"},
    };
}

std::vector<OptionSpec> options()
{
    return {
        {.key = "modulus",
         .label = "Modulus by",
         .choices = {"regression", "secant", "tangent"},
         .fallback = "regression",
         .help = "Least squares over 0.05 to 0.25 %, the chord between them, or the tangent at zero."},
        {.key = "segment",
         .label = "Modulus between",
         .fallback = "0.05 % 0.25 %",
         .help = "Two strains from the corrected origin.",
         .place = Place::Both},
        {.key = "strength",
         .label = "Strength is the",
         .choices = {"first maximum", "greatest"},
         .fallback = "first maximum",
         .help = "The first maximum (ISO 527-1), or the greatest stress of all."},
        {.key = "nominal",
         .label = "Nominal strain by",
         .choices = {"crosshead", "extensometer to yield"},
         .fallback = "crosshead",
         .help = "Crosshead over the grip distance throughout, or extensometer up to yield and crosshead increments "
                 "after it."},
        usual::strainFrom(),
        usual::compliance(),
        usual::areaFrom(),
        usual::forceZero(),
        usual::peak(),
        {.key = "grip_break",
         .label = "A break at the grip",
         .choices = {"counts", "is thrown out"},
         .fallback = "counts",
         .help = "A caution, or a reject that takes the bar out of the set."},
        usual::firstGrip(),
        usual::expectedForce(),
        {.key = "yield_at",
         .label = "Yield at",
         .kind = Kind::Strain,
         .help = "Strain where a person sees the yield.",
         .place = Place::Curve},
        {.key = "break_at",
         .label = "Break at",
         .kind = Kind::Strain,
         .help = "Strain of the last reading before the break.",
         .place = Place::Curve},
    };
}

std::vector<StepSpec> steps()
{
    return usual::withGrips(
        {
            {.stage = Stage::Plan,
             .text = "Identify: batch, moulded or printed, direction, conditioning (23 °C, 50 %, hours)."},
            {.stage = Stage::Measure,
             .text = "Measure width and thickness at three places; look for flash, voids, warp.",
             .safety = "Flash and support marks are sharp.",
             .watch = "measured"},
            {.stage = Stage::SetUp,
             .text = "Choose a small cell: plastics break at a few per cent of a metal cell.",
             .safety = "Know the stop button before you start.",
             .watch = "margins"},
            {.stage = Stage::SetUp, .text = "Zero the force with nothing in the grips.", .watch = "force-zeroed"},
        },
        "Grip the top end, the bar in line; the other end hangs free.", "Grip the lower end, the bar in line.",
        "ease the prestress under Et/2000.",
        {
            {.stage = Stage::SetUp,
             .text = "Extensometer on and balanced; soft clips on thin or printed bars.",
             .watch = "extensometer-on"},
            {.stage = Stage::SetUp,
             .text = "Close the guard.",
             .safety = "Eye protection on. Brittle bars throw splinters.",
             .watch = "guard-closed"},
            {.stage = Stage::Load,
             .text = "1 %/min for the modulus, extensometer off before a long draw, then faster.",
             .safety = "Guard stays closed. Long bars spring back when they break."},
            {.stage = Stage::Read,
             .text = "Look at the break: brittle, necked, drawn, at the grip, between layers.",
             .safety = "Broken ends are sharp."},
        });
}

} // namespace

Method tensionPlastic()
{
    Method m;
    m.id = "tension-plastic";
    m.name = "tension, plastics";
    m.question = "How strong is this plastic, and how far does it stretch?";
    m.standards = "ISO 527";
    m.shapes = {"rectangular", "round"};
    m.fields = fields();
    m.results = results();
    m.options = options();
    m.steps = steps();
    m.notes = {
        {.key = "direction",
         .label = "Print direction",
         .choices = {"along 0°", "crossed ±45°", "across 90°"},
         .help = "How the beads lie to the pull; drawn on the tag.",
         .shownAs = NoteSpec::Shown::Direction},
        {.key = "made", .label = "Made by", .choices = {"moulding", "printing", "machining"}},
        {.key = "raster", .label = "Raster, infill", .help = "Such as ±45°, 100 %."},
        {.key = "layer", .label = "Layer height", .help = "Such as 0.2 mm."},
        {.key = "conditioning", .label = "Conditioning", .help = "Such as 23 °C, 50 %, 40 h."},
        {.key = "fracture",
         .label = "Kind of break",
         .choices = {"brittle", "yield, then break", "neck and draw", "at the grip", "between layers"},
         .stage = Stage::Read,
         .help = "Look before the halves are put away.",
         .sketches = plasticBreakSketches()},
    };
    m.rates = {.slow = 1.0 / 6000,
               .fast = 0.05 / 60 * 10,
               .changeAt = 0.0035,
               .window = 0.5,
               .words = "1 %/min for the modulus (ISO 527-1), then faster"};
    m.drawing = {
        .along = "parallel_length",
        .inner = {{"extensometer_gauge_length", "extensometer"}},
        .outer = {{"grip_distance", "between the grips"}},
    };
    m.train = trains::gripped("extensometer_gauge_length");
    m.lengths = {"grip_distance"};
    m.leavesSet = {"break-at-grip"};
    m.channels = {{"force"}, {"extension", "strain", "displacement"}};
    m.onMaximum = {"sigma_y", "eps_y", "sigma_m", "eps_m"};
    m.leastSpecimens = 5;
    m.evaluate = evaluateTensionPlastic;
    m.loadedArea = sectionArea;
    m.section = shownSection;
    m.program = [](const RunInput& in) -> Expected<RunProgram> {
        const double off = extensometerOffAt(in.specimen, in.expected, "extensometer_gauge_length", "10 %");
        return runToBreak(in.rates, off, 0);
    };
    m.evaluateSet = checkPlasticSet;
    return m;
}

} // namespace fortitor
