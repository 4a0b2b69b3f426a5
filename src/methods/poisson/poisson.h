// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Poisson's ratio by strain gauges, at holds of equal steps well under yield (ASTM E132).
Method poisson();

Expected<Outcome> evaluatePoisson(const SpecimenInput& input);

} // namespace fortitor
