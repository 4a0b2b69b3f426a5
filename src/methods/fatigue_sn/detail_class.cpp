// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/detail_class.h"

namespace fortitor {

std::optional<double> classOf(double range)
{
    static constexpr double series[] = {36, 40, 45, 50, 56, 63, 71, 80, 90, 100, 112, 125, 140, 160};
    std::optional<double> reached;
    for (const double one : series)
        if (range >= one)
            reached = one;
    return reached;
}

} // namespace fortitor
