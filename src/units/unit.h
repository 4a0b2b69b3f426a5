// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <span>
#include <string>
#include <string_view>

namespace fortitor {

/// The kinds of quantity the program knows. Values inside the program are held in the base unit:
/// N, mm, mm², MPa, 1, N·mm, rad, J, kg, s, °C, mm/s, 1/s, MPa/s, N/s, mm/N, MJ/m³, kg/m³.
enum class Kind {
    Number,
    Force,
    Length,
    Area,
    Stress,
    Strain,
    Torque,
    Angle,
    Energy,
    Mass,
    Time,
    Temperature,
    Speed,
    StrainRate,
    StressRate,
    ForceRate,
    Compliance,
    EnergyDensity,
    Density,
    Stiffness,
    Frequency,
    AreaEnergy, ///< of an impact over the section
    WidthEnergy, ///< of an impact over the width
    TemperatureDifference,
    Potential,
    CrackRate, ///< growth of a crack a cycle
    Hardness, ///< a number on a scale: each scale is a unit of its own, no factor leads from one to another
};

/// A unit as people write it: base value = (value + shift) · factor.
struct Unit {
    std::string_view symbol;
    Kind kind = Kind::Number;
    double factor = 1;
    double shift = 0;

    [[nodiscard]] double toBase(double value) const { return (value + shift) * factor; }
    [[nodiscard]] double fromBase(double base) const { return base / factor - shift; }
};

/// "length", "force" …, for messages.
std::string_view kindName(Kind kind);

/// The unit the program shows by default for a kind, also the one values are held in.
const Unit& baseUnit(Kind kind);

/// Looks a spelling up ("µm", "um", "N/mm²", "kgf/mm2", "°C"). Blanks inside are ignored and case
/// is forgiven where no prefix could be meant by it (KN, Mm; never mpa, mn). When the spelling fits
/// several kinds (t, %), `wanted` decides. Returns nullptr when unknown.
const Unit* findUnit(std::string_view spelling, Kind wanted = Kind::Number);

/// All units of a kind, the base unit first.
std::span<const Unit> allUnits();

/// "mm, cm, m, …" of one kind, for messages.
std::string listUnits(Kind kind);

} // namespace fortitor
