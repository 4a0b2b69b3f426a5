// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "frame/frame.h"
#include "frame/limits.h"
#include "frame/program.h"
#include "sim/catalogue.h"
#include "sim/virtual_frame.h"
#include "units/expected.h"

#include <array>
#include <deque>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace fortitor {

/// A fault that comes at a time of the run, or at once.
struct Fault {
    std::string kind{}; ///< one of faultKinds()
    double at = 0; ///< s from the start of the run; below 0: at once
    double value = 0; ///< mm, s or N; 0: as usual for the kind
    std::string channel{};
};

/// Kinds the frame makes itself, and those its link makes.
const std::vector<std::string>& faultKinds();
/// `NAME[:CHANNEL][@SECONDS][=VALUE]`, as the command line and the command take it.
Expected<Fault> parseFault(std::string_view text);

/// A test frame without a clock: drive, grips, hand-set, guard, switches, and the run of a program. It is
/// moved on sample by sample; whoever owns the time decides how fast.
class TestFrame {
public:
    explicit TestFrame(FrameSpec spec = {});

    [[nodiscard]] const FrameSpec& spec() const { return spec_; }
    [[nodiscard]] const FrameStatus& status() const { return status_; }
    /// Names as the record takes them, in the order of `step`.
    [[nodiscard]] const std::vector<std::string>& channels() const { return channels_; }
    [[nodiscard]] double time() const { return time_; }
    [[nodiscard]] double position() const { return frame_ ? frame_->position() : 0; }
    [[nodiscard]] double speed() const { return speed_; }
    [[nodiscard]] double startTime() const { return startTime_; }
    [[nodiscard]] double startPosition() const { return startPosition_; }
    [[nodiscard]] const VirtualFrame* bar() const { return frame_.get(); }

    /// Cell, fixture, rate: only while nothing runs.
    Expected<Done> setUp(FrameSpec spec);
    Expected<Done> mount(const MountSpec& mount);
    /// A specimen from outside the catalogue.
    Expected<Done> mount(const VirtualBar& bar, const FrameConditions& conditions, std::uint64_t seed);
    Expected<Done> closeTop();
    Expected<Done> closeBottom();
    /// A pressed piece stands in the middle of the platens, with its gap.
    Expected<Done> centre();
    /// A corner of a plate's fixture, front left, back left, front right, back right, carries a hundredth less.
    Expected<Done> easeCorner(int corner);
    Expected<Done> openGrips();
    Expected<Done> zero();
    Expected<Done> ease(double nearZero);
    Expected<Done> putExtensometerOn();
    Expected<Done> takeExtensometerOff();
    Expected<Done> setGuard(bool closed);
    Expected<Done> setHandSet(bool unlocked);
    /// mm/s, by hand; 0 stops it.
    Expected<Done> jog(double speed);
    /// One turn of the fine wheel, mm.
    Expected<Done> nudge(double millimetres);
    Expected<Done> start(const RunProgram& program, const StopLimits& limits);
    /// By hand, or by the watchdog with its own words.
    Expected<Done> hold(const std::string& code = "hold", const std::string& words = "Hold");
    Expected<Done> goOn();
    Expected<Done> answer();
    /// Ends the run at once. Never refused.
    void stop(const std::string& code, const std::string& words);
    void emergencyStop();
    Expected<Done> releaseEmergency();
    Expected<Done> returnToStart(double speed);
    /// Reference weights on the cell, N; nothing takes them off.
    Expected<Done> hangReference(double force);
    Expected<Done> setReferenceExtension(std::optional<double> millimetres);
    Expected<Done> fault(const Fault& fault);

    /// Moves on by one sample and reads the instruments: one value a channel, NaN where it is off its scale.
    const std::vector<double>& step();
    /// What happened since it was asked last.
    [[nodiscard]] std::vector<FrameEvent> takeEvents() { return std::exchange(events_, {}); }
    [[nodiscard]] double force() const { return force_; }

private:
    void happened(const std::string& code, const std::string& text) { events_.push_back({time_, code, text}); }
    [[nodiscard]] std::optional<Problem> busy(const char* what) const;
    void end(const std::string& code, const std::string& words, bool asEvent = true);
    void nextStage();
    void enterStage();
    [[nodiscard]] double wantedSpeed();
    [[nodiscard]] double byHand();
    [[nodiscard]] double led(double actual, double rate, double& perMillimetre);
    void watch();
    [[nodiscard]] bool stageOver();
    void bringFaults();
    void makeRow(const FrameSample& sample);
    [[nodiscard]] double strainNow(const FrameSample& sample) const;

    FrameSpec spec_;
    FrameStatus status_;
    std::unique_ptr<VirtualFrame> frame_;
    VirtualBar bar_;
    FrameConditions conditions_;
    std::vector<std::string> channels_;
    std::vector<double> row_;
    std::vector<FrameEvent> events_;
    RunProgram program_;
    StopLimits limits_;
    std::vector<Fault> faults_; ///< still to come
    std::vector<std::pair<size_t, double>> stuck_; ///< channels that read one value for ever
    std::array<double, 4> balance_{};
    std::deque<double> lastStrains_;
    double time_ = 0, speed_ = 0, force_ = 0, extension_ = 0, strain_ = 0, median_ = 0, peak_ = 0;
    double jog_ = 0, nudgeLeft_ = 0, nearZero_ = 5;
    double startTime_ = 0, startPosition_ = 0, stageTime_ = 0, stageValue_ = 0, brokenAt_ = -1, waited_ = 0;
    double perForce_ = 0, perStrain_ = 0, perUnitAtStart_ = 0, lastActual_ = 0, lastPosition_ = 0;
    double offStrain_ = 0, offPosition_ = 0, returnSpeed_ = 0, spike_ = 0, knock_ = 0;
    size_t spikeChannel_ = 0;
    int freshReadings_ = 0;
};

} // namespace fortitor
