// SPDX-License-Identifier: GPL-3.0-or-later
// What the frame says.
#include "link/machine_client.h"

#include "link/socket.h"

namespace fortitor {
namespace {

constexpr std::size_t mostEarlyRows = 1 << 20; // that wait for one that is missing

} // namespace

void MachineClient::readSome()
{
    heard_.restart();
    const QByteArray bytes = socket_->readAll();
    decoder_.take({bytes.constData(), static_cast<size_t>(bytes.size())});
    while (socket_) {
        auto frame = decoder_.next();
        if (!frame)
            return drop(QString::fromStdString(frame.problem().text()));
        if (!*frame)
            return;
        if ((*frame)->kind == FrameKind::Samples) {
            auto batch = unpackSamples((*frame)->payload);
            if (!batch)
                return drop(QString::fromStdString(batch.problem().text()));
            if (link_ == Link::Joined)
                take(std::move(*batch));
            continue;
        }
        auto message = parseMessage((*frame)->payload);
        if (!message)
            return drop(QString::fromStdString(message.problem().text()));
        handle(*message);
    }
}

void MachineClient::takeChannels(const LinkJson& message)
{
    channels_.clear();
    if (const auto it = message.find("channels"); it != message.end() && it->is_array())
        for (const LinkJson& one : *it)
            channels_.push_back(textOf(one, "name"));
    rate_ = figureOf(message, "rate");
}

void MachineClient::greeted(const LinkJson& message)
{
    if (countOf(message, "protocol") != linkProtocol) {
        const QString why = "the frame speaks version " + QString::number(countOf(message, "protocol"))
            + " of the link, version " + QString::number(linkProtocol) + " is wanted";
        drop(why);
        again_.stop();
        link_ = Link::Off;
        emit refused(why);
        return;
    }
    hello_ = message;
    takeChannels(message);
    askToJoin();
}

/// The frame is led by this program from here on.
void MachineClient::welcomed(const LinkJson& message)
{
    const QString session = QString::fromStdString(textOf(hello_, "session"));
    const bool again = !session_.isEmpty();
    const bool same = session == session_;
    takeChannels(message);
    if (!same) {
        expected_ = countOf(message, "next");
        nextEvent_ = countOf(message, "events");
    }
    session_ = session;
    link_ = Link::Joined;
    leader_.clear();
    emit joined(again, same);
    for (const LinkJson& queued : std::exchange(queued_, {}))
        send(queued);
}

void MachineClient::turnedAway(const LinkJson& message)
{
    const QString why = QString::fromStdString(textOf(message, "found"));
    if (!flagOf(message, "looks_on")) {
        drop(why);
        again_.stop(); // asked again it would say the same
        link_ = Link::Off;
        emit refused(why);
        return;
    }
    if (link_ == Link::LookingOn)
        return;
    link_ = Link::LookingOn;
    leader_ = "another program";
    emit refused(why);
    emit looksOn(leader_);
}

void MachineClient::takeState(const LinkJson& message)
{
    if (auto status = statusFrom(message)) {
        status_ = std::move(*status);
        emit statusChanged();
    }
}

/// What comes while another program leads the frame.
void MachineClient::lookOn(const std::string& kind, const LinkJson& message)
{
    if (kind == "beat") {
        leader_ = QString::fromStdString(textOf(message, "leader"));
        forceSeen_ = figureOf(message, "force");
        if (leader_.isEmpty())
            askToJoin(); // it is free
        emit beaten();
    } else if (kind == "state") {
        takeState(message);
    }
}

void MachineClient::acknowledged(const LinkJson& message)
{
    const auto node = waiting_.extract(countOf(message, "id"));
    if (node.empty() || !node.mapped())
        return;
    if (flagOf(message, "ok"))
        node.mapped()(message);
    else
        node.mapped()(problemFrom(message.value("problem", LinkJson::object())));
}

void MachineClient::handle(const LinkJson& message)
{
    const std::string kind = textOf(message, "kind");
    if (kind == "hello")
        return greeted(message);
    if (kind == "refused")
        return turnedAway(message);
    if (kind == "joined" && link_ != Link::Joined)
        return welcomed(message);
    if (link_ == Link::LookingOn)
        return lookOn(kind, message);
    if (link_ != Link::Joined)
        return;
    if (kind == "ack") {
        acknowledged(message);
    } else if (kind == "state") {
        takeState(message);
    } else if (kind == "pendulum-state") {
        if (const auto status = pendulumFrom(message)) {
            pendulum_ = *status;
            emit pendulumChanged();
        }
    } else if (kind == "rig-state") {
        if (const auto status = rigFrom(message)) {
            rig_ = *status;
            emit rigChanged();
        }
    } else if (kind == "channels") {
        takeChannels(message);
        expected_ = countOf(message, "first");
        early_.clear();
        earlyRows_ = 0;
        emit channelsChanged();
    } else if (kind == "event") {
        const std::uint64_t number = countOf(message, "n");
        if (number < nextEvent_)
            return; // told already
        nextEvent_ = number + 1;
        emit happened({number,
                       countOf(message, "seq"),
                       {figureOf(message, "time"), textOf(message, "code"), textOf(message, "text")}});
    } else if (kind == "gone") {
        const std::uint64_t to = countOf(message, "to");
        if (to > expected_) {
            emit gap(expected_, to);
            expected_ = to;
            drainEarly();
        }
    }
}

void MachineClient::take(SampleBatch batch)
{
    if (batch.channels != channels_.size() || batch.next() <= expected_)
        return; // of another set-up, or seen already
    if (batch.first > expected_) {
        if (askedTo_ < batch.first) {
            send({{"kind", "resend"}, {"from", expected_}, {"to", batch.first}});
            askedTo_ = batch.first;
        }
        const std::size_t rows = batch.rows();
        if (early_.try_emplace(batch.first, std::move(batch)).second)
            earlyRows_ += rows;
        if (earlyRows_ > mostEarlyRows)
            drop("readings " + QString::number(expected_) + " on did not come, though they were asked for");
        return;
    }
    if (batch.first < expected_) {
        const std::size_t seen = expected_ - batch.first;
        batch.values.erase(batch.values.begin(),
                           batch.values.begin() + static_cast<std::ptrdiff_t>(seen * batch.channels));
        batch.time += static_cast<double>(seen) * batch.step;
        batch.first = expected_;
    }
    expected_ = batch.next();
    emit samples(batch);
    drainEarly();
}

void MachineClient::drainEarly()
{
    while (!early_.empty() && early_.begin()->first <= expected_) {
        auto node = early_.extract(early_.begin());
        earlyRows_ -= std::min(earlyRows_, node.mapped().rows());
        take(std::move(node.mapped()));
    }
}

} // namespace fortitor
