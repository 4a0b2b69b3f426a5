// SPDX-License-Identifier: GPL-3.0-or-later
// The frame for fatigue runs.
#include "machine/service.h"

namespace fortitor {
namespace {

constexpr qint64 rigToldEvery = 100; // ms while it runs

} // namespace

void MachineService::learnRig()
{
    const auto learn = [this](const char* name, auto act) {
        commands_[std::string("rig-") + name] = [this, act](const LinkJson& m) -> Expected<LinkJson> {
            auto done = act(m);
            rigTold_.reset(); // whoever commands sees what became of it
            return plain(done);
        };
    };
    learn("place", [this](const LinkJson& m) -> Expected<Done> {
        const FatigueKind* kind = fatigueKind(textOf(m, "material"));
        if (!kind)
            return Problem{"material", textOf(m, "material", "nothing"), "one that the simulated frame has", {}};
        const auto order = rigOrderFrom(m);
        if (!order)
            return order.problem();
        return rig_.place(drawFatiguePiece(*kind, countOf(m, "seed", 1)), figureOf(m, "area"), *order);
    });
    learn("guard", [this](const LinkJson& m) { return rig_.setGuard(flagOf(m, "closed")); });
    learn("start", [this](const LinkJson&) { return rig_.start(); });
    learn("stop", [this](const LinkJson&) -> Expected<Done> {
        rig_.stop();
        return Done{};
    });
    learn("pace", [this](const LinkJson& m) { return rig_.setPace(figureOf(m, "speed", 1)); });
    learn("take-away", [this](const LinkJson&) { return rig_.takeAway(); });
    // What a person sees of the piece once it stopped.
    commands_["rig-look"] = [this](const LinkJson&) -> Expected<LinkJson> {
        const auto seen = rig_.seen();
        if (!seen)
            return Problem{"piece", "nothing to see yet", "a run that has ended", {}};
        return LinkJson{{"end", *seen}};
    };
    commands_["rig-tell"] = [this](const LinkJson&) -> Expected<LinkJson> {
        rigTold_.reset();
        return LinkJson::object();
    };
}

void MachineService::tellRig()
{
    if (!leader_ || rigTold_ == rig_.status()
        || (rigTold_ && rigTold_->state == rig_.status().state && rigAt_.isValid() && rigAt_.elapsed() < rigToldEvery))
        return;
    rigTold_ = rig_.status();
    rigAt_.start();
    tell(rigJson(*rigTold_));
}

} // namespace fortitor
