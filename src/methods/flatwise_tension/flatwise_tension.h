// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Flatwise tension of sandwich panels (ASTM C297).
Method flatwiseTension();

Expected<Outcome> evaluateFlatwiseTension(const SpecimenInput& input);

} // namespace fortitor
