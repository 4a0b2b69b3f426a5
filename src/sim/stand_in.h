// SPDX-License-Identifier: GPL-3.0-or-later
// A simulated specimen for any job: the one on the shelf, or the nearest of its method with the figures of the job's
// own material and sizes put in.
#pragma once

#include "sim/catalogue.h"

#include <optional>

namespace fortitor {

/// What a job says of its specimen.
struct WantedSpecimen {
    std::string method{}, material{}, direction{}, shape{};
    std::map<std::string, std::string> options{};
    std::map<std::string, double> sizes{}; ///< by key, mm: those that a beam or a shaft is made by
};

struct StandIn {
    std::string name; ///< for findCatalogueEntry, in any process
    std::string restsOn; ///< in words: whose figures it has; empty for one from the shelf
};

/// Nothing where no kind of the method can be simulated.
std::optional<StandIn> standInFor(const WantedSpecimen& wanted);

/// The kind that such a name describes: "like BASE;key=figure…". Nothing for a name that is none, an unknown base, a
/// figure that is none.
std::optional<CatalogueEntry> standInEntry(std::string_view name);

} // namespace fortitor
