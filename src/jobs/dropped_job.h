// SPDX-License-Identifier: GPL-3.0-or-later
// Jobs of the simulated drop tower, for the demo and the command line.
#pragma once

#include "jobs/job.h"
#include "sim/dropped_plate.h"

#include <string>

namespace fortitor {

/// A job of that kind without specimens: method, material, mass.
Json droppedJob(const DroppedKind& kind, const std::string& number, const std::string& title);

/// A plate as it was measured and struck from a height, mm; its record is kept apart.
Json droppedSpecimen(const std::string& label, const DroppedPlate& plate, double height);

} // namespace fortitor
