// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>

namespace fortitor {

/// Where a drive was turned back.
struct Turn {
    size_t first = 0; ///< from here on it stood within its noise of where it turned
    size_t last = 0; ///< the last reading there
};

/// The place where the way (crosshead, ram, or strain; rising while the load is put on) turns back for good: by more
/// than six times its `noise` (noiseOfDrive) and 0.3 % of its range. Nothing when it goes on or stands to the end.
std::optional<Turn> findTurn(std::span<const double> way, size_t from, double noise);

/// Whether a fall of the force that begins at `last` is the load being taken off: the way goes back by so
/// much that no more than three times the steepest stiffness of the climb explains the fall, over more than a reading
/// or on behind it.
bool fallsByGoingBack(std::span<const double> force, std::span<const double> way, double noise, size_t from,
                      size_t last);

/// The steepest climb of the force over the way within [from, last], each over the shortest stretch that sees past
/// `noise` of the way; 0 where it does not move.
double steepestClimb(std::span<const double> force, std::span<const double> way, double noise, std::size_t from,
                     std::size_t last);

/// The same told from a strain alone: at least four readings of the fall lie on a line whose slope is that
/// of the climb, within a factor of 2.5; of two or three each lies on the line down from the top. A bar that breaks
/// springs back too, but is not seen on its way.
bool fallsAlongUnloading(std::span<const double> force, std::span<const double> strain, double noise, size_t from,
                         size_t last);

/// The same told from the force alone: a straight fall that takes eight readings and a hundredth of the climb.
bool fallsSteadily(std::span<const double> force, size_t from, size_t last);

} // namespace fortitor
