// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/proof_point.h"

#include "curve/line_fit.h"
#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr double localStrain = 1e-4; // half width of the local line

/// Least-squares line of the curve within ±localStrain of a point; at least the two neighbours.
LineFit localLine(std::span<const double> x, std::span<const double> y, size_t at)
{
    size_t a = at > 0 ? at - 1 : 0;
    size_t b = std::min(at + 1, x.size());
    while (a > 0 && x[at] - x[a - 1] < localStrain && at - a < 5000)
        --a;
    while (b < x.size() && x[b] - x[at] < localStrain && b - at < 5000)
        ++b;
    return fitLine(x.subspan(a, b - a), y.subspan(a, b - a));
}

} // namespace

std::optional<CurvePoint> offsetPoint(std::span<const double> x, std::span<const double> y, double slope, double origin,
                                      double offset, size_t from)
{
    const auto under = [&](size_t i) { return y[i] < slope * (x[i] - origin - offset); };
    // Of the readings about the crossing most must lie under the line, so that one stray does not count.
    size_t ahead = 0;
    for (size_t i = from; i < x.size(); ++i) {
        if (!under(i))
            continue;
        size_t counted = 0;
        size_t below = 0;
        for (ahead = i; ahead < x.size() && counted < 15; ++ahead, ++counted)
            below += under(ahead);
        if (below * 2 <= counted)
            continue;
        const size_t before = i > 0 ? i - 1 : 0;
        LineFit local = localLine(x, y, i);
        if (local.n <= 3 && i > 0)
            local = fitLine(x.subspan(before, 2), y.subspan(before, 2));
        CurvePoint point;
        point.before = before;
        point.after = i;
        point.tangent = local.slope;
        const double gap = slope - local.slope;
        if (local.n < 2 || !(gap > 0)) {
            point.strain = x[i];
        } else {
            // local: y = m(x − mx) + my meets slope·(x − origin − offset)
            point.strain = (local.meanY - local.slope * local.meanX + slope * (origin + offset)) / gap;
        }
        point.stress = slope * (point.strain - origin - offset);
        return point;
    }
    return std::nullopt;
}

std::optional<CurvePoint> pointAtStrain(std::span<const double> x, std::span<const double> y, double strain)
{
    const size_t i = firstAtLeast(x, 1, strain);
    if (i >= x.size())
        return std::nullopt;
    LineFit local = localLine(x, y, i);
    if (local.n <= 3)
        local = fitLine(x.subspan(i - 1, 2), y.subspan(i - 1, 2));
    return CurvePoint{strain, local.n >= 2 ? local.at(strain) : y[i], i - 1, i, local.slope};
}

} // namespace fortitor
