// SPDX-License-Identifier: GPL-3.0-or-later
// The pendulum beside the frame.
#include "machine/service.h"

namespace fortitor {
namespace {

constexpr qint64 toldEvery = 30; // ms while it moves

} // namespace

void MachineService::learnPendulum()
{
    const auto learn = [this](const char* name, auto act) {
        commands_[std::string("pendulum-") + name] = [this, act](const LinkJson& m) -> Expected<LinkJson> {
            return plain(act(m));
        };
    };
    learn("set-up", [this](const LinkJson& m) {
        PendulumSpec spec = pendulum_.spec();
        for (const auto& [key, figure] : {std::pair("energy", &spec.energy),
                                          {"release", &spec.release},
                                          {"swing_loss", &spec.loss},
                                          {"step", &spec.step},
                                          {"length", &spec.length}})
            *figure = figureOf(m, key, *figure);
        return pendulum_.setUp(spec);
    });
    learn("raise", [this](const LinkJson&) { return pendulum_.raise(); });
    learn("lock", [this](const LinkJson& m) { return pendulum_.setLock(flagOf(m, "in")); });
    learn("guard", [this](const LinkJson& m) { return pendulum_.setGuard(flagOf(m, "closed")); });
    learn("pointer", [this](const LinkJson&) { return pendulum_.setPointer(); });
    learn("release", [this](const LinkJson&) { return pendulum_.release(); });
    learn("brake", [this](const LinkJson&) -> Expected<Done> {
        pendulum_.brake();
        return Done{};
    });
    learn("take-away", [this](const LinkJson&) { return pendulum_.takeAway(); });
    learn("place", [this](const LinkJson& m) -> Expected<Done> {
        const StruckKind* kind = struckKind(textOf(m, "material"));
        const double temperature = figureOf(m, "temperature", std::nan(""));
        if (!kind)
            return Problem{"material", textOf(m, "material", "nothing"), "one that the simulated pendulum has", {}};
        if (!(temperature > -273.15) || temperature > 1000)
            return Problem{"temperature", "none that can be", "°C of the piece", {}};
        const StruckPiece piece = strike(*kind, temperature, countOf(m, "seed", 1));
        auto placed = pendulum_.place(piece.taken);
        if (placed)
            struck_ = piece;
        return placed;
    });
    // What a person sees of the halves.
    commands_["pendulum-pick-up"] = [this](const LinkJson&) -> Expected<LinkJson> {
        if (!struck_ || !pendulum_.status().struck || pendulum_.status().hammer != PendulumStatus::Hammer::Hanging)
            return Problem{"halves", "none to pick up", "a blow, and a hammer that hangs still", {}};
        const StruckPiece piece = *std::exchange(struck_, std::nullopt);
        return LinkJson{
            {"break", piece.broken}, {"face", piece.look}, {"shear", piece.shear}, {"expansion", piece.expansion}};
    };
}

void MachineService::tellPendulum()
{
    if (!leader_ || pendulum_.status() == pendulumTold_ || (pendulumAt_.isValid() && pendulumAt_.elapsed() < toldEvery))
        return;
    pendulumTold_ = pendulum_.status();
    pendulumAt_.start();
    tell(pendulumJson(pendulumTold_));
}

} // namespace fortitor
