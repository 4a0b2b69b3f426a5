// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/drop_weight/drop_weight.h"

#include "methods/common/options.h"
#include "methods/common/run.h"
#include "methods/common/section.h"

namespace fortitor {
namespace {

using Place = OptionSpec::Place;

std::vector<FieldSpec> fields()
{
    return {
        {.key = "thickness",
         .label = "Thickness",
         .readings = 3,
         .place = "through",
         .help = "At places round the point of the blow."},
        {.key = "length", .label = "Length", .place = "along", .needed = false},
        {.key = "width", .label = "Width", .place = "across", .needed = false},
        {.key = "dent_depth",
         .label = "Dent at once",
         .place = "dent",
         .afterBreak = true,
         .help = "By depth dial, at once after the blow."},
        {.key = "dent_depth_relaxed",
         .label = "Dent after the rest",
         .place = "dent",
         .afterBreak = true,
         .needed = false,
         .help = "After seven days, or as your procedure says."},
        {.key = "damage_length",
         .label = "Length of the damage",
         .place = "damage-along",
         .afterBreak = true,
         .needed = false,
         .help = "Along the plate, as seen or by ultrasound."},
        {.key = "damage_width",
         .label = "Width of the damage",
         .place = "damage-across",
         .afterBreak = true,
         .needed = false,
         .help = "Across the plate."},
    };
}

std::vector<ResultSpec> results()
{
    return {
        {.symbol = "F_max",
         .name = "peak force",
         .unit = "N",
         .step = 1,
         .headline = true,
         .help = "Greatest contact force, without the striker's own ringing."},
        {.symbol = "F_1",
         .name = "first damage load",
         .unit = "N",
         .step = 1,
         .headline = true,
         .help = "Before the first sudden loss of force."},
        {.symbol = "E_a",
         .name = "energy absorbed",
         .unit = "J",
         .step = 0.01,
         .headline = true,
         .help = "What the plate has kept when the contact ends."},
        {.symbol = "E_i",
         .name = "energy of the blow",
         .unit = "J",
         .step = 0.01,
         .headline = true,
         .help = "Of mass and speed at the contact."},
        {.symbol = "dent",
         .name = "dent",
         .unit = "mm",
         .step = 0.01,
         .headline = true,
         .help = "Depth at once after the blow.",
         .written = "dent",
         .fromPieces = true},
        {.symbol = "v_i",
         .name = "speed at the contact",
         .unit = "m/s",
         .step = 0.001,
         .help = "By the flag, as measured, or of a free fall."},
        {.symbol = "E_nominal",
         .name = "nominal energy",
         .unit = "J",
         .step = 0.01,
         .help = "Of mass and height, else by the thickness."},
        {.symbol = "d_at_max", .name = "deflection at peak", .unit = "mm", .step = 0.01, .mark = "F_max"},
        {.symbol = "E_at_max", .name = "energy at peak", .unit = "J", .step = 0.01, .mark = "F_max"},
        {.symbol = "t_contact", .name = "time in contact", .unit = "ms", .step = 0.01},
    };
}

std::vector<OptionSpec> options()
{
    return {
        {.key = "energy_per_thickness",
         .label = "Energy over thickness",
         .fallback = "6.7 J/mm",
         .kind = Kind::WidthEnergy,
         .help = "What a millimetre of plate is to take (ASTM D7136: 6.7 J/mm)."},
        {.key = "mass", .label = "Drop mass", .kind = Kind::Mass, .help = "Carriage, striker and weights together."},
        {.key = "height",
         .label = "Drop height",
         .kind = Kind::Length,
         .help = "Of the striker above the plate. Empty: what the energy needs."},
        {.key = "tower_height",
         .label = "Most height of the tower",
         .kind = Kind::Length,
         .help = "A blow that needs more is told, with the mass it takes."},
        {.key = "speed",
         .label = "Speed, measured",
         .kind = Kind::Speed,
         .help = "At the contact; it rules over the height."},
        {.key = "flag_width",
         .label = "Width of the flag",
         .kind = Kind::Length,
         .help = "That passes the light gate."},
        {.key = "flag_times",
         .label = "Times of the flag",
         .help = "Its two edges on the record's clock: 12.10 ms; 15.20 ms."},
        {.key = "striker",
         .label = "Striker",
         .fallback = "16 mm",
         .kind = Kind::Length,
         .help = "Diameter of its round nose."},
        usual::peak(),
        usual::forceZero(),
        usual::compliance("Of the frame, where the damage is pressed in."),
    };
}

std::vector<StepSpec> steps()
{
    return {
        {.stage = Stage::Plan,
         .text = "Identify: panel, lay-up, direction, conditioning; how many plates stay unhurt."},
        {.stage = Stage::Measure,
         .text = "Thickness at three places round the point of the blow; look for flaws.",
         .safety = "Fibres and dust: gloves, no dry sanding without extraction.",
         .watch = "measured"},
        {.stage = Stage::SetUp,
         .text = "Hold the drop mass by its mechanical block before anyone reaches in.",
         .safety = "The catcher is no block: a raised mass falls without warning."},
        {.stage = Stage::SetUp,
         .text = "Plate over the cut-out, centred by its pins, four clamps tight.",
         .safety = "Splinters: gloves. Mind the back when masses are lifted."},
        {.stage = Stage::SetUp,
         .text = "Mass and height for the energy; the catcher set for the rebound; light gate clean."},
        {.stage = Stage::Load,
         .text = "Guard closed, block out, release.",
         .safety = "Nobody reaches in. Pieces fly: eye protection."},
        {.stage = Stage::Load,
         .text = "Catch the rebound, block the mass, then take the plate out.",
         .safety = "Block first, hands after it."},
        {.stage = Stage::Load, .text = "Dent at once, damage on both faces, a photograph."},
    };
}

std::vector<NoteSpec> notes()
{
    const Stroke plate{{5, 10}, {35, 10}, {35, 30}, {5, 30}, {5, 10}};
    return {
        {.key = "direction",
         .label = "Fibre direction",
         .choices = {"along 0°", "crossed ±45°", "across 90°"},
         .help = "Of the outer plies.",
         .shownAs = NoteSpec::Shown::Direction},
        {.key = "layup", .label = "Lay-up", .help = "Such as [45/0/-45/90]4s."},
        {.key = "damage_front",
         .label = "Struck face",
         .choices = {"none", "dent", "crack", "hole"},
         .stage = Stage::Load,
         .help = "What is seen on the face that was struck.",
         .sketches = {{"none", {{plate}, {}}},
                      {"dent", {{plate, {{16, 20}, {18, 17}, {22, 17}, {24, 20}, {22, 23}, {18, 23}, {16, 20}}}, {}}},
                      {"crack", {{plate, {{11, 22}, {16, 19}, {20, 21}, {25, 18}, {29, 20}}}, {}}},
                      {"hole", {{plate}, {{16, 16, 8, 8}}}}}},
        {.key = "damage_back",
         .label = "Back face",
         .choices = {"none", "splits", "delamination", "hole"},
         .stage = Stage::Load,
         .help = "What is seen on the other face.",
         .sketches =
             {{"none", {{plate}, {}}},
              {"splits", {{plate, {{9, 17}, {31, 17}}, {{11, 20}, {29, 20}}, {{9, 23}, {31, 23}}}, {}}},
              {"delamination",
               {{plate, {{11, 20}, {15, 15}, {25, 15}, {29, 20}, {25, 25}, {15, 25}, {11, 20}}, {{14, 20}, {26, 20}}},
                {}}},
              {"hole", {{plate}, {{16, 16, 8, 8}}}}}},
        {.key = "operator", .label = "Operator"},
    };
}

} // namespace

Method dropWeight()
{
    Method m;
    m.id = "drop-weight";
    m.name = "drop weight";
    m.question = "What does a falling weight do to this plate?";
    m.standards = "ASTM D7136";
    m.shapes = {"plate"};
    m.fields = fields();
    m.results = results();
    m.options = options();
    m.steps = steps();
    m.notes = notes();
    m.intake = {.ways = {Intake::By::File}};
    m.drawing = {.form = "plate",
                 .across = {"width"},
                 .along = "length",
                 .heading = "The plate and where it is struck",
                 .headingAfter = "Dent and damage"};
    m.live = {.strain = false, .stress = false};
    for (PageSpec& page : m.pages)
        if (page.stage == Stage::Load)
            page = {Stage::Load, "Strike", "drop"};
    m.channels = {{"force"}, {"time", "displacement"}};
    m.onMaximum = {"F_max", "d_at_max", "E_at_max"};
    m.leavesSet = {"second-strike"};
    m.leastSpecimens = 5;
    m.evaluate = evaluateDropWeight;
    m.loadedArea = noArea;
    m.section = [](const SpecimenInput& input, bool) -> Expected<SectionShown> {
        SectionShown shown{.title = {}};
        const auto plan = dropPlan(input);
        if (!plan)
            return plan.problem();
        if (plan->wanted)
            shown.words = "Energy wanted for its thickness: " + formatFixed(*plan->wanted, 2) + " J";
        return shown;
    };
    return m;
}

} // namespace fortitor
