// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "history/damage.h"

#include <string>
#include <utility>
#include <vector>

namespace fortitor {

/// A block of variable amplitude as a frame runs it over and over: its ranges, MPa, with how often each comes.
struct LoadBlock {
    std::vector<std::pair<double, double>> cycles{};
    double greatest = 0; ///< MPa
    double count = 0; ///< cycles of a block, halves as halves
};

/// From a block program (a header with "cycles" and "range"), or from turning points, one a line: these are counted by
/// rainflow, the residue as half cycles. Refused: a file that is not there, no cycle, a unit that is none of stress,
/// what is no number.
Expected<LoadBlock> readBlock(const std::string& path);

/// Damage of a block whose ranges are all multiplied, without the curve's sum.
double blockDamage(const LoadBlock& block, const DamageCurve& curve, double factor = 1);

} // namespace fortitor
