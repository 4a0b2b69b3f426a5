// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// What stands out in a row of single values over time.
struct ChartSignal {
    enum class Kind {
        Beyond, ///< one value beyond a limit
        Side, ///< nine running on one side of the mean
        Trend ///< six running that rise, or fall
    };
    Kind kind = Kind::Beyond;
    size_t at = 0; ///< the value that completes it
};

/// Chart of individuals (ISO 7870-2): mean and limits three standard deviations away, the deviation from the mean moving
/// range of two, /1.128.
struct IndividualsChart {
    double mean = 0, lower = 0, upper = 0;
    double sigma = 0;
    std::vector<ChartSignal> alarms{}; ///< in the order of time; of a run that goes on each further value too
};

/// Of fewer than two values there are no limits, and no signals. Values that are not finite are refused with
/// std::invalid_argument.
IndividualsChart individualsChart(std::span<const double> values);

} // namespace fortitor
