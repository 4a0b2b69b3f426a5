// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string>

namespace fortitor {

/// Where the frame is told to stop by itself.
struct StopLimits {
    double force = 0; ///< N, the capacity of the weakest link
    double extension = 0; ///< mm of extensometer, its own travel
    double travel = 0; ///< mm of crosshead
    double forceDrop = 0; ///< share of the greatest force
    double time = 0; ///< s
};

/// Where a running test stands against its limits. N, N, mm, s, mm, all from the start of the run.
struct RunState {
    double force = 0;
    double peak = 0;
    double travel = 0;
    double time = 0;
    double extension = 0; ///< mm as the extensometer reads, 0 while it is off
};

/// The limit that is reached, in words; nothing while the run may go on. A force drop counts once the
/// peak stands clear of the noise (2 % of the force limit): the break itself is seen before it, what
/// is left is a specimen that slips out or gives way slowly.
std::optional<std::string> limitReached(const StopLimits& limits, const RunState& state);

} // namespace fortitor
