// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "sim/catalogue.h"

#include <set>
#include <string>
#include <vector>

namespace fortitor {

/// One record of a family: what hung in the frame, what was recorded, and what it can't tell.
struct FamilyRun {
    CatalogueEntry entry;
    SimulatedRun run;
    std::set<std::string> lost; ///< symbols that this record does not hold: no value, or one with a caution
};

/// Records of one kind of material or of one kind of trouble that the shelf does not show: pieces that
/// were not broken, instruments that came off, jumped, clipped or were not zeroed, tops that are flat or
/// lopsided, few and irregular readings. The truth is known for each.
struct Family {
    std::string name;
    std::string words;
    std::string code; ///< the remark that must be there; empty: a sound record, on which a caution is a defect
    FamilyRun (*make)(std::uint64_t seed);
};

const std::vector<Family>& families();

} // namespace fortitor
