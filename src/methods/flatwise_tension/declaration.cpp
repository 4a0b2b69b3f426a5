// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/flatwise_tension/flatwise_tension.h"

#include "methods/common/schools.h"

namespace fortitor {

Method flatwiseTension()
{
    using Place = OptionSpec::Place;
    Method m;
    m.id = "flatwise-tension";
    m.name = "flatwise tension, sandwich";
    m.standards = "ASTM C297";
    m.shapes = {"block"};
    m.fields = {
        {"thickness", "Thickness", Kind::Length, 3, "", "through", false, true, "Ball micrometer on uneven skins, three places."},
        {"width", "Width a", Kind::Length, 1, "", "across", false, true, "Calliper, after cutting."},
        {"length", "Length b", Kind::Length, 1, "", "along", false, true, "Calliper, after cutting."},
    };
    m.results = {
        {"Fz_tu", "flatwise strength", "MPa", 0.01, true, "Greatest force over a·b."},
        {"E_z", "flatwise modulus", "MPa", 1, true, "Only with a displacement pick-up on the specimen."},
        {"eps_z", "strain at strength", "%", 0.01, false, "Only with a displacement pick-up on the specimen."},
    };
    m.options = {
        schools::forceZero(),
        schools::peak(),
        schools::expectedForce("Weaker of core and adhesive times the area."),
        {"slope", "Straight part", {}, "auto", Kind::Number, "auto, or manual A B (stresses); for E_z only.", Place::Both},
        {"maximum_at", "Maximum at", {}, "", Kind::Length, "Crosshead place where a person sees the maximum.", Place::Curve},
    };
    m.steps = {
        {Stage::Plan, "Choose an adhesive stronger than the core, and note its hours of cure.", "Adhesive: gloves and air.", ""},
        {Stage::Measure, "Three thickness readings by ball micrometer, width and length, label.", "Cut edges and dust: gloves, extraction.", "measured"},
        {Stage::Measure, "Roughen, clean, bond the blocks under light pressure; start the cure clock.", "Adhesive and solvent: gloves and air.", ""},
        {Stage::SetUp, "The cure clock has run down.", "", "cured"},
        {Stage::SetUp, "Choose the cell; see the margins.", "Know the stop button before you start.", "margins"},
        {Stage::SetUp, "Zero the force with nothing pinned.", "", "force-zeroed"},
        {Stage::SetUp, "Pin the top block; the specimen hangs free.", "Hands clear of the clevis.", "grip-top"},
        {Stage::SetUp, "Pin the lower block, ease to a light preload of a few newtons.", "Crush point when jogging: hand-set unlocked only for this.", "grip-second"},
        {Stage::SetUp, "Close the guard.", "Eye protection on. The blocks fly apart.", "guard-closed"},
        {Stage::Load, "Load to the break in 3 to 6 minutes.", "Guard stays closed. Stored energy is let go at once.", ""},
        {Stage::Read, "Pick the place of failure on the cross-section.", "Broken skins are sharp.", ""},
    };
    m.notes = {
        {"adhesive", "Adhesive", {}, Stage::Measure, "", "From the list of adhesives under Instruments, with its strength and hours of cure."},
        {"failure_place", "Place of failure", {"core", "core-to-skin bond", "skin", "block adhesive"}, Stage::Read, "sandwich", "Where it parted, picked on the cross-section."},
    };
    m.rates = {0, 0, 0, 1, 0.5 / 60, "0.5 mm/min, to break in 3 to 6 min (ASTM C297)"};
    m.live = LiveAxes::StressTravel;
    m.leavesSet = {"adhesive-failure", "cure-incomplete"};
    m.channels = {{"force"}};
    m.form = "sandwich";
    m.onMaximum = {"Fz_tu", "eps_z"};
    m.leastSpecimens = 5;
    m.evaluate = evaluateFlatwiseTension;
    return m;
}

} // namespace fortitor
