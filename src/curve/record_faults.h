// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <functional>
#include <optional>
#include <span>
#include <vector>

namespace fortitor {

/// Where a channel stood at the end of its range: rows [begin, end) hold its greatest value to the digit.
struct Clipped {
    size_t begin = 0;
    size_t end = 0;
};

/// An abrupt flat at the greatest value of `y` while the travel goes on as before. The top of a real curve, also a
/// coarsely quantised one, is reached ever more slowly: a parabola takes 1/(√2 - 1) = 2.4 times as long for the last
/// stretch below its top as for one of the same height before; or, with noise above the steps of the channel, it
/// wavers. A pause (travel stands) is none either. The travel is asked for
/// only where there is such a flat; without one it is not judged, since a held load looks the same.
std::optional<Clipped> findClipped(std::span<const double> y, const std::function<std::vector<double>()>& travelOf);

enum class TimeFault { Backwards, Standing, Leaping };

struct TimeDisorder {
    TimeFault fault;
    size_t at = 0; ///< the first row that is out of order
    size_t count = 0; ///< how many are
};

/// Time that runs backwards or starts again, never moves, or leaps over more than half of its
/// whole span between two rows. Rows without a time (NaN) are passed over. A coarse clock that repeats itself and
/// then goes on is in order.
std::optional<TimeDisorder> findTimeDisorder(std::span<const double> time);

} // namespace fortitor
