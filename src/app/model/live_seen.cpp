// SPDX-License-Identifier: GPL-3.0-or-later
// The frame as it is, whoever brought it there: what it holds, whether it moves, what others did with it.
#include "app/model/live_frame.h"

#include "units/quantity.h"

#include <cmath>

namespace fortitor {

/// Nothing that was set up counts any more.
void LiveFrame::clearSetUp()
{
    ready_ = ours_ = false;
    zeroed_ = eased_ = balanced_ = false;
}

double LiveFrame::forceNow() const
{
    return joined()                                        ? sample_.force
        : client_.link() == MachineClient::Link::LookingOn ? client_.forceSeen()
                                                           : std::nan("");
}

bool LiveFrame::stale() const
{
    constexpr qint64 staleAfter = 350; // ms; told by the next tick, within half a second
    return joined() && sinceSample_.isValid() && sinceSample_.elapsed() > staleAfter;
}

bool LiveFrame::moves() const
{
    return seen() && ((status().state != DriveState::Ready && status().state != DriveState::Ended) || status().easing);
}

QString LiveFrame::strange() const
{
    if (!seen() || recording_ || starting_)
        return {};
    const FrameStatus& now = status();
    const bool drives = now.state != DriveState::Ready && now.state != DriveState::Ended;
    const bool other = !joined();
    if (!other && (ours_ || (!drives && !now.top && !now.bottom)))
        return {};
    static const std::map<DriveState, QString> words{{DriveState::Running, "runs"},
                                                     {DriveState::Holding, "holds"},
                                                     {DriveState::Waiting, "holds and waits for an answer"},
                                                     {DriveState::Returning, "goes back"}};
    const auto it = words.find(now.state);
    const QString grips = now.top && now.bottom ? "both grips closed"
        : now.top                               ? "the top grip closed"
        : now.bottom                            ? "the lower grip closed"
                                                : "the grips open";
    const double force = forceNow();
    return QString("The frame %1, %2%3. ")
               .arg(it == words.end() ? "stands" : it->second,
                    std::isfinite(force) ? QString::fromStdString(formatQuantity(
                                               force, *findUnit(std::abs(force) >= 1000 ? "kN" : "N"), 3))
                            + " on it, "
                                         : QString(),
                    grips)
        + (other ? (client_.leader().isEmpty() ? QString("Another program leads it.")
                                               : "It is led by " + client_.leader() + ".")
                 : QString("This program did not bring it there."));
}

/// Started, broken or ended by somebody else while this program was away: what was set up is gone.
void LiveFrame::notOurs(const LinkEvent& told)
{
    clearSetUp();
    mountDue_ = false;
    const QString words = "The frame was used by another: "
        + QString::fromStdString(told.event.text.empty() ? told.event.code : told.event.text);
    if (session_.isOpen())
        session_.writer().post([job = session_.jobId(), who = session_.who(), words](Logbook& book) {
            return book.note(job, who, words, "set-up cleared");
        });
    emit session_.failed(words + ". Nothing that was set up counts any more: look at the specimen, and set up anew.");
}

/// Channels come with a set-up. In mid-run they belong to nothing that could be kept.
void LiveFrame::channelsChanged()
{
    if (recording_) {
        client_.stopNow();
        close(State::Stopped, "the frame changed its channels in mid-run and was stopped");
        clearSetUp();
        emit session_.failed("The frame changed its channels in mid-run: it is stopped, what came before is kept.");
    }
    findChannels();
}

} // namespace fortitor
