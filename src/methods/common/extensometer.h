// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>

namespace fortitor {

/// Where an extensometer stops following the specimen for good while the crosshead (rising) goes on: it comes to
/// stand still, runs back or away; or it leaps, and what it shows from there on no longer grows with the crosshead.
/// Looks at [from, to). Nothing when it follows to the end.
std::optional<size_t> findExtensometerOff(std::span<const double> extension, std::span<const double> crosshead,
                                          size_t from, size_t to, double noise);

/// The same without a crosshead: the extension stands still to the end while the force goes on by more
/// than a hundredth of its greatest. A hold, where both stand still, is none.
std::optional<size_t> findFrozen(std::span<const double> extension, std::span<const double> force, size_t from,
                                 size_t to, double noise, double forceNoise);

struct ExtensometerSlip {
    size_t at = 0;
    double step = 0; ///< mm
};

/// A lasting step in the extension of more than 5 noise widths (and 0.5 µm), between lines through the readings
/// before and behind it, that no event in the force goes with. Both are held against the crosshead (empty: against
/// the readings' number), so that a change of speed makes no step. Looks at [from, to); the largest one is given.
std::optional<ExtensometerSlip> findSlip(std::span<const double> extension, std::span<const double> force,
                                         std::span<const double> crosshead, size_t from, size_t to, double noise,
                                         double forceNoise);

} // namespace fortitor
