// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace fortitor {

/// What a frame for fatigue runs is asked to do, and what stops it by itself.
struct RigOrder {
    std::string label{}; ///< of the piece
    double least = 0, greatest = 0; ///< N
    double frequency = 0; ///< Hz
    double before = 0; ///< cycles it has run already
    double runOut = 1e7; ///< cycles
    double travelStop = 1; ///< mm of growth of the travel range
    double stiffnessStop = 0.1; ///< share lost
    double forceStop = 0.05; ///< share of the range that it may miss
    double temperatureStop = 60; ///< °C
    bool operator==(const RigOrder&) const = default;
};

/// What it tells of itself.
struct RigStatus {
    enum class State { Empty, Ready, Running, Stopped } state = State::Empty;
    /// Why it stopped.
    enum class Stop { None, Hand, RunOut, Stiffness, Travel, Force, Temperature, Guard } stop = Stop::None;
    std::string label{};
    double cycles = 0;
    double least = 0, greatest = 0; ///< N, of the last cycles
    double travel = 0; ///< mm, range of the last cycles
    double stiffness = 1; ///< of that of the first cycles
    double temperature = 0; ///< °C of the piece
    double frequency = 0; ///< Hz
    double pace = 1; ///< of a simulated frame: cycles run so many times faster than life
    bool guard = true; ///< closed
    bool operator==(const RigStatus&) const = default;
};

} // namespace fortitor
