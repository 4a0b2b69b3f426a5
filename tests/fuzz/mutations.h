// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"
#include "sim/random.h"

#include <string>
#include <vector>

namespace fortitor::test {

/// Jobs that hold every key the application writes, without records in files.
std::vector<Json> everyKeyJobs();

/// Every place of a job, as JSON pointers, the root left out.
std::vector<std::string> placesOf(const Json& job);

/// What a place may become: nothing at all, null, each other type, empty, huge, negative, deep.
constexpr size_t mutationKinds = 18;
Json mutated(const Json& job, const std::string& place, size_t kind);

/// One or more places changed at random.
Json mutatedAtRandom(const Json& job, Random& random);

} // namespace fortitor::test
