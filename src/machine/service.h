// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "link/frame_codec.h"
#include "link/messages.h"
#include "sim/fatigue_rig.h"
#include "sim/pendulum.h"
#include "sim/struck_piece.h"
#include "sim/test_frame.h"

#include <QElapsedTimer>
#include <QLocalServer>
#include <QObject>
#include <QTcpServer>
#include <QTimer>

#include <deque>
#include <functional>
#include <map>
#include <memory>
#include <vector>

class QIODevice;

namespace fortitor {

struct ServiceOptions {
    FrameSpec frame;
    std::optional<MountSpec> specimen;
    double speed = 1; ///< of the frame's time over the clock on the wall
    double watchdog = 1; ///< s of silence after which the frame looks after itself
    bool watchdogStops = false; ///< else it holds
    std::vector<Fault> faults;
    std::string token; ///< who leads the frame or looks at it has to know it; empty: anybody who reaches it
};

/// The test frame behind the machine link: owns the time, the ring of the last minute's rows, and those who
/// are linked: one leads, others may look on, and STOP is taken from anybody. Loopback and local sockets only.
class MachineService : public QObject {
    Q_OBJECT
public:
    explicit MachineService(ServiceOptions options);
    ~MachineService() override;
    /// Port 0: any. Gives the address to join.
    Expected<QString> listenTcp(quint16 port);
    Expected<QString> listenLocal(const QString& name);

signals:
    /// The mains are cut: the process ends as it is.
    void powerCut();

private:
    using Act = std::function<Expected<LinkJson>(const LinkJson&)>;
    struct Peer {
        QIODevice* socket = nullptr;
        FrameDecoder decoder;
        bool trusted = false; ///< has joined with the right token: leads or looks on
        std::string name; ///< as it called itself
        QElapsedTimer heard; ///< since its last whole message
        QElapsedTimer did; ///< since its last command
    };
    void learnCommands();
    void learnPendulum();
    void learnRig();
    /// An answer that holds nothing but whether it was done.
    static Expected<LinkJson> plain(const Expected<Done>& done);
    void tellPendulum();
    void tellRig();
    void greet(QIODevice* socket);
    void read(QIODevice* socket);
    void leave(QIODevice* socket);
    void handle(Peer& peer, const LinkJson& message);
    void command(Peer& peer, const LinkJson& message);
    void answer(const LinkJson& message);
    void join(Peer& peer, const LinkJson& message);
    void lead(Peer& peer, const LinkJson& message);
    void refuse(Peer& peer, const std::string& found);
    void dropIdle();
    void beat();
    void resend(std::uint64_t from, std::uint64_t to);
    void tick();
    void advance(double seconds);
    void watchdog();
    void tellEvents();
    void tellStatus();
    void flushRows();
    void write(FrameKind kind, std::string_view payload);
    void tell(const LinkJson& message)
    {
        write(FrameKind::Text, message.dump(-1, ' ', false, LinkJson::error_handler_t::replace));
    }
    void tell(Peer& peer, const LinkJson& message);
    void linkFault(const FrameEvent& event);
    void newChannels();
    [[nodiscard]] std::string leaderWords() const;
    [[nodiscard]] LinkJson channelsJson() const;
    [[nodiscard]] bool heardLately() const { return heard_.isValid() && heard_.elapsed() < watchdog_; }

    TestFrame frame_;
    VirtualPendulum pendulum_; ///< stands beside the frame
    PendulumStatus pendulumTold_;
    std::optional<StruckPiece> struck_; ///< the piece that was placed last
    QElapsedTimer pendulumAt_; ///< since it was told
    VirtualRig rig_; ///< for fatigue runs: they go on while nobody is joined
    std::optional<RigStatus> rigTold_;
    QElapsedTimer rigAt_;
    QTcpServer tcp_;
    QLocalServer local_;
    std::vector<std::unique_ptr<Peer>> peers_;
    Peer* leader_ = nullptr;
    std::string token_;
    std::map<std::string, Act> commands_;
    QString session_;
    std::deque<SampleBatch> ring_;
    size_t ringRows_ = 0;
    SampleBatch pending_;
    FrameStatus lastStatus_;
    std::vector<std::string> lastChannels_;
    std::vector<Fault> faults_;
    std::deque<std::string> late_;
    QTimer timer_;
    QElapsedTimer clock_, heard_, lateUntil_, awayUntil_, jogged_, flushed_, beat_;
    double speed_, owed_ = 0;
    qint64 watchdog_, lateFor_ = 0, awayFor_ = 0; ///< ms
    bool watchdogStops_, dropNext_ = false;
    std::uint64_t nextRow_ = 0;
    std::vector<std::pair<std::uint64_t, FrameEvent>> events_; ///< with the row each came before
    size_t eventsTold_ = 0;
};

} // namespace fortitor
