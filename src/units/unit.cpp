// SPDX-License-Identifier: GPL-3.0-or-later
#include "units/unit.h"
#include "units/gravity.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <numbers>

namespace fortitor {
namespace {

constexpr double inch = 25.4;
constexpr double pound = 0.45359237;
constexpr double poundForce = pound * standardGravity;
constexpr double psi = poundForce / (inch * inch);
constexpr double degree = std::numbers::pi / 180;

// The first unit of a kind is its base; the first spelling of a unit is the one shown.
constexpr std::array units{
    Unit{"1", Kind::Number},
    Unit{"N", Kind::Force},
    Unit{"kN", Kind::Force, 1e3},
    Unit{"MN", Kind::Force, 1e6},
    Unit{"lbf", Kind::Force, poundForce},
    Unit{"kip", Kind::Force, 1e3 * poundForce},
    Unit{"kgf", Kind::Force, standardGravity},
    Unit{"tf", Kind::Force, 1e3 * standardGravity},
    Unit{"t", Kind::Force, 1e3 * standardGravity},
    Unit{"daN", Kind::Force, 10},
    Unit{"mm", Kind::Length},
    Unit{"cm", Kind::Length, 10},
    Unit{"m", Kind::Length, 1e3},
    Unit{"µm", Kind::Length, 1e-3},
    Unit{"in", Kind::Length, inch},
    Unit{"inch", Kind::Length, inch},
    Unit{"\"", Kind::Length, inch},
    Unit{"mil", Kind::Length, inch / 1000},
    Unit{"thou", Kind::Length, inch / 1000},
    Unit{"mm²", Kind::Area},
    Unit{"cm²", Kind::Area, 100},
    Unit{"m²", Kind::Area, 1e6},
    Unit{"in²", Kind::Area, inch* inch},
    Unit{"MPa", Kind::Stress},
    Unit{"Pa", Kind::Stress, 1e-6},
    Unit{"kPa", Kind::Stress, 1e-3},
    Unit{"GPa", Kind::Stress, 1e3},
    Unit{"psi", Kind::Stress, psi},
    Unit{"ksi", Kind::Stress, 1e3 * psi},
    Unit{"N/mm²", Kind::Stress},
    Unit{"kgf/mm²", Kind::Stress, standardGravity},
    Unit{"Msi", Kind::Stress, 1e6 * psi},
    Unit{"mm/mm", Kind::Strain},
    Unit{"%", Kind::Strain, 0.01},
    Unit{"µε", Kind::Strain, 1e-6},
    Unit{"ue", Kind::Strain, 1e-6},
    Unit{"µm/m", Kind::Strain, 1e-6},
    Unit{"in/in", Kind::Strain},
    Unit{"m/m", Kind::Strain},
    Unit{"1", Kind::Strain},
    Unit{"N·mm", Kind::Torque},
    Unit{"Nmm", Kind::Torque},
    Unit{"N·m", Kind::Torque, 1e3},
    Unit{"Nm", Kind::Torque, 1e3},
    Unit{"kN·m", Kind::Torque, 1e6},
    Unit{"kNm", Kind::Torque, 1e6},
    Unit{"lbf·in", Kind::Torque, poundForce* inch},
    Unit{"in·lbf", Kind::Torque, poundForce* inch},
    Unit{"lbf·ft", Kind::Torque, poundForce* inch * 12},
    Unit{"ft·lbf", Kind::Torque, poundForce* inch * 12},
    Unit{"rad", Kind::Angle},
    Unit{"°", Kind::Angle, degree},
    Unit{"deg", Kind::Angle, degree},
    Unit{"rev", Kind::Angle, 2 * std::numbers::pi},
    Unit{"J", Kind::Energy},
    Unit{"kJ", Kind::Energy, 1e3},
    Unit{"mJ", Kind::Energy, 1e-3},
    Unit{"ft·lbf", Kind::Energy, poundForce* inch * 12 / 1000},
    Unit{"kgf·m", Kind::Energy, standardGravity},
    Unit{"kg", Kind::Mass},
    Unit{"g", Kind::Mass, 1e-3},
    Unit{"t", Kind::Mass, 1000},
    Unit{"lb", Kind::Mass, pound},
    Unit{"s", Kind::Time},
    Unit{"ms", Kind::Time, 1e-3},
    Unit{"min", Kind::Time, 60},
    Unit{"h", Kind::Time, 3600},
    Unit{"d", Kind::Time, 86400},
    Unit{"sec", Kind::Time},
    Unit{"°C", Kind::Temperature},
    Unit{"degC", Kind::Temperature},
    Unit{"°F", Kind::Temperature, 5.0 / 9.0, -32},
    Unit{"degF", Kind::Temperature, 5.0 / 9.0, -32},
    Unit{"K", Kind::Temperature, 1, -273.15},
    Unit{"K", Kind::TemperatureDifference},
    Unit{"mm/s", Kind::Speed},
    Unit{"mm/min", Kind::Speed, 1.0 / 60},
    Unit{"in/min", Kind::Speed, inch / 60},
    Unit{"m/s", Kind::Speed, 1e3},
    Unit{"km/h", Kind::Speed, 1e6 / 3600},
    Unit{"1/s", Kind::StrainRate},
    Unit{"/s", Kind::StrainRate},
    Unit{"%/s", Kind::StrainRate, 0.01},
    Unit{"%/min", Kind::StrainRate, 0.01 / 60},
    Unit{"1/min", Kind::StrainRate, 1.0 / 60},
    Unit{"/min", Kind::StrainRate, 1.0 / 60},
    Unit{"MPa/s", Kind::StressRate},
    Unit{"N/mm²/s", Kind::StressRate},
    Unit{"N/s", Kind::ForceRate},
    Unit{"kN/s", Kind::ForceRate, 1e3},
    Unit{"kN/min", Kind::ForceRate, 1e3 / 60},
    Unit{"N/min", Kind::ForceRate, 1.0 / 60},
    Unit{"kgf/min", Kind::ForceRate, standardGravity / 60},
    Unit{"mm/N", Kind::Compliance},
    Unit{"mm/kN", Kind::Compliance, 1e-3},
    Unit{"µm/N", Kind::Compliance, 1e-3},
    Unit{"µm/kN", Kind::Compliance, 1e-6},
    Unit{"in/lbf", Kind::Compliance, inch / poundForce},
    Unit{"MJ/m³", Kind::EnergyDensity},
    Unit{"kJ/m³", Kind::EnergyDensity, 1e-3},
    Unit{"kg/m³", Kind::Density},
    Unit{"g/cm³", Kind::Density, 1e3},
    Unit{"lb/ft³", Kind::Density, pound / (inch * inch * inch * 1728) * 1e9},
    Unit{"N/mm", Kind::Stiffness},
    Unit{"kN/mm", Kind::Stiffness, 1e3},
    Unit{"lbf/in", Kind::Stiffness, poundForce / inch},
    Unit{"Hz", Kind::Frequency},
    Unit{"V", Kind::Potential},
    Unit{"mV", Kind::Potential, 1e-3},
    Unit{"µV", Kind::Potential, 1e-6},
    Unit{"uV", Kind::Potential, 1e-6},
    Unit{"mm/cycle", Kind::CrackRate},
    Unit{"m/cycle", Kind::CrackRate, 1e3},
    Unit{"kHz", Kind::Frequency, 1e3},
    Unit{"1/min", Kind::Frequency, 1.0 / 60},
    Unit{"J/cm²", Kind::AreaEnergy},
    Unit{"kJ/m²", Kind::AreaEnergy, 0.1},
    Unit{"kgf·m/cm²", Kind::AreaEnergy, standardGravity},
    Unit{"J/m", Kind::WidthEnergy},
    Unit{"J/mm", Kind::WidthEnergy, 1e3},
    Unit{"ft·lbf/in", Kind::WidthEnergy, poundForce * 12},
    Unit{"HV", Kind::Hardness},
    Unit{"HRA", Kind::Hardness},
    Unit{"HRBW", Kind::Hardness},
    Unit{"HRC", Kind::Hardness},
    Unit{"HRD", Kind::Hardness},
    Unit{"HREW", Kind::Hardness},
    Unit{"HRFW", Kind::Hardness},
    Unit{"HRGW", Kind::Hardness},
    Unit{"HRHW", Kind::Hardness},
    Unit{"HRKW", Kind::Hardness},
    Unit{"HR15N", Kind::Hardness},
    Unit{"HR30N", Kind::Hardness},
    Unit{"HR45N", Kind::Hardness},
    Unit{"HR15TW", Kind::Hardness},
    Unit{"HR30TW", Kind::Hardness},
    Unit{"HR45TW", Kind::Hardness},
    Unit{"HBW", Kind::Hardness},
    Unit{"HBS", Kind::Hardness}, // a ball of steel: old records only
    Unit{"HRBS", Kind::Hardness},
    Unit{"HK", Kind::Hardness},
};

void replaceAll(std::string& text, std::string_view from, std::string_view to)
{
    for (size_t at = 0; (at = text.find(from, at)) != std::string::npos; at += to.size())
        text.replace(at, from.size(), to);
}

/// One spelling for what means the same: no blanks, · for every dot of multiplication, ² for 2.
std::string normalised(std::string_view spelling)
{
    std::string text(spelling);
    for (const std::string_view gone : {" ", "\t", "\u00a0", "\u2009", "\u202f"})
        replaceAll(text, gone, "");
    replaceAll(text, "\u03bc", "\u00b5");
    replaceAll(text, "\u2126", "");
    replaceAll(text, "*", "·");
    replaceAll(text, "\u22c5", "·");
    if (text.find('.') != std::string::npos && text.back() != '.')
        replaceAll(text, ".", "·");
    replaceAll(text, "^", "");
    replaceAll(text, "-", "·");
    if (text.size() > 1 && (text.back() == '2' || text.back() == '3')
        && std::isalpha(static_cast<unsigned char>(text[text.size() - 2])))
        text.replace(text.size() - 1, 1, text.back() == '2' ? "²" : "³");
    replaceAll(text, "mm2/s", "mm²/s");
    replaceAll(text, "cm2/", "cm²/");
    if (text == "um" || text == "um/m" || text == "um/N" || text == "um/kN")
        text.replace(0, 1, "µ");
    if (text == "microstrain" || text == "µstrain" || text == "ustrain" || text == "µe" || text == "uε"
        || text == "µm/m")
        text = "µε";
    // A ball is one of hard metal unless an old record says otherwise.
    static constexpr std::array<std::string_view, 9> balls{"HRB", "HRE",   "HRF",   "HRG",  "HRH",
                                                           "HRK", "HR15T", "HR30T", "HR45T"};
    if (std::ranges::find(balls, text) != balls.end())
        text += 'W';
    return text;
}

bool sameButForCase(std::string_view a, std::string_view b)
{
    if (a.size() != b.size() || a.empty())
        return false;
    const auto lower = [](char c) { return std::tolower(static_cast<unsigned char>(c)); };
    if (a[0] != b[0] && lower(a[0]) == 'm')
        return false;
    return std::ranges::equal(a, b, [&](char x, char y) { return lower(x) == lower(y); });
}

template <class Same> const Unit* lookUp(std::string_view spelling, Kind wanted, Same same)
{
    const Unit* other = nullptr;
    for (const Unit& unit : units) {
        if (!same(unit.symbol, spelling))
            continue;
        if (unit.kind == wanted)
            return &unit;
        if (!other)
            other = &unit;
    }
    return other;
}

} // namespace

std::string_view kindName(Kind kind)
{
    constexpr std::array names{"number",
                               "force",
                               "length",
                               "area",
                               "stress",
                               "strain",
                               "torque",
                               "angle",
                               "energy",
                               "mass",
                               "time",
                               "temperature",
                               "speed",
                               "strain rate",
                               "stress rate",
                               "force rate",
                               "compliance",
                               "energy density",
                               "density",
                               "stiffness",
                               "frequency",
                               "energy over the section",
                               "energy over the width",
                               "temperature difference",
                               "potential",
                               "crack growth rate",
                               "hardness"};
    return names.at(static_cast<size_t>(kind));
}

const Unit& baseUnit(Kind kind)
{
    return *std::ranges::find(units, kind, &Unit::kind);
}

const Unit* findUnit(std::string_view spelling, Kind wanted)
{
    if (const Unit* exact = lookUp(spelling, wanted, std::equal_to<std::string_view>{}); exact && exact->kind == wanted)
        return exact;
    const std::string text = normalised(spelling);
    if (text.empty())
        return nullptr;
    if (const Unit* exact = lookUp(text, wanted, std::equal_to<std::string_view>{}))
        return exact;
    return lookUp(text, wanted, sameButForCase);
}

std::span<const Unit> allUnits()
{
    return units;
}

std::string listUnits(Kind kind)
{
    std::string list;
    for (const Unit& unit : units)
        if (unit.kind == kind)
            list += (list.empty() ? "" : ", ") + std::string(unit.symbol);
    return list;
}

} // namespace fortitor
