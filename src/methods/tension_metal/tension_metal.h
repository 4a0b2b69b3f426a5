// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Tension of metals (ISO 6892-1, ASTM E8/E8M, E111).
Method tensionMetal();

Expected<Outcome> evaluateTensionMetal(const SpecimenInput& input);

} // namespace fortitor
