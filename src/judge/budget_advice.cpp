// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/budget_advice.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <cmath>
#include <utility>

namespace fortitor {
namespace {

std::string remedy(const std::string& source)
{
    static constexpr std::pair<const char*, const char*> remedies[] = {
        {"calliper", "a micrometer instead of the calliper"},
        {"micrometer", "a finer micrometer"},
        {"extensometer", "an extensometer of better class or longer gauge length"},
        {"crosshead", "an extensometer on the specimen"},
        {"gauges", "better balanced or longer gauges"},
        {"resolution", "readings to one more digit"},
        {"fit of", "more readings, or a quieter channel, on the straight part"},
        {"noise", "a quieter force channel or a smaller cell"},
        {"cell", "a cell of better class, or a smaller one"},
        {"force", "a cell of better class, or a smaller one"},
    };
    for (const auto& [word, words] : remedies)
        if (source.find(word) != std::string::npos)
            return words;
    return "a better instrument for " + source;
}

} // namespace

std::string improveFirst(const Budget& budget, const Unit& unit)
{
    if (budget.ranked.empty() || !(budget.expanded > 0))
        return {};
    const Contribution& first = budget.ranked.front();
    const double left = budget.expanded * std::sqrt(std::max(0.0, 1 - first.share));
    return fmt::format("Improve first: {}. ±{} would be ±{}{}{}.", remedy(first.source),
                       formatSignificant(budget.expanded / unit.factor, 2), formatSignificant(left / unit.factor, 2),
                       unit.symbol == "1" ? "" : " ", unit.symbol == "1" ? "" : unit.symbol);
}

} // namespace fortitor
