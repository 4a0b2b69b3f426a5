// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

#include <vector>

namespace fortitor {

/// The demo's jobs of hardness, the newest first, with what the simulated testers read.
std::vector<Json> demoHardness();

} // namespace fortitor
