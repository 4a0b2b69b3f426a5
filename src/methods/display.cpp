// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/display.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <map>

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
    case Kind::Force:
        return inch ? unit("lbf") : old ? unit("kgf") : std::abs(magnitude) >= 1000 ? unit("kN") : unit("N");
    case Kind::Length: return inch ? unit("in") : unit("mm");
    case Kind::Area: return inch ? unit("in2") : unit("mm2");
    case Kind::Energy:
        return inch ? *findUnit("ft·lbf", Kind::Energy) : old ? *findUnit("kgf·m", Kind::Energy) : unit("J");
    case Kind::Torque: return inch ? unit("lbf·in") : unit("N·m");
    case Kind::Time: return magnitude != 0 && std::abs(magnitude) < 0.1 ? unit("ms") : unit("s");
    case Kind::Angle: return std::abs(magnitude) > 20 ? unit("rev") : unit("°");
    default: return baseUnit(kind);
    }
}

ShownFigure showValue(const ResultSpec& spec, std::optional<double> base, double expanded, RoundingRule rule,
                      UnitSystem system)
{
    ShownFigure shown;
    const Unit* unit = &unitOf(spec);
    // Steps that large ask for the next unit up: moduli in GPa, loads in kN.
    const bool giga = unit->kind == Kind::Stress && spec.step >= 100;
    const bool kilo = unit->kind == Kind::Force && spec.step >= 10;
    static constexpr std::array converted{Kind::Stress, Kind::Force,  Kind::Length,
                                          Kind::Area,   Kind::Energy, Kind::Torque};
    const bool other = system != UnitSystem::SI && std::ranges::find(converted, unit->kind) != converted.end();
    const Unit& display = other ? displayUnit(unit->kind, base.value_or(0), system)
        : giga                  ? *findUnit("GPa")
        : kilo                  ? *findUnit("kN")
                                : *unit;
    const double step = other ? 0 : giga || kilo ? spec.step / 1000 : spec.step;
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
        shown.value =
            roundToStep(value, step, rule == RoundingRule::StepsToEven ? HalfRule::ToEven : HalfRule::AwayFromZero);
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
        const double oneDigit = std::max(doubtStep, power);
        const int doubtDecimals = lost ? decimalsOf(oneDigit) : std::min(decimalsOf(doubtStep), finest);
        shown.uncertainty = formatFixed(roundToStep(doubt, lost ? oneDigit : doubtStep), doubtDecimals);
    }
    return shown;
}

ShownFigure showFigure(const ResultSpec& spec, const Result& result, RoundingRule rule, UnitSystem system)
{
    const double doubt = result.interval ? 0 : result.budget.expanded;
    ShownFigure shown = showValue(spec, result.value, doubt, rule, system);
    if (result.unit && result.unit->kind == Kind::Hardness) // of the scale that this one was read on
        shown.unit = result.unit->symbol;
    if (!result.value)
        return shown;
    if (result.bound == Result::Bound::AtLeast)
        shown.text = "≥ " + shown.text;
    if (result.interval)
        shown.interval = showValue(spec, result.interval->first, 0, rule, system).text + " to "
            + showValue(spec, result.interval->second, 0, rule, system).text;
    return shown;
}

SymbolParts symbolParts(const std::string& symbol)
{
    static const std::map<std::string, std::string> written = [] {
        std::map<std::string, std::string> all;
        for (const Method& method : methodRegistry())
            for (const ResultSpec& spec : method.results)
                if (!spec.written.empty())
                    all[spec.symbol] = spec.written;
        return all;
    }();
    if (const auto it = written.find(symbol); it != written.end())
        return it->second.find('_') == std::string::npos ? SymbolParts{it->second, {}} : symbolParts(it->second);
    static const std::map<std::string, std::string> greek{
        {"sigma", "σ"}, {"eps", "ε"}, {"nu", "ν"}, {"tau", "τ"}, {"gamma", "γ"}};
    const size_t under = symbol.find('_');
    if (under != std::string::npos && under > 0) {
        const std::string letter = symbol.substr(0, under);
        const auto it = greek.find(letter);
        return {it == greek.end() ? letter : it->second, symbol.substr(under + 1)};
    }
    if (symbol.starts_with("nu"))
        return {"ν", symbol.substr(2)};
    const auto all = [&](int (*is)(int)) {
        return std::ranges::all_of(symbol, [is](unsigned char c) { return is(c) != 0; });
    };
    // Names of capitals and whole words stay one: MOE, density.
    if ((symbol.size() > 2 && all(std::isupper)) || (symbol.size() > 4 && all(std::islower)))
        return {symbol, {}};
    return {symbol.substr(0, 1), symbol.substr(std::min<size_t>(1, symbol.size()))};
}

std::string symbolText(const std::string& symbol)
{
    const SymbolParts parts = symbolParts(symbol);
    // What stands behind an underscore of a Latin letter keeps apart from it.
    const bool apart =
        symbol.find('_') != std::string::npos && symbol.starts_with(parts.letter) && !parts.lowered.empty();
    return parts.letter + (apart ? " " : "") + parts.lowered;
}

std::string whyMissing(const Outcome& outcome, const std::string& symbol)
{
    const Result* r = outcome.find(symbol);
    if (!r || r->value)
        return {};
    const auto named = std::ranges::find_if(outcome.remarks, [&](const Remark& one) {
        return std::ranges::find(one.symbols, symbol) != one.symbols.end();
    });
    return named == outcome.remarks.end() ? std::string() : named->text;
}

ResultSpec specFor(const Method& method, const std::string& symbol)
{
    if (const ResultSpec* spec = method.findResult(symbol))
        return *spec;
    ResultSpec spec;
    if (const auto alike = method.specLike ? method.specLike(symbol) : std::nullopt)
        spec = *alike;
    else
        spec.unit = "1";
    spec.symbol = symbol;
    return spec;
}

} // namespace fortitor
