// SPDX-License-Identifier: GPL-3.0-or-later
// Simulated pieces under cyclic load as a job file has them.
#pragma once

#include "jobs/job.h"
#include "sim/fatigue_piece.h"

#include <string>

namespace fortitor {

/// A job on a kind of detail, without specimens.
Json fatigueJob(const FatigueKind& kind, const std::string& number, const std::string& title);
/// A piece planned at a level, MPa; its size near the nominal one.
Json fatigueSpecimen(const FatigueKind& kind, const std::string& label, double range, std::uint64_t seed);
/// Runs it to its end with the stops of the job: readings and notes.
void runFatigueSpecimen(const FatigueKind& kind, Json& specimen, double range, double runOut, std::uint64_t seed);

} // namespace fortitor
