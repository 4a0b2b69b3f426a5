// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

#include <vector>

namespace fortitor {

/// The demo's jobs of the pendulum, the newest first.
std::vector<Json> demoImpact();

} // namespace fortitor
