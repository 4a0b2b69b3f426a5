// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/analysis.h"

namespace fortitor {

/// A figure that is only a bound meets a lower limit that it lies above, breaks an upper one that it lies above, and
/// leaves the rest open.
Check checkResult(const Requirement& requirement, const Result* r);

/// Whether a symbol is one of the set, not of a specimen.
bool ofSet(const Method& method, const std::string& symbol);

} // namespace fortitor
