// SPDX-License-Identifier: GPL-3.0-or-later
// All that is told of a load history: what is counted, when it hurt most, what the usual assumptions would make of it.
#pragma once

#include "history/spectrum.h"

#include <memory>
#include <utility>
#include <vector>

namespace fortitor {

/// Damage of equal stretches of time, in their order.
struct DamageInTime {
    double seconds = 0; ///< of a stretch: a day, an hour, or a part of a short history
    std::vector<double> damage{}; ///< of the cycles that close in it, over the sum
    double beside = 0; ///< of the residue, where the rule runs it twice: it belongs to no stretch
};

/// The highest and the lowest turning point, by reading.
struct WorstEvent {
    std::uint64_t high = 0, low = 0;
    double highValue = 0, lowValue = 0;
    /// The one that lies further out.
    [[nodiscard]] std::uint64_t at() const { return highValue >= -lowValue ? high : low; }
};

struct HistoryFigures {
    Spectrum spectrum{};
    SpectrumSettings settings{}; ///< with the scale that was worked out
    DamageInTime inTime{};
    WorstEvent worst{};
    double seconds = 0; ///< that the history lasts
    std::optional<double> life{}; ///< s to the damage sum, if it went on like this; nothing without damage
    std::optional<double> rayleighDamage{}; ///< of as many kept cycles with their root mean square, over the sum
    bool stopped = false; ///< by the one who watches the progress: nothing is counted
};

/// The figures of an opened history. What its turning points are by is kept for the histories looked at last, so that
/// another cut or class is told at once. Refused: as readSpectrum.
Expected<std::shared_ptr<const HistoryFigures>> historyFigures(const std::shared_ptr<const HistoryFile>& file,
                                                               const SpectrumSettings& settings);

/// Chance of a range to be exceeded where ranges are Rayleigh's with that root mean square.
double rayleighExceedance(double range, double rms);
/// Mean damage of a cycle there, without the sum. Integrated to 1e-9 of itself.
double rayleighDamage(const DamageCurve& curve, double rms);

/// Damage by the stretch in which each cycle closes; half cycles of the residue by the stretch of their later end.
DamageInTime damageInTime(const LongTurning& turning, double rate, std::uint64_t readings, const Counts& counts,
                          const CountSettings& settings);

/// The figures of a stretch that was read up to its turning points, which stay with it.
Expected<HistoryFigures> figuresOf(const SpectrumPart& part, const SpectrumSettings& settings);

/// Opens files, or gives what is open of them while they are of the same age.
Expected<std::shared_ptr<const HistoryFile>> keptHistory(const std::vector<std::string>& files,
                                                         const HistoryRequest& request);

/// A history that is being worked out somewhere: how far, and whether it is to stop.
struct HistoryWatch {
    double share = -1; ///< below zero: nothing is under way
};
HistoryWatch watchHistory(const HistoryFile& file);
/// What is under way ends soon, with `stopped`.
void stopHistory(const HistoryFile& file);

} // namespace fortitor
