// SPDX-License-Identifier: GPL-3.0-or-later
// What belongs to wood: its species, density, moisture.
#include "methods/flexure/flexure.h"
#include "methods/flexure/figures.h"

#include "curve/signal.h"
#include "curve/step_limit.h"
#include "curve/unloading.h"
#include "methods/common/section.h"
#include "methods/common/stepped.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {

void againstSpecies(FlexureFigures& f)
{
    const std::string grade = noteOf(f.input, "grade");
    for (const char* symbol : {"MOE", "MOR"}) {
        const auto it = f.input.published.find(symbol);
        const auto value = f.value(symbol);
        if (it == f.input.published.end() || !value || !(it->second > 0))
            continue;
        const double off = *value / it->second - 1;
        if (std::abs(off) > 0.2)
            f.remark("off-species", Severity::Note, {symbol},
                     fmt::format("{} is {} % {} the mean of {}, {} MPa.", symbol, formatFixed(100 * std::abs(off), 0),
                                 off > 0 ? "above" : "below", f.input.publishedSource,
                                 formatSignificant(it->second, 3)),
                     grade.empty() || grade == "clear"
                         ? "Moisture, growth and slope of grain move it; boards with knots lie lower. A guide only."
                         : "That is the mean of clear wood: the knots and slope of grain of a " + grade
                             + " grade lower it.");
    }
}

void density(FlexureFigures& f)
{
    const auto length = lengthTerm(f.input, "length", "l", "length of the piece");
    const auto mass = f.input.dimensions.find("mass_wet");
    if (!length || mass == f.input.dimensions.end() || mass->second.empty() || !f.beam) {
        f.leave({"density"}, "The length of the whole piece and its mass are not given.");
        return;
    }
    const Term m = Term::leaf("m_wet", mass->second.front().base, baseUnit(Kind::Mass),
                              mass->second.front().resolution / 2 / rectangle,
                              {"resolution of the scale", SourceKind::Digits}, "mass as tested");
    const Term volume = f.beam->b * f.beam->h * *length / Term::constant(1e9);
    f.set("density", (m / volume).named("density", baseUnit(Kind::Density), "density as tested", "m/(b·h·l)", 4));
}

Expected<Done> moisture(FlexureFigures& f)
{
    const auto mass = [&](const char* key, const char* symbol, const char* words) -> std::optional<Term> {
        const auto it = f.input.dimensions.find(key);
        if (it == f.input.dimensions.end() || it->second.empty())
            return std::nullopt;
        return Term::leaf(symbol, it->second.front().base, baseUnit(Kind::Mass), 0, {}, words);
    };
    const auto wet = mass("mass_wet", "m_wet", "mass as tested");
    const auto dry = mass("mass_dry", "m_dry", "mass oven-dry");
    if (!wet || !dry) {
        f.leave({"moisture", "MOR_12", "MOE_12"}, "The two weighings are not given.");
        return Done{};
    }
    if (!(dry->value() > 0) || wet->value() < dry->value()) {
        f.remark("masses-odd", Severity::Reject, {"moisture", "MOR_12", "MOE_12"},
                 "The piece weighs less as tested than oven-dry.", "Masses exchanged, or a unit slipped?", "mass_dry");
        return Done{};
    }
    const Term W =
        ((*wet - *dry) / *dry).named("moisture", percentUnit(), "moisture content", "(m_wet − m_dry)/m_dry", 3);
    f.set("moisture", W);
    const double percent = 100 * W.value();
    if (percent < 7 || percent > 17) {
        f.remark("moisture-out-of-range", Severity::Caution, {"MOR_12", "MOE_12"},
                 fmt::format("At {} % moisture the correction to 12 % does not hold.", formatFixed(percent, 1)),
                 "Condition the wood to between 7 and 17 %.");
        return Done{};
    }
    for (const auto& [from, to, key] :
         {std::tuple("MOR", "MOR_12", "moisture_MOR"), {"MOE", "MOE_12", "moisture_MOE"}}) {
        const auto coefficient = optionQuantity(f.input, key, Kind::Number);
        if (!coefficient)
            return coefficient.problem();
        const Result* r = f.outcome.find(from);
        if (!r->derivation)
            continue;
        const double c = coefficient->value_or(std::string_view(from) == "MOR" ? 0.04 : 0.02);
        const Term factor =
            Term::constant(1) + Term::constant(100 * c, fmt::format("{}·100", c)) * (W - Term::constant(0.12));
        f.set(to,
              (*r->derivation * factor)
                  .named(to, MPa(), std::string(from) + " at 12 % moisture",
                         "ISO 13061, coefficient from the laboratory's own copy", 4));
    }
    return Done{};
}

} // namespace fortitor
