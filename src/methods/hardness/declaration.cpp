// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/hardness/hardness.h"

#include "methods/hardness/adviser.h"

#include "methods/common/run.h"
#include "methods/common/section.h"
#include "methods/hardness/scales.h"

#include <string>
#include <tuple>

namespace fortitor {
namespace {

PadChannel length(const char* name, const char* label, const char* unit, bool optional = true)
{
    return {.name = name, .label = label, .unit = unit, .optional = optional, .kind = Kind::Length};
}

PadChannel figure(const char* name, const char* label)
{
    return {.name = name, .label = label, .unit = "1", .optional = true, .kind = Kind::Number};
}

/// What may be keyed of an indent on a scale; without one all of it.
std::vector<PadChannel> columnsOf(const HardnessScale* scale)
{
    using enum HardnessScale::By;
    const auto is = [&](HardnessScale::By by) { return !scale || scale->by == by; };
    std::vector<PadChannel> columns{{.name = "value",
                                     .label = "Number",
                                     .unit = scale ? std::string(scale->name) : "HV",
                                     .optional = true,
                                     .kind = Kind::Hardness,
                                     .formerly = Kind::Stress}};
    const auto add = [&](std::initializer_list<PadChannel> more) { columns.insert(columns.end(), more); };
    if (is(Rockwell))
        add({length("depth", "Lasting depth", "mm")});
    if (is(Brinell))
        add({length("diameter_1", "Diameter", "mm"), length("diameter_2", "Diameter across", "mm")});
    if (is(Vickers))
        add({length("diagonal_1", "First diagonal", "um"), length("diagonal_2", "Second, turned 90°", "um")});
    if (is(Knoop))
        add({length("long_diagonal", "Long diagonal", "um"), length("half_1", "One half", "um"),
             length("half_2", "Other half", "um")});
    if (is(Vickers) || is(Knoop))
        add({figure("barrel_1", "Barrel"), figure("drum_1", "Drum"), figure("barrel_2", "Barrel, turned"),
             figure("drum_2", "Drum, turned")});
    for (const auto& [name, label, role] :
         {std::tuple("x", "x", PadChannel::Role::X), std::tuple("y", "y", PadChannel::Role::Y),
          std::tuple("from_surface", "From the surface", PadChannel::Role::Depth)}) {
        columns.push_back(length(name, label, "mm"));
        columns.back().role = role;
    }
    return columns;
}

std::vector<ResultSpec> resultsOf(const std::string& unit, double step)
{
    return {
        {.symbol = "H",
         .name = "hardness",
         .unit = unit,
         .step = step,
         .headline = true,
         .help = "Mean of the indents that count.",
         .written = "H"},
        {.symbol = "H_sd",
         .name = "scatter of the indents",
         .unit = unit,
         .step = step / 10,
         .headline = true,
         .help = "Standard deviation of the indents."},
        {.symbol = "H_min", .name = "least", .unit = unit, .step = step, .help = "Least of the indents."},
        {.symbol = "H_max", .name = "greatest", .unit = unit, .step = step, .help = "Greatest of the indents."},
        {.symbol = "CHD",
         .name = "case depth",
         .unit = "mm",
         .step = 0.01,
         .headline = true,
         .help = "Deepest place where the hardness falls through the limit.",
         .written = "CHD"},
        {.symbol = "Rm_from_HBW",
         .name = "strength by HBW",
         .unit = "MPa",
         .step = 10,
         .help = "3.45 of one HBW: an estimate for plain steels, ±10 %."},
        {.symbol = "Rm_from_HV",
         .name = "strength by HV",
         .unit = "MPa",
         .step = 10,
         .help = "9.80665/3 of one HV: an estimate for plain steels, ±10 %."},
        {.symbol = "block_error",
         .name = "error on the block",
         .unit = unit,
         .step = step / 10,
         .help = "Mean less the number of the reference block."},
        {.symbol = "block_spread",
         .name = "spread on the block",
         .unit = unit,
         .step = step / 10,
         .help = "Greatest less least."},
    };
}

std::vector<OptionSpec> optionsOfHardness()
{
    return {
        {.key = "scale",
         .label = "Scale",
         .fallback = "",
         .help = "HRC, HRB, HBW, HV, HK … Each is a number of its own."},
        {.key = "force",
         .label = "Test force",
         .kind = Kind::Force,
         .help = "Of Brinell, Vickers and Knoop, such as 98.07 N or 10 kgf."},
        {.key = "ball", .label = "Ball", .kind = Kind::Length, .help = "Of Brinell: 10, 5, 2.5 or 1 mm."},
        {.key = "expected",
         .label = "Expected",
         .fallback = "",
         .help = "The hardness that is expected, such as 700 HV: sizes the indents while none is made."},
        {.key = "asked",
         .label = "Asked by the drawing",
         .fallback = "",
         .help = "A scale, such as HRC or HV 10; it stands first where it will do."},
        {.key = "marks",
         .label = "Marks",
         .choices = {"allowed", "not seen"},
         .fallback = "allowed",
         .help = "Whether an indent may be seen on the piece.",
         .role = OptionSpec::Role::Run},
        {.key = "dwell",
         .label = "Dwell",
         .kind = Kind::Time,
         .help = "Told in the notation where it is not 10 to 15 s."},
        {.key = "seating",
         .label = "Seating readings",
         .fallback = "",
         .help =
             "First readings set aside after a change of indenter, anvil or weights. Rockwell: two; the habit of many "
             "shops is one."},
        {.key = "spacing",
         .label = "Distances",
         .choices = {"standard", "shop"},
         .fallback = "standard",
         .help = "Three sizes of an indent (light metals six, of a pyramid); the looser rule of the shop is two.",
         .words = {{"standard", "standard"}, {"shop", "shop rule"}}},
        {.key = "case_limit",
         .label = "Limit of the case",
         .fallback = "550 HV",
         .help = "A number, or \"core +50 HV\" for nitrided layers."},
        {.key = "family",
         .label = "Kind of material",
         .choices = {"by name", "plain steel", "austenitic or cold-worked steel", "cast iron", "copper alloy",
                     "light metal", "other"},
         .fallback = "by name",
         .help = "Decides on the estimate of strength and the distance of indents."},
        {.key = "curved",
         .label = "Surface",
         .choices = {"none", "cylinder"},
         .fallback = "none",
         .help = "A round piece reads low.",
         .words = {{"none", "flat"}, {"cylinder", "round"}}},
        {.key = "curved_by",
         .label = "Correction for the round",
         .fallback = "",
         .help = "From the laboratory's table for this diameter: added to Rockwell numbers, a factor of the others."},
        {.key = "filar_barrel",
         .label = "Barrel division",
         .fallback = "50",
         .help = "Drum units of one division of the barrel."},
        {.key = "filar_drum", .label = "Drum division", .fallback = "1", .help = "Units of one division of the drum."},
        {.key = "filar_zero",
         .label = "Zero of the eyepiece",
         .fallback = "0",
         .help = "Drum units taken off each opening."},
        {.key = "filar_factor",
         .label = "Objective",
         .kind = Kind::Length,
         .help = "Length of one drum unit with this objective, such as 0.25 um."},
        {.key = "block_error_limit",
         .label = "Block: error",
         .fallback = "",
         .help =
             "What the mean on a reference block may be off by, in numbers of the scale; empty: the starting values."},
        {.key = "block_spread_limit",
         .label = "Block: spread",
         .fallback = "",
         .help = "What its readings may spread over; empty: the starting values."},
    };
}

std::vector<StepSpec> stepsOfHardness(const HardnessScale* scale)
{
    using enum HardnessScale::By;
    const bool rockwell = scale && scale->by == Rockwell;
    const bool pyramid = scale && (scale->by == Vickers || scale->by == Knoop);
    std::vector<StepSpec> steps{
        {.stage = Stage::Plan,
         .text = "Choose the scale: inside its band, and light enough for the thickness or the layer."},
        {.stage = Stage::Measure, .text = "Thickness, and where the indents shall stand.", .watch = "measured"},
        {.stage = Stage::SetUp,
         .text = "Fit the indenter and the force; wipe indenter, anvil and piece.",
         .safety = "Keep fingers off the point of the indenter: grease changes the reading, and the point cuts."},
        {.stage = Stage::SetUp,
         .text = pyramid ? "Is the surface polished? Below 1 kgf it must be."
                         : "Is the surface ground, clean and free of scale on both sides?"},
        {.stage = Stage::SetUp, .text = "Check on the reference block of this scale: each day, and after each change."},
    };
    const auto add = [&](std::initializer_list<StepSpec> more) { steps.insert(steps.end(), more); };
    if (rockwell)
        add({
            {.stage = Stage::SetUp,
             .text = "Set the weights at the point to the scale, with the lever back.",
             .safety = "Two hands for the weights; keep feet clear."},
            {.stage = Stage::Load,
             .text = "Raise the piece until the small hand stands on its dot. If it goes past, lower it and take a new "
                     "place; never turn back.",
             .safety = "Lever back before the piece is raised. Fingers off the anvil."},
            {.stage = Stage::Load,
             .text =
                 "Bring the dial to its mark by turning the rim; release the lever; wait until the needle rests; lever "
                 "back; read."},
        });
    else
        add({
            {.stage = Stage::SetUp,
             .text = "Sharpen the lines of the eyepiece, then bring the piece close while looking from the side."},
            {.stage = Stage::Load,
             .text = "Focus only by moving the piece away from the lens.",
             .safety = "Lower the stage before the turret turns; hands off the bench while the load is on."},
            {.stage = Stage::Load,
             .text = "Bring the lines to both ends, never past each other; read, turn by 90°, read again."},
        });
    add({
        {.stage = Stage::Load, .text = "Cover the machine and write the log when you are done."},
        {.stage = Stage::Read, .text = "Look at the indents: cracked, lopsided or sunk ones are no readings."},
    });
    return steps;
}

Method hardnessOn(const HardnessScale* scale, const Unit& unit)
{
    Method m;
    m.id = "hardness";
    m.name = "hardness";
    m.variant = unit.symbol;
    m.question = "How hard is it?";
    m.standards = !scale                           ? "ISO 6506, 6507, 6508, 4545"
        : scale->by == HardnessScale::By::Rockwell ? "ISO 6508-1"
        : scale->by == HardnessScale::By::Brinell  ? "ISO 6506-1"
        : scale->by == HardnessScale::By::Vickers  ? "ISO 6507-1"
                                                   : "ISO 4545-1";
    m.shapes = {"block", "disc", "bar", "wire", "mounted piece", "gear tooth"};
    m.fields = {
        {.key = "thickness", .label = "Thickness", .place = "through", .needed = false, .help = "Under the indents."},
        {.key = "layer_depth",
         .label = "Layer",
         .place = "layer",
         .needed = false,
         .help = "Of a case or coating, as far as it is known."},
        {.key = "diameter", .label = "Diameter", .place = "across", .needed = false, .help = "Of a round piece."},
        {.key = "length",
         .label = "Length",
         .place = "along",
         .needed = false,
         .help =
             "Of the face that is indented; of a bar or wire with a diameter, along its curved side; of a tooth from "
             "root to tip."},
        {.key = "width",
         .label = "Width",
         .place = "across",
         .needed = false,
         .help = "Of the face that is indented; of a tooth at its root."},
        {.key = "tip_width",
         .label = "Width at the tip",
         .shape = "gear tooth",
         .place = "across",
         .needed = false,
         .help = "Its flanks are taken to be straight from root to tip."},
    };
    m.results = resultsOf(std::string(unit.symbol), scale && scale->by == HardnessScale::By::Rockwell ? 0.1 : 1);
    m.options = optionsOfHardness();
    m.steps = stepsOfHardness(scale);
    m.notes = {
        {.key = "block",
         .label = "Reference block",
         .help = "The number stamped on it, such as 45.2 HRC; empty for a piece."},
        {.key = "after_change",
         .label = "After a change",
         .choices = {"no", "yes"},
         .stage = Stage::Load,
         .help = "Of indenter, anvil or weights: the first readings only seat them, and are set aside."},
        {.key = "stands_on",
         .label = "Anvil",
         .choices = {"flat", "V", "spot"},
         .help = "V for round pieces, a spot for thin ones. Another than before: the next Rockwell readings seat it."},
        {.key = "finish", .label = "Finish", .choices = {"as made", "ground", "polished"}},
        {.key = "operator", .label = "Operator"},
        {.key = "tester",
         .label = "Tester",
         .help = "The machine it is read on, as it is called on Instruments: block checks hold for one machine."},
        {.key = "read_at",
         .label = "Read at",
         .stage = Stage::Load,
         .help = "When the first reading was taken; set by itself."},
    };
    if (scale && scale->by != HardnessScale::By::Rockwell) // only a depth hangs on what the piece stands on
        std::erase_if(m.notes, [](const NoteSpec& note) { return note.key == "stands_on"; });
    m.intake = {.ways = {Intake::By::Readings}, .columns = columnsOf(scale), .stamp = "read_at", .machine = "tester"};
    m.drawing = {.form = "indented",
                 .across = {"diameter", "thickness"},
                 .along = "thickness",
                 .heading = "The piece, and where the indents stand"};
    m.live = {.strain = false, .stress = false};
    m.pages = standardPages();
    for (PageSpec& page : m.pages) {
        if (page.stage == Stage::Measure)
            page = {Stage::Measure, "Measure", "piece"};
        if (page.stage == Stage::Load)
            page = {Stage::Load, "Indent", "indent"};
    }
    m.leads = "H";
    m.checks = "block_error";
    m.readingsKey = "indents";
    m.leastSpecimens = 1;
    m.evaluate = evaluateHardness;
    m.evaluateSet = evaluateHardnessSet;
    m.propose = adviseScale;
    m.loadedArea = noArea;
    m.section = shownSection;
    m.byOptions = [](const std::map<std::string, std::string>& options) {
        const auto it = options.find("scale");
        const std::string name = it == options.end() ? std::string() : it->second;
        const HardnessScale* chosen = findHardnessScale(name == "HBS" ? "HBW" : name);
        return hardnessOn(chosen,
                          name == "HBS" ? *findUnit("HBS", Kind::Hardness)
                              : chosen  ? unitOf(*chosen)
                                        : *findUnit("HV", Kind::Hardness));
    };
    return m;
}

} // namespace

Method hardness()
{
    return hardnessOn(nullptr, *findUnit("HV", Kind::Hardness));
}

} // namespace fortitor
