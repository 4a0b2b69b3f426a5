// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/strike/pendulum_work.h"

#include "app/widgets/basics.h"
#include "methods/common/figures.h"
#include "methods/impact/impact.h"
#include "sim/struck_piece.h"

#include <numbers>

namespace fortitor {

using Hammer = PendulumStatus::Hammer;

PendulumWork::PendulumWork(Session& session, LiveFrame& frame, bool free, QObject* parent)
    : QObject(parent), session_(session), frame_(frame), free_(free)
{
    connect(&frame_.client(), &MachineClient::pendulumChanged, this, &PendulumWork::told);
    connect(&frame_.client(), &MachineClient::joined, this, &PendulumWork::changed);
    connect(&frame_.client(), &MachineClient::lost, this, [this] {
        waiting_ = false;
        owed_ = 0;
        emit changed();
    });
}

const PendulumStatus* PendulumWork::status() const
{
    return wanted_ && frame_.joined() ? &frame_.client().pendulum() : nullptr;
}

bool PendulumWork::busy() const
{
    const PendulumStatus* now = status();
    return now && now->hammer != Hammer::Hanging;
}

PendulumWork::Next PendulumWork::next() const
{
    const PendulumStatus* now = status();
    if (!now)
        return wanted_ ? Next::Wait : Next::Join;
    if (owed_ > 0)
        return Next::Wait;
    const bool pieceIn = free_ ? !now->piece : now->piece;
    switch (now->hammer) {
    case Hammer::Hanging: return Next::Raise;
    case Hammer::Rising:
    case Hammer::Braking: return Next::Wait;
    case Hammer::Swinging: return now->pointerSet ? Next::Wait : Next::Brake; // not before it came through
    case Hammer::Raised: break;
    }
    if (!pieceIn || !now->pointerSet)
        return Next::PieceIn;
    return now->guard ? Next::Release : Next::CloseGuard;
}

QString PendulumWork::nextStep() const
{
    switch (next()) {
    case Next::Join: return free_ ? "Simulated free swing" : "Simulated pendulum";
    case Next::Raise: return "Raise and lock";
    case Next::PieceIn: return free_ ? "Set the pointer" : "Piece in, pointer set";
    case Next::CloseGuard: return "Close the guard";
    case Next::Release: return "Release";
    case Next::Brake: return "Brake";
    case Next::Wait: break;
    }
    return {};
}

QString PendulumWork::words() const
{
    const PendulumStatus* now = status();
    if (!now)
        return wanted_ ? frame_.linkWords() : QString();
    const char* hammer = now->hammer == Hammer::Hanging ? "hammer hangs still"
        : now->hammer == Hammer::Rising                 ? "hammer is being raised"
        : now->hammer == Hammer::Swinging               ? "hammer swings"
        : now->hammer == Hammer::Braking                ? "coming to rest"
        : now->locked                                   ? "hammer raised and locked"
                                                        : "hammer raised, not locked";
    const std::string& material = session_.job().materialName;
    const QString like = free_ || !session_.hasSpecimen() || struckKind(material)
        ? QString()
        : " · nothing is known here of this material: pieces like " + q(std::string(struckLike(material).material));
    return QString("%1 · guard %2 · pointer %3")
               .arg(hammer, now->guard ? "closed" : "open", now->pointerSet ? "at its start" : "not at its start")
        + like;
}

void PendulumWork::tell(const char* command, LinkJson arguments, MachineClient::Answer then)
{
    ++owed_;
    frame_.client().command(command, std::move(arguments),
                            [this, then = std::move(then)](const Expected<LinkJson>& answer) {
                                owed_ = std::max(0, owed_ - 1);
                                if (!answer)
                                    emit refused("The pendulum refuses: " + q(answer.problem().text()));
                                if (then)
                                    then(answer);
                                emit changed();
                            });
}

/// The tester that the job names, with a loss of its own.
void PendulumWork::putUp()
{
    const StrikeDesk desk = strikeDesk(session_.specimen().input);
    const StruckKind& kind = struckLike(session_.job().materialName);
    if (!desk.pendulum)
        return emit refused(desk.trouble.empty() ? QString("State the pendulum on Plan first.") : q(desk.trouble));
    LinkJson figures{{"energy", *desk.pendulum}};
    if (desk.release)
        figures["release"] = *desk.release * 180 / std::numbers::pi;
    figures["step"] = kind.step;
    figures["swing_loss"] = kind.loss * *desk.pendulum / kind.pendulum;
    const auto raise = [this](const Expected<LinkJson>& answer) {
        if (answer)
            tell("pendulum-raise");
    };
    const PendulumStatus* now = status();
    if (now && !now->guard)
        tell("pendulum-guard", {{"closed", true}});
    tell("pendulum-set-up", figures, raise);
}

void PendulumWork::pieceIn()
{
    const SpecimenInput& input = session_.specimen().input;
    SpecimenInput planned = input;
    if (noteOf(input, impactKeys::temperature).empty())
        planned.notes[impactKeys::temperature] = noteOf(input, impactKeys::planned);
    const auto temperature = temperatureOf(planned);
    if (!free_) {
        if (!temperature || !*temperature)
            return emit refused("Note the temperature first: the simulated pendulum strikes at it.");
        if (!input.readings.empty())
            return emit refused("This piece is struck already.");
    }
    const PendulumStatus* now = status();
    if (now && now->guard)
        tell("pendulum-guard", {{"closed", false}});
    if (!free_) {
        label_ = q(session_.specimen().label);
        job_ = session_.jobId();
        tell("pendulum-place",
             {{"material", std::string(struckLike(session_.job().materialName).material)},
              {"temperature", **temperature},
              {"seed", seedOf(session_.job().number + session_.specimen().label)}});
    } else {
        label_.clear();
        if (now && now->piece)
            tell("pendulum-take-away");
    }
    tell("pendulum-pointer");
}

void PendulumWork::setGuard(bool closed)
{
    tell("pendulum-guard", {{"closed", closed}});
}

void PendulumWork::step()
{
    if (!session_.hasSpecimen())
        return;
    switch (next()) {
    case Next::Join:
        wanted_ = true;
        frame_.join();
        emit changed();
        break;
    case Next::Raise: putUp(); break;
    case Next::PieceIn: pieceIn(); break;
    case Next::CloseGuard: setGuard(true); break;
    case Next::Release:
        tell("pendulum-lock", {{"in", false}});
        tell("pendulum-release", LinkJson::object(),
             [this](const Expected<LinkJson>& answer) { waiting_ = static_cast<bool>(answer); });
        break;
    case Next::Brake: tell("pendulum-brake"); break;
    case Next::Wait: break;
    }
}

void PendulumWork::told()
{
    const PendulumStatus* now = status();
    if (now && waiting_ && now->hammer == Hammer::Hanging) {
        waiting_ = false;
        if (!now->reading || (!free_ && !now->struck))
            emit refused("The hammer was stopped before it came through: nothing is read.");
        else if (free_)
            emit swung(*now->reading, {}, {});
        else
            pickUp(*now->reading);
    }
    emit changed();
}

void PendulumWork::pickUp(double reading)
{
    tell("pendulum-pick-up", LinkJson::object(), [this, reading](const Expected<LinkJson>& answer) {
        if (!answer)
            return;
        if (!session_.isOpen() || session_.jobId() != job_)
            return emit refused("Another job is open now: the blow on " + label_ + " is not kept.");
        std::map<std::string, std::string> notes{{impactKeys::broken, textOf(*answer, "break")},
                                                 {impactKeys::look, textOf(*answer, "face")}};
        if (session_.job().method->findNote(impactKeys::shear))
            notes[impactKeys::shear] = s(QString("%1 %").arg(100 * figureOf(*answer, "shear"), 0, 'f', 0));
        emit swung(reading, label_, notes);
    });
}

} // namespace fortitor
