// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "curve/line_fit.h"
#include "methods/common/figures.h"

#include <string>
#include <vector>

namespace fortitor {

/// More readings than these are a record, not steps read by hand.
constexpr size_t mostKeyed = 200;

/// A straight line through stepped readings, and how each of them lies to it.
struct SteppedLine {
    LineFit fit;
    std::vector<double> residual; ///< y − line, in the order given
    double scatter = 0; ///< 1.4826 times the median of |residual|
};

/// Least squares over all readings; fit.n = 0 when there is no line.
SteppedLine lineThrough(const std::vector<double>& x, const std::vector<double>& y);

/// Readings beyond the greatest of three robust deviations, `floor`, and `share` of their own size, by index.
std::vector<size_t> offLine(const SteppedLine& line, const std::vector<double>& y, double floor, double share);

/// Remarks on the order of the steps: load-decreasing, step-repeated. `steps` are the numbers of the readings
/// as a person counts them, from 1; `what` names what is stepped.
void checkSteps(Figures& figures, const std::vector<double>& load, const std::vector<size_t>& steps,
                const std::vector<std::string>& symbols, const std::string& what = "load");

/// "3", "3 and 5", "3, 5 and 8".
std::string stepsText(const std::vector<size_t>& steps);

} // namespace fortitor
