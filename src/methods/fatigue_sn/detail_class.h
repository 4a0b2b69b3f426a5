// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/fatigue_sn/sn_line.h"

#include <optional>

namespace fortitor {

/// As detail classes are drawn: a tolerance bound, 75 % confidence, 95 % survival, at 2·10⁶ cycles.
inline constexpr SnBound classBound{SnBound::By::Tolerance, 0.75, 0.95};
inline constexpr double classCycles = 2e6;

/// The highest class of the usual series (36 to 160 MPa) that the range is not below; nothing under the lowest.
std::optional<double> classOf(double range);

} // namespace fortitor
