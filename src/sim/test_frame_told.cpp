// SPDX-License-Identifier: GPL-3.0-or-later
// What the simulated frame is told while it runs.
#include "sim/test_frame.h"

#include "units/quantity.h"

#include <fast_float/fast_float.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {

Expected<Done> TestFrame::start(const RunProgram& program, const StopLimits& limits)
{
    if (auto no = busy("start"))
        return *no;
    if (auto wrong = programProblem(program))
        return *wrong;
    if (!frame_)
        return Problem{"start", "nothing is mounted", "a specimen", {}};
    if (!status_.guard)
        return Problem{"start", "the guard is open", "it closed", {}};
    if (status_.emergency)
        return Problem{"start", "the emergency stop is in", "it released", {}};
    if (!status_.top || !status_.bottom)
        return Problem{"start",
                       bar_.pressed ? "nothing stands between the platens" : "the specimen is not in both grips",
                       "it held",
                       {}};
    if (!(limits.force > 0))
        return Problem{"start", "no force limit", "a limit in N", {}};
    program_ = program;
    limits_ = limits;
    status_.handSet = status_.easing = false;
    status_.ended.clear();
    status_.endedWords.clear();
    status_.stage = 0;
    jog_ = nudgeLeft_ = peak_ = 0;
    brokenAt_ = -1;
    waited_ = 0;
    startTime_ = time_;
    startPosition_ = frame_->position();
    // Tuned as a frame is: to its own stiffness and the specimen's.
    perForce_ = conditions_.compliance + bar_.parallelLength / (bar_.section * bar_.law.modulus);
    perStrain_ = bar_.parallelLength + conditions_.compliance * bar_.section * bar_.law.modulus;
    status_.state = DriveState::Running;
    happened("start", "Start");
    enterStage();
    return Done{};
}

Expected<Done> TestFrame::hold(const std::string& code, const std::string& words)
{
    if (status_.state != DriveState::Running)
        return Problem{"hold", "nothing runs", "a run", {}};
    status_.state = DriveState::Holding;
    happened(code, words);
    return Done{};
}

Expected<Done> TestFrame::goOn()
{
    if (status_.state != DriveState::Holding)
        return Problem{"go on", "the frame does not hold", "a hold", {}};
    status_.state = DriveState::Running;
    happened("go-on", "Go on");
    stageTime_ = time_; // a rate is led from where it stands now
    stageValue_ = program_.stages[static_cast<size_t>(status_.stage)].control == Control::StrainRate ? strain_ : force_;
    return Done{};
}

Expected<Done> TestFrame::answer()
{
    if (status_.state != DriveState::Waiting)
        return Problem{"answer", "nothing was asked", "a prompt", {}};
    const RunStage& stage = program_.stages[static_cast<size_t>(status_.stage)];
    if (status_.disabled) {
        if (!status_.guard)
            return Problem{"answer", "the guard is open", "it closed and nobody's hands inside", {}};
        if (status_.emergency)
            return Problem{"answer", "the emergency stop is in", "it released", {}};
        status_.disabled = false;
        happened("given-free", "Given free after the check, the drive has power again");
    }
    if (stage.act == "extensometer-off")
        if (auto done = takeExtensometerOff(); !done)
            return done;
    status_.prompt.clear();
    status_.state = DriveState::Running;
    nextStage();
    return Done{};
}

void TestFrame::stop(const std::string& code, const std::string& words)
{
    jog_ = nudgeLeft_ = 0;
    status_.easing = status_.disabled = false;
    if (status_.state != DriveState::Ready && status_.state != DriveState::Ended)
        end(code, words);
}

void TestFrame::emergencyStop()
{
    status_.emergency = true;
    speed_ = 0;
    happened("emergency", "Emergency stop");
    stop("emergency", "stopped by the emergency stop");
}

Expected<Done> TestFrame::releaseEmergency()
{
    if (status_.emergency)
        happened("emergency-released", "Emergency stop released");
    status_.emergency = false;
    return Done{};
}

Expected<Done> TestFrame::returnToStart(double speed)
{
    if (auto no = busy("return"))
        return *no;
    if (!frame_ || status_.ended.empty())
        return Problem{"return", "no run has ended", "a run to go back from", {}};
    if (!status_.guard || status_.emergency)
        return Problem{"return",
                       status_.emergency ? "the emergency stop is in" : "the guard is open",
                       "it closed and nobody's hands inside",
                       {}};
    returnSpeed_ = std::clamp(std::abs(speed), 0.001, spec_.maxSpeed);
    program_ = {};
    status_.state = DriveState::Returning;
    status_.words = "goes back to the start";
    happened("return", "Goes back to the start");
    return Done{};
}

} // namespace fortitor
