// SPDX-License-Identifier: GPL-3.0-or-later
// Families of records that are pressed, bent and twisted.
#include "sim/family.h"
#include "sim/family_parts.h"

#include <algorithm>
#include <cmath>

namespace fortitor {

FamilyRun coreStopped(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    const CatalogueEntry& entry = *findCatalogueEntry("shell-sandwich");
    FamilyRun out = stopped(entry, seed, dice.between(0.4, 0.8) * lawOf(entry.model).strain.back(), dice);
    out.lost = {"Fz_tu", "eps_z"};
    return out;
}

FamilyRun blockStopped(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    FamilyRun out = stopped(*findCatalogueEntry("sill-block"), seed, dice.between(0.01, 0.12), dice);
    out.lost = {"sigma_max"};
    return out;
}

namespace {

CatalogueEntry softBlock(const SoftModel& model, const char* stated)
{
    CatalogueEntry entry = *findCatalogueEntry("spruce-block");
    entry.name = model.plateau > 0 ? "foam-block" : "rubber-block";
    entry.material.clear();
    entry.model = model;
    entry.diameter = 0;
    entry.width = entry.thickness = 50;
    entry.height = entry.parallelLength = 40;
    entry.extensometer = 0;
    entry.compliance = 2e-6;
    entry.cell = 2.5 * model.stress(model.end) * 2500;
    entry.stopStrain = model.end * 0.98;
    entry.slowRate = 0.002;
    entry.changeAt = 1;
    entry.options = {{"stated_strain", stated}, {"strain_from", "crosshead"}, {"ends", "flat on platens"}};
    return entry;
}

} // namespace

FamilyRun softPressed(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    SoftModel model;
    if (dice.even() < 0.6) {
        model.modulus = dice.between(2, 40);
        model.plateau = model.modulus * dice.between(0.02, 0.06);
        model.rise = model.plateau * dice.between(0, 0.6);
        model.together = dice.between(0.4, 0.6);
        model.end = model.together + dice.between(0.1, 0.25);
    } else {
        model.modulus = dice.between(1, 8);
        model.plateau = 0;
        model.end = dice.between(0.3, 0.5);
    }
    const CatalogueEntry entry = softBlock(model, dice.even() < 0.5 ? "10 %" : "25 %");
    SimulatedSpecimen specimen = wellZeroed(entry, seed);
    specimen.conditions.forceNoise = dice.between(0.3, 2) * 1e-4 * entry.cell;
    specimen.conditions.compliance = 1e-9; // its give is nothing beside the piece's
    FamilyRun out = started(entry, std::move(specimen), seed, dice.between(800, 5000));
    out.lost = {"sigma_max"};
    return out;
}

FamilyRun foldedStoutly(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    CatalogueEntry entry = *findCatalogueEntry("canister");
    ShellModel model;
    model.plateau = model.peak * dice.between(0.5, 0.66);
    model.wave = dice.between(0.05, 0.2);
    model.end = model.together + dice.between(5, 9);
    entry.model = model;
    entry.cell = 6000;
    entry.stopStrain = model.end - 0.5;
    entry.options.erase("crush_to");
    FamilyRun out = started(entry, wellZeroed(entry, seed), seed);
    for (const char* symbol : {"W", "F_mean", "efficiency"})
        out.run.specimen.truth.erase(symbol); // they count to where it is crushed together
    return out;
}

FamilyRun beamSteps(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    CatalogueEntry entry = oneOf(dice, {"loom-batten", "loom-batten-third"});
    entry.steps = static_cast<int>(dice.between(14, 27));
    FamilyRun out = started(entry, drawSpecimen(entry, seed), seed);
    const auto& beam = std::get<BeamModel>(out.run.specimen.model);
    // The limit of the method: where the deflection is off the line by 1.5 % of itself, and by a division of the dial.
    double low = beam.limit / beam.slope;
    double high = beam.breakDeflection;
    for (int k = 0; k < 60; ++k) {
        const double d = 0.5 * (low + high);
        (d - beam.force(d) / beam.slope < std::max(0.015 * d, 0.01) ? low : high) = d;
    }
    out.run.specimen.truth["F_pl"] = beam.force(low);
    return out;
}

FamilyRun beamStopped(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    CatalogueEntry entry = *findCatalogueEntry("loom-batten");
    entry.steps = 0;
    entry.points = 2000;
    entry.slowRate = entry.fastRate = 0.05;
    entry.stopStrain = dice.between(0.4, 0.8) * std::get<BeamModel>(entry.model).breakDeflection;
    entry.changeAt = 100;
    entry.backRate = dice.between(0.05, 0.5);
    SimulatedSpecimen specimen = wellZeroed(entry, seed);
    specimen.conditions.slack = specimen.conditions.footStrain = 0;
    FamilyRun out = started(entry, std::move(specimen), seed);
    channelOf(out.run.record, "extension")->name = "deflection";
    out.lost = {"MOR", "W_max"};
    return out;
}

FamilyRun blockPlain(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    CatalogueEntry entry = oneOf(dice, {"sill-block", "spruce-block"});
    if (entry.name == "sill-block")
        entry.options["stated_strain"] = "10 %"; // it never breaks
    return started(entry, wellZeroed(entry, seed), seed);
}

FamilyRun shaftPlain(std::uint64_t seed)
{
    Random dice = diceOf(seed);
    CatalogueEntry entry = oneOf(dice, {"sill-pin", "hollow-shaft"});
    entry.diameter += 0.07; // none is turned or drawn to its nominal size
    if (entry.thickness > 0)
        entry.thickness += 0.034;
    return started(entry, drawSpecimen(entry, seed), seed);
}

} // namespace fortitor
