// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

#include <string>

namespace fortitor {

/// Which rule rounds figures for people. Inside and in files nothing is rounded.
enum class RoundingRule {
    StepsToEven, ///< the method's steps, a tie to the even one (ISO 80000-1, rule A)
    StepsAwayFromZero, ///< the same steps, a tie away from zero (rule B)
    FourDigits, ///< four significant digits
};

/// Which units people see. Inside, and in files, nothing changes.
enum class UnitSystem { SI, InchPound, Legacy };

/// The unit a quantity is shown in: % for strains, kN from 1000 N up, ksi, lbf, in; kgf and kgf/mm².
const Unit& displayUnit(Kind kind, double magnitude, UnitSystem system);

/// A figure as people see it.
struct ShownFigure {
    std::string text; ///< "69.8"; "–" when missing
    std::string unit; ///< "GPa"
    std::string uncertainty; ///< "0.9", empty without one
    std::string interval; ///< "41.2 to 47.9", of a figure whose uncertainty is not symmetric
    double value = 0; ///< rounded, in that unit
    double perBase = 1; ///< base value → shown value
    int decimals = 0;
};

/// Moduli are shown in GPa, the rest in the result's own unit, rounded by the rule. In other unit
/// systems the steps of the method mean nothing: four significant digits.
ShownFigure showFigure(const ResultSpec& spec, const Result& result, RoundingRule rule = RoundingRule::StepsToEven,
                       UnitSystem system = UnitSystem::SI);
ShownFigure showValue(const ResultSpec& spec, std::optional<double> base, double expanded,
                      RoundingRule rule = RoundingRule::StepsToEven, UnitSystem system = UnitSystem::SI);

/// A symbol as people write it: a letter (or more), and what stands lowered behind it.
struct SymbolParts {
    std::string letter;
    std::string lowered;
};

/// "σ" and "m" for sigma_m, "R" and "p0.2" for Rp0.2, "Re/Rm" where a method writes it otherwise.
SymbolParts symbolParts(const std::string& symbol);

/// The same as plain text for tables and sentences: "σm", "F peak".
std::string symbolText(const std::string& symbol);

/// Why a result is missing, as its remark says; empty where it is there or nothing says why.
std::string whyMissing(const Outcome& outcome, const std::string& symbol);

/// The spec of a result; one that the method works out beside those it lists borrows that of another.
ResultSpec specFor(const Method& method, const std::string& symbol);

} // namespace fortitor
