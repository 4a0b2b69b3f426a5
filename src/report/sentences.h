// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "report/report.h"

namespace fortitor {

std::string limitText(const Requirement& r, const ResultSpec& spec);

/// The single readings of a specimen with what was set aside, and each zone with its statistics: a line each.
std::vector<std::string> readingLines(const Outcome& outcome);

} // namespace fortitor
