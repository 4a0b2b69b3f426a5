// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/catalogue.h"

#include "reference/tables.h"
#include "sim/stand_in.h"
#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <mutex>
#include <numbers>
#include <optional>

namespace fortitor {
namespace {

MetalModel rounded(double E, double limit, double quick, double quickStrain, double slow, double slowStrain,
                   double uniform, double fracture, double neck)
{
    MetalModel m;
    m.modulus = E;
    m.limit = limit;
    m.quick = quick;
    m.quickStrain = quickStrain;
    m.slow = slow;
    m.slowStrain = slowStrain;
    m.uniform = uniform;
    m.fracture = fracture;
    m.neckDrop = neck;
    return m;
}

MetalModel dropping(double E, double upper, double lower, double plateau, double serration, double transient,
                    double slow, double slowStrain, double uniform, double fracture, double neck)
{
    MetalModel m = rounded(E, lower, 0, 0.001, slow, slowStrain, uniform, fracture, neck);
    m.upper = upper;
    m.plateau = plateau;
    m.serration = serration;
    m.transient = transient;
    return m;
}

CatalogueEntry round(std::string name, std::string words, std::string material, MetalModel model, double d, double Lo,
                     double Lc, double cell, double off)
{
    CatalogueEntry e;
    e.name = std::move(name);
    e.words = std::move(words);
    e.method = "tension-metal";
    e.material = std::move(material);
    e.model = model;
    e.diameter = d;
    e.gaugeLength = e.extensometer = Lo;
    e.parallelLength = Lc;
    e.cell = cell;
    e.removeAtStrain = off;
    return e;
}

CatalogueEntry printed(std::string name, std::string words, std::string material, PlasticModel model,
                       std::string direction = {})
{
    CatalogueEntry e;
    e.direction = std::move(direction);
    e.name = std::move(name);
    e.words = std::move(words);
    e.method = "tension-plastic";
    e.material = std::move(material);
    e.model = model;
    e.shape = "rectangular";
    e.diameter = 0;
    e.width = 10;
    e.thickness = 4;
    e.gaugeLength = 0;
    e.extensometer = 50;
    e.parallelLength = 115;
    e.compliance = 2.5e-6;
    e.cell = 5000;
    e.slowRate = 1.0 / 6000;
    e.changeAt = 0.0035;
    e.fastRate = 5.0 / 6000;
    return e;
}

CatalogueEntry drawing(std::string name, std::string words, std::string material, PlasticModel model, double off)
{
    CatalogueEntry e = printed(std::move(name), std::move(words), std::move(material), model);
    e.removeAtStrain = off;
    e.fastRate = 50.0 / 6000;
    return e;
}

CatalogueEntry laminate(std::string name, std::string words, std::string material, LaminateModel model, bool gauges,
                        double width, double thickness, double cell)
{
    CatalogueEntry e = printed(std::move(name), std::move(words), std::move(material), {});
    e.method = "tension-composite";
    e.model = model;
    e.width = width;
    e.thickness = thickness;
    e.gauges = gauges;
    e.parallelLength = 150;
    e.compliance = 6e-6;
    e.cell = cell;
    e.slowRate = e.fastRate = 2.0 / 60 / 150;
    e.changeAt = 1;
    return e;
}

CatalogueEntry bonded()
{
    CatalogueEntry e;
    e.name = "shell-sandwich";
    e.words = "shell sandwich, foam core between skins, bonded to blocks, pulled flatwise";
    e.method = "flatwise-tension";
    e.material = "shell sandwich, foam core";
    e.model = CoreModel{75, 1.9};
    e.shape = "block";
    e.diameter = 0;
    e.width = e.length = 50;
    e.thickness = 14;
    e.gaugeLength = 0;
    e.extensometer = 14;
    e.parallelLength = 14;
    e.compliance = 2e-5;
    e.cell = 10000;
    e.slowRate = e.fastRate = 0.12 / 60 / 14;
    e.changeAt = 10;
    return e;
}

CatalogueEntry gauged()
{
    CatalogueEntry e =
        round("rigger-strip", "strip cut from rigger tube, gauges along and across on both faces", "6082-T6",
              rounded(70000, 215, 45, 0.0008, 52, 0.022, 0.075, 0.125, 0.16), 0, 0, 150, 50000, 0);
    e.method = "poisson";
    e.shape = "rectangular";
    e.width = 25;
    e.thickness = 3;
    e.gauges = true;
    e.extensometer = 0;
    e.steps = 10;
    e.stopStrain = 0.0015;
    e.slowRate = e.fastRate = 0.00005;
    return e;
}

CatalogueEntry batten(std::string name, std::string words, BeamModel model, double loadSpan)
{
    CatalogueEntry e;
    e.name = std::move(name);
    e.words = std::move(words);
    e.loadSpan = loadSpan;
    if (loadSpan > 0)
        e.options["loading"] = "four-point";
    e.method = "flexure";
    e.material = "spruce";
    e.model = model;
    e.shape = "rectangular";
    e.diameter = 0;
    e.width = e.thickness = 20;
    e.gaugeLength = 0;
    e.parallelLength = e.extensometer = 1; // the law is one of load over deflection
    e.span = 300;
    e.compliance = 2e-5;
    e.cell = 5000;
    e.steps = 12;
    e.fixture = "bending";
    return e;
}

CatalogueEntry shaft(std::string name, std::string words, double diameter, double wall, double length, ShaftModel model,
                     double cell, std::string steps)
{
    CatalogueEntry e;
    e.name = std::move(name);
    e.words = std::move(words);
    e.method = "torsion";
    e.material = "6082-T6";
    e.model = model;
    e.shape = wall > 0 ? "tube" : "round";
    e.diameter = diameter;
    e.thickness = wall;
    e.gaugeLength = length;
    e.parallelLength = e.extensometer = 1; // the law is one of torque over twist
    e.compliance = 3e-7; // rad of the chucks a N·mm
    e.cell = cell; // N·mm
    e.options["steps"] = std::move(steps);
    e.steps = 1;
    e.fixture = "torsion";
    return e;
}

CatalogueEntry pressed(std::string name, std::string words, std::string material, SpecimenModel model, double diameter,
                       double height, double stop, double cell)
{
    CatalogueEntry e;
    e.name = std::move(name);
    e.words = std::move(words);
    e.method = "compression";
    e.material = std::move(material);
    e.model = std::move(model);
    e.diameter = diameter;
    e.shape = diameter > 0 ? "round" : "rectangular";
    e.width = e.thickness = diameter > 0 ? 0 : 20;
    e.height = e.parallelLength = height;
    e.gaugeLength = 0;
    e.extensometer = 0.5 * height;
    e.cell = cell;
    e.fixture = "platens";
    e.slowRate = 0.0005;
    e.changeAt = stop;
    e.fastRate = 0.003;
    e.stopStrain = stop;
    return e;
}

CatalogueEntry struckPlate()
{
    CatalogueEntry e = pressed("shell-plate", "struck shell plate in its fixture, four gauges", "carbon/epoxy fabric",
                               LaminateModel{51000, -3, 172, 0.06, 0.025}, 0, 150, 0, 100000);
    e.method = "cai";
    e.shape = "plate";
    e.gauges = e.plate = true;
    e.width = 100;
    e.thickness = 4.2;
    e.extensometer = 0;
    e.slowRate = e.fastRate = 1.25 / 60 / 150;
    e.changeAt = 1;
    e.compliance = 2e-6;
    return e;
}

/// A part with a rated load: its law is one of force over travel.
CatalogueEntry ratedPart(std::string name, std::string words, std::string material, PartModel model, double cell,
                         std::map<std::string, std::string> options)
{
    CatalogueEntry e;
    e.name = std::move(name);
    e.words = std::move(words);
    e.method = "proof-load";
    e.material = std::move(material);
    e.model = model;
    e.shape = "part";
    e.diameter = 0;
    e.gaugeLength = e.extensometer = 0;
    e.parallelLength = 1;
    e.compliance = 1e-5; // pins, yokes and frame
    e.cell = cell;
    e.points = 3000;
    e.options = std::move(options);
    e.options["compliance"] = "0.01 mm/kN";
    return e;
}

CatalogueEntry canister(std::string name, std::string words, bool negative)
{
    CatalogueEntry e =
        pressed(std::move(name), std::move(words), "aluminium canister", ShellModel{}, 66, 115, 47, 2000);
    e.method = "crush";
    e.shape = "shell";
    e.extensometer = 0;
    e.parallelLength = 1; // the law is one of force over travel
    e.slowRate = e.fastRate = 10.0 / 60;
    e.changeAt = 1000;
    e.compliance = 2e-6;
    e.points = 24000; // a sharp peak wants some 85 readings a second
    e.recordedNegative = negative;
    e.options["crush_to"] = "40 mm";
    return e;
}

} // namespace

const std::vector<CatalogueEntry>& catalogue()
{
    static const std::vector<CatalogueEntry> entries = [] {
        std::vector<CatalogueEntry> list;
        list.push_back(round("rigger-tube", "bar from rigger tube, aluminium 6082-T6, rounded yield", "6082-T6",
                             rounded(70000, 215, 45, 0.0008, 52, 0.022, 0.075, 0.125, 0.16), 10, 50, 60, 50000, 0.03));
        list.push_back(round("backstay-bar", "stainless backstay bar 1.4301, rounded yield, long hardening",
                             "stainless 1.4301 annealed", rounded(195000, 170, 55, 0.0012, 420, 0.16, 0.42, 0.55, 0.2),
                             8, 40, 50, 50000, 0.05));
        list.push_back(round(
            "backstay-twin", "carbon-steel twin of the backstay bar, upper and lower yield", "steel S355 hot rolled",
            dropping(208000, 398, 362, 0.019, 4, 3, 175, 0.055, 0.155, 0.26, 0.24), 8, 40, 50, 50000, 0.05));
        list.push_back(round("mild-bar", "mild steel S235, upper and lower yield", "steel S235 hot rolled",
                             dropping(210000, 285, 252, 0.024, 3, 0, 160, 0.06, 0.19, 0.33, 0.26), 10, 50, 60, 50000,
                             0));
        list.push_back(round("tempered-bar", "quenched and tempered 42CrMo4", "steel 42CrMo4 quenched and tempered",
                             rounded(208000, 820, 95, 0.0009, 150, 0.02, 0.055, 0.13, 0.22), 8, 40, 50, 100000, 0));
        list.push_back(round("titanium-bar", "titanium Ti6Al4V", "titanium Ti6Al4V annealed",
                             rounded(114000, 800, 90, 0.0007, 75, 0.03, 0.07, 0.13, 0.14), 6, 30, 40, 50000, 0));
        list.push_back(round("brass-bar", "brass CuZn37, half hard", "brass CuZn37 half hard",
                             rounded(105000, 190, 115, 0.0016, 95, 0.06, 0.17, 0.27, 0.2), 8, 40, 50, 25000, 0));
        CatalogueEntry strip =
            round("strip-5083", "flat strip, aluminium 5083", "aluminium 5083 H111",
                  rounded(71000, 105, 42, 0.0012, 165, 0.07, 0.15, 0.185, 0.06), 0, 50, 75, 25000, 0);
        strip.shape = "rectangular";
        strip.width = 12.5;
        strip.thickness = 3;
        list.push_back(strip);
        list.push_back(printed("footplate-along", "printed foot-plate bar, beads along the pull", "PLA",
                               {3200, 52, 0.024, 46, 0.05, 45, 0.0235}, "along 0°"));
        list.push_back(printed("footplate-crossed", "printed foot-plate bar, beads crossed at 45 degrees", "PLA",
                               {2900, 44, 0.026, 37, 0.09, 36, 0.062}, "crossed ±45°"));
        list.push_back(printed("footplate-across", "printed foot-plate bar, printed upright: layers across the pull",
                               "PLA", {2750, 40, 0.024, 30, 0.05, 30, 0.0105}, "across 90°"));
        list.push_back(drawing("gate-nylon", "moulded bar of gate nylon, yields and draws", "PA6 conditioned",
                               {1100, 38, 0.22, 33, 1.1, 44, 1.8}, 0.25));
        list.push_back(drawing("fairing-polyethylene", "fairing polyethylene, draws by several hundred per cent",
                               "PE-HD", {1050, 24, 0.09, 14.5, 3.6, 21, 5.2}, 0.12));
        list.push_back(laminate("shell-skin", "shell skin, carbon fabric and epoxy, gauges on both faces and across",
                                "carbon/epoxy fabric", {60000, -1.2, 640, 0.06, 0.025}, true, 15, 2.2, 50000));
        list.push_back(laminate("shell-skin-0", "spar cap, carbon and epoxy all along, gauges on both faces and across",
                                "carbon/epoxy 0 deg", {135000, 4, 1750, 0.31, 0.03}, true, 15, 1.1, 50000));
        list.push_back(laminate("deck-skin", "deck skin, glass fabric and epoxy, extensometer to the burst",
                                "glass/epoxy fabric", {24000, -4, 400, 0.14, 0}, false, 25, 2.5, 50000));
        list.push_back(bonded());
        list.push_back(gauged());
        list.push_back(batten("loom-batten",
                              "spruce loom batten, loaded in the middle of a span of 300 mm, dial under it",
                              {260, 800, 1400, 14}, 0));
        list.push_back(batten("loom-batten-third",
                              "spruce loom batten, loaded at the thirds of a span of 300 mm, dial in the middle",
                              {300, 1150, 2050, 13}, 100));
        // G 26.3 GPa, shear yield 155 MPa.
        list.push_back(shaft("sill-pin", "solid sill pin, round bar in the torsion head", 12, 0, 150,
                             {3.569e5, 5.259e4, 1.5e3, 9, 0, 0.04}, 200000,
                             "1 deg x 14, 2 deg x 5, 5 deg x 4, 20 deg x 4, 100 deg"));
        list.push_back(shaft("hollow-shaft", "hollow shaft, tube in the torsion head", 20, 2, 200,
                             {1.2195e6, 1.4375e5, 4e3, 3.4, 0.8, 0.05}, 500000,
                             "0.5 deg x 16, 1 deg x 6, 5 deg x 5, 20 deg x 3, 50 deg"));
        list.push_back(pressed("sill-block", "sill block, aluminium cylinder under compression", "6082-T6",
                               rounded(70000, 215, 45, 0.0008, 170, 0.2, 0.6, 0.7, 0.16), 12, 24, 0.12, 100000));
        list.push_back(pressed("spruce-block", "spruce block, pressed along the grain", "spruce",
                               SofteningModel{11500, 42, 0.0055, 0.74, 0.025}, 0, 60, 0.022, 50000));
        list.push_back(ratedPart("lifting-eye", "lifting eye of the boat hoist, marked, galvanised steel",
                                 "galvanised steel", {16000, 31000, 0.3, 60000, 6.5, 0.008, 0.15, 0.02, 0.006}, 100000,
                                 {{"working_load", "0.8 t"}, {"proof_factor", "2"}, {"fixture_limit", "45 kN"}}));
        list.push_back(ratedPart("lifting-eye-unmarked", "lifting eye without a marking, of unknown make",
                                 "unknown steel", {15200, 20500, 0.26, 34500, 4.6, 0.01, 0.17, 0.03, 0.008}, 100000,
                                 {{"working_load", "0.8 t"}, {"proof_factor", "2"}, {"fixture_limit", "45 kN"}}));
        list.push_back(ratedPart("trestle-strap", "strap of the boat trestle, polyester webbing, sewn",
                                 "polyester webbing", {420, 9000, 0.42, 14500, 38, 0.03, 1.2, 0.8, 0.5}, 25000,
                                 {{"working_load", "200 kg"},
                                  {"proof_factor", "1.5"},
                                  {"pull_speed", "20 mm/min"},
                                  {"fixture_limit", "20 kN"}}));
        list.push_back(struckPlate());
        list.push_back(canister("canister", "buoyancy canister, thin aluminium shell", false));
        list.push_back(
            canister("canister-negative", "the same canister from a frame that writes compression as negative", true));
        return list;
    }();
    return entries;
}

const CatalogueEntry* findCatalogueEntry(std::string_view name)
{
    const auto it = std::ranges::find(catalogue(), name, &CatalogueEntry::name);
    if (it != catalogue().end())
        return &*it;
    // Made once for each name, and there as long as the program: others hold on to it.
    static std::mutex mutex;
    static std::map<std::string, std::optional<CatalogueEntry>, std::less<>> made;
    const std::lock_guard lock(mutex);
    auto found = made.find(name);
    if (found == made.end()) {
        constexpr size_t most = 10'000;
        if (made.size() >= most)
            return nullptr;
        found = made.emplace(std::string(name), standInEntry(name)).first;
    }
    return found->second ? &*found->second : nullptr;
}

const CatalogueEntry* entryFor(std::string_view method, std::string_view material, std::string_view direction,
                               std::string_view shape, const std::map<std::string, std::string>& options)
{
    const PublishedMaterial* row = findPublishedMaterial(material);
    const CatalogueEntry* found = nullptr;
    int best = -1;
    for (const CatalogueEntry& e : catalogue()) {
        if (e.method != method || !(e.material == material || (row && findPublishedMaterial(e.material) == row)))
            continue;
        const bool fits = std::ranges::all_of(e.options, [&](const auto& o) {
            const auto it = options.find(o.first);
            return o.first == "steps" || (it != options.end() && it->second == o.second);
        });
        const int score = (fits ? 4 : 0) + (!shape.empty() && e.shape == shape ? 2 : 0)
            + (!direction.empty() && e.direction == direction ? 1 : 0)
            + (fits && e.options.size() > e.options.count("steps") ? 1 : 0);
        if (score > best) {
            best = score;
            found = &e;
        }
    }
    return found;
}

} // namespace fortitor
