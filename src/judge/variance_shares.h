// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// One-way analysis of variance over groups, with components (negative ones are zero).
struct VarianceShares {
    size_t groups = 0;
    double f = 0, p = 1;
    double between = 0; ///< variance component between the groups
    double within = 0; ///< variance within
    [[nodiscard]] double share() const { return between + within > 0 ? between / (between + within) : 0; }
};

/// `group` names each value's group. Nothing with fewer than two groups or no group of two.
std::optional<VarianceShares> varianceShares(std::span<const double> values, const std::vector<std::string>& group);
/// The same with groups numbered from 0.
std::optional<VarianceShares> varianceShares(std::span<const double> values, std::span<const size_t> group);

} // namespace fortitor
