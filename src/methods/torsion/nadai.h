// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>

namespace fortitor {

/// The slope of the torque on the twist at one reading.
struct NadaiSlope {
    double slope = 0; ///< N·mm/rad
    double error = 0; ///< standard
    std::size_t readings = 0;
};

/// dT/dθ at reading `at` for Nádai's correction, twist in rad, torque in N·mm. A maximum with lower readings
/// behind it has a slope of zero. Else T/θ times the slope of ln T on ln θ over the last readings (up to five
/// within the last half of the twist), which is exact for a power law; never below zero.
NadaiSlope nadaiSlope(std::span<const double> twist, std::span<const double> torque, std::size_t at);

} // namespace fortitor
