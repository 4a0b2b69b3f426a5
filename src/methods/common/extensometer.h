// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/row_view.h"

#include <cstddef>
#include <optional>
#include <span>

namespace fortitor {

/// Where an extensometer stops following the specimen for good: it stands still, runs back or runs
/// away while the crosshead goes on. Looks at [from, to). Nothing when it follows to the end.
std::optional<size_t> findExtensometerOff(std::span<const double> extension, const RowView& crosshead, size_t from, size_t to, double noise);

/// The same without a crosshead: the extension stands still to the end while the force goes on by more
/// than a hundredth of its greatest. A hold, where both stand still, is none.
std::optional<size_t> findFrozen(std::span<const double> extension, std::span<const double> force, size_t from, size_t to, double noise, double forceNoise);

struct Slip {
    size_t at = 0;
    double step = 0; ///< mm
};

/// A lasting step in the extension of more than 5 noise widths (and 0.5 µm) that no event in the
/// force goes with, and that is far more than the crosshead moves in that time (empty: not known).
/// Looks at [from, to); the largest one is given.
std::optional<Slip> findSlip(std::span<const double> extension, std::span<const double> force, const RowView& crosshead, size_t from, size_t to, double noise, double forceNoise);

} // namespace fortitor
