// SPDX-License-Identifier: GPL-3.0-or-later
// clang-format off: entries stand a line each, as one would write them down
#include "methods/flexure/flexure.h"

#include "methods/common/options.h"
#include "methods/common/section.h"
#include "methods/common/run.h"
#include "methods/common/figures.h"
#include "methods/flexure/sketches.h"

namespace fortitor {

namespace {

bool fourPoint(const SpecimenInput& input)
{
    return optionOr(input, "loading", "three-point") == "four-point";
}

std::optional<DrawnLoads> loadsOf(const SpecimenInput& input)
{
    DrawnLoads loads{.span = firstLength(input, "span")};
    if (fourPoint(input))
        loads.between = firstLength(input, "load_span");
    return loads;
}

/// Speed of the load for a strain rate of the edge: v = Z·a(3L−4a)/(3h) (methods basis, bending).
std::optional<RatePlan> beamSpeeds(const RateSpec& rule, const SpecimenInput& input, const ExpectedLoad&)
{
    const double L = firstLength(input, "span");
    const double h = firstLength(input, "depth");
    const double a = 0.5 * (L - (fourPoint(input) ? firstLength(input, "load_span") : 0));
    if (!(L > 0) || !(h > 0) || !(a > 0))
        return std::nullopt;
    const auto stated = optionQuantity(input, "edge_rate", Kind::StrainRate);
    const double Z = stated && *stated && **stated > 0 ? **stated : rule.edge;
    RatePlan plan;
    plan.yieldSpeed = plan.afterSpeed = Z * a * (3 * L - 4 * a) / (3 * h);
    plan.lowest = (1 - rule.window) * Z;
    plan.highest = (1 + rule.window) * Z;
    plan.yieldTime = plan.wholeTime = 0.012 / Z; // wood breaks near an edge strain of one per cent
    return plan;
}

} // namespace

Method flexure()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "flexure";
    m.name = "bending";
    m.question = "How stiff and strong is this beam?";
    m.standards = "ASTM D143, D198, ISO 13061";
    m.shapes = {"rectangular"};
    m.fields = {
        {.key = "width",
         .label = "Width b",
         .readings = 3,
         .place = "across",
         .help = "Across the load, at three places."},
        {.key = "depth",
         .label = "Depth h",
         .readings = 3,
         .place = "through",
         .help = "In the direction of the load, at the same places."},
        {.key = "span", .label = "Span L", .place = "along", .help = "Between the supports."},
        {.key = "load_span",
         .label = "Load span",
         .place = "extensometer",
         .needed = false,
         .help = "Between the two loads; four points only."},
        {.key = "length",
         .label = "Length",
         .place = "grips",
         .needed = false,
         .help = "Of the whole piece: with the mass as tested it gives the density."},
        {.key = "mass_wet",
         .label = "Mass as tested",
         .kind = Kind::Mass,
         .needed = false,
         .help = "Of the piece, or of a slice of it."},
        {.key = "mass_dry",
         .label = "Mass oven-dry",
         .kind = Kind::Mass,
         .afterBreak = true,
         .needed = false,
         .help = "Of the same, dried until it no longer changes."},
    };
    m.results = {
        {.symbol = "MOE",
         .name = "modulus of elasticity",
         .unit = "MPa",
         .step = 10,
         .headline = true,
         .help = "Slope of the straight part."},
        {.symbol = "sigma_pl",
         .name = "stress at the proportional limit",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "At the last reading on the line."},
        {.symbol = "F_pl",
         .name = "load at the proportional limit",
         .unit = "N",
         .step = 1,
         .help = "The last reading on the line."},
        {.symbol = "MOR",
         .name = "modulus of rupture",
         .unit = "MPa",
         .step = 0.1,
         .headline = true,
         .help = "Nominal stress at the greatest load."},
        {.symbol = "W_max",
         .name = "work to the maximum",
         .unit = "J",
         .step = 0.1,
         .headline = true,
         .help = "Area under load and deflection."},
        {.symbol = "MOE_point",
         .name = "MOE by the single point",
         .unit = "MPa",
         .step = 10,
         .help = "The older convention: the load at the limit over its deflection."},
        {.symbol = "MOE_true",
         .name = "MOE with shear taken out",
         .unit = "MPa",
         .step = 10,
         .help = "For spans under 20 depths."},
        {.symbol = "sigma_35",
         .name = "stress at 3.5 % edge strain",
         .unit = "MPa",
         .step = 0.1,
         .help = "Of plastics that do not break before."},
        {.symbol = "density",
         .name = "density as tested",
         .unit = "kg/m³",
         .step = 1,
         .help = "Mass of the whole piece over its volume."},
        {.symbol = "moisture", .name = "moisture content", .unit = "%", .step = 0.1, .help = "Water over dry wood."},
        {.symbol = "MOR_12",
         .name = "MOR at 12 % moisture",
         .unit = "MPa",
         .step = 0.1,
         .help = "By the coefficient on Plan."},
        {.symbol = "MOE_12",
         .name = "MOE at 12 % moisture",
         .unit = "MPa",
         .step = 10,
         .help = "By the coefficient on Plan."},
    };
    m.options = {
        {.key = "loading",
         .label = "Loading",
         .choices = {"three-point", "four-point"},
         .fallback = "three-point",
         .help = "One load in the middle, or two at equal distance from it."},
        {.key = "deflection_at",
         .label = "Deflection read",
         .choices = {"mid-span", "under the load"},
         .fallback = "mid-span",
         .help = "Against the supports."},
        {.key = "slope",
         .label = "MOE from",
         .choices = {"regression", "point", "chord"},
         .fallback = "regression",
         .help =
             "Least squares over the straight part; the single point at the limit; or the chord from 0.05 to 0.25 % "
             "edge strain of plastics.",
         .place = Place::Both},
        {.key = "limit",
         .label = "Limit at reading",
         .fallback = "auto",
         .help = "auto, or the number of a reading.",
         .place = Place::Both},
        {.key = "dial_division",
         .label = "Division of the dial",
         .fallback = "0.01 mm",
         .kind = Kind::Length,
         .help = "Less than that is not told apart."},
        {.key = "shear_ratio", .label = "E over G", .fallback = "16", .help = "About 16 for softwood along the grain."},
        {.key = "moisture_MOR",
         .label = "MOR for a per cent of moisture",
         .fallback = "0.04",
         .help = "From the laboratory's own copy of the standard."},
        {.key = "moisture_MOE",
         .label = "MOE for a per cent of moisture",
         .fallback = "0.02",
         .help = "From the laboratory's own copy of the standard."},
        {.key = "edge_rate",
         .label = "Strain rate of the edge",
         .fallback = "0.0015 /min",
         .kind = Kind::StrainRate,
         .help = "0.0015 a minute for small clear wood, 0.0010 for beams, 0.01 or 0.1 for plastics. The speed follows "
                 "from the span."},
        usual::padSteps("100 N x 8, 50 N"),
        usual::expectedForce(),
    };
    m.steps = {
        {.stage = Stage::Plan, .text = "Identify: species, grade, growth rings to the load, moisture."},
        {.stage = Stage::Measure,
         .text = "Width and depth at three places, then the span; note knots and slope of grain.",
         .safety = "Splinters: gloves.",
         .watch = "measured"},
        {.stage = Stage::SetUp,
         .text = "Choose the cell and the supports; see the margins.",
         .safety = "Know the stop button before you start. Heavy fixtures: two people.",
         .watch = "margins"},
        {.stage = Stage::SetUp, .text = "Zero the force with nothing under the load.", .watch = "force-zeroed"},
        {.stage = Stage::SetUp,
         .text = "Lay the piece on its supports, square to them; the load in the middle, a gap above it.",
         .safety = "Hands out before the crosshead moves.",
         .watch = "centred"},
        {.stage = Stage::SetUp,
         .text = "Dial or pick-up under the middle, free to follow; set it to zero.",
         .watch = "extensometer-on"},
        {.stage = Stage::SetUp,
         .text = "Close the guard.",
         .safety = "Eye protection on. Wood breaks without a warning and throws splinters.",
         .watch = "guard-closed"},
        {.stage = Stage::Load,
         .text = "Equal steps; read load and deflection at each without stopping long.",
         .safety = "Take the dial away before the break. Hands stay out."},
        {.stage = Stage::Read,
         .text = "Look at the break: tension, cross grain, splintering, brash, compression, shear.",
         .safety = "Splinters: gloves."},
    };
    m.notes = {
        {.key = "rings",
         .label = "Growth rings to the load",
         .choices = {"flat", "at 45°", "upright"},
         .help = "Seen on the end.",
         .shownAs = NoteSpec::Shown::Rings},
        {.key = "grain", .label = "Slope of grain", .help = "Such as 1 in 20.", .shownAs = NoteSpec::Shown::Grain},
        {.key = "knots", .label = "Knots", .help = "Where and how large.", .shownAs = NoteSpec::Shown::Knots},
        {.key = "grade",
         .label = "Grade",
         .choices = {"clear", "structural", "joinery"},
         .help = "Published means are those of clear wood."},
        {.key = "failure",
         .label = "Failure",
         .choices = {"simple tension", "cross-grain tension", "splintering tension", "brash tension", "compression",
                     "horizontal shear"},
         .stage = Stage::Read,
         .help = "How it broke.",
         .sketches = beamFailureSketches()},
    };
    m.rates = {.slow = 0,
               .fast = 0,
               .changeAt = 0,
               .window = 0.25,
               .words = "from the span and the strain rate of the edge",
               .edge = 0.0015 / 60};
    m.drawing = {
        .form = "beam",
        .across = {"depth"},
        .along = "span",
        .inner = {{"load_span", "load span"}},
        .outer = {{"span", "span"}},
        .headingAfter = "Dried until the mass no longer changes",
        .loads = loadsOf,
    };
    m.live = {.strain = false, .stress = false};
    m.train = trains::onFixture("bending", LinkSpec::Form::Supports, "supports and load nose", Kind::Force);
    m.train.pressed = true;
    m.lengths = {"span"};
    m.reference = {"materials", "woods"};
    m.intake = {
        .ways = {Intake::By::Steps, Intake::By::Frame},
        .columns = {{.name = "force", .label = "Load", .unit = "N"},
                    {.name = "deflection", .label = "Dial", .unit = "mm", .division = "dial_division"}},
        .stepped = "force",
        .across = "deflection",
    };
    m.expect = expectFlexure;
    m.channels = {{"force"}, {"deflection", "displacement"}};
    m.onMaximum = {"MOR", "W_max", "MOR_12"};
    m.leastSpecimens = 3;
    m.evaluate = evaluateFlexure;
    m.loadedArea = noArea;
    m.section = shownSection;
    m.speeds = beamSpeeds;
    m.program = [](const RunInput& in) -> Expected<RunProgram> { return runToBreak(in.rates, 0, 0); };
    m.proposeSteps = forceSteps;
    return m;
}

} // namespace fortitor
