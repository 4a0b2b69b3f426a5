// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_metal/tension_metal.h"

#include "methods/common/schools.h"

namespace fortitor {
namespace {

std::vector<FieldSpec> fields()
{
    const std::string width = "Across the wide face, calliper square to the edge.";
    return {
        {"diameter", "Diameter", Kind::Length, 3, "round", "across", false, true, "At three places of the parallel part, two ways each if it looks oval."},
        {"width", "Width", Kind::Length, 3, "rectangular", "across", false, true, width},
        {"thickness", "Thickness", Kind::Length, 3, "rectangular", "through", false, true, "At the same three places."},
        {"outer_diameter", "Outer diameter", Kind::Length, 3, "tube", "across", false, true, "At three places."},
        {"wall", "Wall", Kind::Length, 3, "tube", "through", false, true, "Ball micrometer, at three places."},
        {"gauge_length", "L0 between marks", Kind::Length, 1, "", "between-marks", false, false, "Marked with light taps or ink: 5.65·√So or a fixed 50 or 80 mm."},
        {"extensometer_gauge_length", "Le of the extensometer", Kind::Length, 1, "", "extensometer", false, false, "At least half of L0."},
        {"parallel_length", "Parallel length Lc", Kind::Length, 1, "", "parallel", false, false, "At least L0 + d/2."},
        {"grip_distance", "Between the grips", Kind::Length, 1, "", "grips", false, false, "Serves where there is no parallel part (wire, full section)."},
        {"final_gauge_length", "Lu after the break", Kind::Length, 1, "", "between-marks", true, false, "Fit the halves, measure between the marks."},
        {"final_diameter", "Diameter at the neck", Kind::Length, 2, "round", "neck", true, false, "Two across, at the least place."},
        {"final_width", "Width at the neck", Kind::Length, 1, "rectangular", "neck", true, false, ""},
        {"final_thickness", "Thickness at the neck", Kind::Length, 1, "rectangular", "neck", true, false, ""},
        {"mark_interval", "Between subdividing marks", Kind::Length, 1, "", "between-marks", true, false, "L0 divided evenly, 5 or 10 mm; only for the step method."},
        {"length_xy", "X to Y", Kind::Length, 1, "", "between-marks", true, false, "X: the mark at the end of the short half. Y: on the long half, as far from the break as X."},
        {"intervals_xy", "Intervals X to Y", Kind::Number, 1, "", "between-marks", true, false, "Counted over both halves."},
        {"length_yz", "Y to Z", Kind::Length, 2, "", "between-marks", true, false, "Z lies (N−n)/2 intervals beyond Y; for an odd count both neighbours."},
        {"break_distance", "Break to the nearer mark", Kind::Length, 1, "", "neck", true, false, "Nearer than a third of L0 may make A low."},
    };
}

std::vector<ResultSpec> results()
{
    return {
        {"E", "modulus", "MPa", 100, true, "Slope of the straight part."},
        {"ReH", "upper yield", "MPa", 1, true, "First maximum before a drop."},
        {"ReL", "lower yield", "MPa", 1, true, "Least stress while yielding, the first transient left out."},
        {"Ae", "yield-point extension", "%", 0.1, false, "From ReH to the start of even hardening."},
        {"Rp0.2", "proof strength", "MPa", 1, true, "The curve meets the modulus line moved by 0.2 %."},
        {"Rt0.5", "stress at 0.5 % strain", "MPa", 1, false, "The under-load school."},
        {"Rm", "strength", "MPa", 1, true, "Greatest force over the first section."},
        {"Agt", "total strain at maximum", "%", 0.1, true, "Elastic part included."},
        {"Ag", "plastic strain at maximum", "%", 0.1, false, "Agt less Rm/E."},
        {"At", "total strain at break", "%", 0.5, false, ""},
        {"A_ext", "after break, by extensometer", "%", 0.5, false, "At less the elastic part."},
        {"A", "after break", "%", 0.5, true, "From the fitted halves, between the marks."},
        {"Z", "necking", "%", 1, true, "Loss of section at the neck."},
        {"n", "hardening exponent", "1", 0.001, false, "Of σ = K·εⁿ on the true curve."},
        {"K", "hardening coefficient", "MPa", 1, false, ""},
        {"Ur", "resilience", "MJ/m³", 0.01, false, "Area up to yield."},
        {"Ut", "toughness", "MJ/m³", 0.1, false, "Area up to the break."},
        {"yield_ratio", "yield ratio", "1", 0.01, false, "Yield over strength."},
    };
}

std::vector<OptionSpec> options()
{
    return {
        {"yield", "Yield by", {"auto", "offset", "upper-lower", "under-load"}, "auto", Kind::Number, "auto takes ReH and ReL where the curve drops, else the offset."},
        {"yield_offset", "Offset", {}, "0.2 %", Kind::Strain, "Plastic strain of the proof strength.", OptionSpec::Place::Both},
        schools::areaFrom("mean of the places (ISO 6892-1), or the least of them."),
        {"slope", "Straight part", {}, "auto", Kind::Number, "auto, chord A B (strains), secant A B or manual A B (stresses).", OptionSpec::Place::Both},
        schools::strainFrom(),
        schools::compliance(),
        schools::forceZero(),
        schools::peak(),
        {"lower_yield", "ReL by", {"full", "short-cut"}, "full", Kind::Number, "The short cut takes the least within 0.25 % after ReH."},
        {"near_mark", "Near a mark is", {"third", "quarter"}, "third", Kind::Number, "Which edition's share of L0."},
        {"convert_gauge_length", "A also at L0 of", {}, "", Kind::Length, "Elongation carried over to another gauge length, ISO 2566."},
        {"convert_family", "Converted for", {"none", "plain steel", "austenitic"}, "none", Kind::Number, "Exponent 0.4 or 0.127; refused outside their bands of strength."},
        {"hardening_strain", "n and K on", {"plastic", "total"}, "plastic", Kind::Number, "True plastic or true total strain."},
        {"elongation_by", "A by", {"marks", "subdivided marks"}, "marks", Kind::Number, "Over the two marks, or by the step method when the break lies near one of them."},
        schools::firstGrip("Top first hangs the bar free of load; lower first is common on heavy frames. The steps follow."),
        {"upper_yield_at", "ReH at", {}, "", Kind::Strain, "Strain where a person sees the upper yield.", OptionSpec::Place::Curve},
        {"lower_yield_at", "ReL at", {}, "", Kind::Strain, "Strain where a person sees the lower yield.", OptionSpec::Place::Curve},
        {"maximum_at", "Maximum at", {}, "", Kind::Strain, "Strain where a person sees the maximum.", OptionSpec::Place::Curve},
        {"break_at", "Break at", {}, "", Kind::Strain, "Strain of the last reading before the break.", OptionSpec::Place::Curve},
    };
}

std::vector<StepSpec> steps()
{
    return schools::withGrips({
        {Stage::Plan, "Identify: lot, heat, colour mark, direction of cutting.", "", ""},
        {Stage::Measure, "Mark the gauge length with light taps or ink; deep marks start the break.", "Edges of cut bars are sharp: gloves.", ""},
        {Stage::Measure, "Measure at three places.", "", "measured"},
        {Stage::SetUp, "Choose cell and grips; see the margins.", "Know the stop button before you start.", "margins"},
        {Stage::SetUp, "Zero the force with nothing in the grips.", "", "force-zeroed"},
    }, "Grip the top end; the bar hangs free.", "Grip the lower end; the bar stands free of the top.", "ease the clamp load to near zero.", {
        {Stage::SetUp, "Put the extensometer on and balance it.", "", "extensometer-on"},
        {Stage::SetUp, "Close the guard.", "Eye protection on. The bar can jump when it breaks.", "guard-closed"},
        {Stage::Load, "Slow to yield, extensometer off if it can't stand the break, then faster.", "Guard stays closed. Hands off the grips.", ""},
        {Stage::Read, "Fit the halves, measure Lu and the neck, look at the fracture.", "Broken ends are sharp and may be hot.", ""},
    });
}

} // namespace

Method tensionMetal()
{
    Method m;
    m.id = "tension-metal";
    m.name = "tension, metals";
    m.standards = "ISO 6892-1";
    m.shapes = {"round", "rectangular", "tube"};
    m.fields = fields();
    m.results = results();
    m.options = options();
    m.steps = steps();
    m.channels = {{"force"}, {"extension", "strain", "displacement"}};
    m.rates.words = "0.00025 /s ± 20 %, ISO 6892-1 method A";
    m.notes = {{"fracture", "Fracture", {"cup and cone", "slant", "flat", "granular", "at grip"}, Stage::Read, "fracture", "Look at the broken ends before they are put away."}};
    m.anyProof = true;
    m.onMaximum = {"Rm", "Agt", "Ag", "n", "K", "Ut", "yield_ratio"};
    m.leastSpecimens = 3;
    m.evaluate = evaluateTensionMetal;
    return m;
}

} // namespace fortitor
