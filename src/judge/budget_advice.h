// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/derivation.h"

#include <string>

namespace fortitor {

/// What to improve first to lessen a result's doubt, and by how much it would help if that one source
/// were gone: "a cell of better class, or a smaller one. ±3.4 would be ±1.2 MPa". Empty without a budget.
std::string improveFirst(const Budget& budget, const Unit& unit);

} // namespace fortitor
