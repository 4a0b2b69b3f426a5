// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/derivation.h"

#include <string>
#include <vector>

namespace fortitor {

/// One contributor to a result's uncertainty.
struct Contribution {
    std::string symbol;
    UncertaintySource source;
    double standard = 0; ///< |sensitivity|·u, in the result's base unit
    double share = 0; ///< of the variance, 0…1
};

struct Budget {
    double expanded = 0; ///< k = 2, base unit; 0 when no input carries one
    std::vector<Contribution> ranked;
};

/// First-order propagation through the tree (exact derivatives), contributions of one source added
/// in squares, ranked.
Budget uncertaintyBudget(const Term& term);

/// What to improve first to lessen a result's uncertainty, and by how much it would help if that one source were gone:
/// "a cell of better class, or a smaller one. ±3.4 would be ±1.2 MPa". Empty without a budget.
std::string improveFirst(const Budget& budget, const Unit& unit);

} // namespace fortitor
