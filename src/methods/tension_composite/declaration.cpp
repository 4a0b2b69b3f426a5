// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/tension_composite/tension_composite.h"

#include "methods/common/schools.h"

namespace fortitor {
namespace {

using Place = OptionSpec::Place;

std::vector<FieldSpec> fields()
{
    return {
        {"width", "Width", Kind::Length, 3, "rectangular", "across", false, true, "At three places of the gauge length."},
        {"thickness", "Thickness", Kind::Length, 3, "rectangular", "through", false, true, "Ball micrometer on the rough side, at the same places."},
        {"diameter", "Diameter", Kind::Length, 3, "round", "across", false, true, "At three places."},
        {"extensometer_gauge_length", "Le of the extensometer", Kind::Length, 1, "", "extensometer", false, false, "Not needed where the record holds strain."},
        {"grip_distance", "Between the grips or tabs", Kind::Length, 1, "", "grips", false, false, ""},
    };
}

std::vector<ResultSpec> results()
{
    return {
        {"E_chord", "chord modulus", "MPa", 100, true, "Between two strains from the corrected origin."},
        {"sigma_max", "strength", "MPa", 1, true, "Greatest force over the section."},
        {"eps_max", "strain at strength", "%", 0.01, true, "By extensometer or gauges only; never from the crosshead."},
        {"nu12", "Poisson's ratio", "1", 0.01, true, "Strain across over strain along, over the chord."},
        {"By", "bending", "%", 0.1, true, "Front against back strain at the middle of the chord."},
    };
}

std::vector<OptionSpec> options()
{
    return {
        {"chord", "Chord between", {}, "0.1 % 0.3 %", Kind::Number, "Two strains: 0.1 % 0.3 % (ASTM D3039) or 0.05 % 0.25 % (ISO 527-4, -5).", Place::Both},
        {"transition", "Bilinear transition", {"none", "find"}, "none", Kind::Number, "Where a curve of two straight parts bends.", Place::Plan},
        schools::strainFrom(),
        schools::compliance(),
        schools::areaFrom(),
        schools::forceZero(),
        schools::peak(),
        schools::firstGrip(),
        schools::expectedForce("Where the table knows nothing of the laminate."),
        {"maximum_at", "Maximum at", {}, "", Kind::Strain, "Strain where a person sees the maximum.", Place::Curve},
    };
}

std::vector<StepSpec> steps()
{
    return schools::withGrips({
        {Stage::Plan, "Identify: panel, lay-up, direction, conditioning.", "", ""},
        {Stage::Measure, "Measure width and thickness at three places; look at tabs and edges.", "Fibres and dust: gloves, no dry sanding without extraction.", "measured"},
        {Stage::SetUp, "Choose cell and grips for the strength of the laminate.", "Know the stop button before you start.", "margins"},
        {Stage::SetUp, "Zero the force with nothing in the grips.", "", "force-zeroed"},
    }, "Grip the top tab full length and in line.", "Grip the lower tab full length and in line.", "ease the clamp load to near zero.", {
        {Stage::SetUp, "Balance front, back and transverse strain.", "", "extensometer-on"},
        {Stage::SetUp, "Close the guard.", "Eye protection on. The strip bursts: splinters and dust fly.", "guard-closed"},
        {Stage::Load, "2 mm/min to the break; extensometer off at 0.3 to 0.5 % if it can't stand the burst.", "Guard stays closed. Stored energy is let go at once.", ""},
        {Stage::Read, "Code the failure: kind, area, place.", "Splinters: gloves, and do not blow the dust.", ""},
    });
}

} // namespace

Method tensionComposite()
{
    Method m;
    m.id = "tension-composite";
    m.name = "tension, fibre composites";
    m.standards = "ISO 527-4";
    m.shapes = {"rectangular", "round"};
    m.fields = fields();
    m.results = results();
    m.options = options();
    m.steps = steps();
    m.notes = {
        {"direction", "Fibre direction", {"along 0°", "crossed ±45°", "across 90°"}, Stage::Measure, "direction", "Of the outer plies; drawn on the tag."},
        {"layup", "Lay-up", {}, Stage::Measure, "", "Such as [0/90]4s."},
        {"failure_kind", "Kind of failure", {"A angled", "D edge delamination", "G at grip or tab", "L lateral", "M several kinds", "S long splits", "X explosive"}, Stage::Read, "laminate-kind", "First letter of the code."},
        {"failure_area", "Area", {"I inside the grip", "A at the grip", "W within one width", "G gauge length", "M several places", "V various"}, Stage::Read, "laminate-area", "Second letter: how far from the grip."},
        {"failure_place", "Place", {"T top", "M middle", "B bottom", "L left", "R right", "V various"}, Stage::Read, "laminate-place", "Third letter: where on the strip."},
    };
    m.rates = {0, 0, 0, 0.2, 2.0 / 60, "2 mm/min (ASTM D3039), break in 1 to 10 min"};
    m.channels = {{"force"}, {"strain", "extension", "displacement"}};
    m.form = "strip";
    m.onMaximum = {"sigma_max", "eps_max", "W"};
    m.leastSpecimens = 5;
    m.evaluate = evaluateTensionComposite;
    m.checkSet = checkCompositeSet;
    return m;
}

} // namespace fortitor
