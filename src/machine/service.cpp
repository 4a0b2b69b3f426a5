// SPDX-License-Identifier: GPL-3.0-or-later
#include "machine/service.h"

#include "link/socket.h"

#include <QHostAddress>
#include <QUuid>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double ringSeconds = 60; // of rows kept for a client that comes back
constexpr qint64 flushEvery = 20; // ms between batches
constexpr size_t batchRows = 512;
constexpr qint64 jogFor = 300; // ms a jog lasts without being asked again: a hand on the key
constexpr qint64 beatEvery = 200; // ms

const char* unitOf(const std::string& channel)
{
    if (channel == "time")
        return "s";
    if (channel == "force")
        return "N";
    if (channel == "torque")
        return "N.mm";
    if (channel == "twist")
        return "rad";
    return channel.find("strain") != std::string::npos ? "1" : "mm";
}

} // namespace

Expected<LinkJson> MachineService::plain(const Expected<Done>& done)
{
    if (!done)
        return done.problem();
    return LinkJson::object();
}

MachineService::MachineService(ServiceOptions options)
    : frame_(options.frame), token_(std::move(options.token)),
      session_(QUuid::createUuid().toString(QUuid::WithoutBraces)), faults_(std::move(options.faults)),
      speed_(options.speed), watchdog_(qRound64(1000 * options.watchdog)), watchdogStops_(options.watchdogStops)
{
    learnCommands();
    learnPendulum();
    learnRig();
    if (options.specimen && frame_.mount(*options.specimen))
        for (const Fault& fault : std::exchange(faults_, {}))
            (void)frame_.fault(fault);
    newChannels();
    timer_.setTimerType(Qt::PreciseTimer);
    timer_.setInterval(5);
    connect(&timer_, &QTimer::timeout, this, &MachineService::tick);
    connect(&tcp_, &QTcpServer::newConnection, this, [this] {
        while (auto* socket = tcp_.nextPendingConnection()) {
            socket->setSocketOption(QAbstractSocket::LowDelayOption, 1);
            connect(socket, &QTcpSocket::disconnected, this, [this, socket] { leave(socket); });
            greet(socket);
        }
    });
    connect(&local_, &QLocalServer::newConnection, this, [this] {
        while (auto* socket = local_.nextPendingConnection()) {
            connect(socket, &QLocalSocket::disconnected, this, [this, socket] { leave(socket); });
            greet(socket);
        }
    });
    clock_.start();
    flushed_.start();
    timer_.start();
}

Expected<QString> MachineService::listenTcp(quint16 port)
{
    if (!tcp_.listen(QHostAddress::LocalHost, port))
        return Problem{
            "port " + std::to_string(port), tcp_.errorString().toStdString(), "a free port of this machine", {}};
    return "127.0.0.1:" + QString::number(tcp_.serverPort());
}

Expected<QString> MachineService::listenLocal(const QString& name)
{
    local_.setSocketOptions(QLocalServer::UserAccessOption);
    if (!local_.listen(name))
        return Problem{"local socket " + name.toStdString(), local_.errorString().toStdString(), "a free name",
                       "A file left by a killed frame may be removed."};
    return "local:" + local_.fullServerName();
}

