// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>

namespace fortitor {

struct Fracture {
    size_t last = 0; ///< last point before the abrupt fall
    bool cutInFall = false; ///< the record ends while falling
    double residual = 0; ///< mean of y after the fall, where it is quiet there
    size_t residualCount = 0; ///< points behind that mean; 0 when there is no quiet end
};

/// The abrupt fall that ends a metal's or a brittle record: far above the noise, over five times the
/// steepest softening before it, and not recovered from. Nothing when the record ends without one.
/// `topAt`: the index of the greatest of y.
std::optional<Fracture> findFracture(std::span<const double> y, double noise, size_t topAt);

} // namespace fortitor
