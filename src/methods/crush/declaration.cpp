// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/crush/crush.h"

#include "methods/common/schools.h"

namespace fortitor {

Method crush()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "crush";
    m.name = "crush of hollow pieces";
    m.standards = "own procedure";
    m.shapes = {"shell", "round", "rectangular", "tube"};
    m.fields = {
        {"height", "Height", Kind::Length, 1, "", "along", false, true, "Between the faces."},
        {"diameter", "Diameter", Kind::Length, 1, "round", "across", false, false, ""},
        {"diameter", "Diameter", Kind::Length, 1, "shell", "across", false, false, ""},
        {"width", "Width", Kind::Length, 1, "rectangular", "across", false, false, ""},
        {"thickness", "Depth", Kind::Length, 1, "rectangular", "through", false, false, ""},
        {"outer_diameter", "Outer diameter", Kind::Length, 1, "tube", "across", false, false, ""},
        {"wall", "Wall", Kind::Length, 1, "tube", "through", false, false, ""},
    };
    m.results = {
        {"F_peak", "peak force", "N", 1, true, "Greatest force before the piece is crushed together."},
        {"d_peak", "travel at peak", "mm", 0.01, true, "From the touch."},
        {"W", "energy", "J", 0.1, true, "Area under the curve up to the stated crush."},
        {"F_mean", "mean crush force", "N", 1, true, "Energy over that crush."},
        {"efficiency", "crush efficiency", "1", 0.01, true, "Mean over peak force."},
        {"crush", "crush counted", "mm", 0.1, false, "How far the energy is counted."},
    };
    m.options = {
        {"crush_to", "Energy up to", {}, "", Kind::Length, "A crush in mm from the touch; empty: to where the piece is crushed together.", Place::Both},
        {"touch", "Touch at", {}, "", Kind::Force, "The force that counts as touching; empty: clear of noise.", Place::Plan},
        schools::compliance("Taken off platen motion."),
        schools::forceZero(),
        schools::peak(),
        schools::expectedForce("Of the peak; sizes the cell."),
        {"touch_at", "Touch moved to", {}, "", Kind::Length, "Travel from the touch found, where a person sees it.", Place::Curve},
        {"peak_at", "Peak at", {}, "", Kind::Length, "Travel where a person sees the peak.", Place::Curve},
    };
    m.steps = {
        {Stage::Plan, "Identify: batch, supplier, drained and dry.", "", ""},
        {Stage::Measure, "Height, and a look for dents before the test.", "Rims are sharp: gloves.", "measured"},
        {Stage::SetUp, "Choose the cell and the platens; see the margins.", "Know the stop button before you start. Heavy platens: two people, both hands.", "margins"},
        {Stage::SetUp, "Zero the force with nothing on the platens.", "", "force-zeroed"},
        {Stage::SetUp, "Centre the piece by the ring; leave a small visible gap above it.", "Hands out of the platens before the crosshead moves.", "centred"},
        {Stage::SetUp, "Close the guard.", "Eye protection on. Shells snap; closed ones burst.", "guard-closed"},
        {Stage::Load, "Down to the touch, then on to the stated crush and back to the start.", "Hands out of the platens until the crosshead stands.", ""},
        {Stage::Read, "Look at the folds.", "Crushed edges cut: gloves.", ""},
    };
    m.notes = {
        {"operator", "Operator", {}, Stage::Measure, "", "Scatter is shared out by operator and batch on Judge."},
        {"batch", "Batch", {}, Stage::Measure, "", ""},
        {"condition", "Before the test", {"sound", "dented", "scratched"}, Stage::Measure, "", "A dent halves the peak of a thin shell."},
        {"centring", "Centring", {"by ring", "by eye"}, Stage::Measure, "", ""},
        {"folds", "Folds", {"one fold", "several folds", "tilted", "burst"}, Stage::Read, "shell", "How it gave way."},
    };
    m.rates = {0, 0, 0, 0.2, 10.0 / 60, "10 mm/min"};
    m.loading = Loading::Compression;
    m.live = LiveAxes::ForceTravel;
    m.channels = {{"force"}, {"displacement", "deflection", "extension"}};
    m.form = "shell";
    m.onMaximum = {"F_peak", "d_peak", "W", "F_mean", "efficiency"};
    m.leastSpecimens = 5;
    m.evaluate = evaluateCrush;
    return m;
}

} // namespace fortitor
