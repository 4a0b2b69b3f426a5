// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/proof_load/proof_load.h"

#include "methods/common/options.h"
#include "methods/common/figures.h"
#include "methods/common/run.h"
#include "methods/proof_load/rules.h"

namespace fortitor {
namespace {

std::vector<FieldSpec> fields()
{
    std::vector<FieldSpec> all;
    for (const auto& [key, label, place] : {std::tuple("pin", "Pin", "pin"),
                                            {"bow", "Bow", "bow"},
                                            {"eye", "Eye, along", "along"},
                                            {"eye_across", "Eye, across", "across"}})
        for (const bool after : {false, true})
            all.push_back({.key = std::string(key) + (after ? "_after" : ""),
                           .label = std::string(label) + (after ? ", after" : ""),
                           .place = place,
                           .afterBreak = after,
                           .needed = false});
    for (const auto& [key, label, place] :
         {std::tuple("pin_new", "Pin as new", "pin"), {"bow_new", "Bow as new", "bow"}})
        all.push_back({.key = key,
                       .label = label,
                       .place = place,
                       .needed = false,
                       .help = "From the drawing or an unused part: wear is told against it."});
    return all;
}

std::vector<ResultSpec> results()
{
    return {
        {.symbol = "F_max",
         .name = "greatest load",
         .unit = "N",
         .step = 10,
         .headline = true,
         .help = "Of the pull to the end; \"at least\" where it was stopped."},
        {.symbol = "factor",
         .name = "on working load",
         .unit = "1",
         .step = 0.1,
         .headline = true,
         .help = "Greatest load over working load."},
        {.symbol = "F_knee",
         .name = "lasting yield",
         .unit = "N",
         .step = 10,
         .headline = true,
         .help = "Slope fallen to half, or by an offset.",
         .mark = "F_knee"},
        {.symbol = "set_1",
         .name = "first cycle",
         .unit = "mm",
         .step = 0.01,
         .headline = true,
         .help = "Slack taken out."},
        {.symbol = "set_2", .name = "second cycle", .unit = "mm", .step = 0.01, .headline = true},
        {.symbol = "k",
         .name = "stiffness",
         .unit = "N/mm",
         .step = 1,
         .headline = true,
         .help = "Mean of both flanks of the last proof cycle, 20 to 80 %."},
        {.symbol = "slack",
         .name = "taken up first",
         .unit = "mm",
         .step = 0.01,
         .help = "Free travel taken up in the first cycle."},
        {.symbol = "creep_1", .name = "first hold", .unit = "mm", .step = 0.001},
        {.symbol = "creep_2", .name = "second hold", .unit = "mm", .step = 0.001},
        {.symbol = "F_function",
         .name = "function lost at",
         .unit = "N",
         .step = 100,
         .help = "Between the last load after which it moved free and this one."},
        {.symbol = "W_h",
         .name = "energy of the loop",
         .unit = "J",
         .step = 0.01,
         .help = "Lost in the last proof cycle."},
        {.symbol = "d_knee", .name = "way to the knee", .unit = "mm", .step = 0.01, .mark = "F_knee"},
        {.symbol = "F_break", .name = "load at the break", .unit = "N", .step = 10},
        {.symbol = "d_max", .name = "way to the greatest load", .unit = "mm", .step = 0.01, .mark = "F_max"},
    };
}

std::vector<OptionSpec> options()
{
    return {
        {.key = "working_load",
         .label = "Working load",
         .kind = Kind::Force,
         .help = "As marked, or as rated. A mass stands for its weight: 0.8 t is 7.85 kN."},
        {.key = "proof_factor", .label = "Proof factor", .fallback = "1", .help = "Proof load over working load."},
        {.key = "proof_load", .label = "Proof load", .kind = Kind::Force, .help = "In place of the factor."},
        {.key = "cycles", .label = "Proof cycles", .fallback = "2"},
        {.key = "ramp",
         .label = "Ramp to it",
         .fallback = "20 s",
         .kind = Kind::Time,
         .help = "How long the proof load takes to be put on, by force rate.",
         .role = OptionSpec::Role::Run},
        {.key = "hold",
         .label = "Hold",
         .fallback = "30 s",
         .kind = Kind::Time,
         .help = "How long each proof load is held; where it is stated, a shorter one in the record is told.",
         .role = OptionSpec::Role::Run},
        {.key = "pull",
         .label = "After them",
         .choices = {"to-end", "none"},
         .fallback = "to-end",
         .help = "To break or the limit of the fixture, by displacement. The part is scrap then.",
         .role = OptionSpec::Role::Run,
         .words = {{"to-end", "pull to the end"}, {"none", "proof loads only"}}},
        {.key = "pull_speed",
         .label = "Speed of the pull",
         .fallback = "5 mm/min",
         .kind = Kind::Speed,
         .help = "Of the ram, to the end.",
         .role = OptionSpec::Role::Run},
        {.key = "knee",
         .label = "Onset of yield",
         .choices = {"half-slope", "offset"},
         .fallback = "half-slope",
         .help = "Slope fallen to half of k for good, or a line moved by the offset.",
         .words = {{"half-slope", "half the slope"}, {"offset", "offset"}}},
        {.key = "knee_offset",
         .label = "Its offset",
         .fallback = "0.2 mm",
         .kind = Kind::Length,
         .place = OptionSpec::Place::Both},
        {.key = "knee_at",
         .label = "Knee by hand",
         .kind = Kind::Length,
         .help = "Travel from the record's start to the knee, put there by hand.",
         .place = OptionSpec::Place::Curve},
        {.key = "fixture_limit",
         .label = "Limit of the fixture",
         .kind = Kind::Force,
         .help = "Of its weakest part; the frame stops there by itself."},
        usual::compliance("Of grips, yokes and frame; taken off the ram's motion."),
        usual::forceZero(),
    };
}

std::vector<NoteSpec> notes()
{
    const Stroke pin{{8, 20}, {32, 20}};
    const auto function = [&](const char* key, const char* label) {
        return NoteSpec{.key = key,
                        .label = label,
                        .choices = {"free", "tool", "stuck"},
                        .stage = Stage::Load,
                        .help = "Free by hand, needs a tool, or stuck.",
                        .sketches = {{"free", {{pin, {{26, 14}, {32, 20}, {26, 26}}}, {}}},
                                     {"tool", {{pin, {{14, 12}, {14, 28}}}, {}}},
                                     {"stuck", {{pin, {{14, 12}, {26, 28}}, {{26, 12}, {14, 28}}}, {}}}}};
    };
    return {
        {.key = "part",
         .label = "Part",
         .choices = {"eye", "hook", "link", "shackle", "strap", "rope", "chain"},
         .help = "Its kind."},
        {.key = "marking", .label = "Marking", .help = "Working load and maker's mark as read on it; empty: none."},
        {.key = "known_by",
         .label = "Known by",
         .choices = {"mark", "tag"},
         .help = "By its own mark or by a tag, the same before and after."},
        {.key = "part_mass", .label = "Its mass", .help = "For the strength of each kilogram."},
        {.key = "price", .label = "Its price", .help = "Such as 12.50 EUR: for the strength of each of them."},
        function("function_1", "After cycle 1"),
        function("function_2", "After cycle 2"),
        function("function_end", "After the end"),
        {.key = "function_1_distance",
         .label = "Distance after cycle 1",
         .stage = Stage::Load,
         .help = "Along the load, measured as before the test."},
        {.key = "function_2_distance",
         .label = "Distance after cycle 2",
         .stage = Stage::Load,
         .help = "Along the load, measured as before the test."},
        {.key = "end",
         .label = "End",
         .choices = {"broken", "stopped", "none"},
         .stage = Stage::Load,
         .help = "It broke, was stopped before, or was not pulled further."},
        {.key = "rest",
         .label = "Rest",
         .stage = Stage::Load,
         .help = "From unloading to the second reading of the set."},
        {.key = "set_after_rest",
         .label = "Set after the rest",
         .stage = Stage::Load,
         .help = "Read again once it has rested: what has come back."},
        {.key = "operator", .label = "Operator"},
    };
}

std::vector<StepSpec> steps()
{
    return {
        {.stage = Stage::Plan, .text = "Name working load, proof load and breaking load apart, each with its source."},
        {.stage = Stage::Measure,
         .text = "Look over the part: marking, cracks, wear, corrosion, welds; mark it with its label.",
         .watch = "measured"},
        {.stage = Stage::SetUp,
         .text = "Cell, pins and fixture stronger than the greatest load asked; pins as thick as those in use.",
         .safety = "Stored energy is set free at once: shield closed, nobody in the line of the load.",
         .watch = "margins"},
        {.stage = Stage::SetUp, .text = "Zero the force with the part free.", .watch = "force-zeroed"},
        {.stage = Stage::SetUp, .text = "Part on the upper pin, in line with the load.", .watch = "grip-top"},
        {.stage = Stage::SetUp,
         .text = "On the lower pin, hanging free: no load on it yet.",
         .safety = "Hands out before anything moves.",
         .watch = "grip-second-bottom"},
        {.stage = Stage::SetUp,
         .text = "Shield closed.",
         .safety = "Nobody in the line of fire while there is load on it.",
         .watch = "guard-closed"},
        {.stage = Stage::Load,
         .text = "Proof load by force rate, hold, back to zero; drive disabled before hands reach in.",
         .safety = "Nobody in the line of fire while there is load on it."},
        {.stage = Stage::Load,
         .text = "Check the function: pin turns, parts move free by hand; distances as before.",
         .safety = "At no force and with the drive disabled only; whoever checks gives free."},
        {.stage = Stage::Load,
         .text =
             "To the end by displacement, so that a yielding part does not run away; it stops at the fixture's limit.",
         .safety = "A pulled part is scrapped, never returned to use."},
    };
}

/// The form of the drawing by the kind of part.
std::string formOfPart(const SpecimenInput& input)
{
    const std::string kind = noteOf(input, "part");
    return "part-" + (kind.empty() ? "eye" : kind == "rope" ? "strap" : kind);
}

} // namespace

Method proofLoad()
{
    Method m;
    m.id = "proof-load";
    m.name = "proof load and strength";
    m.question = "Does this part hold its proof load?";
    m.standards = "rules of the job";
    m.shapes = {"part"};
    m.fields = fields();
    m.results = results();
    m.options = options();
    m.steps = steps();
    m.notes = notes();
    m.intake = {.ways = {Intake::By::Frame}};
    m.drawing = {.form = "part-eye",
                 .across = {"eye_across"},
                 .along = "eye",
                 .heading = "The part",
                 .headingAfter = "After the test",
                 .formOf = formOfPart};
    m.train = trains::onFixture("grips", LinkSpec::Form::Grips, "no pins or yokes chosen", Kind::Force);
    m.section = partSizes;
    m.lotOf = markedOrNot;
    m.evaluateSet = evaluateProofSet;
    m.scraps = true;
    m.expect = expectedOfPart;
    m.speeds = partSpeeds;
    m.program = proofProgram;
    m.profile = proofProfile;
    m.judgeRule = judgeRule;
    m.strictestRule = strictestRule;
    m.live = {.strain = false, .stress = false};
    m.channels = {{"force"}, {"displacement"}};
    m.reference = {};
    m.onMaximum = {"F_max", "d_max", "factor"};
    m.leastSpecimens = 1;
    m.evaluate = evaluateProofLoad;
    m.loadedArea = noArea;
    return m;
}

} // namespace fortitor
