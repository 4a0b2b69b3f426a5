// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/fatigue_sn.h"

#include "methods/common/figures.h"
#include "methods/common/section.h"
#include "methods/fatigue_sn/run_plan.h"

#include <fmt/format.h>

namespace fortitor {
namespace {

std::vector<FieldSpec> fields()
{
    return {
        {.key = "width",
         .label = "Width",
         .shape = "rectangular",
         .place = "across",
         .needed = false,
         .help = "Where the nominal stress is counted: for forces from ranges."},
        {.key = "thickness",
         .label = "Thickness",
         .shape = "rectangular",
         .place = "through",
         .needed = false,
         .help = "Of the plate that cracks."},
        {.key = "diameter", .label = "Diameter", .shape = "round", .place = "across", .needed = false},
        {.key = "area",
         .label = "Section",
         .kind = Kind::Area,
         .place = "section",
         .needed = false,
         .help = "In place of width and thickness."},
        {.key = "weld_leg", .label = "Weld leg", .needed = false, .help = "Mean of both sides."},
        {.key = "alignment",
         .label = "Misalignment",
         .needed = false,
         .negative = true,
         .help = "Of the plates, across the weld: it bends the piece in the grips."},
    };
}

std::vector<ResultSpec> results()
{
    using enum ResultSpec::Of;
    return {
        {.symbol = "S",
         .name = "stress range",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "Greatest less least stress; with a mean-stress rule, the range at R = −1 that does as much.",
         .written = "Δσ"},
        {.symbol = "N",
         .name = "cycles",
         .unit = "1",
         .step = 1,
         .headline = true,
         .help = "To the break; of a run-out what it stood."},
        {.symbol = fatigueKeys::damageSum,
         .name = "measured damage sum",
         .unit = "1",
         .step = 0.001,
         .headline = true,
         .help = "Of blocks to the break: 1 where Miner holds.",
         .written = "Dmeas"},
        {.symbol = fatigueKeys::start,
         .name = "crack seen from",
         .unit = "1",
         .step = 1,
         .help = "First lasting change of slope of what watches the piece.",
         .written = "Nstart"},
        {.symbol = fatigueKeys::parisC,
         .name = "growth at 1 MPa√m",
         .unit = "mm/cycle",
         .help = "C of the Paris line, da/dN = C·ΔK^m, ΔK in MPa√m.",
         .written = "C"},
        {.symbol = fatigueKeys::parisM,
         .name = "slope of growth",
         .unit = "1",
         .step = 0.01,
         .help = "m of the Paris line.",
         .written = "mP"},
        {.symbol = "m",
         .name = "slope",
         .unit = "1",
         .step = 0.01,
         .headline = true,
         .help = "Of log N over log Δσ.",
         .of = Set},
        {.symbol = "log_a",
         .name = "log N at 1 MPa",
         .unit = "1",
         .step = 0.001,
         .help = "Of the mean line.",
         .of = Set},
        {.symbol = "s_logN",
         .name = "scatter of log N",
         .unit = "1",
         .step = 0.001,
         .headline = true,
         .help = "About the mean line, to ten.",
         .of = Set},
        {.symbol = "S_ref",
         .name = "mean line",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "Range that half of the pieces stand for the reference cycles.",
         .written = "Δσm",
         .of = Set},
        {.symbol = "S_char",
         .name = "characteristic",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "By the bound that is chosen, at the reference cycles.",
         .written = "Δσk",
         .of = Set},
        {.symbol = "S_mean",
         .name = "staircase mean",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "Dixon and Mood.",
         .of = Set},
        {.symbol = "S_sd",
         .name = "staircase scatter",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "Where the ratio is 0.3 or more.",
         .of = Set},
    };
}

std::vector<OptionSpec> options()
{
    std::vector<OptionSpec> all{
        {.key = "kind",
         .label = "Kind",
         .choices = {"sn", "staircase", "variable"},
         .help = "A line over levels, or one level up and down about the run-out life; or blocks of "
                 "variable amplitude (Gassner line).",
         .words = {{"sn", "S–N line"}, {"staircase", "staircase"}, {"variable", "blocks"}}},
        {.key = "slope", .label = "Slope", .fallback = "free", .help = "free, or fixed 3 (of welds under tension)."},
        {.key = "run_outs",
         .label = "Run-outs",
         .choices = {"likelihood", "leave-out"},
         .help = "What did not break tells that its life is longer.",
         .words = {{"likelihood", "as lower bounds"}, {"leave-out", "left out"}}},
        {.key = "bound",
         .label = "Characteristic by",
         .choices = {"prediction", "tolerance"},
         .help = "The next piece lies above it; or so many of all do, with a confidence. Classes are drawn by "
                 "tolerance, 75 % confidence, 95 % survive.",
         .words = {{"prediction", "prediction of the next"}, {"tolerance", "one-sided tolerance"}}},
        {.key = "confidence", .label = "Confidence", .fallback = "95 %", .help = "One-sided."},
        {.key = "survival", .label = "Survival", .fallback = "95 %", .help = "Of a tolerance bound."},
        {.key = "reference_cycles", .label = "Reference cycles", .fallback = "2e6", .help = "Where S is read off."},
        {.key = "class",
         .label = "Detail class",
         .kind = Kind::Stress,
         .help = "71 MPa, say: the class that the detail is held against."},
        {.key = "mean_stress",
         .label = "Mean stress",
         .choices = {"none", "goodman", "gerber", "swt"},
         .help = "Ranges at R = −1 that do as much. Goodman and Gerber need Rm.",
         .words = {{"none", "as run"}, {"goodman", "Goodman"}, {"gerber", "Gerber"}, {"swt", "Smith–Watson–Topper"}}},
        {.key = "step", .label = "Step of the staircase", .kind = Kind::Stress, .help = "In ranges."},
        {.key = "group_by",
         .label = "Kinds of piece by",
         .choices = {"group", "thickness", "weld_leg", "alignment", "ratio", "source"},
         .help = "Pieces of several kinds get lines of their own, and are tested for a difference.",
         .words = {{"group", "group"},
                   {"thickness", "thickness"},
                   {"weld_leg", "weld leg"},
                   {"alignment", "misalignment"},
                   {"ratio", "R"},
                   {"source", "source"}}},
        {.key = fatigueKeys::block,
         .label = "File of the block",
         .help = "Of blocks: a block program, or turning points one a line.",
         .role = OptionSpec::Role::File},
        {.key = fatigueKeys::below,
         .label = "Below the knee",
         .choices = {"bent", "straight", "cut"},
         .help = "Of blocks: how small ranges do damage, with the slope above and 2m − 1 below 5·10⁶ cycles.",
         .words = {{"bent", "second slope"}, {"straight", "same slope"}, {"cut", "no damage"}}},
        {.key = fatigueKeys::calibration,
         .label = "Potential to crack",
         .help = "The laboratory's own: potential over that at the start, and mm: 1: 2; 1.1: 4; 1.3: 7."},
        {.key = fatigueKeys::geometry,
         .label = "Y of the crack",
         .help = "ΔK is Y·Δσ·√(π·a): mm and Y, 2: 1.12; 5: 1.2; 10: 1.41. Without it there is no Paris line."},
        {.key = fatigueKeys::crackStep,
         .label = "Growth a rate",
         .fallback = "0.25 mm",
         .kind = Kind::Length,
         .help = "A rate stands on at least so much growth: above the noise of the length."},
        {.key = fatigueKeys::ratesBy,
         .label = "Rates by",
         .choices = {"secant", "polynomial"},
         .help = "Between neighbours, or a parabola through seven (E647).",
         .words = {{"secant", "secant"}, {"polynomial", "parabola through seven"}}},
        {.key = "run_out_cycles",
         .label = "Run-out at",
         .fallback = "1e7",
         .help = "Cycles after which a whole piece is taken out.",
         .role = OptionSpec::Role::Run},
        {.key = "trip_travel",
         .label = "Stop: travel",
         .fallback = "1 mm",
         .kind = Kind::Length,
         .help = "Growth of the travel range over that of the first cycles.",
         .role = OptionSpec::Role::Run},
        {.key = "trip_drop",
         .label = "Stop: stiffness",
         .fallback = "10 %",
         .help = "Fall of the stiffness from that of the first cycles: a crack opens.",
         .role = OptionSpec::Role::Run},
        {.key = "trip_force",
         .label = "Stop: force",
         .fallback = "5 %",
         .help = "How far the force range may miss what is asked.",
         .role = OptionSpec::Role::Run},
        {.key = "trip_temperature",
         .label = "Stop: warmth",
         .fallback = "60 °C",
         .kind = Kind::Temperature,
         .help = "Of the piece.",
         .role = OptionSpec::Role::Run},
        {.key = fatigueKeys::call,
         .label = "Whom to call",
         .help = "When a run stops by itself: name and number.",
         .role = OptionSpec::Role::Run},
    };
    for (OptionSpec& option : all)
        if (!option.choices.empty())
            option.fallback = option.choices.front();
    return all;
}

std::vector<NoteSpec> notes()
{
    const Stroke left{{4, 14}, {18, 14}, {20, 20}, {17, 26}, {4, 26}, {4, 14}};
    const Stroke right{{36, 14}, {21, 14}, {23, 20}, {20, 26}, {36, 26}, {36, 14}};
    const Stroke whole{{4, 14}, {28, 14}, {28, 26}, {4, 26}, {4, 14}};
    const Stroke onwards{{30, 20}, {38, 20}, {34, 16}, {38, 20}, {34, 24}};
    const Stroke atClamp{{4, 14}, {8, 14}, {10, 20}, {7, 26}, {4, 26}, {4, 14}};
    const Stroke rest{{36, 14}, {11, 14}, {13, 20}, {10, 26}, {36, 26}, {36, 14}};
    return {
        {.key = fatigueKeys::planned, .label = "Planned at", .stage = Stage::Plan, .help = "Set on Plan."},
        {.key = fatigueKeys::outcome,
         .label = "End",
         .choices = {"broken", "run-out", "elsewhere"},
         .stage = Stage::Load,
         .help = "Broken where it should; whole at the run-out; broken elsewhere, at a clamp.",
         .sketches = {{"broken", {{left, right}, {}}},
                      {"run-out", {{whole, onwards}, {}}},
                      {"elsewhere", {{atClamp, rest}, {}}}}},
        {.key = fatigueKeys::ratio, .label = "R", .stage = Stage::Load, .help = "Least over greatest stress: 0.1."},
        {.key = fatigueKeys::frequency, .label = "Frequency", .stage = Stage::Load, .help = "8 Hz."},
        {.key = fatigueKeys::stopped, .label = "Stopped, because", .stage = Stage::Load},
        {.key = fatigueKeys::soFar,
         .label = "Cycles so far",
         .stage = Stage::Load,
         .help = "Of a run that was stopped."},
        {.key = fatigueKeys::started, .label = "Started at", .stage = Stage::Load, .help = "Set by itself."},
        {.key = fatigueKeys::ended, .label = "Ended at", .stage = Stage::Load, .help = "Set by itself."},
        {.key = fatigueKeys::group, .label = "Group", .help = "What tells kinds of piece apart."},
        {.key = "source", .label = "Source", .help = "Own, or where it is published."},
        {.key = "batch", .label = "Lot"},
        {.key = fatigueKeys::starts, .label = "Starts", .stage = Stage::Read, .help = "How many, on the face."},
        {.key = fatigueKeys::ratchetMarks,
         .label = "Ratchet marks",
         .stage = Stage::Read,
         .help = "Steps between starts."},
        {.key = fatigueKeys::startPlace,
         .label = "Place of start",
         .stage = Stage::Read,
         .help = "Weld toe, root, edge …"},
        {.key = fatigueKeys::depth, .label = "Crack depth", .stage = Stage::Read, .help = "At the last cycle."},
        {.key = fatigueKeys::length, .label = "Crack length", .stage = Stage::Read, .help = "Along the surface."},
        {.key = fatigueKeys::facesWatched,
         .label = "Faces watched",
         .stage = Stage::Read,
         .help = "Where extensometers, camera or potential look: front, back."},
        {.key = fatigueKeys::crackFace,
         .label = "Face of the crack",
         .stage = Stage::Read,
         .help = "Where it was found after the break."},
        {.key = "operator", .label = "Operator"},
    };
}

std::vector<StepSpec> steps()
{
    return {
        {.stage = Stage::Measure, .text = "Look over the weld: undercut, spatter, grinding; photograph the toe."},
        {.stage = Stage::SetUp,
         .text = "Grips and cell rated for fatigue, above the greatest force.",
         .watch = "margins"},
        {.stage = Stage::SetUp, .text = "Zero the force with the piece free at one end.", .watch = "force-zeroed"},
        {.stage = Stage::SetUp,
         .text = "Clamp without bending: strain both faces at half of the mean load.",
         .safety = "Hands out of the grips before they close; low pressure while setting up."},
        {.stage = Stage::SetUp,
         .text = "Set the stops for travel, stiffness, force and warmth, and whom to call.",
         .safety = "An unattended run stops by itself, or it is no unattended run: try each stop once."},
        {.stage = Stage::SetUp,
         .text = "Shield closed, sign on the frame with name and number.",
         .safety = "Pieces fly when they break. Nobody reaches in while it runs.",
         .watch = "guard-closed"},
        {.stage = Stage::Load, .text = "Bring up mean load, then the range within some hundred cycles."},
        {.stage = Stage::Load,
         .text = "Note the end, and where it broke, before the faces are touched.",
         .safety = "Pressure off and drive disabled before hands reach in."},
    };
}

} // namespace

Method fatigueSn()
{
    Method m;
    m.id = "fatigue-sn";
    m.name = "fatigue, S–N";
    m.question = "How long does it last under a load that repeats?";
    m.standards = "ISO 12107, ASTM E739, E466";
    m.shapes = {"rectangular", "round"};
    m.fields = fields();
    m.results = results();
    m.options = options();
    m.steps = steps();
    m.notes = notes();
    m.intake = {
        .ways = {Intake::By::Readings},
        .columns =
            {{.name = fatigueKeys::range,
              .label = "Stress range",
              .unit = "MPa",
              .optional = true,
              .kind = Kind::Stress},
             {.name = fatigueKeys::amplitude,
              .label = "Stress amplitude",
              .unit = "MPa",
              .optional = true,
              .kind = Kind::Stress},
             {.name = fatigueKeys::cycles, .label = "Cycles", .unit = "1", .optional = true, .kind = Kind::Number},
             {.name = fatigueKeys::blocks, .label = "Blocks", .unit = "1", .optional = true, .kind = Kind::Number}},
        .stamp = fatigueKeys::ended,
        .recordBeside = true};
    m.drawing = {.form = "waisted", .across = {"diameter", "width"}, .heading = "The piece"};
    m.live = {.strain = false, .stress = false};
    for (PageSpec& page : m.pages)
        if (page.stage == Stage::Load)
            page = {Stage::Load, "Run", "run"};
    m.leads = "N";
    m.leastSpecimens = 6;
    m.spread = SpreadSpec{.planned = fatigueKeys::planned,
                          .noted = fatigueKeys::range,
                          .label = "Levels",
                          .unit = "MPa",
                          .kind = Kind::Stress,
                          .example = "240: 2; 200: 2; 170: 2",
                          .low = 60,
                          .high = 240,
                          .alike = 1,
                          .words = runsInWords};
    m.evaluate = evaluateFatigue;
    m.evaluateSet = evaluateFatigueSet;
    m.averaged = false; // ranges and lives differ by intent
    m.loadedArea = sectionArea;
    m.section = shownSection;
    return m;
}

} // namespace fortitor
