// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "frame/fatigue_rig.h"
#include "sim/fatigue_piece.h"
#include "units/expected.h"

#include <optional>

namespace fortitor {

/// A frame for unattended runs: guard, soft start, counter, its stops. It counts cycles at life × pace and stops at
/// the very cycle, whatever the pace. No clock of its own; what it refuses is told in words.
class VirtualRig {
public:
    [[nodiscard]] const RigStatus& status() const { return status_; }
    [[nodiscard]] const RigOrder& order() const { return order_; }

    /// A piece between the grips; refused unless the guard is open and nothing runs.
    Expected<Done> place(const FatiguePiece& piece, double area, const RigOrder& order);
    /// The piece that ended, or was not started; refused while it runs or the guard is closed.
    Expected<Done> takeAway();
    /// Opening it stops a run.
    Expected<Done> setGuard(bool closed);
    /// Starts, or goes on after a stop by hand; refused with the guard open, without a piece, after it broke.
    Expected<Done> start();
    void stop() { halt(RigStatus::Stop::Hand); }
    /// 1 to 10⁶ times life.
    Expected<Done> setPace(double pace);
    void advance(double seconds);
    /// How the piece ended, as a person sees it; nothing before it did.
    [[nodiscard]] std::optional<std::string> seen() const;

private:
    void halt(RigStatus::Stop why);
    void settle();

    RigStatus status_;
    RigOrder order_;
    FatiguePiece piece_;
    double range_ = 0; ///< MPa
    double counted_ = 0; ///< cycles, with their part
};

} // namespace fortitor
