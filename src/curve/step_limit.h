// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "curve/line_fit.h"

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace fortitor {

/// The limit of proportionality among stepped readings.
struct StepLimit {
    std::size_t begin = 0; ///< first reading after the foot
    std::size_t limit = 0; ///< the last reading on the line
    LineFit line; ///< of deflection on load, over the readings on the line
    std::vector<std::size_t> odd; ///< single readings off the line below the limit; not in the fit
    bool reached = false; ///< readings beyond it are off the line
    bool close = false; ///< the reading at the limit leans off the line itself
    bool lineAtStart = true; ///< the first readings lie on a line at all
};

/// Deflection is regressed on load with a free intercept over the first five readings (or half, if fewer
/// than ten); each next one is tested against the fit without it, one-sided: it is off when it has too much
/// deflection by more than the greatest of 3·1.4826·MAD, 1.5 % of its deflection, and one `division` of the
/// dial. The limit is the last reading before two in a row that are off; the very last one alone counts. A
/// foot of up to two readings is left out first. More than 400 rows are a record: the limit is sought among
/// 200 means, the line fitted over all rows up to it. Nothing with fewer than three readings or no spread of load.
std::optional<StepLimit> findStepLimit(std::span<const double> load, std::span<const double> deflection,
                                       double division);

/// The same line with the limit put at a reading by hand.
std::optional<StepLimit> stepLimitAt(std::span<const double> load, std::span<const double> deflection, double division,
                                     std::size_t limit);

} // namespace fortitor
