// SPDX-License-Identifier: GPL-3.0-or-later
// Which hardness tester this desk read a scale on last.
#pragma once

#include "methods/hardness/setting.h"
#include "methods/method.h"

#include <QString>

namespace fortitor {

/// The tester of a piece as it is noted, else the one that its scale was read on last; empty: not known.
QString testerOf(const SpecimenInput& input, const Method& method, const HardnessSetting& setting);

/// From now on that tester reads this scale.
void rememberTester(const QString& tester, const HardnessSetting& setting);

} // namespace fortitor
