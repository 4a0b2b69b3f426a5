// SPDX-License-Identifier: GPL-3.0-or-later
// What an acceptance rule asks of a part, held against what was found.
#pragma once

#include "judge/acceptance_rule.h"
#include "methods/outcome.h"

#include <optional>
#include <span>
#include <string>

namespace fortitor {

/// N that the part must carry by the rule; nothing where it asks for no breaking load, or what it is a multiple of is
/// not known.
std::optional<double> leastBreak(const AcceptanceRule& rule, std::optional<double> workingLoad);

/// An "at least" meets what lies below it and leaves open what lies above.
RuleVerdict judgeRule(const AcceptanceRule& rule, const Outcome& outcome, const SpecimenInput& input);

/// The name of the one that asks for the greater breaking load; empty where they can't be compared, or are alike.
std::string stricter(const AcceptanceRule& a, const AcceptanceRule& b, std::optional<double> workingLoad);

/// Which of all asks for the greatest breaking load, in words.
std::string strictestRule(std::span<const AcceptanceRule> rules, const SpecimenInput& input);

} // namespace fortitor
