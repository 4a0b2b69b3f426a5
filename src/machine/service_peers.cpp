// SPDX-License-Identifier: GPL-3.0-or-later
// Who talks to the frame: joining, leading, leaving, and what is sent to each.
#include "machine/service.h"

#include "link/socket.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr size_t mostPeers = 16;
constexpr qint64 idleFor = 5000; // ms without a whole message, then who does not lead is let go
constexpr size_t longestName = 80;

} // namespace

/// Says hello to whoever comes. Nobody is kept out by who is there already.
void MachineService::greet(QIODevice* socket)
{
    if (awayFor_ > 0 && awayUntil_.elapsed() < awayFor_) {
        abortSocket(socket);
        return;
    }
    if (peers_.size() >= mostPeers) {
        const auto oldest = std::ranges::find_if(peers_, [this](const auto& p) { return p.get() != leader_; });
        abortSocket((*oldest)->socket);
    }
    auto& peer = *peers_.emplace_back(std::make_unique<Peer>());
    peer.socket = socket;
    peer.heard.start();
    peer.did.start();
    connect(socket, &QIODevice::readyRead, this, [this, socket] { read(socket); });
    LinkJson abilities = LinkJson::array();
    for (const auto& [name, act] : commands_)
        abilities.push_back(name);
    tell(peer,
         {{"kind", "hello"},
          {"protocol", linkProtocol},
          {"name", "fortitor-machine " FORTITOR_VERSION},
          {"session", session_.toStdString()},
          {"simulated", true},
          {"abilities", abilities},
          {"frame", specJson(frame_.spec())},
          {"channels", channelsJson()},
          {"rate", frame_.spec().rate},
          {"speed", speed_},
          {"watchdog", static_cast<double>(watchdog_) / 1000},
          {"watchdog_does", watchdogStops_ ? "stop" : "hold"},
          {"token", !token_.empty()},
          {"time", frame_.time()},
          {"next", nextRow_},
          {"events", events_.size()}});
    flushSocket(socket);
    if (socket->bytesAvailable() > 0)
        read(socket);
}

void MachineService::leave(QIODevice* socket)
{
    const auto it = std::ranges::find(peers_, socket, [](const auto& p) { return p->socket; });
    if (it != peers_.end()) {
        if (it->get() == leader_) {
            leader_ = nullptr;
            late_.clear();
        }
        peers_.erase(it);
    }
    socket->deleteLater();
}

void MachineService::read(QIODevice* socket)
{
    const auto find = [&]() -> Peer* {
        const auto it = std::ranges::find(peers_, socket, [](const auto& p) { return p->socket; });
        return it == peers_.end() ? nullptr : it->get();
    };
    Peer* peer = find();
    if (!peer)
        return;
    const QByteArray bytes = socket->readAll();
    peer->decoder.take({bytes.constData(), static_cast<size_t>(bytes.size())});
    while ((peer = find())) { // what it says may end it
        auto frame = peer->decoder.next();
        if (!frame)
            return abortSocket(socket);
        if (!*frame)
            return;
        auto message =
            (*frame)->kind == FrameKind::Text ? parseMessage((*frame)->payload) : Expected<LinkJson>(Problem{});
        if (!message)
            return abortSocket(socket);
        // A whole message is a sign of life, a byte is none.
        peer->heard.restart();
        if (peer == leader_)
            heard_.start();
        handle(*peer, *message);
    }
}

void MachineService::handle(Peer& peer, const LinkJson& message)
{
    const std::string kind = textOf(message, "kind");
    if (kind == "join")
        join(peer, message);
    else if (kind == "command")
        command(peer, message);
    else if (kind == "resend" && &peer == leader_)
        resend(countOf(message, "from"), countOf(message, "to"));
    else if (kind == "bye")
        peer.socket->close();
}

/// STOP is taken from anybody; everything else from who leads.
void MachineService::command(Peer& peer, const LinkJson& message)
{
    peer.did.restart();
    if (&peer == leader_)
        return answer(message);
    const bool stop = textOf(message, "do") == "stop";
    if (stop)
        frame_.stop("stop", peer.trusted && !peer.name.empty() ? "STOP by " + peer.name : "STOP by another program");
    if (stop)
        pendulum_.brake();
    LinkJson ack{{"kind", "ack"}, {"id", countOf(message, "id")}, {"ok", stop}};
    if (!stop)
        ack["problem"] =
            problemJson({"command", textOf(message, "do") + " from a program that does not lead this frame",
                         "a join before it", leader_ ? leaderWords() : ""});
    tellEvents();
    tellStatus();
    tell(peer, ack);
    flushSocket(peer.socket);
}

void MachineService::refuse(Peer& peer, const std::string& found)
{
    tell(peer, {{"kind", "refused"}, {"found", found}});
    flushSocket(peer.socket);
    peer.socket->close();
}

std::string MachineService::leaderWords() const
{
    if (!leader_)
        return {};
    return "another program leads it: " + (leader_->name.empty() ? std::string("one without a name") : leader_->name)
        + "; its last command was " + std::to_string(leader_->did.elapsed() / 1000) + " s ago";
}

