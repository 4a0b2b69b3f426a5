// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"
#include "units/unit.h"

#include <optional>
#include <string>
#include <string_view>

namespace fortitor {

/// A quantity as someone typed it.
struct Quantity {
    double base = 0; ///< value in the base unit of its kind
    const Unit* unit = nullptr;
    double resolution = 0; ///< value of the last digit typed, in the base unit; 0 for a fraction
    std::string text; ///< what was typed

    [[nodiscard]] double in(const Unit& other) const { return other.fromBase(base); }
};

/// Reads "10.02 mm", "10,02 mm", "1e3 N", "1 5/16 in", "-35 µε". A comma is a decimal mark; grouping
/// marks are refused. With `assumed` a bare number takes that unit; without, it is a Problem.
/// A unit of another kind is a Problem that names both kinds, and so is another scale of hardness than the assumed
/// one. Locale plays no part.
Expected<Quantity> parseQuantity(std::string_view text, Kind wanted, const Unit* assumed = nullptr);

/// Reads a number alone, decimal point or comma, exponent and fraction allowed.
/// Exact to the nearest double.
std::optional<double> parseNumber(std::string_view text);

enum class HalfRule { ToEven, AwayFromZero };

/// Rounds to a multiple of step (> 0). A tie is recognised within 1e-9 of the step, so that 0.15 to
/// 0.1 is a tie although no double is 0.15. ISO 80000-1, rule A (to even) or B (away from zero).
double roundToStep(double value, double step, HalfRule rule = HalfRule::ToEven);

/// Fixed decimals, decimal point, "-0" never shown; "–" for a value that is not finite.
std::string formatFixed(double value, int decimals);

/// So many significant digits without exponent for ordinary sizes (1e-5 … 1e7), trailing zeros kept.
std::string formatSignificant(double value, int digits);

/// Value of a base quantity in a unit, with its symbol: "78.80 mm²".
std::string formatQuantity(double base, const Unit& unit, int digits = 4);

} // namespace fortitor
