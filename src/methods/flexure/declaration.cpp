// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/flexure/flexure.h"

#include "methods/common/schools.h"

namespace fortitor {

Method flexure()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "flexure";
    m.name = "bending";
    m.standards = "ASTM D143, D198, ISO 13061";
    m.shapes = {"rectangular"};
    m.fields = {
        {"width", "Width b", Kind::Length, 3, "", "across", false, true, "Across the load, at three places."},
        {"depth", "Depth h", Kind::Length, 3, "", "through", false, true, "In the direction of the load, at the same places."},
        {"span", "Span L", Kind::Length, 1, "", "along", false, true, "Between the supports."},
        {"load_span", "Load span", Kind::Length, 1, "", "extensometer", false, false, "Between the two loads; four points only."},
        {"length", "Length", Kind::Length, 1, "", "grips", false, false, "Of the whole piece: with the mass as tested it gives the density."},
        {"mass_wet", "Mass as tested", Kind::Mass, 1, "", "", false, false, "Of the piece, or of a slice of it."},
        {"mass_dry", "Mass oven-dry", Kind::Mass, 1, "", "", true, false, "Of the same, dried until it no longer changes."},
    };
    m.results = {
        {"MOE", "modulus of elasticity", "MPa", 10, true, "Slope of the straight part."},
        {"sigma_pl", "stress at the proportional limit", "MPa", 0.1, true, "At the last reading on the line."},
        {"F_pl", "load at the proportional limit", "N", 1, false, "The last reading on the line."},
        {"MOR", "modulus of rupture", "MPa", 0.1, true, "Nominal stress at the greatest load."},
        {"W_max", "work to the maximum", "J", 0.1, true, "Area under load and deflection."},
        {"MOE_point", "MOE by the single point", "MPa", 10, false, "The old school: the load at the limit over its deflection."},
        {"MOE_true", "MOE with shear taken out", "MPa", 10, false, "For spans under 20 depths."},
        {"sigma_35", "stress at 3.5 % edge strain", "MPa", 0.1, false, "Of plastics that do not break before."},
        {"density", "density as tested", "kg/m³", 1, false, "Mass of the whole piece over its volume."},
        {"moisture", "moisture content", "%", 0.1, false, "Water over dry wood."},
        {"MOR_12", "MOR at 12 % moisture", "MPa", 0.1, false, "By the coefficient on Plan."},
        {"MOE_12", "MOE at 12 % moisture", "MPa", 10, false, "By the coefficient on Plan."},
    };
    m.options = {
        {"loading", "Loading", {"three-point", "four-point"}, "three-point", Kind::Number, "One load in the middle, or two at equal distance from it.", Place::Plan},
        {"deflection_at", "Deflection read", {"mid-span", "under the load"}, "mid-span", Kind::Number, "Against the supports.", Place::Plan},
        {"slope", "MOE from", {"regression", "point", "chord"}, "regression", Kind::Number, "Least squares over the straight part; the single point at the limit; or the chord from 0.05 to 0.25 % edge strain of plastics.", Place::Both},
        {"limit", "Limit at reading", {}, "auto", Kind::Number, "auto, or the number of a reading.", Place::Both},
        {"dial_division", "Division of the dial", {}, "0.01 mm", Kind::Length, "Less than that is not told apart.", Place::Plan},
        {"shear_ratio", "E over G", {}, "16", Kind::Number, "About 16 for softwood along the grain.", Place::Plan},
        {"moisture_MOR", "MOR for a per cent of moisture", {}, "0.04", Kind::Number, "From the laboratory's own copy of the standard.", Place::Plan},
        {"moisture_MOE", "MOE for a per cent of moisture", {}, "0.02", Kind::Number, "From the laboratory's own copy of the standard.", Place::Plan},
        {"edge_rate", "Strain rate of the edge", {}, "0.0015 /min", Kind::StrainRate, "0.0015 a minute for small clear wood, 0.0010 for beams, 0.01 or 0.1 for plastics. The speed follows from the span.", Place::Plan},
        schools::padSteps("100 N x 8, 50 N"),
        schools::expectedForce(),
    };
    m.steps = {
        {Stage::Plan, "Identify: species, grade, growth rings to the load, moisture.", "", ""},
        {Stage::Measure, "Width and depth at three places, then the span; note knots and slope of grain.", "Splinters: gloves.", "measured"},
        {Stage::SetUp, "Choose the cell and the supports; see the margins.", "Know the stop button before you start. Heavy fixtures: two people.", "margins"},
        {Stage::SetUp, "Zero the force with nothing under the load.", "", "force-zeroed"},
        {Stage::SetUp, "Lay the piece on its supports, square to them; the load in the middle, a gap above it.", "Hands out before the crosshead moves.", "centred"},
        {Stage::SetUp, "Dial or pick-up under the middle, free to follow; set it to zero.", "", "extensometer-on"},
        {Stage::SetUp, "Close the guard.", "Eye protection on. Wood breaks without a warning and throws splinters.", "guard-closed"},
        {Stage::Load, "Equal steps; read load and deflection at each without stopping long.", "Take the dial away before the break. Hands stay out.", ""},
        {Stage::Read, "Look at the break: tension, cross grain, splintering, brash, compression, shear.", "Splinters: gloves.", ""},
    };
    m.notes = {
        {"rings", "Growth rings to the load", {"flat", "at 45°", "upright"}, Stage::Measure, "", "Seen on the end."},
        {"grain", "Slope of grain", {}, Stage::Measure, "", "Such as 1 in 20."},
        {"knots", "Knots", {}, Stage::Measure, "", "Where and how large."},
        {"grade", "Grade", {"clear", "structural", "joinery"}, Stage::Measure, "", "Published means are those of clear wood."},
        {"failure", "Failure", {"simple tension", "cross-grain tension", "splintering tension", "brash tension", "compression", "horizontal shear"}, Stage::Read, "bending-break", "How it broke."},
    };
    m.rates = {0, 0, 0, 0.25, 0, "from the span and the strain rate of the edge", 0.0015 / 60};
    m.pad = {{{"force", "Load", "N"}, {"deflection", "Dial", "mm", false, "dial_division"}}, "force", "deflection", false};
    m.expect = expectFlexure;
    m.loading = Loading::Compression;
    m.live = LiveAxes::ForceTravel;
    m.channels = {{"force"}, {"deflection", "displacement"}};
    m.form = "beam";
    m.onMaximum = {"MOR", "W_max", "MOR_12"};
    m.leastSpecimens = 3;
    m.evaluate = evaluateFlexure;
    return m;
}

} // namespace fortitor
