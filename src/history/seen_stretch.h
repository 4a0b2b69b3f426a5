// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "history/figures.h"

namespace fortitor {

/// A stretch after each step of the chain, turning points and what the cut leaves of them. Places are readings from its
/// start; figures as they are counted.
struct SeenStretch {
    ChainStretch chain{};
    double rate = 0; ///< Hz
    double cut = 0;
    std::vector<double> turningAt{}, turning{}, keptAt{}, kept{};
    bool alone = false; ///< the trend was told from the hours about it: the whole has it otherwise settled, or not yet
};

/// With settings that the whole may not have been worked out with yet: what of them is known of `whole` is taken from
/// there. Refused: as stretchOf and runChain.
Expected<SeenStretch> seenStretch(const HistoryFile& file, const HistoryFigures& whole,
                                  const SpectrumSettings& settings, std::uint64_t from, size_t count);

} // namespace fortitor
