// SPDX-License-Identifier: GPL-3.0-or-later
// Acceptance rules as job files and the laboratory's book hold them.
#pragma once

#include "jobs/job.h"
#include "judge/acceptance_rule.h"

#include <set>
#include <string>

namespace fortitor {

/// The keys of a rule, as files have them.
const std::set<std::string>& ruleKeys();

/// Refused: a figure or word that does not read, and whatever keeps a rule from being cited. `path` names its place.
Expected<AcceptanceRule> ruleFrom(const Json& json, const std::string& path);

/// As it was read; figures with units.
Json ruleJson(const AcceptanceRule& rule);

/// What it asks for, in words: "break ≥ 5 × working load, set ≤ 0.2 mm".
std::string askedWords(const AcceptanceRule& rule);
/// "harbour sheet 4, port of Skerrow, 2nd edition, 2024-03-01".
std::string sourceWords(const AcceptanceRule& rule);

} // namespace fortitor
