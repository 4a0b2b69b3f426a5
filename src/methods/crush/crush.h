// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Crush of hollow pieces: thin shells, tubes, cans, blocks of foam. Force and shortening count as positive.
Method crush();

Expected<Outcome> evaluateCrush(const SpecimenInput& input);

} // namespace fortitor
