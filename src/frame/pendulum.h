// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>

namespace fortitor {

/// What a pendulum tells of itself.
struct PendulumStatus {
    enum class Hammer { Hanging, Rising, Raised, Swinging, Braking } hammer = Hammer::Hanging;
    double angle = 0; ///< rad; below zero on the side it falls from
    bool locked = false; ///< the pin that holds the raised hammer is in
    bool guard = true; ///< closed
    bool piece = false; ///< against the anvils, or in the clamp
    bool pointerSet = false; ///< at its start
    bool struck = false; ///< a piece was hit since the last release
    std::optional<double> reading{}; ///< J that the pointer shows, once the hammer hangs still

    bool operator==(const PendulumStatus&) const = default;
};

} // namespace fortitor
