// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/compression/compression.h"

#include "methods/common/schools.h"

namespace fortitor {

Method compression()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "compression";
    m.name = "compression";
    m.standards = "ISO 604";
    m.shapes = {"round", "rectangular", "tube"};
    m.fields = {
        {"diameter", "Diameter", Kind::Length, 3, "round", "across", false, true, "At three places."},
        {"width", "Width", Kind::Length, 3, "rectangular", "across", false, true, "At three places."},
        {"thickness", "Depth", Kind::Length, 3, "rectangular", "through", false, true, "At the same three places."},
        {"outer_diameter", "Outer diameter", Kind::Length, 3, "tube", "across", false, true, "At three places."},
        {"wall", "Wall", Kind::Length, 3, "tube", "through", false, true, "At three places."},
        {"height", "Height", Kind::Length, 1, "", "along", false, true, "Between the faces; both must be flat and parallel."},
        {"extensometer_gauge_length", "Le of the compressometer", Kind::Length, 1, "", "extensometer", false, false, "Without one the strain comes from the platens."},
    };
    m.results = {
        {"E", "modulus", "MPa", 100, true, "Slope of the straight part."},
        {"Rp0.2", "proof stress", "MPa", 1, true, "The curve meets the modulus line moved by 0.2 %."},
        {"sigma_y", "yield stress", "MPa", 0.1, true, "First maximum with falling or level stress after it."},
        {"sigma_max", "strength", "MPa", 0.1, true, "Greatest stress, where it comes down again or the piece breaks."},
        {"sigma_at_strain", "stress at the stated strain", "MPa", 0.1, false, "Where no break comes."},
    };
    m.options = {
        {"slope", "Straight part", {}, "auto", Kind::Number, "auto, chord A B (strains), secant A B or manual A B (stresses).", Place::Both},
        {"yield_offset", "Offset", {}, "0.2 %", Kind::Strain, "Plastic strain of the proof stress.", Place::Both},
        {"stated_strain", "Stress also at", {}, "", Kind::Strain, "A strain, for pieces that never break.", Place::Plan},
        schools::strainFrom("The platens include the machine."),
        schools::compliance("Taken off platen motion; with it the modulus is given from the platens too."),
        schools::areaFrom(),
        {"ends", "Ends", {"flat on platens", "pivoted"}, "flat on platens", Kind::Number, "How the ends are held counts for buckling.", Place::Plan},
        schools::forceZero(),
        schools::peak(),
        schools::expectedForce(),
        {"maximum_at", "Maximum at", {}, "", Kind::Strain, "Strain where a person sees the maximum.", Place::Curve},
    };
    m.steps = {
        {Stage::Plan, "Identify: material, direction, moisture; faces flat and parallel.", "", ""},
        {Stage::Measure, "Measure across at three places, and the height.", "Edges are sharp: gloves.", "measured"},
        {Stage::SetUp, "Choose the cell and the platens; see the margins.", "Know the stop button before you start. Heavy platens: two people, both hands.", "margins"},
        {Stage::SetUp, "Zero the force with nothing on the platens.", "", "force-zeroed"},
        {Stage::SetUp, "Centre the piece by the ring; leave a small visible gap above it.", "Hands out of the platens before the crosshead moves.", "centred"},
        {Stage::SetUp, "Compressometer on and balanced, if there is one.", "", "extensometer-on"},
        {Stage::SetUp, "Close the guard.", "Eye protection on. Brittle pieces burst; slender ones jump out.", "guard-closed"},
        {Stage::Load, "Down to the touch, then slowly on to the end.", "Guard stays closed. Hands out of the platens.", ""},
        {Stage::Read, "Look at the shape: barrelled, buckled, sheared, split.", "Crushed pieces are sharp.", ""},
    };
    m.notes = {
        {"direction", "Direction", {}, Stage::Measure, "", "Such as along the grain."},
        {"moisture", "Moisture", {}, Stage::Measure, "", "Of wood, such as 12 %."},
        {"shape_after", "Shape after", {"even", "barrelled", "buckled", "sheared", "split", "end crushed"}, Stage::Read, "barrelling", "What the piece looks like now."},
    };
    m.rates = {0.0005, 0.003, 0.02, 0.5, 0, "0.0005 /s, faster past yield"};
    m.loading = Loading::Compression;
    m.channels = {{"force"}, {"extension", "strain", "displacement"}};
    m.form = "column";
    m.leavesSet = {"buckled"};
    m.onMaximum = {"sigma_max"};
    m.leastSpecimens = 3;
    m.evaluate = evaluateCompression;
    return m;
}

} // namespace fortitor