void MachineService::learnCommands()
{
    const auto learn = [this](const char* name, auto act) {
        commands_[name] = [this, act](const LinkJson& m) -> Expected<LinkJson> { return plain(act(frame_, m)); };
    };
    learn("close-top", [](TestFrame& f, const LinkJson&) { return f.closeTop(); });
    learn("close-bottom", [](TestFrame& f, const LinkJson&) { return f.closeBottom(); });
    learn("centre", [](TestFrame& f, const LinkJson&) { return f.centre(); });
    learn("ease-corner",
          [](TestFrame& f, const LinkJson& m) { return f.easeCorner(static_cast<int>(figureOf(m, "corner", -1))); });
    learn("open-grips", [](TestFrame& f, const LinkJson&) { return f.openGrips(); });
    learn("zero", [](TestFrame& f, const LinkJson&) { return f.zero(); });
    learn("ease", [](TestFrame& f, const LinkJson& m) { return f.ease(figureOf(m, "near", 5)); });
    learn("extensometer-on", [](TestFrame& f, const LinkJson&) { return f.putExtensometerOn(); });
    learn("extensometer-off", [](TestFrame& f, const LinkJson&) { return f.takeExtensometerOff(); });
    learn("guard", [](TestFrame& f, const LinkJson& m) { return f.setGuard(flagOf(m, "closed")); });
    learn("hand-set", [](TestFrame& f, const LinkJson& m) { return f.setHandSet(flagOf(m, "unlocked")); });
    learn("nudge", [](TestFrame& f, const LinkJson& m) { return f.nudge(figureOf(m, "by", std::nan(""))); });
    learn("hold", [](TestFrame& f, const LinkJson&) { return f.hold(); });
    learn("go-on", [](TestFrame& f, const LinkJson&) { return f.goOn(); });
    learn("answer", [](TestFrame& f, const LinkJson&) { return f.answer(); });
    learn("return", [](TestFrame& f, const LinkJson& m) { return f.returnToStart(figureOf(m, "speed", 1)); });
    learn("release-emergency", [](TestFrame& f, const LinkJson&) { return f.releaseEmergency(); });
    learn("reference-force", [](TestFrame& f, const LinkJson& m) { return f.hangReference(figureOf(m, "force")); });
    learn("reference-extension", [](TestFrame& f, const LinkJson& m) {
        return f.setReferenceExtension(m.contains("extension") ? std::optional(figureOf(m, "extension"))
                                                               : std::nullopt);
    });
    commands_["jog"] = [this](const LinkJson& m) {
        jogged_.start();
        return plain(frame_.jog(figureOf(m, "speed")));
    };
    commands_["stop"] = [this](const LinkJson&) -> Expected<LinkJson> {
        frame_.stop("stop", "STOP by hand");
        pendulum_.brake();
        rig_.stop();
        return LinkJson::object();
    };
    commands_["emergency-stop"] = [this](const LinkJson&) -> Expected<LinkJson> {
        frame_.emergencyStop();
        pendulum_.brake();
        rig_.stop();
        return LinkJson::object();
    };
    commands_["set-up"] = [this](const LinkJson& m) -> Expected<LinkJson> {
        auto spec = specFrom(m.value("frame", LinkJson::object()), frame_.spec());
        return spec ? plain(frame_.setUp(*spec)) : Expected<LinkJson>(spec.problem());
    };
    commands_["mount"] = [this](const LinkJson& m) -> Expected<LinkJson> {
        auto mount = mountFrom(m);
        if (!mount)
            return mount.problem();
        auto done = frame_.mount(*mount);
        for (const Fault& fault : done ? std::exchange(faults_, {}) : std::vector<Fault>())
            if (auto ok = frame_.fault(fault); !ok)
                return ok.problem();
        return plain(done);
    };
    commands_["pace"] = [this](const LinkJson& m) -> Expected<LinkJson> {
        const double speed = figureOf(m, "speed", 1);
        if (!(speed >= 0.01) || speed > 200)
            return Problem{"pace", std::to_string(speed), "0.01 to 200 times life", {}};
        speed_ = speed;
        return LinkJson::object();
    };
    commands_["fault"] = [this](const LinkJson& m) -> Expected<LinkJson> {
        auto fault = parseFault(textOf(m, "fault"));
        return fault ? plain(frame_.fault(*fault)) : Expected<LinkJson>(fault.problem());
    };
    commands_["start"] = [this](const LinkJson& m) -> Expected<LinkJson> {
        auto program = programFrom(m.value("program", LinkJson::object()));
        if (!program)
            return program.problem();
        auto limits = limitsFrom(m.value("limits", LinkJson::object()));
        if (!limits)
            return limits.problem();
        if (auto started = frame_.start(*program, *limits); !started)
            return started.problem();
        return LinkJson{{"seq", nextRow_}, {"time", frame_.startTime()}, {"position", frame_.startPosition()}};
    };
}

LinkJson MachineService::channelsJson() const
{
    LinkJson list = LinkJson::array();
    for (const std::string& name : frame_.channels())
        list.push_back({{"name", name}, {"unit", unitOf(name)}});
    return list;
}

void MachineService::newChannels()
{
    ring_.clear();
    ringRows_ = 0;
    lastChannels_ = frame_.channels();
    pending_ = {.first = nextRow_,
                .channels = static_cast<std::uint16_t>(lastChannels_.size()),
                .step = 1 / frame_.spec().rate,
                .values = {}};
}

