// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Hardness by indents: Rockwell, Brinell, Vickers, Knoop (methods basis, "Hardness"). By the option `scale` it is
/// another one: what is read, and the unit of its results.
Method hardness();

/// The figures of a piece or a reference block from its readings. Refused: an unknown scale, a force or ball that is
/// missing, a number that the scale has not, a length of zero or below.
Expected<Outcome> evaluateHardness(const SpecimenInput& input);

/// What the checks on reference blocks say of the pieces read between them.
Expected<Outcome> evaluateHardnessSet(const SetInput& set);

} // namespace fortitor
