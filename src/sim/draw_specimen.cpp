// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/catalogue.h"

#include "units/quantity.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

std::string millimetres(double value, int decimals = 2)
{
    return formatFixed(value, decimals) + " mm";
}

/// A metal bar that is pulled to its break, and measured again then.
bool pulledMetal(const CatalogueEntry& entry)
{
    return std::holds_alternative<MetalModel>(entry.model) && entry.fixture == "grips" && !entry.gauges;
}

/// Not its knee and its strength alone: each part gives way by itself.
void scatterPart(PartModel& m, Random& random)
{
    m.stiffness *= 1 + 0.02 * random.normal();
    const double strong = std::clamp(1 + 0.05 * random.normal(), 0.85, 1.15);
    m.knee *= strong;
    m.strength *= strong * std::clamp(1 + 0.02 * random.normal(), 0.95, 1.05);
    m.breakTravel *= std::clamp(1 + 0.08 * random.normal(), 0.8, 1.2);
    m.slack *= random.between(0.6, 1.5);
    m.seating *= random.between(0.6, 1.5);
    m.creep *= random.between(0.7, 1.4);
}

/// Each specimen of a lot differs a little from the next.
struct Scatter {
    Random& random;

    void operator()(MetalModel& m) const
    {
        m.modulus *= 1 + 0.008 * random.normal();
        const double strength = 1 + 0.012 * random.normal();
        for (double* part : {&m.limit, &m.quick, &m.slow, &m.upper, &m.serration, &m.transient})
            *part *= strength;
        const double ductility = std::clamp(1 + 0.05 * random.normal(), 0.85, 1.15);
        const double neck = m.fracture - m.uniform;
        m.uniform *= ductility;
        m.fracture = m.uniform + neck * std::clamp(1 + 0.05 * random.normal(), 0.85, 1.15);
    }
    void operator()(PlasticModel& m) const
    {
        const bool brittle = m.brittle();
        m.modulus *= 1 + 0.015 * random.normal();
        const double strength = 1 + 0.02 * random.normal();
        for (double* part : {&m.yieldStress, &m.drawStress, &m.breakStress})
            *part *= strength;
        const double stretch = std::clamp(1 + 0.06 * random.normal(), 0.8, 1.2);
        m.drawStrain *= stretch;
        m.breakStrain *= stretch;
        if (brittle)
            m.breakStrain = std::min(m.breakStrain, m.yieldStrain);
    }
    void operator()(LaminateModel& m) const
    {
        m.modulus *= 1 + 0.015 * random.normal();
        m.strength *= 1 + 0.035 * random.normal();
        m.poisson *= 1 + 0.03 * random.normal();
        m.bending *= random.normal();
    }
    void operator()(CoreModel& m) const
    {
        m.modulus *= 1 + 0.03 * random.normal();
        m.strength *= 1 + 0.04 * random.normal();
    }
    void operator()(SofteningModel& m) const
    {
        m.modulus *= 1 + 0.04 * random.normal();
        m.strength *= 1 + 0.05 * random.normal();
    }
    void operator()(SoftModel& m) const
    {
        m.modulus *= 1 + 0.04 * random.normal();
        m.plateau *= 1 + 0.04 * random.normal();
    }
    void operator()(ShellModel& m) const
    {
        m.peak *= 1 + 0.06 * random.normal();
        m.plateau *= 1 + 0.04 * random.normal();
        m.peakTravel *= 1 + 0.05 * random.normal();
        m.waveLength *= 1 + 0.04 * random.normal();
    }
    void operator()(BeamModel& m) const
    {
        m.slope *= 1 + 0.05 * random.normal();
        const double strength = 1 + 0.06 * random.normal();
        m.limit *= strength;
        m.strength *= strength;
    }
    void operator()(PartModel& m) const { scatterPart(m, random); }
    void operator()(ShaftModel& m) const
    {
        m.stiffness *= 1 + 0.01 * random.normal();
        m.yieldTorque *= 1 + 0.015 * random.normal();
        m.breakTwist *= 1 + 0.05 * random.normal();
    }
};

struct TruthOf {
    SimulatedSpecimen& s;
    const CatalogueEntry& entry;

