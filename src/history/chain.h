// SPDX-License-Identifier: GPL-3.0-or-later
// From readings to turning points: repair, trend, low-pass. Windows are held, never the history.
#pragma once

#include "history/detrend.h"
#include "history/end_of_range.h"
#include "history/repair.h"
#include "history/source.h"
#include "history/long_turning.h"

#include <optional>

namespace fortitor {

struct ChainSettings {
    bool spikes = true; ///< are taken out; gaps are bridged in any case
    double detrend = 3600; ///< s of a piece; 0: none
    double lowPass = 2; ///< Hz; 0: none
    double scale = 1; ///< from a reading to what is counted
    std::optional<double> spikeLimit{}; ///< of a reading; nothing: told from the history
    std::uint64_t first = 0, count = 0; ///< readings that are its own, the others stand beside them; count 0: all
    size_t threads = 0; ///< 0: one a core
    size_t inMemory = LongTurning::usual; ///< turning points; the rest goes to a temporary file
    Progress progress{};
};

/// What the chain found on its way. Figures after `scale`.
struct ChainFound {
    std::uint64_t readings = 0, repaired = 0; ///< its own
    double rate = 0; ///< Hz
    double spikeLimit = 0; ///< size of reading less median; 0: none was looked for
    std::vector<double> joints{}, trend{}; ///< readings and level of the trend's joints
    double mean = 0; ///< of the trend: what was put aside
    Extreme top{}, bottom{};
    SpikeCounts spikes{}; ///< of readings less median, by size; before `scale`
    bool stopped = false; ///< by the one who watches the progress
};
struct ChainOutcome : ChainFound {
    LongTurning turning{};
};

/// Three times over the history where spikes and trend are looked for: the first tells how large a spike is, the second
/// the trend, the third does the rest. The same figures whatever the threads. Refused: a low-pass that reaches half of
/// the rate, more readings than 2³², a source in trouble, a disk without room for
/// turning points that do not fit into memory.
Expected<ChainOutcome> runChain(const HistorySource& source, double rate, const ChainSettings& settings);

/// What a stretch looks like after each step, for a picture: as the whole history has it.
struct ChainStretch {
    std::uint64_t from = 0;
    std::vector<double> raw{}, repaired{}, detrended{}, filtered{};
};
/// `found`: of a run over the whole. Figures after `scale`.
Expected<ChainStretch> stretchOf(const HistorySource& source, const ChainSettings& settings, const ChainFound& found,
                                 std::uint64_t from, size_t count);

} // namespace fortitor
