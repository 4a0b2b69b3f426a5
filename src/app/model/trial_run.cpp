// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/trial_run.h"

#include <QCoreApplication>
#include <QElapsedTimer>

namespace fortitor {
namespace {

template <class Until> bool waitFor(Until until, int most)
{
    QElapsedTimer clock;
    clock.start();
    while (!until() && clock.elapsed() < most)
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
    return until();
}

Problem notReached(const LiveFrame& frame, const char* wanted)
{
    return {"the frame",
            frame.linkWords().toStdString()
                + (frame.holdBacks().isEmpty() ? "" : "; " + frame.holdBacks().join("; ").toStdString()),
            wanted,
            {}};
}

} // namespace

Expected<Done> setUpByItself(LiveFrame& frame, int within)
{
    if (const QString why = frame.prepare(); !why.isEmpty())
        return Problem{"the frame", why.toStdString(), "a specimen that can be set up", {}};
    const auto settled = [&] { return !frame.waits(); };
    if (!waitFor([&] { return settled() && frame.ready(); }, within))
        return notReached(frame, "a frame that answers");
    frame.zeroForce();
    frame.closeTopGrip();
    frame.closeBottomGrip();
    waitFor(settled, within);
    frame.easeToZero();
    waitFor([&] { return frame.shows("grip-second"); }, within);
    frame.putExtensometerOn();
    frame.setGuard(true);
    if (!waitFor([&] { return settled() && frame.holdBacks().isEmpty(); }, within))
        return notReached(frame, "a frame that is set up");
    return Done{};
}

Expected<Done> runByItself(LiveFrame& frame, double pace, int within)
{
    if (auto ready = setUpByItself(frame); !ready)
        return ready;
    frame.setPace(pace);
    waitFor([&] { return !frame.waits(); }, within);
    frame.start();
    const bool ended = waitFor(
        [&] {
            if (frame.state() == LiveFrame::State::Prompt && !frame.waits())
                frame.answerPrompt();
            return !frame.running();
        },
        within);
    if (!ended || frame.state() != LiveFrame::State::Broken)
        return Problem{"the run", ended ? frame.status().endedWords : "still running", "a break", {}};
    return Done{};
}

} // namespace fortitor
