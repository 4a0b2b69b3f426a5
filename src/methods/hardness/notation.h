// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/indent.h"

#include <string>

namespace fortitor {

/// "333 HV 10", "215 HBW 10/3000", "640 HV 30/20", "44.0 HRC": whole numbers from 100, one decimal below and for
/// Rockwell; force in nominal kgf; the dwell only where it lies outside 10 to 15 s.
std::string hardnessNotation(const HardnessScale& scale, double number, const Pressed& pressed);

/// The nominal force nearest to one in N, in kgf; the force itself where none lies within 1 %.
double nominalForce(double newton, HardnessScale::By by);

} // namespace fortitor
