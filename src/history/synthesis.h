// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"
#include "units/unit.h"

#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// Peak-to-valley and valley-to-peak counts, rows from, columns to, over the same levels.
struct Transitions {
    std::span<const double> levels{}, peakToValley{}, valleyToPeak{};
};

/// Turning points drawn one from the other with the chances of the counted transitions, `count` of them; levels are
/// those of the classes. The same seed gives the same points. Refused: fewer than two points, counts without a
/// transition each way.
Expected<std::vector<double>> synthesise(const Transitions& counted, std::uint64_t count, std::uint64_t seed);

/// Puts the slow trend of a history back under points drawn of it, spread over the whole of it.
void addTrend(std::span<double> points, std::span<const double> trend, std::span<const double> joints);

/// A turning point a line, under a header with its unit: readBlock takes it.
std::string pointsCsv(std::span<const double> points, const Unit& unit);

} // namespace fortitor
