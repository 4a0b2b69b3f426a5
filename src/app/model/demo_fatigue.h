// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

#include <vector>

namespace fortitor {

/// The demo's lug of the rigger under cyclic load: eleven of fourteen pieces are run.
std::vector<Json> demoFatigue();

} // namespace fortitor
