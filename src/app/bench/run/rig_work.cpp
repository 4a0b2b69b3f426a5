// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/run/rig_work.h"

#include "app/widgets/basics.h"
#include "methods/common/figures.h"
#include "methods/fatigue_sn/run_desk.h"
#include "sim/fatigue_piece.h"

namespace fortitor {

using State = RigStatus::State;
using Stop = RigStatus::Stop;

namespace {

/// The piece still stands.
bool mayGoOn(Stop stop)
{
    return stop == Stop::Hand || stop == Stop::Guard || stop == Stop::Temperature;
}

} // namespace

QString stopWords(RigStatus::Stop stop)
{
    switch (stop) {
    case Stop::None: return {};
    case Stop::Hand: return "stopped by hand";
    case Stop::RunOut: return "run-out reached";
    case Stop::Stiffness: return "the stiffness fell by what was set";
    case Stop::Travel: return "the travel grew by what was set";
    case Stop::Force: return "the force could not be held";
    case Stop::Temperature: return "the piece grew warmer than was set";
    case Stop::Guard: return "the guard was opened";
    }
    return {};
}

RigWork::RigWork(Session& session, LiveFrame& frame, QObject* parent)
    : QObject(parent), session_(session), frame_(frame)
{
    connect(&frame_.client(), &MachineClient::rigChanged, this, &RigWork::told);
    connect(&frame_.client(), &MachineClient::joined, this, [this] {
        if (wanted_)
            tell("rig-tell");
        emit changed();
    });
    connect(&frame_.client(), &MachineClient::lost, this, [this] {
        owed_ = 0;
        emit changed();
    });
}

const RigStatus* RigWork::status() const
{
    return wanted_ && frame_.joined() ? &frame_.client().rig() : nullptr;
}

/// The job is named too: the frame keeps the piece while others are open.
std::string RigWork::labelOf(size_t specimen) const
{
    return session_.job().number + " / " + session_.job().specimens[specimen].label;
}

std::optional<size_t> RigWork::inGrips() const
{
    const RigStatus* now = status();
    if (!now || now->state == State::Empty || !session_.isOpen())
        return std::nullopt;
    for (size_t i = 0; i < session_.job().specimens.size(); ++i)
        if (labelOf(i) == now->label)
            return i;
    return std::nullopt;
}

QDateTime RigWork::reaches(double cycles) const
{
    const RigStatus* now = status();
    if (!now || now->state != State::Running || !(now->frequency > 0) || cycles <= now->cycles)
        return {};
    return QDateTime::currentDateTime().addMSecs(
        static_cast<qint64>(1000 * (cycles - now->cycles) / (now->frequency * now->pace)));
}

RigWork::Next RigWork::next() const
{
    const RigStatus* now = status();
    if (!now)
        return wanted_ ? Next::Wait : Next::Join;
    if (owed_ > 0)
        return Next::Wait;
    switch (now->state) {
    case State::Empty: return Next::PieceIn;
    case State::Ready: return now->guard ? Next::Start : Next::CloseGuard;
    case State::Running: return Next::Stop;
    case State::Stopped: break;
    }
    return !mayGoOn(now->stop) ? Next::TakeOut : now->guard ? Next::Start : Next::CloseGuard;
}

QString RigWork::nextStep() const
{
    const RigStatus* now = status();
    switch (next()) {
    case Next::Join: return "Simulated frame";
    case Next::PieceIn: return "Piece in";
    case Next::CloseGuard: return "Close the guard";
    case Next::Start: return now && now->cycles > 0 ? "Go on" : "Start";
    case Next::Stop: return "Stop";
    case Next::TakeOut: return "Take it out";
    case Next::Wait: break;
    }
    return {};
}

/// What stands in for a material that nothing is known of.
QString RigWork::like() const
{
    const std::string& material = session_.job().materialName;
    return fatigueKind(material)
        ? QString()
        : " · nothing is known here of this material: it lives like " + q(std::string(fatigueLike(material).material));
}

QString RigWork::words() const
{
    const RigStatus* now = status();
    if (!now)
        return wanted_ ? frame_.linkWords() : QString();
    if (now->state == State::Empty)
        return QString("grips empty · guard %1").arg(now->guard ? "closed" : "open");
    const QString piece = q(now->label) + " · " + q(cyclesText(now->cycles)) + " cycles";
    if (now->state == State::Ready)
        return q(now->label) + QString(" in the grips · guard %1").arg(now->guard ? "closed" : "open") + like();
    if (now->state == State::Stopped)
        return piece + " · stopped: " + stopWords(now->stop) + ", drive disabled";
    return piece
        + QString(" · %1 to %2 kN · stiffness %3 % · %4 °C")
              .arg(now->least / 1000, 0, 'f', 1)
              .arg(now->greatest / 1000, 0, 'f', 1)
              .arg(100 * now->stiffness, 0, 'f', 1)
              .arg(now->temperature, 0, 'f', 0);
}

void RigWork::tell(const char* command, LinkJson arguments, MachineClient::Answer then)
{
    ++owed_;
    emit changed(); // nothing more is to be pressed until it answers
    frame_.client().command(command, std::move(arguments),
                            [this, then = std::move(then)](const Expected<LinkJson>& answer) {
                                owed_ = std::max(0, owed_ - 1);
                                if (!answer)
                                    emit refused("The frame refuses: " + q(answer.problem().text()));
                                if (then)
                                    then(answer);
                                emit changed();
                            });
}

/// The piece at hand with its order; the guard is opened for it.
void RigWork::pieceIn()
{
    const size_t at = session_.current();
    const SpecimenInput& input = session_.specimen().input;
    if (!input.readings.empty())
        return emit refused("This piece was run already.");
    const FatigueKind& kind = fatigueLike(session_.job().materialName);
    const auto order = runOrder(input);
    if (!order)
        return emit refused(q(order.problem().text()));
    const auto before = cyclesTyped(noteOf(input, fatigueKeys::soFar));
    LinkJson json = rigOrderJson({.label = labelOf(at),
                                  .least = order->least,
                                  .greatest = order->greatest,
                                  .frequency = order->frequency,
                                  .before = before ? *before : 0,
                                  .runOut = order->stops.runOut,
                                  .travelStop = order->stops.travel,
                                  .stiffnessStop = order->stops.stiffness,
                                  .forceStop = order->stops.force,
                                  .temperatureStop = order->stops.temperature});
    json["material"] = std::string(kind.material);
    json["area"] = order->area;
    json["seed"] = seedOf(session_.job().number + session_.job().specimens[at].label);
    if (const RigStatus* now = status(); now && now->guard)
        tell("rig-guard", {{"closed", false}});
    tell("rig-place", json);
}

void RigWork::setPace(double pace)
{
    pace_ = pace;
    if (status())
        tell("rig-pace", {{"speed", pace}});
}

void RigWork::stop()
{
    if (const RigStatus* now = status(); now && now->state == State::Running)
        tell("rig-stop");
}

void RigWork::step()
{
    if (!session_.hasSpecimen())
        return;
    switch (next()) {
    case Next::Join:
        wanted_ = true;
        frame_.join();
        if (frame_.joined())
            tell("rig-tell");
        emit changed();
        break;
    case Next::PieceIn:
        if (pace_ > 0)
            tell("rig-pace", {{"speed", pace_}});
        pieceIn();
        break;
    case Next::CloseGuard: tell("rig-guard", {{"closed", true}}); break;
    case Next::Start: tell("rig-start"); break;
    case Next::Stop: stop(); break;
    case Next::TakeOut:
        tell("rig-guard", {{"closed", false}});
        tell("rig-take-away");
        break;
    case Next::Wait: break;
    }
}

void RigWork::told()
{
    const RigStatus* now = status();
    if (now && now->state == State::Stopped && inGrips()) {
        look();
        if (before_ == State::Running && mayGoOn(now->stop))
            emit paused(*inGrips(), now->cycles);
    }
    before_ = now ? now->state : State::Empty;
    emit changed();
}

/// How the piece ended; kept once, by whoever hears it.
void RigWork::look()
{
    const RigStatus now = frame_.client().rig();
    if (mayGoOn(now.stop))
        return;
    const auto at = inGrips();
    if (!at || !session_.job().specimens[*at].input.readings.empty())
        return;
    frame_.client().command("rig-look", LinkJson::object(), [this, now](const Expected<LinkJson>& answer) {
        const auto specimen = inGrips();
        if (answer && specimen)
            emit ended(*specimen, now.cycles, q(textOf(*answer, "end")), stopWords(now.stop));
    });
}

} // namespace fortitor