    void put(const char* symbol, double value) const
    {
        if (value != 0)
            s.truth[symbol] = value;
    }
    void operator()(const MetalModel& m) const
    {
        const MetalTruth t = truthOf(m);
        put("E", t.modulus);
        if (entry.gauges) { // a strip for the ratio of its strains
            put("nu", s.bar.poisson);
            put("nu_load", s.bar.poisson);
            return;
        }
        put("Rp0.2", t.proof02);
        if (entry.fixture == "platens")
            return;
        put("ReH", t.upper);
        put("ReL", t.lower);
        put("Ae", t.yieldExtension);
        put("Rm", t.strength);
        put("Agt", t.totalAtMaximum);
        put("A_ext", t.plasticAtBreak);
        put("Z", t.necking);
    }
    void operator()(const PlasticModel& m) const
    {
        put("Et", chordOf(s.bar.law, 0.0005, 0.0025));
        put("sigma_b", m.stress(m.breakStrain));
        put("eps_tb", m.breakStrain);
        if (m.brittle()) {
            put("sigma_m", m.stress(m.breakStrain));
            put("eps_m", m.breakStrain);
            put("eps_b", m.breakStrain);
            return;
        }
        put("sigma_y", m.yieldStress);
        put("sigma_m", m.yieldStress);
        put("eps_y", m.yieldStrain);
    }
    void operator()(const LaminateModel& m) const
    {
        if (entry.plate) {
            put("F_CAI", m.strength);
            put("E_CAI", chordOf(s.bar.law, 0.001, 0.003));
            put("By_max", m.bending);
            put("By_mid", m.bending);
            return;
        }
        put("E_chord", chordOf(s.bar.law, 0.001, 0.003));
        put("sigma_max", m.strength);
        put("eps_max", s.bar.law.strain.back());
        if (entry.gauges) {
            put("nu12", m.poisson);
            put("By", m.bending);
        }
    }
    void operator()(const CoreModel& m) const
    {
        put("Fz_tu", m.strength);
        put("E_z", m.modulus);
    }
    void operator()(const SofteningModel& m) const
    {
        put("sigma_max", m.strength);
        put("sigma_y", m.strength);
    }
    void operator()(const SoftModel& m) const
    {
        if (m.stiffening > 0) {
            put("Et", chordOf(s.bar.law, 0.0005, 0.0025));
            put("sigma_m", m.stress(m.end));
            put("sigma_b", m.stress(m.end));
            put("eps_b", m.end);
        }
        if (const auto stated = entry.options.find("stated_strain"); stated != entry.options.end())
            put("sigma_at_strain", m.stress(parseQuantity(stated->second, Kind::Strain)->base));
    }
    void operator()(const PartModel& m) const
    {
        put("k", m.stiffness);
        put("slack", m.slack);
        const double up = 1 + m.rub; // as the cell reads it while it is put on
        put("F_knee", m.knee * up);
        put("F_max", m.force(m.breakTravel) * up); // where nothing stops it before
    }
    void operator()(const BeamModel&) const { } // its modulus comes with its sizes
    void operator()(const ShaftModel&) const { }
    void operator()(const ShellModel& m) const
    {
        put("F_peak", m.peak);
        put("d_peak", m.peakTravel);
        // Energy up to the crush that the entry's jobs state, on a fine grid.
        const auto stated = entry.options.find("crush_to");
        const double to =
            stated == entry.options.end() ? m.together : parseQuantity(stated->second, Kind::Length)->base;
        double energy = 0;
        constexpr int steps = 40000;
        for (int i = 0; i < steps; ++i)
            energy += 0.5 * (m.force(to * i / steps) + m.force(to * (i + 1) / steps)) * to / steps;
        put("W", energy / 1000);
        put("F_mean", energy / to);
        put("efficiency", energy / to / m.peak);
    }
};

std::vector<std::string> readings(Random& random, double size, double scatter = 0.004, int count = 3)
{
    std::vector<std::string> out;
    for (int i = 0; i < count; ++i)
        out.push_back(millimetres(roundToStep(size + scatter * random.normal(), 0.01)));
    return out;
}

