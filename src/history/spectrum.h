// SPDX-License-Identifier: GPL-3.0-or-later
// A load history from its files to what is counted of it, whole or in stretches that are worked apart.
#pragma once

#include "history/chain.h"
#include "history/counts.h"
#include "judge/remark.h"

namespace fortitor {

struct SpectrumSettings {
    ChainSettings chain{}; ///< its scale is worked out
    CountSettings counts{};
    double bridge = 1; ///< from a bridge's reading to strain
    std::optional<double> modulus{}; ///< MPa, from strain to stress
    bool classGiven = false; ///< else the usual one is taken
};

/// A stretch of a history, up to its turning points.
struct SpectrumPart {
    ChainOutcome chain{};
    const Unit* unit = nullptr; ///< of what is counted
    double scale = 1;
    double nearFilter = 0; ///< share of the power that lies near the low-pass
    bool before = false, after = false; ///< worked with the readings beside it
    std::vector<std::string> notes{};
};

struct Spectrum {
    ChainFound chain{}; ///< of all parts together
    Counts counts{};
    const Unit* unit = nullptr;
    std::vector<Remark> remarks{};
};

/// A history with what stands beside it: the trend forgets what lies sixteen joints away to 1e-9. `chain.first` and
/// `chain.count` are set to the middle file's readings. Refused: other rates or units.
Expected<HistoryFile> withNeighbours(const HistoryFile& file, const HistoryFile* before, const HistoryFile* after,
                                     ChainSettings& chain);

/// Stress where the readings are one or a modulus is given, else strain in the readings' unit. Refused: what the chain
/// refuses, a modulus for readings that are a stress.
Expected<SpectrumPart> readPart(const HistoryFile& file, const SpectrumSettings& settings);

/// Counts stretches as one history, in their order; without damage where ranges are strains. Refused: what the counting
/// refuses, a cut in a unit of another kind; of several parts other rates or scales, a stretch that does not begin on a
/// joint of the trend, one worked without its neighbours, and a spike limit that the whole would have set otherwise.
Expected<Spectrum> countParts(std::span<const SpectrumPart> parts, const SpectrumSettings& settings);

/// Both, of a whole history.
Expected<Spectrum> readSpectrum(const HistoryFile& file, const SpectrumSettings& settings);

} // namespace fortitor
