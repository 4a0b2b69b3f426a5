// SPDX-License-Identifier: GPL-3.0-or-later
// Tables that a laboratory keeps for itself. They stand among the instruments of the logbook, so that the journal tells
// of every change.
#pragma once

#include "jobs/rules.h"
#include "methods/hardness/block.h"
#include "methods/hardness/conversion.h"
#include "store/logbook.h"

#include <vector>

namespace fortitor {

inline const QString ownTableKind = "table";

/// Limits of reference blocks; empty where no own ones are kept.
std::vector<OwnLimit> readOwnLimits(const Logbook& book);
[[nodiscard]] InstrumentRow ownLimitsRow(const std::vector<OwnLimit>& limits);

/// A table of conversion that was loaded, with the text it came as.
struct OwnConversion {
    ConversionTable table;
    std::string text;
};
std::vector<OwnConversion> readOwnConversions(const Logbook& book);
[[nodiscard]] InstrumentRow ownConversionRow(const OwnConversion& conversion);

/// The book of acceptance rules, as job files have them; those that do not read are left out.
std::vector<AcceptanceRule> readOwnRules(const Logbook& book);
[[nodiscard]] InstrumentRow ownRulesRow(const Json& rules);

} // namespace fortitor
