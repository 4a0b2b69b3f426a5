// SPDX-License-Identifier: GPL-3.0-or-later
// What the bench tells the frame and how it is led; the record is kept in live_record.cpp, what holds the
// start back in live_holds.cpp.
#include "app/model/live_frame.h"

#include "jobs/json_at.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"
#include "methods/common/run.h"
#include "sim/catalogue.h"
#include "units/quantity.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr int followed = 16; // ms, while it runs
constexpr int watched = 100; // while it stands

} // namespace

LiveFrame::LiveFrame(Session& session, QObject* parent) : QObject(parent), session_(session)
{
    timer_.setInterval(followed);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &LiveFrame::tick);
    connect(&own_, &OwnFrame::listening, this, [this](const QString& where) {
        if (address_.isEmpty())
            client_.open(where, own_.token());
    });
    connect(&own_, &OwnFrame::failed, this, [this](const QString& why) {
        mountDue_ = false;
        emit session_.failed(why);
    });
    connect(&own_, &OwnFrame::ended, this, [this] {
        // It was killed or cut off. Another is started; what it does not know of is closed on joining it.
        if (wanted_ && address_.isEmpty())
            own_.start();
    });
    connect(&client_, &MachineClient::joined, this, &LiveFrame::linkJoined);
    connect(&client_, &MachineClient::lost, this, &LiveFrame::linkGone);
    connect(&client_, &MachineClient::refused, &session_,
            [this](const QString& why) { emit session_.failed("The frame: " + why); });
    connect(&client_, &MachineClient::statusChanged, this, &LiveFrame::takeStatus);
    connect(&client_, &MachineClient::channelsChanged, this, &LiveFrame::channelsChanged);
    connect(&client_, &MachineClient::beaten, this, [this] { dirty_ = true; });
    connect(&client_, &MachineClient::looksOn, this, [this] {
        clearSetUp(); // another may do with it what it likes
        emit updated();
    });
    connect(&client_, &MachineClient::samples, this, &LiveFrame::takeBatch);
    connect(&client_, &MachineClient::happened, this, &LiveFrame::takeEvent);
    connect(&client_, &MachineClient::gap, this, [this](qulonglong from, qulonglong to) {
        if (recording_)
            keepNote(sample_.time, "gap",
                     std::to_string(to - from) + " readings are missing here, "
                         + formatFixed(static_cast<double>(to - from) / std::max(1.0, client_.rate()), 2)
                         + " s: the frame no longer had them when the link came back");
    });
}

void LiveFrame::setAddress(const QString& address, const QString& token)
{
    if ((address == address_ && token == token_) || running())
        return;
    address_ = address;
    token_ = token;
    client_.close();
    clearSetUp();
    if (wanted_)
        joinFrame();
}

void LiveFrame::joinNamed()
{
    if (address_.isEmpty())
        return;
    joinFrame();
    timer_.start();
}

void LiveFrame::join()
{
    joinFrame();
    timer_.start();
}

void LiveFrame::joinFrame()
{
    wanted_ = true;
    if (!address_.isEmpty()) {
        if (client_.link() == MachineClient::Link::Off)
            client_.open(address_, token_);
    } else if (own_.address().isEmpty()) {
        own_.start();
    } else if (client_.link() == MachineClient::Link::Off) {
        client_.open(own_.address(), own_.token());
    }
}

QString LiveFrame::linkWords() const
{
    const QString where = address_.isEmpty() ? QString("own simulated frame") : address_;
    switch (client_.link()) {
    case MachineClient::Link::Joined: return where + (address_.isEmpty() ? "" : ", joined");
    case MachineClient::Link::LookingOn:
        return where + ", led by " + (client_.leader().isEmpty() ? QString("another program") : client_.leader());
    case MachineClient::Link::Lost: return where + ", link lost: joining again";
    case MachineClient::Link::Joining: return where + ", joining";
    case MachineClient::Link::Off: break;
    }
    return where + ", starting";
}

