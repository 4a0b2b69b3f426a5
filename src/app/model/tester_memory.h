// SPDX-License-Identifier: GPL-3.0-or-later
// What this desk remembers of its hardness testers: which one reads a scale, and what was fitted to it last.
#pragma once

#include "methods/hardness/setting.h"
#include "methods/method.h"

#include <QString>

namespace fortitor {

/// The tester of a piece as it is noted, else the one that its scale was read on last; empty: not known.
QString testerOf(const SpecimenInput& input, const Method& method, const HardnessSetting& setting);

/// Another indenter, ball or force than that tester was read with last, on a scale that has to be seated.
bool fittedOtherwise(const SpecimenInput& input, const Method& method, const HardnessSetting& setting);

/// From now on that tester reads this scale, with what is fitted.
void rememberTester(const QString& tester, const HardnessSetting& setting);

} // namespace fortitor
