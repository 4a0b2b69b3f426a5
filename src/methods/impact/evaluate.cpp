// SPDX-License-Identifier: GPL-3.0-or-later
// One blow of the pendulum.
#include "methods/impact/impact.h"

#include "methods/common/figures.h"
#include "methods/common/section.h"
#include "methods/impact/swing.h"
#include "reference/tables.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

const std::vector<std::string> energies{"K", "kc", "ac", "a_izod"};
constexpr double absoluteZero = -273.15; // °C
constexpr double longestWay = 5; // s from bath to blow

/// One blow while its figures are worked out.
struct Strike {
    Figures& f;
    const ImpactGeometry& geometry;
    Pendulum pendulum;
    std::optional<SwingEnergy> swing{};

    [[nodiscard]] const SpecimenInput& input() const { return f.input; }
    [[nodiscard]] bool notBroken() const { return noteOf(input(), "break") == "none"; }
};

const std::optional<Quantity>* blowOf(const SpecimenInput& input, const char* name)
{
    const auto it = input.readings.find(name);
    return it == input.readings.end() || it->second.empty() || !it->second.front() ? nullptr : &it->second.front();
}

/// How the pendulum stands by its loss and its own figures.
void checkPendulum(Strike& s)
{
    const Pendulum& p = s.pendulum;
    if (p.loss && !p.subtract && *p.loss > lossShare * p.energy)
        s.f.remark("pendulum-loss", Severity::Caution, energies,
                   fmt::format("A full swing loses {:.2g} J, {:.2f} % of the pendulum; at most 0.5 % is wanted.",
                               *p.loss, 100 * *p.loss / p.energy),
                   "Look after bearings and pointer before further pieces are struck.", "loss");
    if (!p.loss && p.subtract)
        s.f.remark("pendulum-loss", Severity::Caution, energies,
                   "The loss of a free swing is not stated; the reading stands as it is.",
                   "Let it swing without a piece, and state what the pointer shows.", "loss");
    const auto has = p.available();
    constexpr double apart = 0.1;
    const bool pounds = has && std::abs(std::log(*has / p.energy / 2.20462)) < 0.2; // taken for kilograms
    if (has && std::abs(*has / p.energy - 1) > apart)
        s.f.remark("pendulum-figures", Severity::Caution, energies,
                   fmt::format("Mass, arm and angle give {:.1f} J; the pendulum is one of {:g} J.", *has, p.energy),
                   pounds ? "Is the mass in pounds?" : "One of the four figures is another pendulum's.", "mass");
}

/// The dial's reading, or the rise angle.
void readBlow(Strike& s)
{
    const auto* dial = blowOf(s.input(), "energy");
    const auto* angle = blowOf(s.input(), "rise_angle");
    if (!dial && !angle) {
        s.f.sayMissing(energies, "no-readings", "The blow is not read yet.", "Key the energy on Strike.");
        return;
    }
    const double read = dial ? (*dial)->base : 0;
    if (dial && !(read >= 0)) {
        s.f.remark("energy-absurd", Severity::Reject, energies,
                   fmt::format("The energy reads {:g} J; nothing below zero is absorbed.", read), "Read it again.");
        return;
    }
    if (dial && read > s.pendulum.energy) {
        s.f.remark("energy-absurd", Severity::Reject, energies,
                   fmt::format("{:g} J were read off a pendulum of {:g} J: it has no more than that.", read,
                               s.pendulum.energy),
                   "Look at the reading, its unit, and which pendulum was used.");
        return;
    }
    auto swing =
        dial ? energyFromDial(s.pendulum, read) : energyFromRise(s.pendulum, (*angle)->base, (*angle)->resolution);
    if (!swing) {
        const bool beyond = angle && s.pendulum.release && (*angle)->base > *s.pendulum.release;
        s.f.remark(beyond ? "energy-absurd" : "swing-unknown", Severity::Reject, energies, swing.problem().text(),
                   swing.problem().advice);
        return;
    }
    if (swing->absorbed.value() < 0) {
        s.f.remark("energy-absurd", Severity::Reject, energies,
                   fmt::format("Without the loss {:.3f} J are left: less than nothing.", swing->absorbed.value()),
                   "Take the free swing again.", "loss");
        return;
    }
    s.swing = std::move(*swing);
    s.f.set("K",
            s.swing->absorbed.named("K", baseUnit(Kind::Energy), "energy absorbed", std::string(s.geometry.standard),
                                    4));
}

