// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_plastic/tension_plastic.h"

#include "methods/common/schools.h"

namespace fortitor {
namespace {

using Place = OptionSpec::Place;

std::vector<FieldSpec> fields()
{
    return {
        {"width", "Width", Kind::Length, 3, "rectangular", "across", false, true, "Across the narrow part; of a printed bar over the beads."},
        {"thickness", "Thickness", Kind::Length, 3, "rectangular", "through", false, true, "At the same three places; light pressure on soft plastics."},
        {"diameter", "Diameter", Kind::Length, 3, "round", "across", false, true, "At three places."},
        {"extensometer_gauge_length", "Le of the extensometer", Kind::Length, 1, "", "extensometer", false, false, "50 or 75 mm on the usual bar; 25 mm on the small one."},
        {"grip_distance", "Between the grips", Kind::Length, 1, "", "grips", false, false, "115 mm on the usual bar. Nominal strain is crosshead motion over it."},
    };
}

std::vector<ResultSpec> results()
{
    return {
        {"Et", "modulus", "MPa", 10, true, "Slope between 0.05 and 0.25 % strain."},
        {"sigma_y", "yield stress", "MPa", 0.1, true, "First maximum with falling or level stress after it."},
        {"eps_y", "strain at yield", "%", 0.1, true, "By extensometer."},
        {"sigma_m", "strength", "MPa", 0.1, true, "First maximum of the stress, or the greatest of all."},
        {"eps_m", "strain at strength", "%", 0.1, false, "By extensometer."},
        {"sigma_b", "stress at break", "MPa", 0.1, false, "At the last reading before the fall."},
        {"eps_b", "strain at break", "%", 0.1, true, "Of a bar that broke before it yielded."},
        {"eps_tb", "nominal strain at break", "%", 1, true, "Crosshead over the grip distance."},
    };
}

std::vector<OptionSpec> options()
{
    return {
        {"modulus", "Modulus by", {"regression", "secant", "tangent"}, "regression", Kind::Number, "Least squares over 0.05 to 0.25 %, the chord between them, or the tangent at zero.", Place::Plan},
        {"segment", "Modulus between", {}, "0.05 % 0.25 %", Kind::Number, "Two strains from the corrected origin.", Place::Both},
        {"strength", "Strength is the", {"first maximum", "greatest"}, "first maximum", Kind::Number, "The first maximum (ISO 527-1), or the greatest stress of all.", Place::Plan},
        {"nominal", "Nominal strain by", {"crosshead", "extensometer to yield"}, "crosshead", Kind::Number, "Crosshead over the grip distance throughout, or extensometer up to yield and crosshead increments after it.", Place::Plan},
        schools::strainFrom(),
        schools::compliance(),
        schools::areaFrom(),
        schools::forceZero(),
        schools::peak(),
        {"grip_break", "A break at the grip", {"counts", "is thrown out"}, "counts", Kind::Number, "A caution, or a reject that takes the bar out of the set.", Place::Plan},
        schools::firstGrip(),
        schools::expectedForce(),
        {"yield_at", "Yield at", {}, "", Kind::Strain, "Strain where a person sees the yield.", Place::Curve},
        {"break_at", "Break at", {}, "", Kind::Strain, "Strain of the last reading before the break.", Place::Curve},
    };
}

std::vector<StepSpec> steps()
{
    return schools::withGrips({
        {Stage::Plan, "Identify: batch, moulded or printed, direction, conditioning (23 °C, 50 %, hours).", "", ""},
        {Stage::Measure, "Measure width and thickness at three places; look for flash, voids, warp.", "Flash and support marks are sharp.", "measured"},
        {Stage::SetUp, "Choose a small cell: plastics break at a few per cent of a metal cell.", "Know the stop button before you start.", "margins"},
        {Stage::SetUp, "Zero the force with nothing in the grips.", "", "force-zeroed"},
    }, "Grip the top end, the bar in line; the other end hangs free.", "Grip the lower end, the bar in line.", "ease the prestress under Et/2000.", {
        {Stage::SetUp, "Extensometer on and balanced; soft clips on thin or printed bars.", "", "extensometer-on"},
        {Stage::SetUp, "Close the guard.", "Eye protection on. Brittle bars throw splinters.", "guard-closed"},
        {Stage::Load, "1 %/min for the modulus, extensometer off before a long draw, then faster.", "Guard stays closed. Long bars spring back when they break.", ""},
        {Stage::Read, "Look at the break: brittle, necked, drawn, at the grip, between layers.", "Broken ends are sharp.", ""},
    });
}

} // namespace

Method tensionPlastic()
{
    Method m;
    m.id = "tension-plastic";
    m.name = "tension, plastics";
    m.standards = "ISO 527";
    m.shapes = {"rectangular", "round"};
    m.fields = fields();
    m.results = results();
    m.options = options();
    m.steps = steps();
    m.notes = {
        {"direction", "Print direction", {"along 0°", "crossed ±45°", "across 90°"}, Stage::Measure, "direction", "How the beads lie to the pull; drawn on the tag."},
        {"made", "Made by", {"moulding", "printing", "machining"}, Stage::Measure, "", ""},
        {"raster", "Raster, infill", {}, Stage::Measure, "", "Such as ±45°, 100 %."},
        {"layer", "Layer height", {}, Stage::Measure, "", "Such as 0.2 mm."},
        {"conditioning", "Conditioning", {}, Stage::Measure, "", "Such as 23 °C, 50 %, 40 h."},
        {"fracture", "Kind of break", {"brittle", "yield, then break", "neck and draw", "at the grip", "between layers"}, Stage::Read, "plastic-break", "Look before the halves are put away."},
    };
    m.rates = {1.0 / 6000, 0.05 / 60 * 10, 0.0035, 0.5, 0, "1 %/min for the modulus (ISO 527-1), then faster"};
    m.leavesSet = {"break-at-grip"};
    m.channels = {{"force"}, {"extension", "strain", "displacement"}};
    m.onMaximum = {"sigma_y", "eps_y", "sigma_m", "eps_m"};
    m.leastSpecimens = 5;
    m.evaluate = evaluateTensionPlastic;
    m.checkSet = checkPlasticSet;
    return m;
}

} // namespace fortitor
