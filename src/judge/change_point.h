// SPDX-License-Identifier: GPL-3.0-or-later
// Whether and where a course of readings changes, with the chance that noise alone looks like it.
#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <utility>

namespace fortitor {

/// A place where the course changes its slope.
struct ChangePoint {
    double at = 0; ///< in x
    std::pair<double, double> within{}; ///< 95 % interval of it
    double before = 0, after = 0; ///< slope on either side
    double noise = 0; ///< standard deviation about the course
    double falseAlarm = 1; ///< chance of as much from noise alone that hangs together as this does
};

/// The greatest change of slope of a course that is straight (`degree` 1) or curved (2) but for it. The chance comes
/// from 999 courses without a change, drawn with the residuals' own correlation from one reading to the next
/// (autoregressive of first order); the same readings give the same chance. x rising; 12 to 512 readings, all finite:
/// bin longer ones before. What jumps at `jumps` (places in x) is fitted with the course, of whatever size. Nothing of
/// fewer readings, or where the residuals are nothing but rounding.
std::optional<ChangePoint> greatestChange(std::span<const double> x, std::span<const double> y, int degree = 1,
                                          std::span<const double> jumps = {});

} // namespace fortitor