/// 80 % of the pendulum, and what its scale can tell.
void checkCapacity(Strike& s)
{
    if (!s.swing)
        return;
    const double K = s.swing->read.value(), share = K / s.pendulum.energy;
    constexpr double most = 0.8, leastPlastic = 0.1, divisions = 25;
    std::string why;
    if (share > most)
        why = fmt::format("{:.0f} % of the pendulum; at most 80 % is wanted.", 100 * share);
    else if (s.geometry.plastic && share < leastPlastic)
        why = fmt::format("{:.1f} % of the pendulum; at least 10 % is wanted.", 100 * share);
    else if (!s.geometry.plastic && s.pendulum.resolution > 0 && K < divisions * s.pendulum.resolution)
        why = fmt::format("{:.1f} divisions of the scale; at least 25 are wanted.", K / s.pendulum.resolution);
    if (!why.empty())
        s.f.remark("capacity", Severity::Caution, energies, "K is " + why,
                   share > most ? "Use a heavier pendulum." : "Use a lighter pendulum.", "pendulum");
}

/// Energy over the section and over the width.
Expected<Done> forms(Strike& s)
{
    const auto width = lengthTerm(s.input(), "width", "B", "width under the notch");
    const auto ligament = lengthTerm(s.input(), "ligament", "h", "height left under the notch");
    auto area = sectionTerm(s.input(), "", "S");
    std::optional<Term> section;
    if (s.input().dimensions.contains("area")) {
        if (!area)
            return area.problem();
        section = *area;
    } else if (width && ligament) {
        section = (*width * *ligament).named("S", baseUnit(Kind::Area), "section under the notch");
    }
    for (const auto& [term, key] : {std::pair(&width, "width"), {&ligament, "ligament"}})
        if (*term && !((*term)->value() > 0))
            return Problem{s.input().label + ", dimensions." + key, formatSignificant((*term)->value(), 4) + " mm",
                           "above zero", "Measure it again."};
    if (section && !(section->value() > 0))
        return Problem{s.input().label + ", dimensions", "a section of zero", "above zero", "Measure it again."};
    const bool plastic = s.geometry.plastic;
    const std::string form = plastic ? "ac" : "kc";
    std::vector<std::string> others{plastic ? "kc" : "ac"};
    if (!s.geometry.perWidth)
        others.emplace_back("a_izod");
    s.f.notApplicable(others,
                      plastic ? "Of this geometry the energy over the section is given as ac."
                              : "Of metals the energy over the section is given as kc.");
    if (!s.swing)
        return Done{};
    const Term& K = s.swing->absorbed;
    if (section)
        s.f.set(form,
                (K / *section * Term::constant(100, "100 mm²/cm²"))
                    .named(form, *s.f.outcome.find(form)->unit, "energy over the section",
                           std::string(s.geometry.standard)));
    else
        s.f.sayMissing({form}, "missing-dimension", "The section under the notch is not measured.",
                       "Enter width and height under the notch on Measure.", "ligament");
    if (s.geometry.perWidth && width)
        s.f.set("a_izod",
                (K / *width * Term::constant(1000, "1000 mm/m"))
                    .named("a_izod", baseUnit(Kind::WidthEnergy), "energy over the width", "ASTM D256"));
    else if (s.geometry.perWidth)
        s.f.sayMissing({"a_izod"}, "missing-dimension", "The width is not measured.", "Enter it on Measure.", "width");
    return Done{};
}

/// Notch and section against what the geometry asks.
void checkPiece(Strike& s)
{
    const ImpactGeometry& g = s.geometry;
    const auto check = [&](const char* key, const char* words, double wanted, double off) {
        const double is = meanLength(s.input(), key);
        constexpr double rounding = 1e-9;
        if (!(is > 0) || !(wanted > 0) || !(off > 0) || std::abs(is - wanted) <= off + rounding)
            return;
        s.f.remark("notch-off", Severity::Caution, energies,
                   fmt::format("The {} is {} mm; {:g} ± {:g} mm is wanted.", words, formatSignificant(is, 4), wanted,
                               off),
                   "Measure it again; a notch too deep, or too sharp, takes less energy.", key);
    };
    check("ligament", "height under the notch", g.ligament, g.ligamentOff);
    check("notch_depth", "depth of the notch", g.depth, g.depthOff);
    check("notch_radius", "radius of the notch", g.radius, g.radiusOff);
}

