// SPDX-License-Identifier: GPL-3.0-or-later
#include "link/machine_client.h"

#include "link/socket.h"

#include <QCoreApplication>
#include <QHostAddress>

namespace fortitor {
namespace {

constexpr int beatEvery = 200; // ms
constexpr int silentFor = 1000; // ms without a word: the link is lost
constexpr int againEvery = 250; // ms between tries to join
constexpr int answerWithin = 250; // ms, of a STOP beside the link

std::unique_ptr<QIODevice> socketFor(const QString& address)
{
    if (address.startsWith("local:"))
        return std::make_unique<QLocalSocket>();
    auto tcp = std::make_unique<QTcpSocket>();
    tcp->setSocketOption(QAbstractSocket::LowDelayOption, 1);
    return tcp;
}

} // namespace

MachineClient::MachineClient(QObject* parent) : QObject(parent)
{
    beat_.setInterval(beatEvery);
    again_.setInterval(againEvery);
    again_.setSingleShot(true);
    connect(&beat_, &QTimer::timeout, this, &MachineClient::beat);
    connect(&again_, &QTimer::timeout, this, &MachineClient::connectNow);
}

MachineClient::~MachineClient()
{
    if (socket_)
        socket_->disconnect(this);
}

void MachineClient::open(const QString& address, const QString& token)
{
    close();
    address_ = address;
    token_ = token;
    link_ = Link::Joining;
    connectNow();
}

void MachineClient::close()
{
    again_.stop();
    beat_.stop();
    if (socket_) {
        if (link_ == Link::Joined || link_ == Link::LookingOn) {
            send({{"kind", "bye"}});
            flushSocket(socket_.get());
        }
        socket_->disconnect(this);
        socket_.reset();
    }
    link_ = Link::Off;
    session_.clear();
    queued_.clear();
    waiting_.clear();
    early_.clear();
    earlyRows_ = 0;
    leader_.clear();
    status_ = {};
    expected_ = nextEvent_ = askedTo_ = 0;
}

void MachineClient::connectNow()
{
    decoder_ = {};
    early_.clear();
    earlyRows_ = 0;
    askedTo_ = 0;
    if (socket_)
        socket_->disconnect(this);
    if (address_.startsWith("local:")) {
        auto local = std::make_unique<QLocalSocket>();
        connect(local.get(), &QLocalSocket::connected, this, &MachineClient::connected);
        connect(local.get(), &QLocalSocket::disconnected, this, [this] { drop("the frame closed the link"); });
        connect(local.get(), &QLocalSocket::errorOccurred, this, [this] { drop(socket_->errorString()); });
        auto* raw = local.get();
        socket_ = std::move(local);
        connect(raw, &QIODevice::readyRead, this, &MachineClient::readSome);
        raw->connectToServer(address_.mid(6));
        return;
    }
    const qsizetype colon = address_.lastIndexOf(':');
    const QHostAddress host = address_.left(colon) == "localhost" ? QHostAddress(QHostAddress::LocalHost)
                                                                  : QHostAddress(address_.left(colon));
    bool good = false;
    const int port = address_.mid(colon + 1).toInt(&good);
    if (colon < 0 || !good || port < 1 || port > 65535 || !host.isLoopback()) {
        link_ = Link::Off;
        emit refused("\"" + address_ + "\" is no place of this machine: wanted 127.0.0.1:PORT or local:NAME");
        return;
    }
    auto tcp = std::make_unique<QTcpSocket>();
    tcp->setSocketOption(QAbstractSocket::LowDelayOption, 1);
    connect(tcp.get(), &QTcpSocket::connected, this, &MachineClient::connected);
    connect(tcp.get(), &QTcpSocket::disconnected, this, [this] { drop("the frame closed the link"); });
    connect(tcp.get(), &QTcpSocket::errorOccurred, this, [this] { drop(socket_->errorString()); });
    auto* raw = tcp.get();
    socket_ = std::move(tcp);
    connect(raw, &QIODevice::readyRead, this, &MachineClient::readSome);
    raw->connectToHost(host, static_cast<quint16>(port));
}

void MachineClient::connected()
{
    if (auto* tcp = qobject_cast<QTcpSocket*>(socket_.get()))
        tcp->setSocketOption(QAbstractSocket::LowDelayOption, 1);
    heard_.start();
    beat_.start();
}

void MachineClient::drop(const QString& why)
{
    if (link_ == Link::Off)
        return;
    beat_.stop();
    const bool was = link_ == Link::Joined;
    if (link_ == Link::LookingOn)
        link_ = Link::Joining;
    leader_.clear();
    if (socket_) {
        socket_->disconnect(this);
        socket_->close();
        socket_.release()->deleteLater();
    }
    if (was) {
        link_ = Link::Lost;
        const auto waiting = std::exchange(waiting_, {});
        for (const auto& [id, answer] : waiting)
            if (answer)
                answer(Problem{"the frame", "the link was lost before it answered", "an answer", {}});
        emit lost(why);
    }
    if (link_ != Link::Off)
        again_.start();
}

void MachineClient::beat()
{
    if (heard_.elapsed() > silentFor)
        return drop(QString("nothing heard for %1 s").arg(static_cast<double>(heard_.elapsed()) / 1000, 0, 'f', 1));
    if (link_ == Link::Joined || link_ == Link::LookingOn)
        send({{"kind", "beat"}});
}

bool MachineClient::send(const LinkJson& message)
{
    if (!socket_ || !socket_->isOpen())
        return false;
    const std::string bytes =
        encodeFrame(FrameKind::Text, message.dump(-1, ' ', false, LinkJson::error_handler_t::replace));
    return socket_->write(bytes.data(), static_cast<qint64>(bytes.size())) == static_cast<qint64>(bytes.size());
}

void MachineClient::command(const char* name, LinkJson arguments, Answer answer)
{
    if (link_ == Link::Off || link_ == Link::Lost || link_ == Link::LookingOn) {
        if (answer)
            answer(link_ == Link::LookingOn
                       ? Problem{"the frame", leader_.toStdString() + " leads it", "a frame that is free",
                                 "Only STOP is taken from others."}
                       : Problem{"the frame", link_ == Link::Lost ? "the link is lost" : "no frame is joined",
                                 "a frame that hears",
                                 "It is joined again by itself; its own watchdog holds it meanwhile."});
        return;
    }
    const std::uint64_t id = nextId_++;
    arguments["kind"] = "command";
    arguments["do"] = name;
    arguments["id"] = id;
    waiting_[id] = std::move(answer);
    if (link_ == Link::Joined)
        send(arguments);
    else
        queued_.push_back(std::move(arguments));
}

bool MachineClient::stopNow()
{
    if (link_ != Link::Joined || !send({{"kind", "command"}, {"do", "stop"}, {"id", nextId_++}}))
        return stopBeside();
    flushSocket(socket_.get());
    return true;
}

/// STOP is taken from anybody: also while another leads, or before this program is joined.
bool MachineClient::stopBeside()
{
    // A key that is held down does not make the window wait again and again.
    if (address_.isEmpty() || (stoppedBeside_.isValid() && stoppedBeside_.elapsed() < 2 * answerWithin))
        return false;
    const auto failed = [this] {
        stoppedBeside_.start();
        return false;
    };
    const auto socket = socketFor(address_);
    if (auto* local = qobject_cast<QLocalSocket*>(socket.get())) {
        local->connectToServer(address_.mid(6));
        if (!local->waitForConnected(answerWithin))
            return failed();
    } else if (auto* tcp = qobject_cast<QTcpSocket*>(socket.get())) {
        tcp->connectToHost(QHostAddress(address_.section(':', 0, 0) == "localhost" ? QString("127.0.0.1")
                                                                                   : address_.section(':', 0, 0)),
                           address_.section(':', -1).toUShort());
        if (!tcp->waitForConnected(answerWithin))
            return failed();
    }
    const std::string stop =
        encodeFrame(FrameKind::Text, LinkJson{{"kind", "command"}, {"do", "stop"}, {"id", 1}}.dump());
    socket->write(stop.data(), static_cast<qint64>(stop.size()));
    flushSocket(socket.get());
    FrameDecoder heard;
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < answerWithin && socket->waitForReadyRead(answerWithin)) {
        const QByteArray bytes = socket->readAll();
        heard.take({bytes.constData(), static_cast<size_t>(bytes.size())});
        for (auto frame = heard.next(); frame && *frame; frame = heard.next())
            if (const auto message = parseMessage((*frame)->payload);
                (*frame)->kind == FrameKind::Text && message && textOf(*message, "kind") == "ack")
                return flagOf(*message, "ok");
    }
    return failed();
}

void MachineClient::askToJoin()
{
    const std::string session = textOf(hello_, "session");
    const bool same = session == session_.toStdString();
    send({{"kind", "join"},
          {"version", linkProtocol},
          {"token", token_.toStdString()},
          {"name", "fortitor, process " + std::to_string(QCoreApplication::applicationPid())},
          {"session", session},
          {"samples_from", same ? expected_ : countOf(hello_, "next")},
          {"events_from", same ? nextEvent_ : countOf(hello_, "events")}});
}

} // namespace fortitor
