// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/drop_weight/losses.h"

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace fortitor {

/// One contact of the striker with the plate, as the force shows it. Times in s of the record; readings by their index.
struct Contact {
    double start = 0; ///< where the foot's power law meets zero
    std::optional<double> end{}; ///< nothing where the record ends before the force does
    size_t first = 0, last = 0; ///< the readings in it, both counted
    double noise = 0; ///< of a reading, N
    std::optional<double> ringing{}; ///< its period, s
    double ringingSize = 0; ///< N, about the peak
    double peakTime = 0;
    double peak = 0; ///< N, without ringing
    double peakDoubt = 0; ///< N, standard
    size_t top = 0; ///< the highest reading
    double raw = 0; ///< that reading, N
    std::vector<SuddenLoss> losses{};
    double deepestFall = 0; ///< of the readings themselves on the way up, as a share of the force before it
    std::vector<double> smooth{}; ///< the force without ringing, from `first` to `last`
    double window = 0; ///< s that were fitted at once for it
    std::optional<double> otherTop{}; ///< s; a top as high as the peak elsewhere
    std::optional<double> second{}; ///< s; another contact, before or after
};

/// The contact in a force record (methods basis, "Drop weight"), N over s, evenly spaced. Nothing where no force stands
/// clear of the noise.
std::optional<Contact> findContact(std::span<const double> time, std::span<const double> force);

/// Speed, way and energy of the striker from the start of a contact on.
struct Flight {
    std::vector<double> time, force, speed, way, energy; ///< s, N, m/s down, mm, J given to the plate
    [[nodiscard]] double at(const std::vector<double>& what, double when) const; ///< between the readings
};

/// a = g − F/m, integrated by trapezoids from where the force is zero. `mass` in kg, `speed` in m/s at the start.
Flight integrateFlight(std::span<const double> time, std::span<const double> force, const Contact& contact, double mass,
                       double speed);

} // namespace fortitor