void MachineService::join(Peer& peer, const LinkJson& message)
{
    if (const auto version = countOf(message, "version"); version != linkProtocol)
        return refuse(peer,
                      "it joins with version " + std::to_string(version) + " of the link, version "
                          + std::to_string(linkProtocol) + " is wanted");
    if (!token_.empty() && textOf(message, "token") != token_)
        return refuse(peer,
                      textOf(message, "token").empty() ? "a token is needed to lead this frame"
                                                       : "the token does not fit this frame");
    peer.trusted = true;
    peer.name = textOf(message, "name").substr(0, longestName);
    if (leader_ && leader_ != &peer && heardLately()) {
        // It looks on until the frame is free.
        tell(peer, {{"kind", "refused"}, {"found", leaderWords()}, {"looks_on", true}});
        tell(peer, statusJson(frame_.status()));
        flushSocket(peer.socket);
        return;
    }
    if (leader_ && leader_ != &peer)
        abortSocket(leader_->socket);
    lead(peer, message);
}

void MachineService::lead(Peer& peer, const LinkJson& message)
{
    flushRows();
    leader_ = &peer;
    heard_.start();
    tell({{"kind", "joined"},
          {"version", linkProtocol},
          {"channels", channelsJson()},
          {"rate", frame_.spec().rate},
          {"next", nextRow_},
          {"events", events_.size()},
          {"frame", specJson(frame_.spec())}});
    const bool same = textOf(message, "session") == session_.toStdString();
    eventsTold_ = std::min<std::uint64_t>(same ? countOf(message, "events_from", events_.size()) : events_.size(),
                                          events_.size());
    if (same)
        resend(countOf(message, "samples_from", nextRow_), nextRow_);
    tellEvents();
    tell(statusJson(frame_.status()));
    lastStatus_ = frame_.status();
    tell(pendulumJson(pendulum_.status()));
    pendulumTold_ = pendulum_.status();
    flushSocket(peer.socket);
}

/// Who does not lead and has nothing to say is let go.
void MachineService::dropIdle()
{
    std::vector<QIODevice*> idle;
    for (const auto& peer : peers_)
        if (peer.get() != leader_ && peer->heard.elapsed() > idleFor)
            idle.push_back(peer->socket);
    for (QIODevice* socket : idle)
        abortSocket(socket);
}

void MachineService::beat()
{
    beat_.start();
    const std::string leader =
        leader_ && heardLately() ? (leader_->name.empty() ? "another program" : leader_->name) : "";
    const LinkJson message{
        {"kind", "beat"}, {"time", frame_.time()}, {"next", nextRow_}, {"force", frame_.force()}, {"leader", leader}};
    for (const auto& peer : peers_)
        if (peer.get() == leader_)
            tell(message);
        else if (peer->trusted)
            tell(*peer, message);
    dropIdle();
}

void MachineService::resend(std::uint64_t from, std::uint64_t to)
{
    const std::uint64_t oldest = ring_.empty() ? nextRow_ : ring_.front().first;
    if (from < oldest)
        tell({{"kind", "gone"}, {"from", from}, {"to", std::min(oldest, to)}});
    for (const SampleBatch& batch : ring_)
        if (batch.next() > from && batch.first < to)
            write(FrameKind::Samples, packSamples(batch));
}

void MachineService::answer(const LinkJson& message)
{
    flushRows();
    const std::string name = textOf(message, "do");
    const auto it = commands_.find(name);
    const Expected<LinkJson> result = it == commands_.end()
        ? Expected<LinkJson>(Problem{"command", name, "one of its abilities", {}})
        : it->second(message);
    if (frame_.channels() != lastChannels_ || pending_.step != 1 / frame_.spec().rate) {
        newChannels();
        tell({{"kind", "channels"}, {"channels", channelsJson()}, {"rate", frame_.spec().rate}, {"first", nextRow_}});
    }
    LinkJson ack = result ? *result : LinkJson{{"problem", problemJson(result.problem())}};
    ack["kind"] = "ack";
    ack["id"] = countOf(message, "id");
    ack["ok"] = static_cast<bool>(result);
    // What it did is told before the answer, so that who has the answer knows it.
    tellEvents();
    tellStatus();
    pendulumAt_.invalidate();
    tellPendulum();
    tell(ack);
    if (leader_)
        flushSocket(leader_->socket);
}

void MachineService::tell(Peer& peer, const LinkJson& message)
{
    const std::string bytes =
        encodeFrame(FrameKind::Text, message.dump(-1, ' ', false, LinkJson::error_handler_t::replace));
    peer.socket->write(bytes.data(), static_cast<qint64>(bytes.size()));
}

/// To who leads.
void MachineService::write(FrameKind kind, std::string_view payload)
{
    if (!leader_)
        return;
    std::string bytes = encodeFrame(kind, payload);
    if (lateFor_ > 0 && lateUntil_.elapsed() < lateFor_) {
        late_.push_back(std::move(bytes));
        return;
    }
    lateFor_ = 0;
    for (; !late_.empty(); late_.pop_front())
        leader_->socket->write(late_.front().data(), static_cast<qint64>(late_.front().size()));
    leader_->socket->write(bytes.data(), static_cast<qint64>(bytes.size()));
}

} // namespace fortitor
