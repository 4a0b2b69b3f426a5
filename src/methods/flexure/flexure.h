// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Bending on two supports, three or four points: wood first of all (ASTM D143, D198, ISO 13061), keyed steps
/// of load and dial or a record.
Method flexure();

Expected<Outcome> evaluateFlexure(const SpecimenInput& input);
/// The load at the published MOR.
std::optional<ExpectedMaximum> expectFlexure(const SpecimenInput& input);

} // namespace fortitor
