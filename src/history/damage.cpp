// SPDX-License-Identifier: GPL-3.0-or-later
#include "history/damage.h"

#include <fmt/format.h>

#include <cmath>
#include <utility>

namespace fortitor {

constexpr double cyclesOfClass = 2e6; // that a class is named at

double DamageCurve::kneeRange() const
{
    return detail * std::pow(cyclesOfClass / knee, 1 / slope);
}

double DamageCurve::perCycle(double range) const
{
    const double bend = kneeRange();
    if (!(range > 0))
        return 0;
    if (range >= bend || rule == Below::Straight)
        return std::pow(range / detail, slope) / cyclesOfClass;
    return rule == Below::Cut ? 0 : std::pow(range / bend, below) / knee;
}

Expected<Done> checkCurve(const DamageCurve& curve)
{
    for (const auto& [name, figure] : {std::pair("--class", curve.detail),
                                       {"--slope", curve.slope},
                                       {"--slope-2", curve.below},
                                       {"--knee", curve.knee},
                                       {"--damage-sum", curve.sum}})
        if (!(figure > 0) || !std::isfinite(figure))
            return Problem{name, fmt::format("{:g}", figure), "above zero", {}};
    return Done{};
}

} // namespace fortitor
