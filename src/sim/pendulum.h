// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "frame/pendulum.h"
#include "units/expected.h"

namespace fortitor {

/// A pendulum tester. J, degrees, m.
struct PendulumSpec {
    double energy = 300;
    double release = 160;
    double loss = 0.6; ///< of a full free swing: bearings and air over all of it, the pointer while it is pushed
    double step = 0.2; ///< of its scale
    double length = 0.8; ///< of the simple pendulum that swings alike
    bool operator==(const PendulumSpec&) const = default;
};

/// The tester as a machine: latch, lock, guard, pointer with friction, brake. It moves by its equation of motion, step
/// by step; what it refuses is told in words. No clock of its own.
class VirtualPendulum {
public:
    explicit VirtualPendulum(const PendulumSpec& spec = {});
    [[nodiscard]] const PendulumSpec& spec() const { return spec_; }
    [[nodiscard]] const PendulumStatus& status() const { return status_; }

    /// Another tester in its place; refused while the hammer is not hanging still.
    Expected<Done> setUp(const PendulumSpec& spec);
    /// The motor lifts the hammer into its latch and the lock goes in. Refused while the guard is open or it moves.
    Expected<Done> raise();
    Expected<Done> setLock(bool in);
    /// Refused while the hammer moves.
    Expected<Done> setGuard(bool closed);
    /// A piece that takes so much, J; refused unless the guard is open and the hammer hangs still or is locked.
    Expected<Done> place(double takes);
    Expected<Done> takeAway();
    Expected<Done> setPointer();
    /// Refused while the guard is open, the lock is in, or the hammer is not in its latch.
    Expected<Done> release();
    /// Always: a raised hammer stays in its latch, a moving one comes to rest.
    void brake();
    void advance(double seconds);

private:
    void swing(double dt);
    void hit();
    void cameToRest();
    [[nodiscard]] bool moves() const;
    [[nodiscard]] Expected<Done> handsMayGoIn() const;

    PendulumSpec spec_;
    PendulumStatus status_;
    double takes_ = 0;
    double moment_ = 0, inertia_ = 0; ///< m·g·l and the moment of inertia by it, J and kg m²
    double speed_ = 0; ///< rad/s
    double pointer_ = 0; ///< rad it was pushed up to
};

} // namespace fortitor
