// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Torsion of round bars and tubes (ASTM E143, ISO 7800 for wire): torque against twist and a gauge at
/// 45°. Angles in rad, torques in N·mm, stresses in MPa; shear strains are those of the surface.
Method torsion();
Expected<Outcome> evaluateTorsion(const SpecimenInput& input);
/// Torque of the fully plastic section at Rm/√3; yield where the surface comes to Re/√3.
std::optional<ExpectedMaximum> expectTorsion(const SpecimenInput& input);

} // namespace fortitor
