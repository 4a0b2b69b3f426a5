// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/fatigue_sn/fatigue_sn.h"

namespace fortitor {

/// What the bound at the reference cycles would be with one more piece on a level, if it broke on the mean line.
struct NextRun {
    double range = 0; ///< MPa
    double life = 0; ///< cycles it would take on the mean line
    double now = 0, then = 0; ///< MPa
};

/// The level between the lowest and the highest that were run at which that lifts the bound most; a level where the
/// mean line lies beyond the longest run is none, for the piece would come out whole. `gain` of each level is put in
/// `levels` and `gains` where they are given. Nothing where none lifts it by half a percent.
std::optional<NextRun> bestNextRun(const SnLine& line, const SnBound& bound, double reference,
                                   std::span<const SnPiece> pieces, std::vector<double>* levels = nullptr,
                                   std::vector<double>* gains = nullptr);

/// s of frame time that the pieces without an end would take, by the mean line; `unknown` counts those that are not
/// planned, or whose frequency is not.
struct FrameTime {
    double done = 0, left = 0; ///< s
    size_t runs = 0, unknown = 0;
};
FrameTime frameTimeOf(const SetInput& set, const std::optional<SnLine>& line, double longest);

} // namespace fortitor
