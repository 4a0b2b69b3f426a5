// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/limits.h"

#include "units/quantity.h"

#include <cmath>

namespace fortitor {

std::optional<std::string> limitReached(const StopLimits& limits, const RunState& now)
{
    if (limits.force > 0 && now.force > limits.force)
        return "stopped at the force limit, " + formatQuantity(limits.force, *findUnit("kN"), 3);
    if (limits.forceDrop > 0 && now.peak > 0.02 * limits.force && now.force < (1 - limits.forceDrop) * now.peak)
        return "stopped at a force drop of " + formatFixed(100 * limits.forceDrop, 0) + " %";
    if (limits.travel > 0 && now.travel > limits.travel)
        return "stopped at the travel limit, " + formatQuantity(limits.travel, *findUnit("mm"), 3);
    if (limits.extension > 0 && std::abs(now.extension) > limits.extension)
        return "stopped at the extensometer's limit, " + formatQuantity(limits.extension, *findUnit("mm"), 3);
    if (limits.time > 0 && now.time > limits.time)
        return std::string("stopped at the time limit");
    return std::nullopt;
}

} // namespace fortitor
