// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/poisson/poisson.h"

#include "methods/common/schools.h"

namespace fortitor {

Method poisson()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "poisson";
    m.name = "Poisson's ratio by gauges";
    m.standards = "ASTM E132";
    m.shapes = {"rectangular", "round", "tube"};
    m.fields = {
        {"width", "Width", Kind::Length, 3, "rectangular", "across", false, false, "Only if E is wanted."},
        {"thickness", "Thickness", Kind::Length, 3, "rectangular", "through", false, false, "Only if E is wanted."},
        {"diameter", "Diameter", Kind::Length, 3, "round", "across", false, false, "Only if E is wanted."},
        {"outer_diameter", "Outer diameter", Kind::Length, 3, "tube", "across", false, false, "Only if E is wanted."},
        {"wall", "Wall", Kind::Length, 3, "tube", "through", false, false, "Only if E is wanted."},
        {"grip_distance", "Between grips", Kind::Length, 1, "", "grips", false, false, "For the speed between the steps."},
    };
    m.results = {
        {"nu", "Poisson's ratio", "1", 0.001, true, "Minus the slope of the transverse on the longitudinal strain."},
        {"nu_load", "by the slopes on load", "1", 0.001, true, "The slope of each strain on the load, one over the other."},
        {"E", "modulus", "MPa", 100, true, "Slope of the load on the longitudinal strain over the section."},
    };
    m.options = {
        {"gauge_factor", "Gauge factor, longitudinal and transverse", {}, "", Kind::Number, "As the gauges' maker states it.", Place::Plan},
        {"gauge_factor_set", "Gauge factor set on the indicator", {}, "", Kind::Number, "What the readings were made with.", Place::Plan},
        {"transverse_sensitivity", "Transverse sensitivity Kt", {}, "", Kind::Number, "As a fraction: 0.01 for 1 %.", Place::Plan},
        schools::padSteps(),
        schools::areaFrom(),
        schools::firstGrip(),
        schools::expectedForce("The highest step; it sizes the cell."),
    };
    m.steps = schools::withGrips(
        {
            {Stage::Plan, "Identify: material, direction; highest step well under yield.", "", ""},
            {Stage::Measure, "Gauges lie along and across; leads strain-relieved.", "Solvents and adhesive: gloves, fresh air.", ""},
            {Stage::SetUp, "Choose cell and grips; see the margins.", "Know the stop button before you start.", "margins"},
            {Stage::SetUp, "Zero the force with nothing in the grips.", "", "force-zeroed"},
        },
        "Grip the top end; the strip hangs free.", "Grip the lower end; the strip stands free.", "ease the clamp load to near zero.",
        {
            {Stage::SetUp, "Balance the strain channels, again after every correction.", "", "extensometer-on"},
            {Stage::SetUp, "Close the guard.", "Eye protection on.", "guard-closed"},
            {Stage::Load, "Hold at each step; read along, then across.", "Guard stays closed. Hands off the grips.", ""},
            {Stage::Load, "Unload and read the zero again.", "", ""},
            {Stage::Read, "Look at both lines, and at the zero that came back.", "", ""},
        });
    m.rates = {0.00005, 0.00005, 0, 0.5, 0, "slow between the steps"};
    m.pad = {{{"force", "Load", "kN"}, {"strain", "Along", "µε"}, {"strain_2", "Along, other face", "µε", true}, {"transverse_strain", "Across", "µε"}}, "force", "force", true};
    m.channels = {{"strain"}, {"transverse_strain"}};
    m.form = "strip";
    m.leastSpecimens = 1;
    m.evaluate = evaluatePoisson;
    return m;
}

} // namespace fortitor