/// A shaft's stiffness and yield follow its own size; what is true of it follows from both.
void drawShaft(SimulatedSpecimen& s, const CatalogueEntry& entry, Random& random)
{
    auto& m = std::get<ShaftModel>(s.model);
    const auto second = [](double outer, double inner) {
        return std::numbers::pi / 32 * (std::pow(outer, 4) - std::pow(inner, 4));
    };
    const double bore = entry.thickness > 0 ? entry.diameter - 2 * entry.thickness : 0;
    const double outer = entry.diameter + 0.02 * random.normal();
    const double inner = bore > 0 ? bore + 0.02 * random.normal() : 0;
    const double grows = second(outer, inner) / second(entry.diameter, bore);
    const double G = m.stiffness * entry.gaugeLength / second(entry.diameter, bore);
    m.stiffness *= grows;
    m.yieldTorque *= grows * entry.diameter / outer;
    m.bore = inner / outer;
    m.shear = 0.5 * outer / entry.gaugeLength;
    s.bar.law = lawOf(s.model);
    s.dimensions[bore > 0 ? "outer_diameter" : "diameter"] = readings(random, outer);
    if (bore > 0)
        s.dimensions["wall"] = readings(random, 0.5 * (outer - inner));
    s.dimensions["gauge_length"] = {millimetres(entry.gaugeLength, 1)};
    const double polar = 2 * second(outer, inner) / outer;
    s.truth["G"] = G;
    s.truth["T_max"] = m.torque(m.breakTwist);
    // Where the law meets the line moved by 0.2 % of shear strain.
    double low = m.yieldTorque / m.stiffness;
    double high = m.breakTwist;
    const double offset = 0.002 * 2 * entry.gaugeLength / outer;
    for (int i = 0; i < 80; ++i) {
        const double middle = 0.5 * (low + high);
        (m.torque(middle) > m.stiffness * (middle - offset) ? low : high) = middle;
    }
    s.truth["tau_p"] = m.torque(low) / polar;
}

void drawSizes(SimulatedSpecimen& s, const CatalogueEntry& entry, Random& random)
{
    auto& d = s.dimensions;
    if (const auto* beam = std::get_if<BeamModel>(&s.model)) {
        const double b = entry.width + 0.1 * random.normal();
        const double h = entry.thickness + 0.1 * random.normal();
        d["width"] = readings(random, b);
        d["depth"] = readings(random, h);
        d["span"] = {millimetres(entry.span, 1)};
        if (entry.loadSpan > 0)
            d["load_span"] = {millimetres(entry.loadSpan, 1)};
        const double a = 0.5 * (entry.span - entry.loadSpan);
        s.truth["MOE"] = beam->slope * a * (3 * entry.span * entry.span - 4 * a * a) / (4 * b * std::pow(h, 3));
    }
    if (std::holds_alternative<ShaftModel>(s.model))
        drawShaft(s, entry, random);
    if (entry.fixture == "bending" || entry.fixture == "torsion") {
        s.bar.section = s.bar.parallelLength = s.bar.gaugeLength = 1;
        return;
    }
    if (const auto* part = std::get_if<PartModel>(&s.model)) {
        s.bar.section = s.bar.parallelLength = s.bar.gaugeLength = 1;
        s.bar.rub = part->rub;
        s.bar.creep = part->creep;
        s.bar.creepLoad = part->knee;
        const double size = std::cbrt(part->strength / 60000); // of the lifting eye
        for (const auto& [key, mm] : {std::pair("pin", 16.0), {"bow", 14.0}, {"eye", 35.0}, {"eye_across", 36.0}})
            d[key] = {millimetres(mm * size + 0.05 * random.normal(), 1)};
        d["pin_new"] = {millimetres(16 * size + 0.2, 1)};
        d["bow_new"] = {millimetres(14 * size + 0.2, 1)};
        return;
    }
    if (std::holds_alternative<ShellModel>(s.model)) {
        s.bar.section = 1;
        d["height"] = {millimetres(entry.height + 0.1 * random.normal(), 1)};
        d["diameter"] = {millimetres(entry.diameter + 0.05 * random.normal(), 1)};
        return;
    }
    if (std::holds_alternative<CoreModel>(s.model)) {
        const double a = entry.width + 0.15 * random.normal();
        const double b = entry.length + 0.15 * random.normal();
        const double h = entry.thickness + 0.08 * random.normal();
        s.bar.section = a * b;
        s.bar.parallelLength = s.bar.gaugeLength = h;
        d["width"] = {millimetres(a)};
        d["length"] = {millimetres(b)};
        d["thickness"] = readings(random, h, 0.02);
        return;
    }
    const double necking = s.trueValue("Z");
    const bool metal = pulledMetal(entry);
    if (entry.diameter > 0) {
        const double size = entry.diameter + 0.017 + 0.008 * random.normal();
        d["diameter"] = readings(random, size);
        s.bar.section = std::numbers::pi / 4 * size * size;
        if (metal) {
            const double neckSize = size * std::sqrt(1 - necking);
            const double one = neckSize + 0.01 * random.normal();
            d["final_diameter"] = {millimetres(one), millimetres(neckSize + 0.01 * random.normal())};
        }
    } else {
        const double w = entry.width + 0.021 + 0.01 * random.normal();
        const double t = entry.thickness + 0.013 + 0.006 * random.normal();
        d["width"] = readings(random, w);
        d["thickness"] = readings(random, t);
        s.bar.section = w * t;
        if (metal) {
            const double shrink = std::sqrt(1 - necking);
            d["final_width"] = {millimetres(w * shrink)};
            d["final_thickness"] = {millimetres(t * shrink)};
        }
    }
    if (entry.extensometer > 0 && !entry.gauges)
        d["extensometer_gauge_length"] = {millimetres(entry.extensometer, 1)};
    if (entry.plate) {
        d["length"] = {millimetres(entry.height + 0.03)};
        s.bar.parallelLength = entry.height + 0.03;
        return;
    }
    if (entry.height > 0) {
        d["height"] = {millimetres(entry.height + 0.017)};
        s.bar.parallelLength = entry.height + 0.017;
        return;
    }
    if (!metal) {
        d["grip_distance"] = {millimetres(entry.parallelLength, 1)};
        return;
    }
    d["gauge_length"] = {millimetres(entry.gaugeLength, 1)};
    d["parallel_length"] = {millimetres(entry.parallelLength, 1)};
    d["final_gauge_length"] = {millimetres(entry.gaugeLength * (1 + s.trueValue("A_ext")) + 0.05 * random.normal(), 1)};
}

