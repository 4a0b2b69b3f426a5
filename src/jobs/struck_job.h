// SPDX-License-Identifier: GPL-3.0-or-later
// Jobs of the simulated pendulum, for the demo and the command line.
#pragma once

#include "jobs/job.h"
#include "sim/struck_piece.h"

#include <cstdint>
#include <optional>
#include <string>

namespace fortitor {

/// A job of that kind without specimens: method, material, options.
Json struckJob(const StruckKind& kind, const std::string& number, const std::string& title);

/// A piece as it was measured, and struck where a temperature says so, °C.
Json struckSpecimen(const StruckKind& kind, const std::string& label, std::optional<double> temperature,
                    std::uint64_t seed);

} // namespace fortitor
