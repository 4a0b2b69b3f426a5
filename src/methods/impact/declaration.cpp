// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/impact/free_swing.h"
#include "methods/impact/impact.h"
#include "methods/impact/pendulum_choice.h"

#include "methods/common/figures.h"
#include "methods/common/section.h"

#include <fmt/format.h>

namespace fortitor {
namespace {

std::vector<ResultSpec> results()
{
    using enum ResultSpec::Of;
    return {
        {.symbol = "K",
         .name = "energy absorbed",
         .unit = "J",
         .step = 0,
         .headline = true,
         .help = "Of one blow, with the loss of the swing as the option says."},
        {.symbol = "kc",
         .name = "over the section",
         .unit = "J/cm²",
         .step = 0,
         .headline = true,
         .help = "Of metals."},
        {.symbol = "ac",
         .name = "over the section",
         .unit = "kJ/m²",
         .step = 0,
         .headline = true,
         .help = "Of plastics."},
        {.symbol = "a_izod",
         .name = "over the width",
         .unit = "J/m",
         .step = 0,
         .headline = true,
         .help = "Of Izod plastics (ASTM D256)."},
        {.symbol = "T_27J",
         .name = "at 27 J",
         .unit = "°C",
         .step = 1,
         .headline = true,
         .help = "Where the curve through all blows has 27 J.",
         .of = Set},
        {.symbol = "T_half",
         .name = "half of the shelves",
         .unit = "°C",
         .step = 1,
         .headline = true,
         .help = "Half-way between the shelves.",
         .of = Set},
        {.symbol = "K_upper",
         .name = "upper shelf",
         .unit = "J",
         .step = 1,
         .headline = true,
         .help = "A + B.",
         .of = Set},
        {.symbol = "K_lower",
         .name = "lower shelf",
         .unit = "J",
         .step = 1,
         .headline = true,
         .help = "A − B.",
         .of = Set},
        {.symbol = "C", .name = "half width", .unit = "K", .step = 1, .help = "Of the transition.", .of = Set},
    };
}

std::vector<OptionSpec> optionsOfImpact()
{
    OptionSpec geometry{.key = "geometry",
                        .label = "Geometry",
                        .help = "Bar, notch and how it is held. Each has the pendulum that is usual for it."};
    for (const ImpactGeometry& g : impactGeometries()) {
        geometry.choices.emplace_back(g.key);
        geometry.words[std::string(g.key)] = g.name;
        geometry.sketches[std::string(g.key)] = sketchOf(g);
    }
    std::vector<OptionSpec> options{
        geometry,
        {.key = "pendulum",
         .label = "Pendulum",
         .kind = Kind::Energy,
         .help = "Its energy, such as 300 J. Metals up to 80 % of it; plastics 10 to 80 %."},
        {.key = "expected",
         .label = "Expected energy",
         .help = "60 J, or the brittlest and the toughest: 5 J; 110 J. It tells which pendulum fits.",
         .role = OptionSpec::Role::Run},
        {.key = "loss",
         .label = "Loss of a free swing",
         .kind = Kind::Energy,
         .help = "What the pointer shows without a piece, over a full swing; once a day."},
        {.key = "loss_rule",
         .label = "Loss",
         .choices = {"", "check", "subtract"},
         .help = "Metals: only checked, at most 0.5 % of the pendulum. Plastics: taken off, shared by angle.",
         .words = {{"", "by the geometry"}, {"check", "only checked"}, {"subtract", "taken off"}}},
        {.key = "resolution",
         .label = "Step of the scale",
         .kind = Kind::Energy,
         .help = "A metal's energy is to be 25 steps or more."},
        {.key = "release_angle",
         .label = "Release angle",
         .kind = Kind::Angle,
         .help = "From hanging straight down; for rise angles, and for the loss by angle."},
        {.key = "mass", .label = "Mass of the hammer", .kind = Kind::Mass},
        {.key = "arm", .label = "Axis to centre of mass", .kind = Kind::Length},
        {.key = "level",
         .label = "Levels",
         .fallback = "27 J",
         .help = "Of the transition: 27 J; several with a semicolon between."},
        {.key = "area_form",
         .label = "Written as",
         .choices = {"energy", "area"},
         .help = "KV2 = 41 J, or the older form over the section: KCV = 85 J/cm².",
         .words = {{"energy", "energy"}, {"area", "energy over the section"}}},
    };
    for (OptionSpec& option : options)
        if (!option.choices.empty())
            option.fallback = option.choices.front();
    return options;
}

std::vector<NoteSpec> notesOfImpact(const ImpactGeometry& g)
{
    const Stroke left{{4, 12}, {19, 12}, {18, 20}, {19, 28}, {4, 28}, {4, 12}};
    const Stroke right{{36, 12}, {21, 12}, {22, 20}, {21, 28}, {36, 28}, {36, 12}};
    const Stroke whole{{4, 12}, {36, 12}, {36, 28}, {4, 28}, {4, 12}};
    const Stroke face{{6, 8}, {34, 8}, {34, 32}, {6, 32}, {6, 8}};
    NoteSpec broken{.key = "break",
                    .label = "Break",
                    .choices = {"complete", "hinge", "partial", "none"},
                    .stage = Stage::Load,
                    .help = "In two; hanging by a hinge; cracked in part; not broken: the energy is at least this.",
                    .sketches = {{"complete", {{left, right}, {}}},
                                 {"hinge", {{whole, {{20, 12}, {19, 26}}}, {}}},
                                 {"partial", {{whole, {{20, 12}, {20, 20}}}, {}}},
                                 {"none", {{whole}, {}}}}};
    NoteSpec look{.key = "look",
                  .label = "Look",
                  .choices = {"flat", "mixed", "fibrous"},
                  .stage = Stage::Load,
                  .help = "Flat and bright: brittle. Fibrous and dull: tough. Mixed: a bright patch inside.",
                  .sketches = {{"flat", {{face}, {}}},
                               {"mixed", {{face}, {{12, 13, 16, 14}}}},
                               {"fibrous", {{face}, {{6, 8, 28, 24}}}}}};
    std::vector<NoteSpec> notes{
        {.key = "temperature", .label = "Temperature", .stage = Stage::Load, .help = "Of the piece at the blow."},
        {.key = "planned_temperature", .label = "Planned at", .stage = Stage::Plan, .help = "Set on Plan."},
        {.key = "bath",
         .label = "Bath",
         .choices = {"liquid", "gas"},
         .help = "Liquid: at least 5 min. Gas: at least 30 min."},
        {.key = "bath_in", .label = "Into the bath", .stage = Stage::Load, .help = "Set by itself."},
        {.key = "bath_time", .label = "In the bath", .stage = Stage::Load},
        {.key = "bath_to_blow", .label = "Bath to blow", .stage = Stage::Load, .help = "At most 5 s."},
        broken,
        look,
        {.key = "shear_fraction",
         .label = "Shear share",
         .stage = Stage::Load,
         .help = "Fibrous part of the fracture face."},
        {.key = "lateral_expansion",
         .label = "Expansion",
         .stage = Stage::Load,
         .help = "Lateral expansion, both sides together."},
        {.key = "halves_angle",
         .label = "Angle of halves",
         .stage = Stage::Load,
         .help = "Put together: near 180° brittle, near 100° tough (old school)."},
        {.key = "struck_at", .label = "Struck at", .stage = Stage::Load, .help = "Set by itself."},
        {.key = "direction", .label = "Direction"},
        {.key = "batch", .label = "Lot", .help = "Of the material; each lot has its own curve, and they are compared."},
        {.key = "operator", .label = "Operator"},
    };
    if (g.plastic) {
        notes.insert(notes.end() - 1, {.key = "notch_made", .label = "Notch", .choices = {"cut", "moulded"}});
        std::erase_if(notes,
                      [](const NoteSpec& n) { return n.key == "shear_fraction" || n.key == "lateral_expansion"; });
    }
    return notes;
}

std::vector<StepSpec> stepsOfImpact(const ImpactGeometry& g)
{
    using enum Stage;
    std::vector<StepSpec> steps{
        {.stage = SetUp,
         .text = "Latch the hammer and lock it before hands reach the anvils.",
         .safety = "A raised hammer falls without warning: lock it, and keep out of its swing."},
        {.stage = SetUp, .text = "Free swing without a piece, pointer at its start: note the loss. Once a day."},
    };
    if (g.hit == ImpactGeometry::Hit::Cantilever)
        steps.push_back({.stage = SetUp,
                         .text = "Notch level with the top edge of the clamp, by the gauge, and towards the "
                                 "striker; clamp always as hard."});
    else if (g.hit == ImpactGeometry::Hit::Beam)
        steps.push_back(
            {.stage = SetUp,
             .text = fmt::format("Anvils {:g} mm apart, clean and unhurt; centring gauge at hand.", g.span)});
    else
        steps.push_back({.stage = SetUp, .text = "Piece screwed home in hammer and cross-head."});
    steps.push_back({.stage = SetUp,
                     .text = "Bath at its temperature, within 1 °C; tongs in it with the pieces.",
                     .safety = "Cold bath: gloves, eyes, fresh air."});
    steps.push_back({.stage = Load,
                     .text = g.hit == ImpactGeometry::Hit::Beam
                         ? "Piece against the anvils, notch away from the striker, centred by the gauge."
                         : "Piece in place, notch as the drawing shows."});
    steps.push_back({.stage = Load,
                     .text = "Pointer to its start, guard closed, release.",
                     .safety = "Nobody in the swing, on both sides of the frame. Pieces fly."});
    steps.push_back({.stage = Load, .text = "Brake, wait until the hammer hangs still, lock, read."});
    return steps;
}

/// The form of drawing of a geometry.
std::string formOf(const ImpactGeometry& g)
{
    if (g.hit == ImpactGeometry::Hit::Pulled)
        return g.angle > 0 ? "pulled-grooved" : "pulled";
    if (g.hit == ImpactGeometry::Hit::Cantilever)
        return "clamped";
    if (!(g.depth > 0))
        return "plain-bar";
    if (g.angle > 0)
        return "notched";
    if (g.key == "charpy-keyhole" || g.key == "charpy-pin")
        return "notched-hole";
    return g.depth > 0.3 * g.height ? "notched-deep-u" : "notched-u";
}

Method impactOf(const ImpactGeometry& g)
{
    Method m;
    m.id = "impact";
    m.name = "pendulum impact";
    m.variant = std::string(g.key);
    m.question = "How much energy breaks this notched bar?";
    m.standards = std::string(g.standard);
    m.shapes = {"bar"};
    m.fields = {
        {.key = "width", .label = "Width", .readings = 1, .place = "across", .help = "Along the notch."},
        {.key = "ligament",
         .label = "Height under the notch",
         .readings = 1,
         .place = "ligament",
         .help = "What is left; the full height where there is no notch."},
        {.key = "notch_depth", .label = "Depth of the notch", .place = "notch", .needed = false},
        {.key = "notch_radius",
         .label = "Radius of the notch",
         .place = "root",
         .needed = false,
         .help = "At its root, by a shadow or a gauge."},
        {.key = "area",
         .label = "Section",
         .kind = Kind::Area,
         .place = "section",
         .needed = false,
         .help = "In place of width and height, where it is known as such."},
    };
    if (!(g.depth > 0))
        std::erase_if(m.fields, [](const FieldSpec& f) { return f.key.starts_with("notch"); });
    m.results = results();
    m.options = optionsOfImpact();
    m.steps = stepsOfImpact(g);
    m.notes = notesOfImpact(g);
    m.intake = {
        .ways = {Intake::By::Readings},
        .columns = {{.name = "energy", .label = "Absorbed energy", .unit = "J", .optional = true, .kind = Kind::Energy},
                    {.name = "rise_angle", .label = "Rise angle", .unit = "°", .optional = true, .kind = Kind::Angle}},
        .stamp = "struck_at"};
    m.drawing = {
        .form = formOf(g), .across = {"ligament"}, .heading = g.depth > 0 ? "The bar with its notch" : "The bar"};
    m.live = {.strain = false, .stress = false};
    for (PageSpec& page : m.pages)
        if (page.stage == Stage::Load)
            page = {Stage::Load, "Strike", "strike"};
    m.leads = "K";
    m.readingsKey = "blows";
    m.leastSpecimens = g.plastic ? 5 : 3;
    m.propose = proposePendulum;
    m.proposals = {.head = "Which pendulum",
                   .first = "pendulum",
                   .order = "the usual one first",
                   .taking = "Enter or a double click takes a pendulum.",
                   .ladder = false};
    m.spread = SpreadSpec{.planned = impactKeys::planned,
                          .noted = impactKeys::temperature,
                          .label = "Temperatures",
                          .unit = "°C",
                          .kind = Kind::Temperature,
                          .example = "-60: 3; -40: 3; 20: 3",
                          .words = bathsInWords};
    m.daily = DailySpec{.option = "loss",
                        .of = "pendulum",
                        .label = "Free swing",
                        .unit = "J",
                        .kind = Kind::Energy,
                        .help = "Without a piece, pointer at its start, hammer released from its latch.",
                        .judge = judgeSwings};
    m.evaluate = evaluateImpact;
    m.evaluateSet = evaluateImpactSet;
    m.lotOf = impactLotOf;
    m.specLike = [](const std::string& symbol) -> std::optional<ResultSpec> {
        if (symbol.size() < 4 || !symbol.starts_with("T_") || !symbol.ends_with("J"))
            return std::nullopt;
        const auto level = parseNumber(symbol.substr(2, symbol.size() - 3));
        if (!level)
            return std::nullopt;
        return ResultSpec{.symbol = symbol,
                          .name = fmt::format("at {:g} J", *level),
                          .unit = "°C",
                          .step = 1,
                          .headline = true,
                          .of = ResultSpec::Of::Set};
    };
    m.loadedArea = [](const SpecimenInput& input) -> std::optional<double> {
        const double area = meanLength(input, "width") * meanLength(input, "ligament");
        return area > 0 ? std::optional(area) : std::nullopt;
    };
    m.section = [](const SpecimenInput& input, bool) -> Expected<SectionShown> {
        SectionShown shown{.title = "section under the notch"};
        const double area = input.dimensions.contains("area")
            ? meanLength(input, "area")
            : meanLength(input, "width") * meanLength(input, "ligament");
        if (area > 0)
            shown.area = area;
        shown.how = "width × height under the notch";
        return shown;
    };
    m.byOptions = [](const std::map<std::string, std::string>& options) {
        const auto it = options.find("geometry");
        const ImpactGeometry* chosen = it == options.end() ? nullptr : findImpactGeometry(it->second);
        return impactOf(chosen ? *chosen : impactGeometries().front());
    };
    return m;
}

} // namespace

Method impact()
{
    return impactOf(impactGeometries().front());
}

} // namespace fortitor
