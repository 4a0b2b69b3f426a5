// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/torsion/torsion.h"

#include "methods/common/options.h"
#include "methods/common/section.h"
#include "methods/common/run.h"
#include "methods/common/figures.h"
#include "methods/torsion/sketches.h"

#include <fmt/format.h>

#include <numbers>

namespace fortitor {

namespace {

double published(const SpecimenInput& input, const char* symbol)
{
    const auto it = input.published.find(symbol);
    return it == input.published.end() ? 0 : it->second;
}

double outerDiameter(const SpecimenInput& input)
{
    return firstLength(input, input.shape == "tube" ? "outer_diameter" : "diameter");
}

/// Twist of the bar at which its surface yields, rad; nothing without material, sizes or length.
std::optional<double> yieldTwist(const SpecimenInput& input)
{
    const double G = published(input, "G") > 0 ? published(input, "G") : published(input, "E") / 2.6;
    const double d = outerDiameter(input);
    const double L = firstLength(input, "gauge_length");
    const double yield = published(input, "yield") / std::numbers::sqrt3;
    if (!(G > 0) || !(d > 0) || !(yield > 0) || !(L > 0))
        return std::nullopt;
    return yield / G * L / (d / 2);
}

StepPlan twistSteps(const SpecimenInput& input, const ExpectedLoad& expected, const Unit& unit)
{
    StepPlan plan;
    plan.unit = &unit;
    const double degree = std::numbers::pi / 180;
    const auto yields = expected.maximum ? yieldTwist(input) : std::nullopt;
    if (!yields) {
        plan.runs = {{5 * degree, 8}, {20 * degree, 4}, {50 * degree, 0}};
        plan.words = "5° to begin with; name material and sizes for steps of its own";
        return plan;
    }
    // Eight or more before the surface yields, the chucks' own give aside; as many again over the bend.
    const double fine = roundStep(*yields / 8 / degree) * degree;
    plan.runs = {{fine, 14}, {2 * fine, 5}, {5 * fine, 4}, {20 * fine, 4}, {100 * fine, 0}};
    plan.words = fmt::format("the surface yields near {}°", formatSignificant(*yields / degree, 2));
    return plan;
}

/// rad/s for a rate of the surface's shear strain, γ = φ·d/(2L); faster well past the twist at which it yields.
std::optional<RatePlan> twistSpeeds(const RateSpec& rule, const SpecimenInput& input, const ExpectedLoad&)
{
    const double d = outerDiameter(input);
    const double L = firstLength(input, "gauge_length");
    if (!(d > 0) || !(L > 0))
        return std::nullopt;
    const double perStrain = 2 * L / d;
    RatePlan plan;
    plan.yieldSpeed = rule.slow * perStrain;
    plan.afterSpeed = rule.fast * perStrain;
    plan.changeTravel = 4 * yieldTwist(input).value_or(0.01 * perStrain);
    plan.yieldTime = plan.changeTravel / plan.yieldSpeed;
    plan.wholeTime = plan.yieldTime + 0.5 * perStrain / plan.afterSpeed; // a ductile bar stands a shear strain near 0.5
    return plan;
}

} // namespace

Method torsion()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "torsion";
    m.name = "torsion";
    m.question = "How stiff and strong is this shaft in twist?";
    m.standards = "ASTM E143, ISO 7800";
    m.shapes = {"round", "tube"};
    m.fields = {
        {.key = "diameter",
         .label = "Diameter d",
         .readings = 3,
         .shape = "round",
         .place = "across",
         .help = "At three places of the parallel part."},
        {.key = "outer_diameter",
         .label = "Outer diameter D",
         .readings = 3,
         .shape = "tube",
         .place = "across",
         .help = "At three places of the parallel part."},
        {.key = "wall",
         .label = "Wall",
         .readings = 3,
         .shape = "tube",
         .place = "through",
         .help = "At the same places, by a tube calliper or from the end."},
        {.key = "gauge_length",
         .label = "Length L",
         .place = "between-marks",
         .needed = false,
         .help = "That the twist is read over: between the chucks, or between the marks of a twist gauge."},
    };
    m.results = {
        {.symbol = "G",
         .name = "shear modulus",
         .unit = "MPa",
         .step = 100,
         .headline = true,
         .help = "Slope of the shear stress on the shear strain; by the gauge where there is one."},
        {.symbol = "G_twist",
         .name = "G by the twist",
         .unit = "MPa",
         .step = 100,
         .headline = true,
         .help = "The same from the twist of the length."},
        {.symbol = "tau_p",
         .name = "yield by offset",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "Nominal stress where the curve meets the line moved by the offset."},
        {.symbol = "tau_max",
         .name = "modulus of rupture",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "Nominal, as if the bar were elastic to the end: too high once it yields."},
        {.symbol = "tau_u",
         .name = "fully plastic",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "As if the whole section stood at one stress."},
        {.symbol = "tau_N",
         .name = "by Nádai",
         .unit = "MPa",
         .step = 1,
         .headline = true,
         .help = "True stress at the surface from the slope of the torque; solid bars."},
        {.symbol = "T_max", .name = "greatest torque", .unit = "N·m", .step = 0.1, .help = "Of all readings."},
        {.symbol = "turns",
         .name = "twist at the break",
         .unit = "rev",
         .step = 0.01,
         .help = "Turns of one chuck against the other."},
        {.symbol = "gamma_b",
         .name = "surface shear strain at the break",
         .unit = "%",
         .step = 1,
         .help = "Twist times radius over length."},
    };
    m.options = {
        {.key = "shear_offset",
         .label = "Offset of the yield",
         .fallback = "0.2 %",
         .kind = Kind::Strain,
         .help = "In shear strain of the surface; 0.04 % is the other custom.",
         .place = Place::Both},
        {.key = "twist_from",
         .label = "Twist read",
         .choices = {"between the chucks", "by a twist gauge"},
         .fallback = "between the chucks",
         .help = "Between the chucks it includes their own give."},
        {.key = "twist_division",
         .label = "Division of the twist scale",
         .fallback = "0.1 deg",
         .kind = Kind::Angle,
         .help = "Less than that is not told apart."},
        {.key = "gauge_at",
         .label = "Gauge",
         .choices = {"one at 45°", "pair at ±45°"},
         .fallback = "one at 45°",
         .help = "γ = 2ε from one, ε₊ − ε₋ from a pair."},
        usual::padSteps("5 deg x 8, 20 deg x 5, 50 deg"),
        {.key = "expected_torque",
         .label = "Greatest torque expected",
         .kind = Kind::Torque,
         .help = "It sizes the torque cell; empty: from the material.",
         .role = OptionSpec::Role::ExpectedLoad},
    };
    m.steps = {
        {.stage = Stage::Plan, .text = "Identify: material, solid or tube, length between the chucks."},
        {.stage = Stage::Measure,
         .text = "Diameter at three places; wall of a tube; then the length.",
         .watch = "measured"},
        {.stage = Stage::SetUp,
         .text = "Choose the torque cell; see the margins.",
         .safety = "Know the stop button before you start.",
         .watch = "margins"},
        {.stage = Stage::SetUp,
         .text = "Centre the bar in both chucks: all jaws meet the same ring of the scale.",
         .safety = "Hands out of the chucks before the drive moves.",
         .watch = "centred"},
        {.stage = Stage::SetUp,
         .text = "Leave one chuck free to slide along; then tighten both hard and lock them.",
         .safety = "Take the key out of the chuck."},
        {.stage = Stage::SetUp, .text = "Draw a line along the bar: it will show the twist."},
        {.stage = Stage::SetUp, .text = "Connect the 45° gauge and balance it.", .watch = "extensometer-on"},
        {.stage = Stage::SetUp, .text = "Set torque and twist to zero.", .watch = "force-zeroed"},
        {.stage = Stage::SetUp,
         .text = "Close the guard.",
         .safety = "Eye protection on. Broken ends fly and spin.",
         .watch = "guard-closed"},
        {.stage = Stage::Load,
         .text = "Small steps at first: hold, read torque, gauge and twist. Wider ones once it yields.",
         .safety = "Nothing loose near the turning chuck: sleeves, hair, leads."},
        {.stage = Stage::Load,
         .text = "To the break; count the turns.",
         .safety = "The bar is warm, the broken ends sharp: gloves."},
        {.stage = Stage::Read,
         .text = "Look at the break: flat across, a helix, or at the chuck.",
         .safety = "Sharp and hot: gloves."},
    };
    m.notes = {{.key = "fracture",
                .label = "Break",
                .choices = {"flat across", "helix at 45°", "at the chuck"},
                .stage = Stage::Read,
                .help = "What it looks like tells how it failed.",
                .sketches = torsionBreakSketches()}};
    m.rates = {.slow = 0.0005,
               .fast = 0.01,
               .changeAt = 0,
               .window = 0.5,
               .words = "0.0005 /s of shear strain to yield, then faster"};
    m.drawing = {
        .form = "shaft",
        .along = "gauge_length",
        .marks = "gauge_length",
        .outer = {{"gauge_length", "length of the twist"}},
    };
    m.live = {.strain = false, .stress = false};
    m.train = trains::onFixture("torsion", LinkSpec::Form::Chucks, "chucks of the torsion head", Kind::Torque);
    m.lengths = {"gauge_length"};
    m.channels = {{"torque"}, {"twist", "strain"}};
    m.intake = {
        .ways = {Intake::By::Steps, Intake::By::Frame},
        .columns = {{.name = "twist", .label = "Twist", .unit = "°", .division = "twist_division"},
                    {.name = "torque", .label = "Torque", .unit = "N·m"},
                    {.name = "strain", .label = "Gauge at 45°", .unit = "µε", .optional = true},
                    {.name = "strain_2", .label = "Gauge at −45°", .unit = "µε", .optional = true}},
        .stepped = "twist",
        .across = "twist",
    };
    m.expect = expectTorsion;
    m.onMaximum = {"tau_max", "tau_u", "tau_N", "T_max"};
    m.leastSpecimens = 2;
    m.evaluate = evaluateTorsion;
    m.loadedArea = noArea;
    m.section = shownSection;
    m.speeds = twistSpeeds;
    m.program = [](const RunInput& in) -> Expected<RunProgram> { return runToBreak(in.rates, 0, 0, Kind::Torque); };
    m.proposeSteps = twistSteps;
    return m;
}

} // namespace fortitor
