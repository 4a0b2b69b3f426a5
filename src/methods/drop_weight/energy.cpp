// SPDX-License-Identifier: GPL-3.0-or-later
// Mass, height, thickness and flags: what the blow carries.
#include "methods/drop_weight/energy.h"

#include "methods/common/section.h"

#include <fmt/format.h>

#include <cmath>

namespace fortitor {
namespace {

constexpr double pounds = 2.2046226218;
constexpr double usualPerThickness = 6.7; // J/mm

const std::vector<std::string> carried{"E_nominal", "v_i", "E_i", "E_at_max", "E_a", "d_at_max"};

/// A ratio that one unit taken for another gives; 0 for none.
double slipOf(double ratio)
{
    constexpr double close = 0.04;
    for (const double slip : {pounds, 25.4, 10.0})
        for (const double r : {slip, 1 / slip})
            if (std::abs(ratio / r - 1) < close)
                return r;
    return 0;
}

std::string slipAdvice(double slip)
{
    if (std::abs(slip - pounds) < 0.1)
        return "Is the mass in pounds, taken for kilograms?";
    if (std::abs(slip * pounds - 1) < 0.1)
        return "Is the mass in kilograms, taken for pounds?";
    if (slip != 0)
        return "A slip of the decimal point or of the unit in mass, height or thickness?";
    return "Look at mass, height and thickness, and at the energy that was asked for.";
}

/// "12.10 ms; 15.20 ms" as two times, s.
Expected<std::optional<std::pair<double, double>>> flagTimes(const SpecimenInput& input)
{
    const std::string text = optionOr(input, "flag_times", "");
    if (text.empty())
        return std::optional<std::pair<double, double>>();
    const Problem wrong{"options.flag_times",
                        '"' + text + '"',
                        "the two times at which the flag's edges passed, such as \"12.10 ms; 15.20 ms\"",
                        {}};
    const size_t at = text.find(';');
    if (at == std::string::npos)
        return wrong;
    const auto first = parseQuantity(text.substr(0, at), Kind::Time);
    const auto second = parseQuantity(text.substr(at + 1), Kind::Time);
    if (!first || !second || !(second->base > first->base))
        return wrong;
    return std::optional(std::pair(first->base, second->base));
}

Term massTerm(double mass)
{
    return Term::leaf("m", mass, baseUnit(Kind::Mass), 0.001 * mass / rectangle,
                      {"drop mass, weighed within 0.1 % (assumed)"}, "drop mass");
}

Term heightTerm(double height)
{
    constexpr double off = 1; // mm
    return Term::leaf("H", height, baseUnit(Kind::Length), off / rectangle,
                      {"drop height, within 1 mm (assumed)", SourceKind::LengthTool}, "drop height");
}

const Unit& metreASecond()
{
    return *findUnit("m/s");
}

Term fallSpeed(const Term& height, const std::string& rule)
{
    return root(Term::constant(2) * Term::constant(1000 * standardGravity, "g") * height)
        .named("v_i", metreASecond(), "speed of a free fall", rule, 4);
}

} // namespace

Expected<DropPlan> dropPlan(const SpecimenInput& input)
{
    DropPlan plan;
    const auto mass = optionQuantity(input, "mass", Kind::Mass);
    const auto height = optionQuantity(input, "height", Kind::Length);
    const auto tower = optionQuantity(input, "tower_height", Kind::Length);
    if (!tower)
        return tower.problem();
    plan.towerHeight = *tower;
    for (const auto* read : {&mass, &height}) {
        if (!*read)
            return read->problem();
        if (**read && !(***read > 0))
            return Problem{
                read == &mass ? "options.mass" : "options.height", formatSignificant(***read, 3), "above zero", {}};
    }
    plan.mass = *mass;
    plan.height = *height;
    plan.perThickness = usualPerThickness;
    if (const std::string text = optionOr(input, "energy_per_thickness", ""); !text.empty()) {
        // J/mm is a force to the units' eye: energy over a length.
        const auto perLength = parseQuantity(text, Kind::WidthEnergy);
        if (!perLength)
            return Problem{
                "options.energy_per_thickness", '"' + text + '"', "an energy over a length, such as 6.7 J/mm", {}};
        plan.perThickness = perLength->base / 1000;
    }
    if (const double h = meanLength(input, "thickness"); input.dimensions.contains("thickness")) {
        if (!(h > 0))
            return Problem{input.label + ", dimensions.thickness", formatSignificant(h, 3) + " mm", "above zero",
                           "Measure it again."};
        plan.thickness = h;
        plan.wanted = plan.perThickness * h;
    }
    if (plan.mass && plan.height)
        plan.nominal = *plan.mass * standardGravity * *plan.height / 1000;
    else
        plan.nominal = plan.wanted;
    if (plan.mass && plan.wanted)
        plan.heightWanted = *plan.wanted / (*plan.mass * standardGravity) * 1000;
    if (plan.heightWanted && plan.towerHeight && *plan.towerHeight > 0 && *plan.heightWanted > *plan.towerHeight)
        plan.massNeeded = *plan.mass * *plan.heightWanted / *plan.towerHeight;
    if (plan.mass && plan.nominal)
        plan.speed = std::sqrt(2 * *plan.nominal / *plan.mass);
    if (plan.mass && plan.height && plan.wanted) {
        plan.offWanted = *plan.nominal / *plan.wanted - 1;
        plan.slip = slipOf(1 + *plan.offWanted);
    }
    return plan;
}

void nominalEnergy(Figures& f, const DropPlan& plan)
{
    const Unit& J = baseUnit(Kind::Energy);
    if (plan.mass && plan.height) {
        f.set("E_nominal",
              (massTerm(*plan.mass) * Term::constant(standardGravity / 1000, "g") * heightTerm(*plan.height))
                  .named("E_nominal", J, "energy of mass and height", "m·g·H", 4));
    } else if (plan.wanted) {
        const auto h = lengthTerm(f.input, "thickness", "h", "thickness");
        f.set("E_nominal",
              (Term::constant(plan.perThickness, fmt::format("{:g} J/mm", plan.perThickness)) * *h)
                  .named("E_nominal", J, "energy wanted for the thickness", "ASTM D7136", 4));
    } else {
        f.sayMissing({"E_nominal"}, "missing-dimension", "Neither the thickness nor mass and height are known.",
                     "Measure the thickness, or state mass and height on Plan.", "thickness");
    }
    const auto beyond = plan.height ? plan.height : plan.heightWanted;
    if (beyond && plan.towerHeight && *beyond > *plan.towerHeight)
        f.remark("tower-range", Severity::Caution, {"E_nominal"},
                 fmt::format("The blow needs {:.0f} mm; the tower drops from {:.0f} mm at most.", *beyond,
                             *plan.towerHeight),
                 plan.massNeeded ? fmt::format("Use {:.2f} kg or more.", *plan.massNeeded) : "Use a heavier mass.",
                 "mass");
    if (!plan.offWanted)
        return;
    const bool asked = !optionOr(f.input, "energy_per_thickness", "").empty();
    constexpr double most = 0.05;
    if (plan.slip != 0 || std::abs(*plan.offWanted) > most)
        f.remark("energy-off", asked || plan.slip != 0 ? Severity::Caution : Severity::Note, carried,
                 fmt::format("Mass and height give {:.1f} J, {:.2f} times the {:.1f} J of {:g} J/mm on {:.2f} mm.",
                             *plan.nominal, 1 + *plan.offWanted, *plan.wanted, plan.perThickness, *plan.thickness),
                 slipAdvice(plan.slip), plan.slip != 0 ? "mass" : "height");
}

Expected<ContactSpeed> contactSpeed(Figures& f, const DropPlan& plan, std::optional<double> contact)
{
    ContactSpeed found;
    if (plan.mass)
        found.mass = massTerm(*plan.mass);
    const auto width = optionQuantity(f.input, "flag_width", Kind::Length);
    const auto stated = optionQuantity(f.input, "speed", Kind::Speed);
    const auto times = flagTimes(f.input);
    if (!width || !stated || !times)
        return !width ? width.problem() : !stated ? stated.problem() : times.problem();
    if (*stated && !(**stated > 0))
        return Problem{"options.speed", formatSignificant(**stated / 1000, 3) + " m/s", "above zero", {}};
    if (*times && *width && contact) {
        const auto [t1, t2] = **times;
        if (!(**width > 0))
            return Problem{"options.flag_width", formatSignificant(**width, 3) + " mm", "above zero", {}};
        const Unit& ms = *findUnit("ms");
        constexpr double clock = 1e-6; // s
        const auto at = [&](const char* name, double t, const char* words) {
            return Term::leaf(name, t, ms, clock / rectangle, {"clock, within 1 µs (assumed)"}, words);
        };
        const Term first = at("t1", t1, "first edge of the flag"), second = at("t2", t2, "second edge of the flag");
        const Term start = at("ti", *contact, "start of the contact");
        const Term w =
            Term::leaf("w", **width, baseUnit(Kind::Length), 0.02 / rectangle,
                       {"width of the flag, within 0.02 mm (assumed)", SourceKind::LengthTool}, "width of the flag");
        found.by = SpeedBy::Flags;
        found.speed = (w / (second - first)
                       + Term::constant(1000 * standardGravity, "g") * (start - (first + second) / Term::constant(2)))
                          .named("v_i", metreASecond(), "speed at the contact, by the flag", "ASTM D7136", 4);
        if (*contact < t2)
            f.remark("flag-after-contact", Severity::Caution, carried,
                     fmt::format("The flag passed until {:.2f} ms, after the contact at {:.2f} ms.", 1000 * t2,
                                 1000 * *contact),
                     "Are the flag's times on the record's clock?", "flag_times");
    } else if (*times || *width) {
        f.remark("flag-missing", Severity::Caution, {"v_i", "E_i", "E_a"},
                 *times ? (contact ? "The flag's width is not stated." : "No contact is seen to count the fall to.")
                        : "The flag's times are not stated.",
                 "Both are needed for the speed.", *times ? "flag_width" : "flag_times");
    }
    if (!found.speed && *stated) {
        found.by = SpeedBy::Stated;
        found.speed = Term::leaf("v_i", **stated, metreASecond(), 0.005 * **stated / rectangle,
                                 {"speed, measured within 0.5 % (assumed)"}, "speed at the contact, as measured");
    }
    if (!found.speed && plan.height) {
        found.by = SpeedBy::Height;
        found.speed = fallSpeed(heightTerm(*plan.height), "√(2·g·H)");
    } else if (!found.speed && plan.mass && plan.nominal) {
        found.by = SpeedBy::Thickness;
        const Term E = *f.outcome.find("E_nominal")->derivation;
        found.speed = root(Term::constant(2e6, "2") * E / *found.mass)
                          .named("v_i", metreASecond(), "speed that the nominal energy needs", "√(2·E/m)", 4);
    }
    if (!found.speed)
        return found;
    const double v = found.speed->value() / 1000;
    if (found.by == SpeedBy::Height || found.by == SpeedBy::Thickness) {
        f.remark("speed-not-measured", Severity::Note, {"v_i", "E_i", "E_a"},
                 "The speed is that of a free fall; the guides take some of it.",
                 "State the measured speed, or the flag's width and times.", "speed");
    } else if (plan.height && plan.mass) {
        const double free = std::sqrt(2 * standardGravity * *plan.height / 1000);
        const double share = v * v / (free * free);
        if (share > 1.03 || share < 0.9)
            f.remark("speed-off", Severity::Caution, carried,
                     fmt::format("The measured speed is {:.3f} m/s; a free fall from {:.0f} mm gives {:.3f} m/s.", v,
                                 *plan.height, free),
                     share > 1 ? "Nothing falls faster: look at the height, and at the flag's width and times."
                               : "Guides that bind, or a wrong height?",
                     "speed");
    } else if (plan.mass && plan.wanted) {
        const double ratio = 0.5 * *plan.mass * v * v / *plan.wanted;
        if (const double slip = slipOf(ratio); slip != 0)
            f.remark("energy-off", Severity::Caution, carried,
                     fmt::format("Mass and speed give {:.1f} J; {:g} J/mm on {:.2f} mm are {:.1f} J.",
                                 0.5 * *plan.mass * v * v, plan.perThickness, *plan.thickness, *plan.wanted),
                     slipAdvice(slip), "mass");
    }
    return found;
}

} // namespace fortitor
