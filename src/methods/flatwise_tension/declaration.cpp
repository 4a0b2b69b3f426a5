// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/flatwise_tension/flatwise_tension.h"

#include "methods/common/options.h"
#include "methods/common/run.h"
#include "methods/common/figures.h"

namespace fortitor {

namespace {

/// Width times length of the bonded block, mm².
std::optional<double> bondedArea(const SpecimenInput& input)
{
    const double area = firstLength(input, "width") * firstLength(input, "length");
    return area > 0 ? std::optional(area) : std::nullopt;
}

Expected<SectionShown> bondedSection(const SpecimenInput& input, bool)
{
    return SectionShown{
        .area = bondedArea(input), .how = "width times length", .words = "the area that the blocks pull on"};
}

/// Block, adhesive, skin, bond, core, and the same again.
std::vector<SketchLayer> layers()
{
    using Fill = SketchLayer::Fill;
    const std::vector<SketchLayer> half{{.height = 0.16, .fill = Fill::Solid},
                                        {0.05, "block adhesive", Fill::Thin},
                                        {0.07, "skin", Fill::Dense},
                                        {0.06, "core-to-skin bond", Fill::Thin}};
    std::vector<SketchLayer> all = half;
    all.push_back({0.32, "core", Fill::Foam});
    all.insert(all.end(), half.rbegin(), half.rend());
    return all;
}

} // namespace

Method flatwiseTension()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "flatwise-tension";
    m.name = "flatwise tension, sandwich";
    m.question = "How well do the skins hold on their core?";
    m.standards = "ASTM C297";
    m.shapes = {"block"};
    m.fields = {
        {.key = "thickness",
         .label = "Thickness",
         .readings = 3,
         .place = "through",
         .help = "Ball micrometer on uneven skins, three places."},
        {.key = "width", .label = "Width a", .place = "across", .help = "Calliper, after cutting."},
        {.key = "length", .label = "Length b", .place = "along", .help = "Calliper, after cutting."},
    };
    m.results = {
        {.symbol = "Fz_tu",
         .name = "flatwise strength",
         .unit = "MPa",
         .step = 0.01,
         .headline = true,
         .help = "Greatest force over a·b."},
        {.symbol = "E_z",
         .name = "flatwise modulus",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "Only with a displacement pick-up on the specimen."},
        {.symbol = "eps_z",
         .name = "strain at strength",
         .unit = "%",
         .step = 0.01,
         .help = "Only with a displacement pick-up on the specimen."},
    };
    m.options = {
        usual::forceZero(),
        usual::peak(),
        usual::expectedForce("Weaker of core and adhesive times the area."),
        {.key = "slope",
         .label = "Straight part",
         .fallback = "auto",
         .help = "auto, or manual A B (stresses); for E_z only.",
         .place = Place::Both},
        {.key = "maximum_at",
         .label = "Maximum at",
         .kind = Kind::Length,
         .help = "Crosshead place where a person sees the maximum.",
         .place = Place::Curve},
    };
    m.steps = {
        {.stage = Stage::Plan,
         .text = "Choose an adhesive stronger than the core, and note its hours of cure.",
         .safety = "Adhesive: gloves and air."},
        {.stage = Stage::Measure,
         .text = "Three thickness readings by ball micrometer, width and length, label.",
         .safety = "Cut edges and dust: gloves, extraction.",
         .watch = "measured"},
        {.stage = Stage::Measure,
         .text = "Roughen, clean, bond the blocks under light pressure; start the cure clock.",
         .safety = "Adhesive and solvent: gloves and air."},
        {.stage = Stage::SetUp, .text = "The cure clock has run down.", .watch = "cured"},
        {.stage = Stage::SetUp,
         .text = "Choose the cell; see the margins.",
         .safety = "Know the stop button before you start.",
         .watch = "margins"},
        {.stage = Stage::SetUp, .text = "Zero the force with nothing pinned.", .watch = "force-zeroed"},
        {.stage = Stage::SetUp,
         .text = "Pin the top block; the specimen hangs free.",
         .safety = "Hands clear of the clevis.",
         .watch = "grip-top"},
        {.stage = Stage::SetUp,
         .text = "Pin the lower block, ease to a light preload of a few newtons.",
         .safety = "Crush point when jogging: jog enabled only for this.",
         .watch = "grip-second"},
        {.stage = Stage::SetUp,
         .text = "Close the guard.",
         .safety = "Eye protection on. The blocks fly apart.",
         .watch = "guard-closed"},
        {.stage = Stage::Load,
         .text = "Load to the break in 3 to 6 minutes.",
         .safety = "Guard stays closed. Stored energy is let go at once."},
        {.stage = Stage::Read,
         .text = "Pick the place of failure on the cross-section.",
         .safety = "Broken skins are sharp."},
    };
    m.notes = {
        {.key = "adhesive",
         .label = "Adhesive",
         .help = "From the list of adhesives under Instruments, with its strength and hours of cure.",
         .by = NoteSpec::By::Cure},
        {.key = "failure_place",
         .label = "Place of failure",
         .choices = {"core", "core-to-skin bond", "skin", "block adhesive"},
         .stage = Stage::Read,
         .help = "Where it failed, picked on the cross-section.",
         .by = NoteSpec::By::Section,
         .section = layers()},
    };
    m.rates = {.slow = 0,
               .fast = 0,
               .changeAt = 0,
               .window = 1,
               .speed = 0.5 / 60,
               .words = "0.5 mm/min, to break in 3 to 6 min (ASTM C297)"};
    m.drawing = {.form = "sandwich", .outer = {{"width", "width"}, {"length", "length"}}};
    m.live = {.strain = false};
    m.train = trains::gripped();
    m.lengths = {"thickness"};
    m.leavesSet = {"adhesive-failure", "cure-incomplete"};
    m.channels = {{"force"}};
    m.onMaximum = {"Fz_tu", "eps_z"};
    m.leastSpecimens = 5;
    m.evaluate = evaluateFlatwiseTension;
    m.loadedArea = bondedArea;
    m.section = bondedSection;
    m.program = [](const RunInput& in) -> Expected<RunProgram> { return runToBreak(in.rates, 0, 0); };
    return m;
}

} // namespace fortitor
