// SPDX-License-Identifier: GPL-3.0-or-later
// Extensometers laid over a measured field of displacements.
#pragma once

#include "record/record.h"
#include "units/expected.h"

#include <string>
#include <vector>

namespace fortitor {

/// Where they are laid: across the toe, side by side along it. mm.
struct ToeGauges {
    enum class Across { X, Y } across = Across::Y; ///< the direction of the load
    double toe = 0; ///< where the toe runs, on that axis
    double length = 2; ///< half of it on either side of the toe
    std::vector<double> along{}; ///< a place each on the other axis; at most eight
};
/// "y = 12 mm", "2 mm", "0, 5, 10 mm". Refuses what can't be read, a length that is not above zero, more than eight
/// places, none.
Expected<ToeGauges> readGauges(const std::string& toe, const std::string& length, const std::string& along);

/// Whether the file begins as such a field: columns cycles, x, y, u, v.
bool looksLikeField(const std::string& path);

/// A record of cycles, strain, strain_2 … from a grid in text: a row a point, of each picture all points, lengths in
/// mm unless the header says otherwise. Between points of the grid by straight lines both ways; a gauge with a foot off the
/// grid, or at a point that was lost, has a gap. Refused: columns that are missing, no grid, no gauge with a reading.
Expected<Record> recordOfField(const std::string& path, const ToeGauges& gauges);

} // namespace fortitor
