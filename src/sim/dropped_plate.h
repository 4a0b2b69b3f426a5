// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/record.h"

#include <cstdint>
#include <map>
#include <string>
#include <string_view>

namespace fortitor {

/// A plate under the drop tower. N, mm, kg, s.
struct DroppedKind {
    std::string_view name{"shell-plate-drop"}, words{"shell plate under the drop weight, with ringing of the striker"};
    std::string_view material{"carbon/epoxy fabric"};
    double thickness = 4.2;
    double mass = 5.5;
    double stiffness = 2300, power = 1.25; ///< force = stiffness·deflection^power
    double damageAt = 8200; ///< N; the first sudden loss
    double lost = 0.17; ///< share of the force that goes with it
    double kept = 0.32; ///< share of the deflection that stays
    double ringing = 5200, damping = 0.03; ///< Hz; of the cell in the striker
    double noise = 35; ///< N
    double rate = 100000; ///< readings a second
    double length = 10e-3; ///< s of the record
};

struct DroppedPlate {
    Record record;
    double thickness = 0; ///< mm, as measured
    double speed = 0; ///< m/s at the contact
    double dent = 0, dentRelaxed = 0, damageLength = 0, damageWidth = 0; ///< mm
    std::map<std::string, double>
        truth; ///< symbol → base value: F_max, F_1, d_at_max, E_at_max, E_a, E_i, v_i, t_contact
};

/// One blow from a height, mm. The record is what a resonant cell shows of the contact force; the truth is that of the
/// force itself.
DroppedPlate dropOn(const DroppedKind& kind, double height, std::uint64_t seed);

/// What is left of a plate's strength after a blow of that energy, as a share.
double leftAfter(double energy);

} // namespace fortitor