void drawConditions(SimulatedSpecimen& s, const CatalogueEntry& entry, Random& random)
{
    FrameConditions& c = s.conditions;
    const double peak = *std::ranges::max_element(s.bar.law.stress) * s.bar.section;
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
    const double yield = s.trueValue("ReH") > 0 ? s.trueValue("ReH") : s.trueValue("Rp0.2");
    c.seatForce = (yield > 0 ? yield * s.bar.section : 0.3 * peak) * random.between(0.012, 0.05);
    c.gaugeNoise = random.between(5e-7, 3e-6);
    if (const auto* part = std::get_if<PartModel>(&s.model)) {
        c.compliance = entry.compliance; // measured, and stated in the job
        c.zeroOffset = 0;
        c.clampLoad = c.footStrain = 0; // hung on pins
        c.slack = part->slack;
        return;
    }
    if (entry.fixture == "bending" || entry.fixture == "torsion") {
        c.clampLoad = c.footStrain = 0;
        return;
    }
    if (pulledMetal(entry))
        return;
    c.clampLoad = std::min(1400.0, 0.05 * peak);
    // Knives and wedges seat within the first tenth of a per cent of strain, in soft materials as in stiff.
    if (!std::holds_alternative<ShellModel>(s.model))
        c.seatForce = chordOf(s.bar.law, 0, 0.0025) * 0.0025 * s.bar.section * random.between(0.018, 0.075);
    c.footStrain = entry.gauges ? 0 : random.between(0, 2e-4);
    if (entry.fixture == "platens")
        c.slack = random.between(0.3, 1.5);
    if (std::holds_alternative<CoreModel>(s.model)) {
        c.extensionNoise = random.between(5e-5, 2e-4);
        c.extensionStep = 1e-4;
        c.footStrain = 0;
    }
}

} // namespace

void settleTruth(SimulatedSpecimen& s, const CatalogueEntry& entry)
{
    s.bar.law = lawOf(s.model);
    s.truth.clear();
    std::visit(TruthOf{s, entry}, s.model);
}

SimulatedSpecimen drawSpecimen(const CatalogueEntry& entry, std::uint64_t seed)
{
    Random random(seed * 7919 + 17);
    SimulatedSpecimen s;
    s.model = entry.model;
    std::visit(Scatter{random}, s.model);
    s.bar.parallelLength = entry.parallelLength;
    s.bar.gaugeLength = entry.extensometer > 0 ? entry.extensometer : entry.parallelLength;
    s.bar.pressed = entry.height > 0 || entry.fixture == "bending";
    if (const auto* laminate = std::get_if<LaminateModel>(&s.model); laminate && entry.gauges) {
        s.bar.gauges = true;
        s.bar.poisson = laminate->poisson;
        s.bar.bending = laminate->bending;
        s.bar.plate = entry.plate;
        s.bar.sideways = entry.plate ? 0.02 * random.normal() : 0;
    }
    if (entry.gauges && std::holds_alternative<MetalModel>(s.model)) {
        s.bar.gauges = true;
        s.bar.poisson = 0.33 * (1 + 0.01 * random.normal());
        s.bar.bending = 0.02 * random.normal();
    }
    settleTruth(s, entry);
    drawSizes(s, entry, random);
    drawConditions(s, entry, random);
    return s;
}

} // namespace fortitor