void LiveFrame::tell(const char* command, LinkJson arguments, MachineClient::Answer then)
{
    ++owed_;
    client_.command(command, std::move(arguments), [this, then = std::move(then)](const Expected<LinkJson>& answer) {
        --owed_;
        if (!answer)
            emit session_.failed("The frame refuses: " + QString::fromStdString(answer.problem().text()));
        if (then)
            then(answer);
        if (owed_ == 0)
            emit updated(); // what it did shows at once
    });
}

/// The curve as it will grow: over strain, or over the travel of the drive.
void LiveFrame::newCurve()
{
    if (!session_.hasSpecimen())
        return;
    const Method& method = *session_.job().method;
    const SpecimenInput& input = session_.specimen().input;
    const double area = method.live.stress && method.loadedArea ? method.loadedArea(input).value_or(1) : 1;
    if (!method.live.strain) {
        curve_ = LiveCurve(area, 0, 1);
        return;
    }
    const double length = firstOf(input, method.lengths);
    const double gauge = firstLength(input, method.train.extensometer);
    curve_ = LiveCurve(area, hasGauges() ? 1 : gauge > 0 ? gauge : length, length);
}

bool LiveFrame::byHand() const
{
    if (!session_.hasSpecimen())
        return false;
    const Intake& intake = session_.job().method->intake;
    const bool both = intake.has(Intake::By::Steps) && intake.has(Intake::By::Frame);
    if (!both)
        return !intake.has(Intake::By::Frame);
    // What it has already tells how it was read; else as chosen, or as usual.
    const Specimen& specimen = session_.specimen();
    if (!chosenByHand_ || chosenFor_ != session_.jobId()) {
        if (!specimen.recordId.empty())
            return false;
        return specimen.readings || intake.usual() == Intake::By::Steps;
    }
    return *chosenByHand_;
}

void LiveFrame::setByHand(bool byHand)
{
    chosenByHand_ = byHand;
    chosenFor_ = session_.jobId();
    if (!running())
        clearSetUp();
    emit updated();
}

void LiveFrame::setPace(double pace)
{
    pace_ = pace;
    if (client_.link() == MachineClient::Link::Joined && simulated())
        tell("pace", {{"speed", pace}});
}

void LiveFrame::returnToStart()
{
    if (!running() && rates_)
        tell("return", {{"speed", 20 * rates_->yieldSpeed}});
}

bool LiveFrame::fastNow() const
{
    const auto stage = static_cast<size_t>(status().stage);
    return rates_ && rates_->changeStrain > 0 && stage < program_.stages.size()
        && program_.stages[stage].control == Control::Speed && program_.stages[stage].value == rates_->afterSpeed;
}

void LiveFrame::start()
{
    if (running() || starting_ || closing_ || !ready_ || !holdBacks().isEmpty())
        return;
    starting_ = true;
    state_ = State::Running;
    timer_.setInterval(followed);
    tell("start", {{"program", programJson(program_)}, {"limits", limitsJson(limits_)}},
         [this](const Expected<LinkJson>& answer) {
             starting_ = false;
             if (answer)
                 begin(*answer);
             else
                 state_ = State::Idle;
             emit updated();
         });
    emit updated();
}

void LiveFrame::holdOrGoOn()
{
    if (state_ == State::Running)
        tell("hold");
    else if (state_ == State::Holding)
        tell("go-on");
}

void LiveFrame::answerPrompt()
{
    if (state_ == State::Prompt)
        tell("answer");
}

void LiveFrame::stop()
{
    if (client_.link() == MachineClient::Link::Off)
        return; // there is no frame
    if (client_.stopNow()) {
        stopping_ = recording_; // until the frame says that it stands
        return;
    }
    if (!running() && client_.link() != MachineClient::Link::LookingOn)
        return;
    stopWhenBack_ = running();
    emit session_.failed(
        "STOP can't reach the frame: the link is lost. Its own watchdog holds it; use the emergency stop on the "
        "frame itself.");
}

