// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>

namespace fortitor {

/// Where a maximum stands: the middle of the stretch over which y can't be told from its top.
struct FlatTop {
    double x = 0;
    double half = 0; ///< half of the stretch, units of x: the truth lies within ±half in 95 of 100 and more
};

/// Looks about the reading `top`, down to a fiftieth below it. y is freed of its noise by local quadratics and
/// means whose width follows the stretch found, a seventh of it to either side; a place belongs to the stretch when
/// y there lies no further below the greatest than the noise of both allows, the more so the more places
/// there are to choose from. No law of the curve is assumed: flat, lopsided and kinked tops are alike. A curve that
/// climbs into the end of the readings has its top there.
FlatTop findFlatTop(std::span<const double> x, std::span<const double> y, std::size_t top, double noise);

} // namespace fortitor
