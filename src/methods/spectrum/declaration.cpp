// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/spectrum/spectrum.h"

namespace fortitor {
namespace {

std::vector<ResultSpec> results()
{
    return {
        {.symbol = "damage",
         .name = "Miner's sum",
         .unit = "1",
         .headline = true,
         .help = "Miner's sum of this history, over the sum at which it is taken to fail.",
         .written = "D"},
        {.symbol = "life",
         .name = "life at this rate",
         .unit = "d",
         .headline = true,
         .help = "Length of the history over its damage.",
         .written = "T"},
        {.symbol = "damage_cut_share",
         .name = "damage cut",
         .unit = "%",
         .step = 0.01,
         .headline = true,
         .help = "Share of the damage in ranges below the cut; below 1 % is wanted.",
         .written = "Dcut"},
        {.symbol = "equivalent_range",
         .name = "equivalent range",
         .unit = "MPa",
         .headline = true,
         .help = "Constant range that does as much in as many cycles, by the first slope.",
         .written = "Δσeq"},
        {.symbol = "range_max",
         .name = "greatest range",
         .unit = "MPa",
         .headline = true,
         .help = "Of all counted cycles.",
         .written = "Δσmax"},
        {.symbol = "cut_at",
         .name = "cut",
         .unit = "MPa",
         .help = "Counted cycles below it are dropped.",
         .written = "Δσcut"},
        {.symbol = "range_low_chance",
         .name = "range with 0.25 % chance",
         .unit = "MPa",
         .help = "The least counted range with at most that share of counts above it.",
         .written = "Δσ0.25"},
        {.symbol = "cycles",
         .name = "cycles counted",
         .unit = "1",
         .help = "After the cut; halves as halves.",
         .written = "n"},
        {.symbol = "damage_all",
         .name = "damage, all histories",
         .unit = "1",
         .headline = true,
         .help = "Each gone through once.",
         .written = "Dall",
         .of = ResultSpec::Of::Set},
    };
}

std::vector<OptionSpec> options()
{
    std::vector<OptionSpec> all{
        {.key = "class",
         .label = "Detail class",
         .kind = Kind::Stress,
         .help = "Detail class at 2·10⁶ cycles: 71 MPa."},
        {.key = "slope", .label = "Slope", .fallback = "3", .help = "Slope of the S–N line above the knee."},
        {.key = "knee", .label = "Knee", .fallback = "5e6", .help = "Cycles at the knee."},
        {.key = "below",
         .label = "Below the knee",
         .choices = {"bent", "straight", "cut"},
         .help = "Below the knee: bent, straight, cut.",
         .words = {{"bent", "second slope"}, {"straight", "same slope"}, {"cut", "no damage"}}},
        {.key = "slope_2", .label = "Second slope", .fallback = "5", .help = "Slope below the knee: 2m − 1, say."},
        {.key = "damage_sum", .label = "Damage sum", .fallback = "1", .help = "Damage at which it fails: 1 or 0.5."},
        {.key = "modulus", .label = "Modulus", .kind = Kind::Stress, .help = "From strain to stress: 210 GPa."},
        {.key = "bridge_factor",
         .label = "Bridge factor",
         .fallback = "1",
         .help = "From a bridge's reading to strain: 0.385 of a full bridge with two cross gauges, say."},
        {.key = "spikes",
         .label = "Spikes",
         .choices = {"on", "off"},
         .help = "Spikes are bridged: on, off. Gaps are bridged in any case.",
         .words = {{"on", "bridged"}, {"off", "left in"}}},
        {.key = "detrend",
         .label = "Trend, pieces of",
         .fallback = "1 h",
         .help = "Length of a piece: 1 h; none. Takes day and night warmth out."},
        {.key = "low_pass",
         .label = "Low-pass",
         .fallback = "2 Hz",
         .help = "Half power after both passes: 2 Hz; none. It must lie above what loads the part."},
        {.key = "cut",
         .label = "Cut",
         .fallback = "25 % of 0.25 %",
         .help = "25 % of 0.25 %, 25 % of max, 12 MPa, none. Small ranges are dropped."},
        {.key = "residue",
         .label = "Residue",
         .choices = {"half", "repeat", "ignore"},
         .help = "What closes no cycle: half, repeat, ignore.",
         .words = {{"half", "half cycles"}, {"repeat", "run twice"}, {"ignore", "left out"}}},
        {.key = "bins", .label = "Classes", .fallback = "64", .help = "Classes of ranges and levels."},
    };
    for (OptionSpec& option : all)
        if (!option.choices.empty())
            option.fallback = option.choices.front();
    return all;
}

std::vector<NoteSpec> notes()
{
    return {
        {.key = "gauge",
         .label = "Gauge and place",
         .stage = Stage::Load,
         .help = "Gauge 1, lug, beside the weld toe."},
        {.key = "taken", .label = "Taken", .stage = Stage::Load, .help = "Where, by whom, from when to when."},
        {.key = "operator", .label = "Operator"},
    };
}

std::vector<StepSpec> steps()
{
    return {
        {.stage = Stage::Load,
         .text = "Balance the bridge unloaded; note gauge factor, wiring, excitation.",
         .safety = "Gauges and loggers on a boat or a trailer: fasten all, keep clear of what moves; local rules for "
                   "work on water and road decide."},
        {.stage = Stage::Load, .text = "Shunt calibration before and after: keep both in the notes."},
    };
}

} // namespace

Method loadSpectrum()
{
    Method m;
    m.id = "spectrum";
    m.name = "load spectrum";
    m.question = "What has this part been through in service?";
    m.standards = "ASTM E1049";
    m.results = results();
    m.options = options();
    m.notes = notes();
    m.steps = steps();
    m.intake = {.ways = {Intake::By::History}};
    m.drawing = {.form = "signal", .across = {}, .heading = "The history"};
    m.live = {.strain = false, .stress = false};
    m.pages = {{Stage::Plan, "Plan", "plan"},
               {Stage::Load, "History", "history"},
               {Stage::Read, "Read", "chain"},
               {Stage::Judge, "Judge", "judge"},
               {Stage::Report, "Report", "report"}};
    m.leads = "damage";
    m.leastSpecimens = 1;
    m.averaged = false; // each history is one of its own
    m.evaluate = evaluateSpectrum;
    m.evaluateSet = evaluateSpectrumSet;
    return m;
}

const std::vector<ChainBox>& chainBoxes()
{
    static const std::vector<ChainBox> boxes{
        {"raw", "", ""},
        {"repaired", "spikes", "off"},
        {"detrended", "detrend", "none"},
        {"low-pass", "low_pass", "none"},
        {"turning points", "", ""},
        {"cut", "cut", "none"},
        {"counted", "residue", ""},
    };
    return boxes;
}

} // namespace fortitor
