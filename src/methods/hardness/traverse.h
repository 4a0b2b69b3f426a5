// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/derivation.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// A point of a traverse: its depth, mm, and its hardness.
struct TraversePoint {
    size_t number = 0; ///< of the indent
    double depth = 0;
    Term hardness;
};

/// Rising in depth.
using Traverse = std::vector<TraversePoint>;

/// What the case depth is taken at: a number, or so much above the core, which is the mean of the three deepest.
struct CaseLimit {
    double number = 0;
    bool aboveCore = false;
};
/// The limit itself; nothing where the core can't be told from fewer than five points.
std::optional<double> limitOf(const CaseLimit& limit, const Traverse& traverse);

/// The deepest place where the line between neighbours falls through the limit, as a term, mm. `tester`: the tester's
/// own doubt as a factor of one. Nothing where it does not fall through.
std::optional<Term> caseDepth(const Traverse& traverse, double limit, const Term& tester);

/// Indents that stand apart from the line between their neighbours by over 6 % and five times the usual scatter.
std::vector<size_t> oddPoints(const Traverse& traverse);

} // namespace fortitor
