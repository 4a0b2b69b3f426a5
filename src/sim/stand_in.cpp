// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/stand_in.h"

#include "reference/tables.h"
#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

using Figures = std::map<std::string, double>;

constexpr std::string_view prefix = "like ";

double figure(const Figures& figures, const char* key, double otherwise = 0)
{
    const auto it = figures.find(key);
    return it == figures.end() ? otherwise : it->second;
}

/// E, yield and strength in MPa, elongation as a ratio: what is published of a material.
struct Published {
    Figures figures{};
    std::string name{}; ///< of the row
};

Published publishedOf(const std::string& material)
{
    Published out;
    const auto put = [&](const char* key, std::optional<double> value) {
        if (value && *value > 0)
            out.figures[key] = *value;
    };
    if (const PublishedMaterial* row = findPublishedMaterial(material)) {
        out.name = row->name + (row->state.empty() ? "" : ", " + row->state);
        put("E", row->youngsModulus);
        put("G", row->shearModulus);
        put("yield", row->yield);
        put("strength", row->strength);
        put("elongation", row->elongation);
        put("poisson", row->poisson);
    } else if (const auto wood = findWoodSpecies(material)) {
        out.name = wood->name;
        put("E", wood->modulus);
        put("rupture", wood->rupture);
        put("strength", wood->compression);
    }
    return out;
}

/// How far two materials lie apart, each figure by its ratio; 10 where nothing is known of one.
double apart(const Figures& a, const Figures& b)
{
    double sum = 0;
    int shared = 0;
    for (const auto& [key, value] : a)
        if (const auto it = b.find(key); it != b.end()) {
            sum += std::abs(std::log(value / it->second));
            ++shared;
        }
    return shared > 0 ? sum / shared : 10;
}

/// Yield and strength met by turns: each moves the other a little.
void fit(MetalModel& m, const Figures& f)
{
    m.modulus = figure(f, "E", m.modulus);
    const double strength = figure(f, "strength", truthOf(m).strength);
    const double yield = std::min(figure(f, "yield", 0.6 * strength), 0.97 * strength);
    if (const double A = figure(f, "elongation"); A > 0) {
        const double stretch = std::clamp(A / m.fracture, 0.02, 3.0);
        for (double* part : {&m.uniform, &m.fracture, &m.plateau, &m.level, &m.slowStrain})
            *part *= stretch;
        // The drop, its transient and the teeth have their own lengths; without room for them it yields rounded.
        if (m.upper > 0 && (m.plateau < 0.006 || m.uniform < 3 * m.plateau))
            m.upper = m.serration = m.transient = m.plateau = 0;
        m.quickStrain = std::min(m.quickStrain, m.uniform / 20);
    }
    const MetalModel course = m;
    for (int round = 0; round < 40; ++round) {
        const MetalTruth t = truthOf(m);
        const double now = t.lower > 0 ? t.lower : t.proof02;
        if (!(now > 0) || !(t.strength > now))
            break;
        // The knee goes with the yield, what comes after it with the rise to the strength.
        const double low = yield / now, high = (strength - yield) / (t.strength - now);
        for (double* part : {&m.limit, &m.upper, &m.serration, &m.transient, &m.quick})
            *part *= low;
        m.slow *= std::clamp(high, 0.05, 20.0);
        if (m.slow < 0.02 * strength)
            m.quick *= 0.9;
    }
    // One that breaks before it has a proof stress keeps its course, as strong as it is.
    constexpr double near = 0.02;
    if (!(std::abs(truthOf(m).strength / strength - 1) < near)) {
        m = course;
        const double all = strength / truthOf(m).strength;
        for (double* part : {&m.limit, &m.upper, &m.serration, &m.transient, &m.quick, &m.slow})
            *part *= all;
    }
}

void fit(PlasticModel& m, const Figures& f)
{
    const double stress = figure(f, "yield", figure(f, "strength", m.yieldStress)) / m.yieldStress;
    const double E = figure(f, "E", m.modulus);
    // As far along as the base is, for its modulus and strength.
    m.yieldStrain *= std::clamp(stress * m.modulus / E, 0.2, 5.0);
    m.modulus = E;
    for (double* part : {&m.yieldStress, &m.drawStress, &m.breakStress})
        *part *= stress;
    if (const double A = figure(f, "elongation"); A > 0) {
        m.breakStrain = A;
        m.drawStrain = std::max(0.6 * A, 1.5 * m.yieldStrain);
        if (A < 1.6 * m.yieldStrain) // no room to draw
            m.breakStrain = m.yieldStrain = std::max(A, 1.05 * m.yieldStress / m.modulus);
    }
}

