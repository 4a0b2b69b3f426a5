// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"
#include "plan/load_train.h"

#include <vector>

namespace fortitor {

constexpr double calibratedFrom = 0.02; ///< of a cell's capacity

/// A quantity of one of the job's instruments; 0 where it is not known.
double toolFigure(const Json& job, const char* tool, const char* key, Kind kind);

/// The load train that the job names under "instruments", links of unknown capacity left at 0.
std::vector<TrainLink> trainOf(const Json& job, const Method& method);

} // namespace fortitor
