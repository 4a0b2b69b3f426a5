// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/proof_load/proof_load.h"

#include "methods/common/options.h"
#include "methods/common/run.h"

namespace fortitor {
namespace {

std::vector<FieldSpec> fields()
{
    std::vector<FieldSpec> all;
    for (const auto& [key, label, place] : {std::tuple("pin", "Pin", "pin"),
                                            {"bow", "Bow", "bow"},
                                            {"eye", "Eye, along the load", "along"},
                                            {"eye_across", "Eye, across", "across"}})
        for (const bool after : {false, true})
            all.push_back({.key = std::string(key) + (after ? "_after" : ""),
                           .label = std::string(label) + (after ? ", after" : ""),
                           .place = place,
                           .afterBreak = after,
                           .needed = false});
    return all;
}

std::vector<ResultSpec> results()
{
    return {
        {.symbol = "F_max",
         .name = "greatest load",
         .unit = "kN",
         .step = 0.01,
         .headline = true,
         .help = "Of the pull to the end; \"at least\" where it was stopped."},
        {.symbol = "factor",
         .name = "factor on working load",
         .unit = "1",
         .step = 0.1,
         .headline = true,
         .help = "Greatest load over working load."},
        {.symbol = "F_knee",
         .name = "onset of lasting yield",
         .unit = "kN",
         .step = 0.01,
         .headline = true,
         .help = "Slope fallen to half, or by an offset.",
         .mark = "F_knee"},
        {.symbol = "set_1",
         .name = "set of the first cycle",
         .unit = "mm",
         .step = 0.01,
         .headline = true,
         .help = "Slack taken out."},
        {.symbol = "set_2", .name = "set of the second cycle", .unit = "mm", .step = 0.01, .headline = true},
        {.symbol = "k",
         .name = "stiffness",
         .unit = "N/mm",
         .step = 1,
         .headline = true,
         .help = "Mean of both flanks of the last proof cycle, 20 to 80 %."},
        {.symbol = "slack",
         .name = "slack",
         .unit = "mm",
         .step = 0.01,
         .help = "Free travel taken up in the first cycle."},
        {.symbol = "creep_1", .name = "creep in the first hold", .unit = "mm", .step = 0.001},
        {.symbol = "creep_2", .name = "creep in the second hold", .unit = "mm", .step = 0.001},
        {.symbol = "F_function",
         .name = "function lost at",
         .unit = "kN",
         .step = 0.1,
         .help = "Between the last load after which it moved free and this one."},
        {.symbol = "W_h",
         .name = "energy of the loop",
         .unit = "J",
         .step = 0.01,
         .help = "Lost in the last proof cycle."},
        {.symbol = "d_knee", .name = "way to the knee", .unit = "mm", .step = 0.01, .mark = "F_knee"},
        {.symbol = "F_break", .name = "load at the break", .unit = "kN", .step = 0.01},
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
        {.key = "knee",
         .label = "Onset of yield",
         .choices = {"half-slope", "offset"},
         .fallback = "half-slope",
         .help = "Slope fallen to half of k for good, or a line moved by the offset.",
         .words = {{"half-slope", "half the slope"}, {"offset", "offset"}}},
        {.key = "knee_offset", .label = "Its offset", .fallback = "0.2 mm", .kind = Kind::Length},
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
        function("function_1", "After cycle 1"),
        function("function_2", "After cycle 2"),
        function("function_end", "After the end"),
        {.key = "end",
         .label = "End",
         .choices = {"broken", "stopped", "none"},
         .stage = Stage::Load,
         .help = "It broke, was stopped before, or was not pulled further."},
        {.key = "rest",
         .label = "Rest",
         .stage = Stage::Load,
         .help = "From unloading to the second reading of the set."},
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
         .text =
             "Part in line with the load, on pins as thick as those it is used with; fixture stronger than the greatest load asked.",
         .safety = "Stored energy is set free at once: shield closed, nobody in the line of the load."},
        {.stage = Stage::SetUp, .text = "Zero the force with the part free, then take the slack up."},
        {.stage = Stage::Load,
         .text = "Proof load by force rate, hold, back to zero; drive disabled before hands reach in.",
         .safety = "Nobody in the line of fire while there is load on it."},
        {.stage = Stage::Load, .text = "Check the function: pin turns, parts move free by hand."},
        {.stage = Stage::Load,
         .text =
             "To the end by displacement, so that a yielding part does not run away; it stops at the fixture's limit.",
         .safety = "A pulled part is scrapped, never returned to use."},
    };
}

} // namespace

Method proofLoad()
{
    Method m;
    m.id = "proof-load";
    m.name = "proof load and strength";
    m.standards = "rules of the job";
    m.shapes = {"part"};
    m.fields = fields();
    m.results = results();
    m.options = options();
    m.steps = steps();
    m.notes = notes();
    m.intake = {.ways = {Intake::By::File}};
    m.drawing = {.form = "plate",
                 .across = {"eye_across"},
                 .along = "eye",
                 .heading = "The part",
                 .headingAfter = "After the test"};
    m.live = {.strain = false, .stress = false};
    m.channels = {{"force"}, {"displacement"}};
    m.onMaximum = {"F_max", "d_max", "factor"};
    m.leastSpecimens = 1;
    m.evaluate = evaluateProofLoad;
    m.loadedArea = noArea;
    return m;
}

} // namespace fortitor
