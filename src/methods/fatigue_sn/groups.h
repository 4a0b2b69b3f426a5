// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces of several kinds: a line for each, and whether they differ.
#pragma once

#include "methods/fatigue_sn/fatigue_sn.h"

#include <map>

namespace fortitor {

struct SnGroup {
    std::string name{};
    std::vector<SnPiece> pieces{};
    std::optional<SnLine> line{};
    std::string why{}; ///< there is none
};

/// By the option `group_by`: a note, or a dimension. A single group where all are of one.
std::vector<SnGroup> groupsOf(const std::vector<SnRun>& runs, const SpecimenInput& options, const SnRule& rule);
/// Which kind one piece is of; "not noted" without.
std::string groupName(const SpecimenInput& input, const SpecimenInput& options);

/// Whether lines of their own tell the pieces better than one line does.
struct GroupTest {
    double F = 0, p = 1;
    int between = 0; ///< degrees of freedom
    double within = 0;
    [[nodiscard]] bool differ() const { return p < 0.05; }
};
/// One scatter for all. By the squares where all are broken: the exact F test; with lower bounds the ratio of the
/// likelihoods, turned into the F that it would be (exp(2Δℓ/r) in place of the ratio of squares). Nothing with fewer
/// than two groups that have a line.
std::optional<GroupTest> testGroups(const std::vector<SnGroup>& groups, const SnRule& rule);

} // namespace fortitor
