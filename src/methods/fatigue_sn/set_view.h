// SPDX-License-Identifier: GPL-3.0-or-later
// What Judge draws.
#pragma once

#include "methods/fatigue_sn/groups.h"
#include "methods/fatigue_sn/staircase.h"

namespace fortitor {

/// Ranges over cycles, both logarithmic: pieces, mean line with its scatter band, bound, class.
ScatterView snView(const std::vector<SnRun>& runs, const std::optional<SnLine>& line, const SnSettings& settings,
                   const std::vector<SnGroup>& groups);
/// Levels over the number of the run.
ScatterView stairView(const SetInput& set, const std::optional<Stairs>& stairs);
/// "characteristic, 95 % survive (prediction)".
std::string boundWords(const SnBound& bound);

} // namespace fortitor
