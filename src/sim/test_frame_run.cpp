// SPDX-License-Identifier: GPL-3.0-or-later
// The run of a program: how the drive is led, what ends a stage, what stops it.
#include "sim/test_frame.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace fortitor {
namespace {

constexpr double afterBreak = 0.8; // s of record behind the break
constexpr double fineSpeed = 0.05; // mm/s of the fine wheel

double medianOf(std::deque<double> values)
{
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

} // namespace

void TestFrame::enterStage()
{
    const RunStage& stage = program_.stages[static_cast<size_t>(status_.stage)];
    status_.words = stage.words;
    stageTime_ = time_;
    lastPosition_ = frame_->position();
    perUnitAtStart_ = stage.control == Control::StrainRate ? bar_.parallelLength : perForce_;
    lastActual_ = stage.control == Control::StrainRate ? strain_ : force_;
    stageValue_ = stage.control == Control::StrainRate ? strain_ : force_;
    if (status_.stage > 0)
        happened("stage", stage.words);
}

void TestFrame::nextStage()
{
    if (static_cast<size_t>(status_.stage) + 1 < program_.stages.size()) {
        ++status_.stage;
        enterStage();
        return;
    }
    if (!program_.returns)
        return end("end", "the program is at its end");
    status_.state = DriveState::Returning;
    status_.words = "goes back";
    returnSpeed_ = program_.returnSpeed;
    happened("end",
             "At the end, travelled " + formatQuantity(frame_->position() - startPosition_, *findUnit("mm"), 3)
                 + ", going back");
}

void TestFrame::end(const std::string& code, const std::string& words, bool asEvent)
{
    status_.state = DriveState::Ended;
    status_.ended = code;
    status_.endedWords = words;
    status_.words = words;
    status_.prompt.clear();
    status_.disabled = false;
    if (asEvent)
        happened(code, words);
}

double TestFrame::byHand()
{
    if (status_.easing) {
        if (freshReadings_++ < 2)
            return 0;
        if (std::abs(force_) < nearZero_ / 2) {
            status_.easing = false;
            happened("eased", "Clamp load eased to " + formatQuantity(force_, baseUnit(Kind::Force), 2));
            return 0;
        }
        return std::clamp(-force_ / 4000, -0.2, 0.2);
    }
    if (nudgeLeft_ != 0) {
        const double step = std::min(std::abs(nudgeLeft_), fineSpeed / spec_.rate);
        const double speed = std::copysign(step * spec_.rate, nudgeLeft_);
        nudgeLeft_ -= std::copysign(step, nudgeLeft_);
        if (std::abs(nudgeLeft_) < 1e-12)
            nudgeLeft_ = 0;
        return speed;
    }
    return jog_;
}

/// Speed that keeps `actual` on its way at `rate` a second: what the rate takes by the stiffness as it was
/// last seen, and a little of what it lags.
double TestFrame::led(double actual, double rate, double& perUnit)
{
    const double moved = frame_->position() - lastPosition_;
    const double gained = actual - lastActual_;
    if (std::abs(moved) > 6e-3 && gained * moved > 0) {
        perUnit = std::clamp(0.5 * perUnit + 0.5 * moved / gained, 0.2 * perUnit, 5 * perUnit);
        lastPosition_ = frame_->position();
        lastActual_ = actual;
    }
    // What was lost while grips seat is not to be caught up by a hurry: the rate is what counts.
    const double most = 0.3 * std::abs(rate);
    const double lag = stageValue_ + rate * (time_ - stageTime_) - actual;
    const double near = std::clamp(lag, -most, most);
    stageValue_ -= lag - near;
    // What is led runs neither backwards when the specimen jumps on, nor away when it gives way.
    const double plain = perUnitAtStart_ * rate;
    const double speed = perUnit * (rate + 0.4 * near);
    return plain > 0 ? std::clamp(speed, 0.3 * plain, 3 * plain) : std::clamp(speed, 3 * plain, 0.3 * plain);
}

double TestFrame::wantedSpeed()
{
    if (status_.emergency)
        return 0;
    switch (status_.state) {
    case DriveState::Ready:
    case DriveState::Ended: return byHand();
    case DriveState::Returning: {
        if (program_.returns)
            return -returnSpeed_;
        const double left = startPosition_ - frame_->position();
        return std::abs(left) < 1e-3 ? 0 : std::clamp(left * 2, -returnSpeed_, returnSpeed_);
    }
    case DriveState::Waiting:
        if (status_.disabled)
            return 0;
        [[fallthrough]];
    case DriveState::Holding: return spec_.hydraulic && force_ > 0 ? -spec_.creep : 0;
    case DriveState::Running: break;
    }
    const RunStage& stage = program_.stages[static_cast<size_t>(status_.stage)];
    if (brokenAt_ >= 0)
        return 0;
    switch (stage.control) {
    case Control::Hold: return spec_.hydraulic && force_ > 0 ? -spec_.creep : 0;
    case Control::Speed: return stage.value;
    case Control::HoldForce: {
        constexpr double near = 0.02; // of it: what the ramp came to is held as it is
        const double held = std::abs(stageValue_ - stage.value) < near * stage.value ? stageValue_ : stage.value;
        const double most = 0.002 * stage.value * perUnitAtStart_; // a second
        return std::clamp(2 * perForce_ * (held - force_), -most, most);
    }
    case Control::ForceRate: return led(force_, stage.value, perForce_);
    case Control::StrainRate: return led(strain_, stage.value, perStrain_);
    case Control::Position: {
        const double left = startPosition_ + stage.value - frame_->position();
        // As fast as it can still be stopped from, and not past it within a sample.
        return std::copysign(std::min({spec_.maxSpeed, std::sqrt(2 * 0.8 * spec_.acceleration * std::abs(left)),
                                       0.3 * spec_.rate * std::abs(left)}),
                             left);
    }
    case Control::Cycles: {
        const double middle = 0.5 * (stage.low + stage.high);
        const double swing = 0.5 * (stage.high - stage.low);
        const double turn = 2 * std::numbers::pi * stage.value;
        const double t = time_ - stageTime_;
        const double place = startPosition_ + middle - swing * std::cos(turn * t);
        return swing * turn * std::sin(turn * t) + 8 * (place - frame_->position());
    }
    }
    return 0;
}

void TestFrame::bringFaults()
{
    const bool running = status_.state != DriveState::Ready && status_.state != DriveState::Ended;
    const auto due = [&](const Fault& f) { return f.at < 0 || (running && time_ - startTime_ >= f.at); };
    for (size_t i = 0; i < faults_.size();) {
        if (!due(faults_[i])) {
            ++i;
            continue;
        }
        const Fault f = faults_[i];
        faults_.erase(faults_.begin() + static_cast<std::ptrdiff_t>(i));
        const auto at = static_cast<size_t>(std::ranges::find(channels_, f.channel.empty() ? channels_[1] : f.channel)
                                            - channels_.begin());
        if (f.kind == "stuck")
            stuck_.emplace_back(at, row_[at]);
        else if (f.kind == "spike") {
            spikeChannel_ = at;
            spike_ = f.value != 0 ? f.value : 0.2 * spec_.cell;
        } else if (f.kind == "slip")
            frame_->slipExtensometer(f.value != 0 ? f.value : -0.05);
        else if (f.kind == "guard")
            (void)setGuard(false);
        else if (f.kind == "specimen-out")
            frame_->letGo();
        else if (f.kind == "overload")
            knock_ = f.value != 0 ? f.value : 1.1 * spec_.overload * spec_.cell;
        else
            happened("fault-" + f.kind, fmt::format("{}", f.value)); // its link makes it
    }
}

/// As the instruments show it; where they show nothing, on from the last by the crosshead.
double TestFrame::strainNow(const FrameSample& sample) const
{
    if (!status_.extensometer)
        return offStrain_ + (bar_.parallelLength > 0 ? (frame_->position() - offPosition_) / bar_.parallelLength : 0);
    const double read = bar_.gauges ? 0.5 * (sample.front - balance_[0] + sample.back - balance_[1])
        : bar_.gaugeLength > 0      ? sample.extension / bar_.gaugeLength
                                    : 0;
    const bool offScale =
        bar_.gauges ? std::abs(read) > spec_.gaugeRange : std::abs(sample.extension) > spec_.extensometerTravel;
    return offScale ? strain_ + speed_ / spec_.rate / bar_.parallelLength : read;
}

void TestFrame::makeRow(const FrameSample& s)
{
    const auto gauge = [&](double strain, size_t i) {
        const double read = strain - balance_[i];
        return std::abs(read) > spec_.gaugeRange ? std::numeric_limits<double>::quiet_NaN() : read;
    };
    const auto travel = [&](double extension) {
        return status_.extensometer && std::abs(extension) > spec_.extensometerTravel
            ? std::numeric_limits<double>::quiet_NaN()
            : extension;
    };
    for (size_t i = 0; i < channels_.size(); ++i) {
        const std::string& name = channels_[i];
        row_[i] = name == "time"                                             ? time_
            : name == "force" || name == "torque"                            ? s.force
            : name == "displacement"                                         ? s.displacement
            : name == "extension" || name == "twist" || name == "deflection" ? travel(s.extension)
            : name == "extension_2"                                          ? travel(s.extension2)
            : name == "strain"                                               ? gauge(s.front, 0)
            : name == "strain_2"                                             ? gauge(s.back, 1)
            : name == "transverse_strain"                                    ? gauge(s.transverse, 2)
            : name == "strain_3"                                             ? gauge(s.frontRight, 2)
                                 : gauge(bar_.plate ? s.backRight : s.fourth, 3);
    }
    if (spike_ != 0) {
        row_[spikeChannel_] += spike_;
        spike_ = 0;
    }
    for (const auto& [channel, value] : stuck_)
        row_[channel] = value;
}

bool TestFrame::stageOver()
{
    const RunStage& stage = program_.stages[static_cast<size_t>(status_.stage)];
    const double inStage = time_ - stageTime_;
    const double travelled = frame_->position() - startPosition_;
    if (stage.control == Control::Position && std::abs(travelled - stage.value) < 1e-3)
        return true;
    if (stage.control == Control::Cycles && inStage * stage.value >= stage.count)
        return true;
    return (stage.untilStrain > 0 && median_ > stage.untilStrain) || (stage.untilForce > 0 && force_ > stage.untilForce)
        || (stage.untilUnder > 0 && force_ < stage.untilUnder)
        || (stage.untilTravel > 0 && travelled > stage.untilTravel)
        || (stage.untilTime > 0 && inStage >= stage.untilTime);
}

void TestFrame::watch()
{
    if (std::abs(force_) > spec_.overload * spec_.cell) {
        knock_ = 0;
        frame_->setForeignForce(0);
        speed_ = 0;
        jog_ = nudgeLeft_ = 0;
        status_.easing = false;
        const auto words = "the cell is overloaded: " + formatQuantity(force_, *findUnit("kN"), 3) + " on "
            + formatQuantity(spec_.cell, *findUnit("kN"), 3) + "; it is to be checked before it measures again";
        status_.state == DriveState::Ready || status_.state == DriveState::Ended ? happened("overload", words)
                                                                                 : end("overload", words);
        return;
    }
    if (status_.state == DriveState::Ready || status_.state == DriveState::Ended)
        return;
    if (std::abs(frame_->position()) > 0.5 * spec_.travel) {
        speed_ = 0;
        return end("limit-switch", "stopped by the limit switch of the travel");
    }
    if (status_.state == DriveState::Returning) {
        const bool there =
            program_.returns ? force_ < 0.02 * peak_ : std::abs(frame_->position() - startPosition_) < 1e-3;
        if (there)
            end(program_.returns ? "end" : "returned",
                program_.returns ? "back, the force is gone" : "back at the start", !program_.returns);
        return;
    }
    const bool takenOff = program_.stages[static_cast<size_t>(status_.stage)].untilUnder > 0;
    peak_ = takenOff || status_.disabled ? force_ : std::max(peak_, force_); // the drop counts from each load anew
    if (frame_->broken()) {
        if (brokenAt_ < 0) {
            brokenAt_ = time_;
            happened("break", "Break, the greatest force was " + formatQuantity(peak_, *findUnit("kN"), 4));
        }
        if (time_ - brokenAt_ > afterBreak)
            end("broken", "broken", false);
        return;
    }
    if (status_.disabled)
        waited_ += 1 / spec_.rate; // whoever checks has all the time
    const auto why = limitReached(limits_,
                                  {force_, peak_, frame_->position() - startPosition_, time_ - startTime_ - waited_,
                                   status_.extensometer ? extension_ : 0});
    if (why)
        return end("limit", *why);
    if (status_.state != DriveState::Running || !stageOver())
        return;
    const RunStage& stage = program_.stages[static_cast<size_t>(status_.stage)];
    if (stage.prompt.empty())
        return nextStage();
    status_.state = DriveState::Waiting;
    status_.prompt = stage.prompt;
    status_.disabled = stage.act == "check";
    happened("prompt", "Holding: " + stage.prompt);
}

const std::vector<double>& TestFrame::step()
{
    const double dt = 1 / spec_.rate;
    time_ += dt;
    if (!frame_) {
        std::ranges::fill(row_, 0);
        row_.front() = time_;
        return row_;
    }
    bringFaults();
    const double wanted = std::clamp(wantedSpeed(), -spec_.maxSpeed, spec_.maxSpeed);
    const double change = spec_.acceleration * dt;
    speed_ += std::clamp(wanted - speed_, -change, change);
    frame_->setSpeed(speed_);
    if (knock_ != 0)
        frame_->setForeignForce(knock_);
    const FrameSample sample = frame_->step(dt);
    force_ = sample.force;
    extension_ = sample.extension;
    makeRow(sample);
    strain_ = strainNow(sample);
    lastStrains_.push_back(strain_);
    if (lastStrains_.size() > 5)
        lastStrains_.pop_front();
    median_ = medianOf(lastStrains_);
    watch();
    return row_;
}

} // namespace fortitor
