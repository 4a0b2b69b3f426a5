// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/welch.h"
#include "judge/statistics.h"
#include "methods/method.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// A specimen laid beside others, in the group it is compared by.
struct ComparedSpecimen {
    std::string group;
    std::string label;
    const Outcome* outcome = nullptr;
};

/// One figure over all groups. Statistics in the result's own unit.
struct ComparedFigure {
    std::string symbol;
    const Unit* unit = nullptr;
    std::vector<SetStatistics> groups; ///< in the order of Comparison::groups
    std::vector<std::optional<WelchDifference>> against; ///< each group less the first; nothing for the first
};

struct Comparison {
    std::vector<std::string> groups;
    std::vector<ComparedFigure> figures; ///< those that at least two groups have
};

Comparison compareGroups(const std::vector<ComparedSpecimen>& specimens);

/// The comparison and each specimen's figures as comma-separated text, unrounded.
std::string comparisonCsv(const Comparison& comparison, const std::vector<ComparedSpecimen>& specimens);

/// The curves themselves as comma-separated text: two columns a specimen, in base units, from their
/// corrected origins.
std::string curvesCsv(const std::vector<ComparedSpecimen>& specimens);

} // namespace fortitor
