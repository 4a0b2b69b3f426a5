// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/catalogue.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

MetalModel rounded(double E, double limit, double quick, double quickStrain, double slow, double slowStrain, double uniform, double fracture, double neck)
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

MetalModel dropping(double E, double upper, double lower, double plateau, double serration, double transient, double slow, double slowStrain, double uniform, double fracture, double neck)
{
    MetalModel m = rounded(E, lower, 0, 0.001, slow, slowStrain, uniform, fracture, neck);
    m.upper = upper;
    m.plateau = plateau;
    m.serration = serration;
    m.transient = transient;
    return m;
}

CatalogueEntry round(std::string name, std::string words, std::string material, MetalModel model, double d, double Lo, double Lc, double cell, double off)
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

std::string millimetres(double value, int decimals = 2)
{
    return formatFixed(value, decimals) + " mm";
}

} // namespace

const std::vector<CatalogueEntry>& catalogue()
{
    static const std::vector<CatalogueEntry> entries = [] {
        std::vector<CatalogueEntry> list;
        list.push_back(round("rigger-tube", "bar from rigger tube, aluminium 6082-T6, rounded yield", "6082-T6",
                             rounded(70000, 215, 45, 0.0008, 52, 0.022, 0.075, 0.125, 0.16), 10, 50, 60, 50000, 0.03));
        list.push_back(round("backstay-bar", "stainless backstay bar 1.4301, rounded yield, long hardening", "stainless 1.4301 annealed",
                             rounded(195000, 170, 55, 0.0012, 420, 0.16, 0.42, 0.55, 0.2), 8, 40, 50, 50000, 0.05));
        list.push_back(round("backstay-twin", "carbon-steel twin of the backstay bar, upper and lower yield", "steel S355 hot rolled",
                             dropping(208000, 398, 362, 0.019, 4, 3, 175, 0.055, 0.155, 0.26, 0.24), 8, 40, 50, 50000, 0.05));
        list.push_back(round("mild-bar", "mild steel S235, upper and lower yield", "steel S235 hot rolled",
                             dropping(210000, 285, 252, 0.024, 3, 0, 160, 0.06, 0.19, 0.33, 0.26), 10, 50, 60, 50000, 0));
        list.push_back(round("tempered-bar", "quenched and tempered 42CrMo4", "steel 42CrMo4 quenched and tempered",
                             rounded(208000, 820, 95, 0.0009, 150, 0.02, 0.055, 0.13, 0.22), 8, 40, 50, 100000, 0));
        list.push_back(round("titanium-bar", "titanium Ti6Al4V", "titanium Ti6Al4V annealed",
                             rounded(114000, 800, 90, 0.0007, 75, 0.03, 0.07, 0.13, 0.14), 6, 30, 40, 50000, 0));
        list.push_back(round("brass-bar", "brass CuZn37, half hard", "brass CuZn37 half hard",
                             rounded(105000, 190, 115, 0.0016, 95, 0.06, 0.17, 0.27, 0.2), 8, 40, 50, 25000, 0));
        CatalogueEntry strip = round("strip-5083", "flat strip, aluminium 5083", "aluminium 5083 H111",
                                     rounded(71000, 105, 42, 0.0012, 165, 0.07, 0.15, 0.185, 0.06), 0, 50, 75, 25000, 0);
        strip.width = 12.5;
        strip.thickness = 3;
        list.push_back(strip);
        return list;
    }();
    return entries;
}

const CatalogueEntry* findCatalogueEntry(std::string_view name)
{
    const auto it = std::ranges::find(catalogue(), name, &CatalogueEntry::name);
    return it == catalogue().end() ? nullptr : &*it;
}