void LiveFrame::takeStatus()
{
    dirty_ = true;
    if (std::exchange(stage_, status().stage) != status().stage) {
        stageTime_ = sample_.time;
        stagePosition_ = sample_.displacement;
    }
    if (!recording_ && !starting_) {
        // Its answer to the start was lost with the link: a specimen is not to be broken unrecorded.
        if (joined() && status().state == DriveState::Running && client_.stopNow()) {
            clearSetUp();
            emit session_.failed("The frame was running without a record and is stopped. Set up anew.");
        }
        if (mountDue_ && strange().isEmpty())
            tellMount(); // what hung there is off
        emit updated();
        return;
    }
    switch (status().state) {
    case DriveState::Running:
    case DriveState::Returning: state_ = State::Running; break;
    case DriveState::Holding: state_ = State::Holding; break;
    case DriveState::Waiting: state_ = State::Prompt; break;
    case DriveState::Ready: break;
    case DriveState::Ended:
        if (recording_) {
            const std::string& how = status().ended;
            const bool whole = how == "broken" || how == "end";
            close(whole ? State::Broken : State::Stopped,
                  whole               ? QString()
                      : how == "stop" ? QString("stopped by hand")
                                      : QString::fromStdString(status().endedWords));
        }
        break;
    }
    emit updated();
}

void LiveFrame::takeEvent(const LinkEvent& told)
{
    const FrameEvent& e = told.event;
    if (!recording_ && !starting_ && (e.code == "start" || e.code == "break" || e.code == "end"))
        notOurs(told);
    if (e.code == "force-zero-open" || e.code == "force-zero")
        zeroed_ = e.code == "force-zero-open";
    else if (e.code == "eased")
        eased_ = true;
    else if (e.code == "extensometer-on")
        balanced_ = true;
    else if (e.code == "extensometer-off")
        balanced_ = false;
    else if (e.code == "grips-open")
        eased_ = balanced_ = false;
    else if (e.code == "grip-closed") {
        eased_ = false; // the second grip puts load on: it is eased off, whichever it is
        nearCount_ = 0;
    }
    keepNote(e.time, e.code, e.text);
}

void LiveFrame::linkJoined(bool again, bool same)
{
    sinceSample_.start();
    if (!same)
        ours_ = false;
    findChannels();
    if (!again || !same) {
        if (recording_) {
            close(State::Stopped, "the frame was cut off or restarted; what came after is not known");
            clearSetUp();
        }
        if (again && state_ == State::Idle)
            zeroed_ = eased_ = balanced_ = false;
        if (referenceDue_)
            tellReference();
        if (averaging_)
            putReference();
        if (mountDue_ || (again && !mount_.specimen.empty()))
            tellMount();
    } else if (recording_) {
        keepNote(sample_.time, "link-back", "The link is back; the rows in between follow");
        if (stopWhenBack_)
            client_.stopNow();
    }
    stopWhenBack_ = false;
    emit updated();
}

void LiveFrame::linkGone(const QString& why)
{
    if (recording_)
        keepNote(sample_.time, "link-lost", "The link is lost: " + why.toStdString());
    stopping_ = false;
    keepRows();
    emit updated();
}

void LiveFrame::tick()
{
    // A run is followed picture by picture; a frame that stands needs no processor.
    if (const int every = running() || recording_ ? followed : watched; timer_.interval() != every)
        timer_.setInterval(every);
    if (recording_ && sinceKept_.elapsed() >= 90)
        keepRows();
    if (stale() != staleTold_) {
        staleTold_ = stale();
        dirty_ = true;
    }
    // A run is followed as it goes; what stands is looked at a few times a second.
    constexpr qint64 idleEvery = 200; // ms
    const bool due = !sinceUpdated_.isValid() || sinceUpdated_.elapsed() >= idleEvery;
    if (running() || (dirty_ && due)) {
        dirty_ = false;
        sinceUpdated_.start();
        emit updated();
    }
}

} // namespace fortitor
