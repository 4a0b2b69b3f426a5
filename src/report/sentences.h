// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "report/report.h"

namespace fortitor {

std::string limitText(const Requirement& r, const ResultSpec& spec);

} // namespace fortitor