void fit(LaminateModel& m, const Figures& f)
{
    m.modulus = figure(f, "E", m.modulus);
    m.strength = figure(f, "strength", m.strength);
    m.poisson = figure(f, "poisson", m.poisson);
}

void fit(SofteningModel& m, const Figures& f)
{
    const double E = figure(f, "E", m.modulus), strength = figure(f, "strength", m.strength);
    m.strainAtTop *= strength / m.strength * m.modulus / E;
    m.modulus = E;
    m.strength = strength;
}

template <class Model> void fit(Model&, const Figures&) { } // nothing is published of its kind

/// The law of a beam is one of load over deflection: by the base's own sizes and material, and the wanted ones.
void fitBeam(CatalogueEntry& e, const Figures& f)
{
    auto& m = std::get<BeamModel>(e.model);
    const Figures base = publishedOf(e.material).figures;
    const double b = figure(f, "width", e.width), h = figure(f, "depth", e.thickness), L = figure(f, "span", e.span);
    const double inner = e.loadSpan > 0 ? figure(f, "load_span", e.loadSpan) : 0;
    const auto bend = [](double width, double depth, double span, double between) {
        const double a = 0.5 * (span - between);
        return std::pair(width * std::pow(depth, 3) / (a * (3 * span * span - 4 * a * a)), width * depth * depth / a);
    };
    const auto [stiff, strong] = bend(b, h, L, inner);
    const auto [baseStiff, baseStrong] = bend(e.width, e.thickness, e.span, e.loadSpan);
    const auto strengthOf = [](const Figures& figures, double otherwise) {
        return figure(figures, "rupture", figure(figures, "strength", otherwise));
    };
    const double own = strengthOf(base, 80);
    const double slope = stiff / baseStiff * figure(f, "E", figure(base, "E", 1)) / figure(base, "E", 1),
                 load = strong / baseStrong * strengthOf(f, own) / own;
    m.slope *= slope;
    m.limit *= load;
    m.strength *= load;
    m.breakDeflection *= load / slope;
    e.width = b;
    e.thickness = h;
    e.span = L;
    e.loadSpan = inner;
}

/// The law of a shaft is one of torque over twist.
void fitShaft(CatalogueEntry& e, const Figures& f)
{
    auto& m = std::get<ShaftModel>(e.model);
    const Figures base = publishedOf(e.material).figures;
    const double D = figure(f, "diameter", figure(f, "outer_diameter", e.diameter)),
                 wall = e.thickness > 0 ? figure(f, "wall", e.thickness) : 0,
                 L = figure(f, "gauge_length", e.gaugeLength);
    const auto polar = [](double outer, double thick) {
        return std::pow(outer, 4) - (thick > 0 ? std::pow(outer - 2 * thick, 4) : 0);
    };
    const double G = figure(f, "G", figure(base, "G", 26000)) / figure(base, "G", 26000),
                 yields = figure(f, "yield", figure(base, "yield", 270)) / figure(base, "yield", 270);
    const double twist = L / e.gaugeLength * e.diameter / D; // at one shear strain of the surface
    const double before = m.yieldTorque;
    m.stiffness *= G * polar(D, wall) / polar(e.diameter, e.thickness) * e.gaugeLength / L;
    m.yieldTorque *= yields * polar(D, wall) / D / (polar(e.diameter, e.thickness) / e.diameter);
    m.hardening *= m.yieldTorque / before / twist;
    m.breakTwist *= twist;
    e.diameter = D;
    e.thickness = wall;
    e.gaugeLength = L;
}

