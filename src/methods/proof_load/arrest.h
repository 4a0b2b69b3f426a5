// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/outcome.h"
#include "units/expected.h"

#include <optional>

namespace fortitor {

/// A mass that is stopped over a way. kg, m/s, m, m/s², N/m.
struct ArrestCase {
    double mass = 0, speed = 0;
    std::optional<double> distance{}; ///< over which it is stopped; nothing: by the stiffness
    std::optional<double> stiffness{}; ///< of what stops it, as the test showed it
    double slack = 0; ///< free way before the stop
    double drive = 0; ///< acceleration on a level slack; a vertical one falls
    bool vertical = false;
};

struct ArrestForce {
    double peak = 0, mean = 0; ///< N
    double speed = 0; ///< m/s where the stop begins
    double distance = 0; ///< m
};

/// Over a stated way: mean m·v²/(2s), peak of a spring-like stop twice that; a vertical one adds m·g to the mean and 2m·g
/// to the peak. By a stiffness: the way follows from the energy. Refused: figures at or below zero, and a stop that has
/// neither a way nor a stiffness.
Expected<ArrestForce> arrestForce(const ArrestCase& given);

/// N/m as the test of a part showed it; nothing where it gave none.
std::optional<double> stiffnessOf(const Outcome& outcome);

} // namespace fortitor
