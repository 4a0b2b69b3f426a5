// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/setting.h"

#include <map>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// What a tester may be off by on a reference block.
struct BlockLimits {
    double error = 0; ///< of the mean, in numbers of the scale
    double spread = 0; ///< of greatest and least
};

/// By scale and level; of Brinell and Vickers in proportion, of Vickers by the size of the indent (mm). Starting values
/// after the practice of verification; a laboratory states its own.
BlockLimits blockLimits(const HardnessScale& scale, double number, double across);

/// The same by the options of a piece, where they state them; the size by its number.
Expected<BlockLimits> blockLimitsOf(const SpecimenInput& input, const HardnessSetting& setting, double number);

/// A line of a laboratory's own table.
struct OwnLimit {
    std::string scale; ///< "HRC"; of a ball in the W form
    double upTo = 0; ///< number of the block
    double error = 0, spread = 0;
    std::string source;
};
/// The line that holds for a block: the lowest level of its scale that reaches it.
std::optional<OwnLimit> ownLimitFor(std::span<const OwnLimit> table, std::string_view scale, double number);
/// The options of a piece that state it.
std::map<std::string, std::string> limitOptions(const OwnLimit& limit);
/// The number that is stamped on a block, as it is noted; empty of a piece.
std::string stampedOn(const SpecimenInput& input);
/// The starting values as such a table, for Rockwell scales and Brinell.
std::vector<OwnLimit> startingLimits();

} // namespace fortitor
