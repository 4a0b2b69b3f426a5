// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"
#include "record/record.h"

#include <optional>
#include <vector>

namespace fortitor {

/// A job with the records of its specimens, in their order.
struct DemoJob {
    Json job;
    std::vector<std::optional<Record>> records;
};

/// The demo's shell plates: struck with five energies, then compressed; `tools` of the compression.
std::vector<DemoJob> demoPlates(const Json& tools);

} // namespace fortitor
