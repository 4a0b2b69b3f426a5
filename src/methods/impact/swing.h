// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/uncertainty.h"
#include "methods/impact/geometry.h"
#include "methods/method.h"

#include <optional>

namespace fortitor {

constexpr double lossShare = 0.005; // of the pendulum's energy: the most that a free swing may lose

/// The pendulum as the options tell it. Angles in rad from hanging straight down.
struct Pendulum {
    double energy = 0; ///< J, its name
    std::optional<double> release{}; ///< angle α
    std::optional<double> moment{}; ///< m·g·l, J
    std::optional<double> loss{}; ///< over a full swing, J
    bool subtract = false; ///< the loss is taken off, else only checked
    double resolution = 0; ///< of its scale, J; 0: not known
    double mass = 0, arm = 0; ///< kg, mm; 0: not stated

    /// What it has at the lowest point by mass, arm and angle, where they are known.
    [[nodiscard]] std::optional<double> available() const;
    /// How high it rises after a loss of `energy`; nothing where that can't be told.
    [[nodiscard]] std::optional<double> riseAfter(double energy) const;
};

/// Refused: no pendulum, figures at or below zero, an angle beyond 180°.
Expected<Pendulum> pendulumOf(const SpecimenInput& input, const ImpactGeometry& geometry);

/// Energy of a reading on the dial, or of the rise angle, without and with the loss put right.
struct SwingEnergy {
    Term read; ///< as the dial shows it
    Term absorbed;
    std::optional<double> rise{}; ///< rad
};
/// K = reading − p·(α + β)/(2α) where the loss is taken off. Refused: the angles are needed and not known.
Expected<SwingEnergy> energyFromDial(const Pendulum& pendulum, double reading);
/// m·g·l·(cos β − cos α). Refused: a rise beyond the release, figures that are not known.
Expected<SwingEnergy> energyFromRise(const Pendulum& pendulum, double rise, double step);

} // namespace fortitor
