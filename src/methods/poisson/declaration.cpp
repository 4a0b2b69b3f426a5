// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/poisson/poisson.h"

#include "methods/common/options.h"
#include "methods/common/section.h"
#include "methods/common/run.h"

namespace fortitor {

namespace {

/// Ten holds up to a load well under yield: as stated, or half of it.
Expected<RunProgram> elasticRun(const RunInput& in)
{
    constexpr double heldFor = 3; // s, while a person would read
    const double top = in.expected.stated ? in.expected.maximum.value_or(0)
        : in.expected.yield               ? 0.5 * *in.expected.yield
                                          : 0;
    if (!(top > 0))
        return Problem{"program", "no load that the piece surely stands",
                       "an expected force, or a section and a material with a known yield",
                       "State the highest step as the expected force on Plan."};
    return runSteps(top, 10, 4 * in.rates.yieldSpeed, heldFor);
}

} // namespace

Method poisson()
{
    Method m;
    m.id = "poisson";
    m.name = "Poisson's ratio by gauges";
    m.question = "How much thinner does it get while it is pulled?";
    m.standards = "ASTM E132";
    m.shapes = {"rectangular", "round", "tube"};
    m.fields = {
        {.key = "width",
         .label = "Width",
         .readings = 3,
         .shape = "rectangular",
         .place = "across",
         .needed = false,
         .help = "Only if E is wanted."},
        {.key = "thickness",
         .label = "Thickness",
         .readings = 3,
         .shape = "rectangular",
         .place = "through",
         .needed = false,
         .help = "Only if E is wanted."},
        {.key = "diameter",
         .label = "Diameter",
         .readings = 3,
         .shape = "round",
         .place = "across",
         .needed = false,
         .help = "Only if E is wanted."},
        {.key = "outer_diameter",
         .label = "Outer diameter",
         .readings = 3,
         .shape = "tube",
         .place = "across",
         .needed = false,
         .help = "Only if E is wanted."},
        {.key = "wall",
         .label = "Wall",
         .readings = 3,
         .shape = "tube",
         .place = "through",
         .needed = false,
         .help = "Only if E is wanted."},
        {.key = "grip_distance",
         .label = "Between grips",
         .place = "grips",
         .needed = false,
         .help = "For the speed between the steps."},
    };
    m.results = {
        {.symbol = "nu",
         .name = "Poisson's ratio",
         .unit = "1",
         .step = 0.001,
         .headline = true,
         .help = "Minus the slope of the transverse on the longitudinal strain."},
        {.symbol = "nu_load",
         .name = "by the slopes on load",
         .unit = "1",
         .step = 0.001,
         .headline = true,
         .help = "The slope of each strain on the load, one over the other."},
        {.symbol = "E",
         .name = "modulus",
         .unit = "MPa",
         .step = 100,
         .headline = true,
         .help = "Slope of the load on the longitudinal strain over the section."},
    };
    m.options = {
        {.key = "gauge_factor",
         .label = "Gauge factor, longitudinal and transverse",
         .help = "As the gauges' maker states it."},
        {.key = "gauge_factor_set",
         .label = "Gauge factor set on the indicator",
         .help = "What the readings were made with."},
        {.key = "transverse_sensitivity", .label = "Transverse sensitivity Kt", .help = "As a fraction: 0.01 for 1 %."},
        usual::padSteps(),
        usual::areaFrom(),
        usual::firstGrip(),
        usual::expectedForce("The highest step; it sizes the cell."),
    };
    m.steps = usual::withGrips(
        {
            {.stage = Stage::Plan, .text = "Identify: material, direction; highest step well under yield."},
            {.stage = Stage::Measure,
             .text = "Gauges lie along and across; leads strain-relieved.",
             .safety = "Solvents and adhesive: gloves, fresh air."},
            {.stage = Stage::SetUp,
             .text = "Choose cell and grips; see the margins.",
             .safety = "Know the stop button before you start.",
             .watch = "margins"},
            {.stage = Stage::SetUp, .text = "Zero the force with nothing in the grips.", .watch = "force-zeroed"},
        },
        "Grip the top end; the strip hangs free.", "Grip the lower end; the strip stands free.",
        "ease the clamp load to near zero.",
        {
            {.stage = Stage::SetUp,
             .text = "Balance the strain channels, again after every correction.",
             .watch = "extensometer-on"},
            {.stage = Stage::SetUp,
             .text = "Close the guard.",
             .safety = "Eye protection on.",
             .watch = "guard-closed"},
            {.stage = Stage::Load,
             .text = "Hold at each step; read along, then across.",
             .safety = "Guard stays closed. Hands off the grips."},
            {.stage = Stage::Load, .text = "Unload and read the zero again."},
            {.stage = Stage::Read, .text = "Look at both lines, and at the zero that came back."},
        });
    m.rates = {.slow = 0.00005, .fast = 0.00005, .changeAt = 0, .window = 0.5, .words = "slow between the steps"};
    m.drawing = {.form = "strip", .along = "grip_distance", .outer = {{"grip_distance", "between the grips"}}};
    m.train = trains::gripped();
    m.lengths = {"grip_distance"};
    m.intake = {
        .ways = {Intake::By::Steps, Intake::By::Frame},
        .columns = {{.name = "force", .label = "Load", .unit = "kN"},
                    {.name = "strain", .label = "Along", .unit = "µε"},
                    {.name = "strain_2", .label = "Along, other face", .unit = "µε", .optional = true},
                    {.name = "transverse_strain", .label = "Across", .unit = "µε"}},
        .stepped = "force",
        .across = "force",
        .returns = true,
    };
    m.channels = {{"strain"}, {"transverse_strain"}};
    m.leastSpecimens = 1;
    m.evaluate = evaluatePoisson;
    m.loadedArea = sectionArea;
    m.section = shownSection;
    m.proposeSteps = elasticSteps;
    m.program = elasticRun;
    return m;
}

} // namespace fortitor
