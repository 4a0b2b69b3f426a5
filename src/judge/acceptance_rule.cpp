// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/acceptance_rule.h"

#include <cmath>

namespace fortitor {

std::optional<Problem> ruleProblem(const AcceptanceRule& rule)
{
    if (rule.name.empty())
        return Problem{"rule", "no name", "a name by which it is cited", {}};
    const std::string place = "rule " + rule.name;
    if (rule.source.empty())
        return Problem{place, "no source", "where it stands written", "A rule without a source can't be cited."};
    const auto wrong = [](const std::optional<double>& v) { return v && !(*v > 0 && std::isfinite(*v)); };
    if (wrong(rule.grossMass) || wrong(rule.breakForceMin) || wrong(rule.hold)
        || (rule.setMax && !(*rule.setMax >= 0 && std::isfinite(*rule.setMax))) || (rule.cycles && *rule.cycles < 1))
        return Problem{place, "a figure at or below zero", "figures above zero", {}};
    for (const auto& [factor, words] :
         {std::pair(&rule.breakFactorMin, "break factor"), {&rule.proofFactor, "proof factor"}})
        if (*factor && !(**factor >= 1 && std::isfinite(**factor)))
            return Problem{place, std::string("a ") + words + " below 1", "1 or more",
                           "A factor below 1 would accept what does not carry the load it is of."};
    if (rule.against == AcceptanceRule::Against::GrossMass && rule.breakFactorMin && !rule.grossMass)
        return Problem{place, "no gross mass", "the mass that its factor is of", {}};
    if (rule.against == AcceptanceRule::Against::Force && !rule.breakForceMin)
        return Problem{place, "no force", "the least breaking load", {}};
    if (!rule.breakFactorMin && !rule.breakForceMin && !rule.proofFactor && !rule.setMax && !rule.cycles && !rule.hold
        && rule.function.empty())
        return Problem{place, "nothing asked", "at least one of factor, force, hold, set, cycles, function", {}};
    return std::nullopt;
}

std::string_view saysName(RuleVerdict::Says says)
{
    return says == RuleVerdict::Says::Met ? "met" : says == RuleVerdict::Says::Failed ? "failed" : "open";
}

} // namespace fortitor
