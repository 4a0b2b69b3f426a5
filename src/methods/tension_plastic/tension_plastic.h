// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Tension of plastics and printed bars (ISO 527-1, -2; ASTM D638).
Method tensionPlastic();

Expected<Outcome> evaluateTensionPlastic(const SpecimenInput& input);

/// few-specimens for each print direction with fewer than five bars, where a set has several directions.
Expected<Outcome> checkPlasticSet(const SetInput& set);

} // namespace fortitor