/// A note that is a figure; refused where it does not read.
Expected<std::optional<double>> noted(const SpecimenInput& input, const std::string& key, Kind kind)
{
    const std::string text = noteOf(input, key);
    if (text.empty())
        return std::optional<double>();
    const auto read = parseQuantity(text, kind);
    if (!read) {
        Problem p = read.problem();
        p.place = input.label + ", notes." + key;
        return p;
    }
    return std::optional(read->base);
}

/// How the piece was brought to its temperature.
Expected<Done> checkTemperature(Strike& s)
{
    const auto temperature = temperatureOf(s.input());
    if (!temperature)
        return temperature.problem();
    if (!*temperature && (blowOf(s.input(), "energy") || blowOf(s.input(), "rise_angle")))
        s.f.remark("temperature-missing", Severity::Reject, {},
                   "The temperature of the piece is not noted: its energy stands for nothing.", "Note it on Strike.",
                   "temperature");
    constexpr double coldest = -200, warmest = 400;
    if (*temperature && (**temperature < coldest || **temperature > warmest))
        s.f.remark("temperature-odd", Severity::Caution, energies,
                   fmt::format("The piece is noted at {:g} °C.", **temperature), "Is its unit right?", "temperature");
    const auto way = noted(s.input(), "bath_to_blow", Kind::Time), bath = noted(s.input(), "bath_time", Kind::Time);
    if (!way || !bath)
        return way ? bath.problem() : way.problem();
    if (*way && **way > longestWay)
        s.f.remark("late-blow", Severity::Caution, energies,
                   fmt::format("It took {:.1f} s from the bath to the blow; at most 5 s are wanted.", **way),
                   "Over 5 s the temperature is no longer known. Note it as it was measured, or leave the piece out.",
                   "bath_to_blow");
    const double wanted = leastBath(s.input());
    if (*bath && **bath < wanted)
        s.f.remark("bath-short", Severity::Caution, energies,
                   fmt::format("It was in the bath for {:.1f} min; at least {:g} min are wanted.", **bath / 60,
                               wanted / 60),
                   "Its core may have been warmer.", "bath_time");
    for (const auto& [key, kind] : {std::pair("shear_fraction", Kind::Strain),
                                    {"lateral_expansion", Kind::Length},
                                    {"halves_angle", Kind::Angle}})
        if (auto ok = noted(s.input(), key, kind); !ok)
            return ok.problem();
        else if (key == std::string("shear_fraction") && *ok && (**ok < 0 || **ok > 1))
            return Problem{s.input().label + ", notes.shear_fraction", noteOf(s.input(), key), "0 to 100 %", {}};
    return Done{};
}

/// The range that is commonly quoted, at the one temperature it is quoted for.
void againstRange(Strike& s)
{
    const PlasticRange* range = s.geometry.perWidth ? findPlasticRange(s.input().material) : nullptr;
    const auto temperature = temperatureOf(s.input());
    const auto value = s.f.value("a_izod");
    constexpr double quotedAt = 23, near = 3; // °C
    if (!range || !value || !temperature || !*temperature || std::abs(**temperature - quotedAt) > near)
        return;
    const bool below = *value < range->low;
    if (!below && *value <= range->high)
        return;
    s.f.remark("off-published", Severity::Note, {"a_izod"},
               fmt::format("{:.3g} J/m lies {} what is commonly quoted for {}, {:g} to {:g} J/m at 23 °C.", *value,
                           below ? "below" : "above", range->name, range->low, range->high),
               "Grade, thickness and moisture decide; look whether it was dry, and how it broke.");
}

/// What was not broken took at least that.
void checkBreak(Strike& s)
{
    if (!s.notBroken() || !s.swing)
        return;
    for (const std::string& symbol : energies)
        for (Result& r : s.f.outcome.results)
            if (r.symbol == symbol && r.value)
                r.bound = Result::Bound::AtLeast;
    s.f.remark("not-broken", Severity::Caution, energies, "The piece did not break: its energy is at least this.",
               "It is left out of means and of the curve.", "break");
}