/// The kind of the method that is most like what is wanted: its options and shape first, then its figures.
const CatalogueEntry* baseFor(const WantedSpecimen& wanted, const Figures& figures)
{
    const CatalogueEntry* best = nullptr;
    double least = 0;
    for (const CatalogueEntry& e : catalogue()) {
        if (e.method != wanted.method)
            continue;
        const bool fits = std::ranges::all_of(e.options, [&](const auto& o) {
            const auto it = wanted.options.find(o.first);
            return o.first == "steps" || it == wanted.options.end() || it->second == o.second;
        });
        const double far = (fits ? 0 : 1000) + (wanted.shape.empty() || e.shape == wanted.shape ? 0 : 100)
            + apart(figures, publishedOf(e.material).figures);
        if (!best || far < least) {
            best = &e;
            least = far;
        }
    }
    return best;
}

/// Whether published figures of a material make another specimen of it: not of a core, a shell or a part.
bool takesFigures(const SpecimenModel& model)
{
    return std::holds_alternative<MetalModel>(model) || std::holds_alternative<PlasticModel>(model)
        || std::holds_alternative<LaminateModel>(model) || std::holds_alternative<SofteningModel>(model)
        || std::holds_alternative<BeamModel>(model) || std::holds_alternative<ShaftModel>(model);
}

std::string toldFigures(const Figures& f)
{
    std::string told;
    const auto add = [&](const char* key, const char* words, double factor, const char* unit) {
        if (const auto it = f.find(key); it != f.end())
            told += fmt::format("{}{} {} {}", told.empty() ? "" : ", ", words,
                                formatSignificant(it->second * factor, 3), unit);
    };
    add("E", "E", 1e-3, "GPa");
    add("yield", "yield", 1, "MPa");
    add("strength", "strength", 1, "MPa");
    add("rupture", "MOR", 1, "MPa");
    add("elongation", "A", 100, "%");
    return told;
}

} // namespace

std::optional<StandIn> standInFor(const WantedSpecimen& wanted)
{
    if (const CatalogueEntry* shelf =
            entryFor(wanted.method, wanted.material, wanted.direction, wanted.shape, wanted.options))
        return StandIn{shelf->name, {}};
    Published known = publishedOf(wanted.material);
    const CatalogueEntry* base = baseFor(wanted, known.figures);
    if (!base)
        return std::nullopt;
    const bool unused = !known.figures.empty() && !takesFigures(base->model);
    if (unused)
        known.figures.clear();
    StandIn out{std::string(prefix) + base->name, {}};
    const auto add = [&](const Figures& figures) {
        for (const auto& [key, value] : figures)
            out.name += fmt::format(";{}={:.8g}", key, value);
    };
    add(known.figures);
    if (std::holds_alternative<BeamModel>(base->model) || std::holds_alternative<ShaftModel>(base->model))
        add(wanted.sizes);
    out.restsOn = unused
        ? fmt::format("No figures of {} are used: the simulated specimen is like the {}.", known.name, base->words)
        : known.figures.empty()
        ? fmt::format("Nothing is published here of \"{}\": the simulated specimen is like {}.", wanted.material,
                      base->material)
        : fmt::format(
            "Simulated with the reference figures of {} ({}), a few per cent of scatter, and the course of {}.",
            known.name, toldFigures(known.figures), base->material);
    return out;
}

std::optional<CatalogueEntry> standInEntry(std::string_view name)
{
    if (!name.starts_with(prefix))
        return std::nullopt;
    const size_t end = std::min(name.find(';'), name.size());
    const auto base =
        std::ranges::find(catalogue(), name.substr(prefix.size(), end - prefix.size()), &CatalogueEntry::name);
    if (base == catalogue().end())
        return std::nullopt;
    Figures figures;
    for (std::string_view rest = name.substr(end); !rest.empty();) {
        rest.remove_prefix(1);
        const size_t next = std::min(rest.find(';'), rest.size()), is = rest.find('=');
        const auto value = is < next ? parseNumber(std::string(rest.substr(is + 1, next - is - 1))) : std::nullopt;
        if (!value || !(*value > 0) || !std::isfinite(*value))
            return std::nullopt;
        figures[std::string(rest.substr(0, is))] = *value;
        rest.remove_prefix(next);
    }
    CatalogueEntry e = *base;
    if (std::holds_alternative<BeamModel>(e.model))
        fitBeam(e, figures);
    else if (std::holds_alternative<ShaftModel>(e.model))
        fitShaft(e, figures);
    else
        std::visit([&](auto& model) { fit(model, figures); }, e.model);
    e.name = name;
    e.words = "like " + base->words;
    return e;
}

} // namespace fortitor
