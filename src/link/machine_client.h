// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "link/frame_codec.h"
#include "link/messages.h"

#include <QElapsedTimer>
#include <QObject>
#include <QString>
#include <QTimer>

#include <deque>
#include <functional>
#include <map>
#include <memory>

class QIODevice;

namespace fortitor {

/// Something that happened at the frame, with its number and the row it came before.
struct LinkEvent {
    std::uint64_t number = 0;
    std::uint64_t seq = 0;
    FrameEvent event;
};

/// The application's side of the machine link: joins, keeps the beat, commands, gives samples in order and
/// without doubles, asks again for what is missing, joins anew when the link was lost.
class MachineClient : public QObject {
    Q_OBJECT
public:
    /// LookingOn: another program leads the frame; its state is heard, and STOP reaches it.
    enum class Link { Off, Joining, Joined, LookingOn, Lost };
    /// Called once: with the answer, or with why there is none.
    using Answer = std::function<void(const Expected<LinkJson>&)>;

    explicit MachineClient(QObject* parent = nullptr);
    ~MachineClient() override;

    /// "host:port" with a host of this machine, or "local:NAME"; the token that the frame asks for.
    void open(const QString& address, const QString& token = {});
    void close();
    [[nodiscard]] Link link() const { return link_; }
    [[nodiscard]] QString address() const { return address_; }
    [[nodiscard]] const FrameStatus& status() const { return status_; }
    /// The pendulum that stands beside the frame, as it was last told.
    [[nodiscard]] const PendulumStatus& pendulum() const { return pendulum_; }
    /// The frame for fatigue runs, as it was last told.
    [[nodiscard]] const RigStatus& rig() const { return rig_; }
    /// What the frame said of itself when it was joined.
    [[nodiscard]] const LinkJson& hello() const { return hello_; }
    [[nodiscard]] const std::vector<std::string>& channels() const { return channels_; }
    [[nodiscard]] double rate() const { return rate_; }
    /// The number of the row that is to come next.
    [[nodiscard]] std::uint64_t nextRow() const { return expected_; }

    /// Sent at once; while the frame is being joined it waits its turn.
    void command(const char* name, LinkJson arguments = LinkJson::object(), Answer answer = {});
    /// On the wire before it returns, ahead of nothing else. Where this program does not lead the frame, on a
    /// connection of its own, answered within half a second. False when the frame was not reached.
    bool stopNow();
    /// Who leads the frame, when it is another; empty when nobody does.
    [[nodiscard]] QString leader() const { return leader_; }
    /// N, as last told by a frame that is only looked on.
    [[nodiscard]] double forceSeen() const { return forceSeen_; }

signals:
    void joined(bool again, bool sameSession);
    void lost(const QString& why);
    void refused(const QString& why);
    void looksOn(const QString& leader);
    void beaten(); ///< a beat of a frame that is looked on
    void statusChanged();
    void pendulumChanged();
    void rigChanged();
    void channelsChanged();
    void samples(const fortitor::SampleBatch& batch);
    void happened(const fortitor::LinkEvent& event);
    /// Rows [from, to) are gone for good.
    void gap(qulonglong from, qulonglong to);

private:
    void connectNow();
    void connected();
    void readSome();
    void drop(const QString& why);
    void handle(const LinkJson& message);
    void turnedAway(const LinkJson& message);
    void takeState(const LinkJson& message);
    void lookOn(const std::string& kind, const LinkJson& message);
    void acknowledged(const LinkJson& message);
    void greeted(const LinkJson& message);
    void askToJoin();
    void welcomed(const LinkJson& message);
    bool stopBeside();
    void takeChannels(const LinkJson& message);
    void take(SampleBatch batch);
    void drainEarly();
    bool send(const LinkJson& message);
    void beat();

    QString address_, token_, leader_;
    double forceSeen_ = 0;
    QElapsedTimer stoppedBeside_;
    std::unique_ptr<QIODevice> socket_;
    FrameDecoder decoder_;
    Link link_ = Link::Off;
    FrameStatus status_;
    PendulumStatus pendulum_;
    RigStatus rig_;
    LinkJson hello_;
    std::vector<std::string> channels_;
    double rate_ = 0;
    QString session_;
    std::uint64_t expected_ = 0, nextEvent_ = 0, nextId_ = 1, askedTo_ = 0;
    std::map<std::uint64_t, Answer> waiting_;
    std::deque<LinkJson> queued_;
    std::map<std::uint64_t, SampleBatch> early_;
    std::size_t earlyRows_ = 0;
    QTimer beat_;
    QTimer again_;
    QElapsedTimer heard_;
};

} // namespace fortitor
