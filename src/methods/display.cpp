// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/display.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

int decimalsOf(double step)
{
    int decimals = 0;
    while (decimals < 9 && std::abs(step - std::round(step)) > 1e-9) {
        step *= 10;
        ++decimals;
    }
    return decimals;
}

} // namespace

const Unit& displayUnit(Kind kind, double magnitude, UnitSystem system)
{
    const auto unit = [](const char* spelling) -> const Unit& { return *findUnit(spelling); };
    const bool inch = system == UnitSystem::InchPound;
    const bool old = system == UnitSystem::Legacy;
    switch (kind) {
    case Kind::Strain: return *findUnit("%", Kind::Strain);
    case Kind::Stress: return inch ? unit("ksi") : old ? unit("kgf/mm2") : unit("MPa");
    case Kind::Force: return inch ? unit("lbf") : old ? unit("kgf") : std::abs(magnitude) >= 1000 ? unit("kN") : unit("N");
    case Kind::Length: return inch ? unit("in") : unit("mm");
    case Kind::Area: return inch ? unit("in2") : unit("mm2");
    case Kind::Energy: return inch ? *findUnit("ft·lbf", Kind::Energy) : old ? *findUnit("kgf·m", Kind::Energy) : unit("J");
    case Kind::Torque: return inch ? unit("lbf·in") : unit("N·m");
    case Kind::Angle: return std::abs(magnitude) > 20 ? unit("rev") : unit("°");
    default: return baseUnit(kind);
    }
}

ShownFigure showValue(const ResultSpec& spec, std::optional<double> base, double expanded, RoundingRule rule, UnitSystem system)
{
    ShownFigure shown;
    const Unit* unit = findUnit(spec.unit, spec.unit == "%" ? Kind::Strain : Kind::Number);
    const bool giga = unit->kind == Kind::Stress && spec.step >= 100;
    const bool other = system != UnitSystem::SI && unit->kind != Kind::Strain && unit->kind != Kind::Angle && unit->kind != Kind::Number && unit->kind != Kind::EnergyDensity;
    const Unit& display = other ? displayUnit(unit->kind, base.value_or(0), system) : giga ? *findUnit("GPa") : *unit;
    const double step = other ? 0 : giga ? spec.step / 1000 : spec.step;
    shown.unit = display.symbol == "1" ? "" : std::string(display.symbol);
    shown.perBase = 1 / display.factor;
    shown.decimals = step > 0 ? decimalsOf(step) : 3;
    if (!base || !std::isfinite(*base)) {
        shown.text = "–";
        return shown;
    }
    const double value = display.fromBase(*base);
    if (rule == RoundingRule::FourDigits || !(step > 0)) {
        shown.value = value;
        shown.text = formatSignificant(value, 4);
    } else {
        shown.value = roundToStep(value, step, rule == RoundingRule::StepsToEven ? HalfRule::ToEven : HalfRule::AwayFromZero);
        shown.text = formatFixed(shown.value, shown.decimals);
    }
    if (expanded > 0) {
        const double doubt = expanded / display.factor;
        // Two digits below 3, one above, never finer than the value needs.
        const double power = std::pow(10, std::floor(std::log10(doubt)));
        const double doubtStep = doubt / power < 3 ? power / 10 : power;
        // No finer than the figure itself is written, but at least one decimal.
        const int finest = rule == RoundingRule::FourDigits || !(step > 0) ? 6 : std::max(1, shown.decimals);
        // … unless nothing would be left of it.
        const bool lost = doubt < 0.5 * std::pow(10, -finest);
        const int doubtDecimals = lost ? decimalsOf(doubtStep) : std::min(decimalsOf(doubtStep), finest);
        shown.uncertainty = formatFixed(roundToStep(doubt, doubtStep), doubtDecimals);
    }
    return shown;
}

ShownFigure showFigure(const ResultSpec& spec, const Result& result, RoundingRule rule, UnitSystem system)
{
    return showValue(spec, result.value, result.budget.expanded, rule, system);
}

std::string symbolText(const std::string& symbol)
{
    if (symbol == "yield_ratio")
        return "Re/Rm";
    const size_t under = symbol.find('_');
    if (under == std::string::npos)
        return symbol.starts_with("nu") ? "ν" + symbol.substr(2) : symbol;
    const std::string letter = symbol.substr(0, under);
    const std::string lowered = symbol.substr(under + 1);
    if (letter == "sigma")
        return "σ" + (lowered == "at_strain" ? std::string("x") : lowered);
    if (letter == "tau")
        return "τ" + lowered;
    if (letter == "gamma")
        return "γ" + lowered;
    if (letter == "eps")
        return "ε" + lowered;
    return letter + " " + lowered;
}

ResultSpec specFor(const Method& method, const std::string& symbol)
{
    if (const ResultSpec* spec = method.findResult(symbol))
        return *spec;
    ResultSpec spec;
    if (const ResultSpec* proof = symbol.starts_with("Rp") ? method.findResult("Rp0.2") : nullptr) {
        spec = *proof;
        spec.help = "The curve meets the modulus line moved by " + symbol.substr(2) + " %.";
    } else if (symbol == "A_converted" && method.findResult("A")) {
        spec = *method.findResult("A");
        spec.name = "after break, converted";
        spec.help = "Carried over to another gauge length, not measured.";
    } else {
        spec.unit = "1";
    }
    spec.symbol = symbol;
    return spec;
}

} // namespace fortitor