/// "KV2 = 41.0 J", or "KCV −20 85.4 J/cm²" with the pendulum, the depth and the width where they are not the usual
/// ones.
void notation(Strike& s)
{
    if (!s.swing)
        return;
    const ImpactGeometry& g = s.geometry;
    const bool byArea = optionOr(s.input(), "area_form", "energy") == "area";
    const Result* form = s.f.outcome.find(g.plastic ? "ac" : "kc");
    std::string words;
    if (byArea && form && form->value) {
        const auto temperature = temperatureOf(s.input());
        words = std::string(g.areaSymbol);
        constexpr double room = 20;
        if (temperature && *temperature && std::abs(**temperature - room) > 5)
            words += fmt::format(" {}{:g}", **temperature < 0 ? "−" : "+", std::abs(**temperature));
        const double width = meanLength(s.input(), "width");
        const bool usualWidth = !(width > 0) || !(g.width > 0) || std::abs(width - g.width) < 0.5;
        if (std::abs(s.pendulum.energy - g.pendulum) > 1e-6 || !usualWidth)
            words +=
                fmt::format(" {:g}/{:g}/{:g}", s.pendulum.energy, g.depth, std::round(width > 0 ? width : g.width));
        words += " = " + formatQuantity(*form->value, *form->unit, 3);
    } else {
        words = std::string(g.symbol) + " = " + formatQuantity(s.swing->absorbed.value(), baseUnit(Kind::Energy), 3);
    }
    if (s.notBroken())
        words.replace(words.find('='), 1, "≥");
    s.f.outcome.readings.push_back(
        {.value = s.swing->absorbed.value(), .unit = &baseUnit(Kind::Energy), .notation = words});
}

} // namespace

const ImpactGeometry* geometryOf(const SpecimenInput& input)
{
    return findImpactGeometry(optionOr(input, "geometry", std::string(impactGeometries().front().key)));
}

Expected<std::optional<double>> temperatureOf(const SpecimenInput& input)
{
    auto read = noted(input, "temperature", Kind::Temperature);
    if (read && *read && **read < absoluteZero)
        return Problem{input.label + ", notes.temperature", noteOf(input, "temperature"),
                       "above absolute zero, −273.15 °C", "Is its unit right?"};
    return read;
}

std::string impactLotOf(const SpecimenInput& input)
{
    const auto temperature = temperatureOf(input);
    const ImpactGeometry* geometry = geometryOf(input);
    std::string name = temperature && *temperature ? formatFixed(**temperature, 0) + " °C" : "no temperature";
    const std::string kind = noteOf(input, "break");
    if (geometry && geometry->plastic)
        return name + ", " + (kind.empty() ? "complete" : kind == "none" ? "not broken" : kind);
    return kind == "none" ? name + ", not broken" : name;
}

Expected<Outcome> evaluateImpact(const SpecimenInput& input)
{
    const ImpactGeometry* geometry = geometryOf(input);
    static const Method method = impact();
    if (auto ok = checkOptions(input, method); !ok || !geometry)
        return ok ? Problem{"options.geometry", "none", "one of the geometries", {}} : ok.problem();
    auto pendulum = pendulumOf(input, *geometry);
    if (!pendulum)
        return pendulum.problem();
    for (const auto& [name, list] : input.readings)
        if (list.size() > 1)
            return Problem{input.label + ", readings." + name, fmt::format("{} blows", list.size()),
                           "one blow a specimen", "Make a specimen of each blow."};
    if (auto ok = levelsOf(input); !ok)
        return ok.problem();
    Figures f{input};
    f.begin(method);
    Strike s{f, *geometry, *pendulum};
    checkPendulum(s);
    if (auto ok = checkTemperature(s); !ok)
        return ok.problem();
    readBlow(s);
    if (auto ok = forms(s); !ok)
        return ok.problem();
    checkCapacity(s);
    checkPiece(s);
    againstRange(s);
    checkBreak(s);
    notation(s);
    f.sayRest();
    return std::move(f.outcome);
}

} // namespace fortitor
