// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/torsion/torsion.h"

#include "methods/common/schools.h"

namespace fortitor {

Method torsion()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "torsion";
    m.name = "torsion";
    m.standards = "ASTM E143, ISO 7800";
    m.shapes = {"round", "tube"};
    m.fields = {
        {"diameter", "Diameter d", Kind::Length, 3, "round", "across", false, true, "At three places of the parallel part."},
        {"outer_diameter", "Outer diameter D", Kind::Length, 3, "tube", "across", false, true, "At three places of the parallel part."},
        {"wall", "Wall", Kind::Length, 3, "tube", "through", false, true, "At the same places, by a tube calliper or from the end."},
        {"gauge_length", "Length L", Kind::Length, 1, "", "between-marks", false, false, "That the twist is read over: between the chucks, or between the marks of a twist gauge."},
    };
    m.results = {
        {"G", "shear modulus", "MPa", 100, true, "Slope of the shear stress on the shear strain; by the gauge where there is one."},
        {"G_twist", "G by the twist", "MPa", 100, true, "The same from the twist of the length."},
        {"tau_p", "yield by offset", "MPa", 1, true, "Nominal stress where the curve meets the line moved by the offset."},
        {"tau_max", "modulus of rupture", "MPa", 1, true, "Nominal, as if the bar were elastic to the end: too high once it yields."},
        {"tau_u", "fully plastic", "MPa", 1, true, "As if the whole section stood at one stress."},
        {"tau_N", "by Nádai", "MPa", 1, true, "True stress at the surface from the slope of the torque; solid bars."},
        {"T_max", "greatest torque", "N·m", 0.1, false, "Of all readings."},
        {"turns", "twist at the break", "rev", 0.01, false, "Turns of one chuck against the other."},
        {"gamma_b", "surface shear strain at the break", "%", 1, false, "Twist times radius over length."},
    };
    m.options = {
        {"shear_offset", "Offset of the yield", {}, "0.2 %", Kind::Strain, "In shear strain of the surface; 0.04 % is the other custom.", Place::Both},
        {"twist_from", "Twist read", {"between the chucks", "by a twist gauge"}, "between the chucks", Kind::Number, "Between the chucks it includes their own give.", Place::Plan},
        {"twist_division", "Division of the twist scale", {}, "0.1 deg", Kind::Angle, "Less than that is not told apart.", Place::Plan},
        {"gauge_at", "Gauge", {"one at 45°", "pair at ±45°"}, "one at 45°", Kind::Number, "γ = 2ε from one, ε₊ − ε₋ from a pair.", Place::Plan},
        schools::padSteps("5 deg x 8, 20 deg x 5, 50 deg"),
        {"expected_torque", "Greatest torque expected", {}, "", Kind::Torque, "It sizes the torque cell; empty: from the material.", Place::Plan},
    };
    m.steps = {
        {Stage::Plan, "Identify: material, solid or tube, length between the chucks.", "", ""},
        {Stage::Measure, "Diameter at three places; wall of a tube; then the length.", "", "measured"},
        {Stage::SetUp, "Choose the torque cell; see the margins.", "Know the stop button before you start.", "margins"},
        {Stage::SetUp, "Centre the bar in both chucks: all jaws meet the same ring of the scale.", "Hands out of the chucks before the drive moves.", "centred"},
        {Stage::SetUp, "Leave one chuck free to slide along; then tighten both hard and lock them.", "Take the key out of the chuck.", ""},
        {Stage::SetUp, "Draw a line along the bar: it will show the twist.", "", ""},
        {Stage::SetUp, "Connect the 45° gauge and balance it.", "", "extensometer-on"},
        {Stage::SetUp, "Set torque and twist to zero.", "", "force-zeroed"},
        {Stage::SetUp, "Close the guard.", "Eye protection on. Broken ends fly and spin.", "guard-closed"},
        {Stage::Load, "Small steps at first: hold, read torque, gauge and twist. Wider ones once it yields.", "Nothing loose near the turning chuck: sleeves, hair, leads.", ""},
        {Stage::Load, "To the break; count the turns.", "The bar is warm, the broken ends sharp: gloves.", ""},
        {Stage::Read, "Look at the break: flat across, a helix, or at the chuck.", "Sharp and hot: gloves.", ""},
    };
    m.notes = {{"fracture", "Break", {"flat across", "helix at 45°", "at the chuck"}, Stage::Read, "torsion-break", "What it looks like tells how it failed."}};
    m.rates = {0, 0, 0, 0.25, 0, "by hand, step by step"};
    m.live = LiveAxes::ForceTravel;
    m.channels = {{"torque"}, {"twist", "strain"}};
    m.pad = {{{"twist", "Twist", "°", false, "twist_division"}, {"torque", "Torque", "N·m"}, {"strain", "Gauge at 45°", "µε", true}, {"strain_2", "Gauge at −45°", "µε", true}}, "twist", "twist", false};
    m.loadKind = Kind::Torque;
    m.expect = expectTorsion;
    m.form = "shaft";
    m.onMaximum = {"tau_max", "tau_u", "tau_N", "T_max"};
    m.leastSpecimens = 2;
    m.evaluate = evaluateTorsion;
    return m;
}

} // namespace fortitor
