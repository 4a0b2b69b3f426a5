// SPDX-License-Identifier: GPL-3.0-or-later
// How the pieces of a job are spread over a condition before they are tested: temperatures, and how many at each.
#pragma once

#include "jobs/document.h"

#include <string>
#include <vector>

namespace fortitor {

/// As the job stands, the lowest first: a tested piece counts at what was noted of it, another at what is planned.
std::vector<SpreadGroup> spreadOf(const Job& job);
/// Those with neither, not tested yet.
size_t unplanned(const Job& job);
/// "-60: 3; -40 °C: 3; 20" as groups, the lowest first; a value alone is one piece. Refused: what does not read, a count
/// of none or above a hundred, more than 500 pieces.
Expected<std::vector<SpreadGroup>> readSpread(const SpreadSpec& spec, const std::string& text);
/// The same as text that reads back.
std::string spreadText(const SpreadSpec& spec, const std::vector<SpreadGroup>& groups);

namespace edits {

/// Plans the pieces that are not tested yet so that the job is spread like that; pieces that are wanting are added,
/// those left over stay without a plan. Refused: fewer at a value than were tested there.
Expected<Command> spread(const JobDocument& document, const std::vector<SpreadGroup>& wanted);

} // namespace edits
} // namespace fortitor
