// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"

namespace fortitor {

/// Cycles to failure over the range, as detail classes are drawn: class at 2·10⁶, a knee, and what is below it.
struct DamageCurve {
    double detail = 71; ///< MPa
    double slope = 3;
    double below = 5; ///< slope below the knee, where it bends
    double knee = 5e6; ///< cycles
    enum class Below { Bent, Straight, Cut } rule = Below::Bent;
    double sum = 1; ///< damage at which it is taken to fail

    /// MPa at the knee.
    [[nodiscard]] double kneeRange() const;
    /// Part of its life that one cycle of that range takes, without `sum`.
    [[nodiscard]] double perCycle(double range) const;
};
/// Refuses figures that are not above zero.
Expected<Done> checkCurve(const DamageCurve& curve);

} // namespace fortitor