/// Sockets that close with the servers have nobody to tell any more.
MachineService::~MachineService()
{
    for (const auto& peer : peers_)
        peer->socket->disconnect(this);
}

void MachineService::flushRows()
{
    flushed_.restart();
    if (pending_.values.empty())
        return;
    if (leader_ && !dropNext_)
        write(FrameKind::Samples, packSamples(pending_));
    dropNext_ = false;
    ringRows_ += pending_.rows();
    SampleBatch next{.first = pending_.next(), .channels = pending_.channels, .step = pending_.step, .values = {}};
    ring_.push_back(std::exchange(pending_, std::move(next)));
    while (ringRows_ > static_cast<size_t>(std::max(ringSeconds * frame_.spec().rate * std::max(1.0, speed_), 1000.0))
           && ring_.size() > 1) {
        ringRows_ -= ring_.front().rows();
        ring_.pop_front();
    }
}

void MachineService::linkFault(const FrameEvent& event)
{
    const std::string kind = event.code.substr(6);
    const double value = std::atof(event.text.c_str());
    if (kind == "link-drop") {
        awayFor_ = qRound64(1000 * (value > 0 ? value : 2));
        awayUntil_.start();
        while (!peers_.empty())
            abortSocket(peers_.back()->socket);
    } else if (kind == "late") {
        lateFor_ = qRound64(1000 * (value > 0 ? value : 0.6));
        lateUntil_.start();
    } else if (kind == "packet") {
        dropNext_ = true;
    } else if (kind == "power") {
        emit powerCut();
    }
}

void MachineService::tellEvents()
{
    for (FrameEvent& event : frame_.takeEvents()) {
        if (event.code.starts_with("fault-"))
            linkFault(event);
        else
            events_.emplace_back(nextRow_, std::move(event));
    }
    if (!leader_)
        return;
    if (eventsTold_ < events_.size())
        flushRows();
    for (; eventsTold_ < events_.size(); ++eventsTold_) {
        const auto& [seq, event] = events_[eventsTold_];
        tell({{"kind", "event"},
              {"n", eventsTold_},
              {"seq", seq},
              {"time", event.time},
              {"code", event.code},
              {"text", event.text}});
    }
}

void MachineService::tellStatus()
{
    if (frame_.status() == lastStatus_)
        return;
    flushRows();
    lastStatus_ = frame_.status();
    for (const auto& peer : peers_)
        if (peer.get() == leader_)
            tell(statusJson(lastStatus_));
        else if (peer->trusted)
            tell(*peer, statusJson(lastStatus_));
}

void MachineService::watchdog()
{
    const DriveState state = frame_.status().state;
    const bool moves = state == DriveState::Running || state == DriveState::Returning;
    if (heardLately())
        return;
    (void)frame_.jog(0);
    if (!moves)
        return;
    if (watchdogStops_ || state == DriveState::Returning)
        frame_.stop("link", "stopped by the frame's own watchdog: the link was silent");
    else
        (void)frame_.hold("link-hold", "held by the frame's own watchdog: the link was silent");
}

void MachineService::advance(double seconds)
{
    pendulum_.advance(seconds);
    tellPendulum();
    rig_.advance(seconds);
    tellRig();
    owed_ += seconds;
    const double dt = 1 / frame_.spec().rate;
    while (owed_ >= dt) {
        owed_ -= dt;
        const auto& row = frame_.step();
        if (pending_.values.empty())
            pending_.time = row.front();
        pending_.values.insert(pending_.values.end(), row.begin(), row.end());
        ++nextRow_;
        tellEvents();
        tellStatus();
        if (pending_.rows() >= batchRows)
            flushRows();
    }
}

void MachineService::tick()
{
    if (jogged_.isValid() && jogged_.elapsed() > jogFor) {
        (void)frame_.jog(0);
        jogged_.invalidate();
    }
    watchdog();
    const double elapsed = std::min(0.5, static_cast<double>(clock_.nsecsElapsed()) / 1e9);
    clock_.restart();
    advance(elapsed * speed_);
    if (flushed_.elapsed() >= flushEvery)
        flushRows();
    if (!beat_.isValid() || beat_.elapsed() >= beatEvery)
        beat();
    if (leader_)
        flushSocket(leader_->socket);
}

} // namespace fortitor
