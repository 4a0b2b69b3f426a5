// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Tension of fibre composites (ISO 527-4, -5; ASTM D3039).
Method tensionComposite();

Expected<Outcome> evaluateTensionComposite(const SpecimenInput& input);

/// grip-failures: more than half of a set broke at the grips or tabs.
Expected<Outcome> checkCompositeSet(const SetInput& set);

} // namespace fortitor
