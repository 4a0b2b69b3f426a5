// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

#include <QString>

#include <vector>

namespace fortitor {

/// The demo's lug of the rigger under cyclic load: eleven of fourteen pieces are run.
std::vector<Json> demoFatigue();

/// The piece that was watched while it ran, and its record.
constexpr size_t demoWatched = 4;
Record demoCrack(const Json& job);

/// Strain at that lug over a morning on the water and one on the road: the files are written into a folder beside the
/// logbook. Refused: where they can't be.
Expected<Json> demoHistories(const QString& logbook);

} // namespace fortitor
