// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/expected.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

/// How the drive is led: by its own speed, by the rate of the force or of the strain, to a place, not at
/// all, to and fro, or so that a force stays.
enum class Control { Hold, Speed, ForceRate, StrainRate, Position, Cycles, HoldForce };

std::string_view controlName(Control control);
/// Nothing for a name that is none.
std::optional<Control> controlNamed(std::string_view name);

/// One stage of a run: how the drive is led, and what ends it. Ends of 0 are not watched.
struct RunStage {
    std::string words;
    Control control = Control::Speed;
    double value = 0; ///< mm/s, N/s, 1/s; mm from the start for a position; Hz for cycles; N that is held
    double low = 0, high = 0; ///< mm from the start, of cycles
    double count = 0; ///< of cycles
    double untilStrain = 0; ///< 1, as the extensometer or the gauges read, from the crosshead once it is off
    double untilForce = 0; ///< N
    double untilUnder = 0; ///< N; once the force has fallen below it
    double untilTravel = 0; ///< mm from the start
    double untilTime = 0; ///< s of the stage
    std::string prompt{}; ///< the frame holds at the end of the stage until a person answers it
    std::string
        act{}; ///< what the answer tells the frame: "extensometer-off"; "check": the drive is disabled until then
    std::string note{}; ///< what the person who answers has found goes to this note
};

/// A whole run as the frame is told it before it starts, so that no link stands between its stages.
struct RunProgram {
    std::vector<RunStage> stages;
    bool returns = false; ///< goes back to the start at the end, the run is over once the force is gone
    double returnSpeed = 0; ///< mm/s
};

/// What is wrong with a program, in words; a frame refuses it then.
std::optional<Problem> programProblem(const RunProgram& program);

} // namespace fortitor
