// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Losses of a pendulum over the days, held against half a per cent of it, and against each other (chart of individuals,
/// ISO 7870-2). J.
DailyJudged judgeSwings(std::span<const DailyValue> swings, const SpecimenInput& input, const std::string& today);

} // namespace fortitor
