// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/torsion/nadai.h"

#include "curve/line_fit.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {

NadaiSlope nadaiSlope(std::span<const double> twist, std::span<const double> torque, std::size_t at)
{
    NadaiSlope out;
    if (at == 0 || at >= twist.size())
        return out;
    out.readings = 1;
    if (at + 1 < twist.size())
        return out; // what follows is lower: the top itself
    constexpr std::size_t most = 5;
    std::size_t from = at;
    while (from > 0 && at - from + 1 < most && (twist[from - 1] >= 0.5 * twist[at] || from == at))
        --from;
    std::vector<double> x;
    std::vector<double> y;
    for (std::size_t i = from; i <= at; ++i)
        if (twist[i] > 0 && torque[i] > 0) {
            x.push_back(std::log(twist[i]));
            y.push_back(std::log(torque[i]));
        }
    const LineFit line = fitLine(x, y);
    if (!line.valid())
        return out;
    out.slope = std::max(0.0, line.slope) * torque[at] / twist[at];
    out.error = line.n > 2 ? out.slope * line.relativeSlopeError() : 0.3 * out.slope;
    out.readings = line.n;
    return out;
}

} // namespace fortitor
