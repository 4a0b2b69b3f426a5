// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

#include <QString>

namespace fortitor {

/// Figures that change by more than a hundred-thousandth, as an HTML table: symbol, before, after, change.
QString beforeAfter(const Method& method, const Outcome& before, const Outcome& after);

} // namespace fortitor