SimulatedSpecimen drawSpecimen(const CatalogueEntry& entry, std::uint64_t seed)
{
    Random random(seed * 7919 + 17);
    SimulatedSpecimen s;
    MetalModel& m = s.bar.model = entry.model;
    m.modulus *= 1 + 0.008 * random.normal();
    const double strength = 1 + 0.012 * random.normal();
    for (double* part : {&m.limit, &m.quick, &m.slow, &m.upper, &m.serration, &m.transient})
        *part *= strength;
    const double ductility = std::clamp(1 + 0.05 * random.normal(), 0.85, 1.15);
    const double neck = m.fracture - m.uniform;
    m.uniform *= ductility;
    m.fracture = m.uniform + neck * std::clamp(1 + 0.05 * random.normal(), 0.85, 1.15);
    s.truth = truthOf(m);

    s.bar.parallelLength = entry.parallelLength;
    s.bar.gaugeLength = entry.extensometer;
    auto& d = s.dimensions;
    const auto readings = [&](double size) {
        std::vector<std::string> out;
        for (int i = 0; i < 3; ++i)
            out.push_back(millimetres(roundToStep(size + 0.004 * random.normal(), 0.01)));
        return out;
    };
    if (entry.diameter > 0) {
        const double size = entry.diameter + 0.017 + 0.008 * random.normal();
        d["diameter"] = readings(size);
        s.bar.section = std::numbers::pi / 4 * size * size;
        const double neckSize = size * std::sqrt(1 - s.truth.necking);
        d["final_diameter"] = {millimetres(neckSize + 0.01 * random.normal()), millimetres(neckSize + 0.01 * random.normal())};
    } else {
        const double w = entry.width + 0.021 + 0.01 * random.normal();
        const double t = entry.thickness + 0.013 + 0.006 * random.normal();
        d["width"] = readings(w);
        d["thickness"] = readings(t);
        s.bar.section = w * t;
        const double shrink = std::sqrt(1 - s.truth.necking);
        d["final_width"] = {millimetres(w * shrink)};
        d["final_thickness"] = {millimetres(t * shrink)};
    }
    d["gauge_length"] = {millimetres(entry.gaugeLength, 1)};
    d["extensometer_gauge_length"] = {millimetres(entry.extensometer, 1)};
    d["parallel_length"] = {millimetres(entry.parallelLength, 1)};
    d["final_gauge_length"] = {millimetres(entry.gaugeLength * (1 + s.truth.elongation) + 0.05 * random.normal(), 1)};

    FrameConditions& c = s.conditions;
    const double peak = s.truth.strength * s.bar.section;
    c.compliance = entry.compliance * random.between(0.7, 1.4);
    c.forceNoise = entry.cell * random.between(2e-5, 1.2e-4);
    c.forceStep = entry.cell / 65536;
    c.extensionNoise = random.between(1e-4, 5e-4);
    c.extensionStep = random.between(0, 1) < 0.5 ? 1e-4 : 5e-4;
    c.zeroOffset = peak * random.between(-0.004, 0.004);
    c.extensionOffset = random.between(-0.02, 0.02);
    c.slack = random.between(0, 0.15);
    c.footStrain = random.between(0, 6e-4);
    // Wedges seat at a share of the force that yields the bar, not of the far-off strength.
    const double yieldForce = (s.truth.upper > 0 ? s.truth.upper : s.truth.proof02) * s.bar.section;
    c.seatForce = yieldForce * random.between(0.012, 0.05);
    return s;
}

SimulatedRun simulateRun(const CatalogueEntry& entry, std::uint64_t seed, double points)
{
    return simulateRun(entry, drawSpecimen(entry, seed), seed, points);
}

SimulatedRun simulateRun(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed, double points)
{
    SimulatedRun run;
    run.specimen = std::move(specimen);
    FrameConditions& c = run.specimen.conditions;
    c.clampLoad = 0; // eased off before the start
    VirtualFrame frame(run.specimen.bar, c, seed * 104729 + 3);
    Channel* channels[4];
    const char* names[] = {"time", "force", "extension", "displacement"};
    run.record.channels.reserve(4);
    for (int i = 0; i < 4; ++i)
        channels[i] = &run.record.add(names[i]);
    run.record.source = "simulated frame, " + entry.name + ", seed " + std::to_string(seed);
    const auto keep = [&](const FrameSample& s) {
        channels[0]->values.append(s.time);
        channels[1]->values.append(s.force);
        channels[2]->values.append(s.extension);
        channels[3]->values.append(s.displacement);
    };
    const double Lc = entry.parallelLength;
    const double slow = 0.00025 * Lc * 1.1; // method A by the crosshead: the frame takes up most of it before yield
    const double fast = 0.0067 * Lc;
    const double changeAt = entry.model.upper > 0 ? entry.model.plateau + 0.012 : 0.018;
    const double slowTime = changeAt * Lc / slow * 1.25;
    const double fastTime = (run.specimen.bar.model.fracture - changeAt) * Lc / fast;
    const double dt = (slowTime + fastTime + 3) / points;
    frame.closeTopGrip();
    frame.closeBottomGrip();
    const auto quiet = static_cast<int>(std::clamp(1.5 / dt, 15.0, 4000.0));
    for (int i = 0; i < quiet; ++i)
        keep(frame.step(dt));
    frame.setSpeed(slow);
    const auto limit = static_cast<long>(points * 20);
    for (long i = 0; i < limit && !frame.broken(); ++i) {
        if (frame.trueStrain() > changeAt)
            frame.setSpeed(fast);
        if (entry.removeAtStrain > 0 && frame.extensometerOn() && frame.trueStrain() > entry.removeAtStrain) {
            frame.takeExtensometerOff();
            run.record.events.push_back({0, "extensometer-off", "Extensometer taken off"});
        }
        keep(frame.step(dt));
    }
    frame.setSpeed(0);
    const auto after = static_cast<int>(std::clamp(0.8 / dt, 12.0, 2000.0));
    for (int i = 0; i < after; ++i)
        keep(frame.step(dt));
    return run;
}

std::string recordCsv(const Record& record)
{
    std::string out;
    const std::pair<const char*, const char*> heads[] = {{"time", "Time (s)"}, {"force", "Force (kN)"}, {"extension", "Extension (mm)"}, {"displacement", "Crosshead (mm)"}};
    std::vector<const Channel*> used;
    for (const auto& [name, head] : heads)
        if (const Channel* channel = record.find(name)) {
            used.push_back(channel);
            out += (out.empty() ? "" : ",") + std::string(head);
        }
    out += '\n';
    for (size_t i = 0; i < record.rows(); ++i) {
        for (size_t k = 0; k < used.size(); ++k) {
            const double v = used[k]->values[i];
            const double shown = used[k]->name == "force" ? v / 1000 : v;
            if (k)
                out += ',';
            if (!std::isnan(shown))
                fmt::format_to(std::back_inserter(out), "{:.6f}", shown);
        }
        out += '\n';
    }
    return out;
}

} // namespace fortitor
