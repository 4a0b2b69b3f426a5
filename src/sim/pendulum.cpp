// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/pendulum.h"
#include "units/gravity.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

using Hammer = PendulumStatus::Hammer;

constexpr double raisedIn = 2; // s
constexpr double pointerShare = 0.4; // of the loss of a full swing
constexpr double brakeTime = 0.25; // s; e to minus one
constexpr double stride = 1e-4; // s of the equation of motion

Problem refusal(const char* what, const char* found, const char* wanted)
{
    return {what, found, wanted, {}};
}

} // namespace

VirtualPendulum::VirtualPendulum(const PendulumSpec& spec) : spec_(spec)
{
    moment_ = spec_.energy / (1 - std::cos(spec_.release * std::numbers::pi / 180));
    inertia_ = moment_ * spec_.length / standardGravity;
}

bool VirtualPendulum::moves() const
{
    return status_.hammer == Hammer::Rising || status_.hammer == Hammer::Swinging || status_.hammer == Hammer::Braking;
}

Expected<Done> VirtualPendulum::handsMayGoIn() const
{
    if (status_.guard)
        return refusal("guard", "closed", "open: the anvils can't be reached");
    if (status_.hammer == Hammer::Raised && !status_.locked)
        return refusal("hammer", "raised and not locked", "locked before hands reach the anvils");
    return Done{};
}

Expected<Done> VirtualPendulum::setUp(const PendulumSpec& spec)
{
    if (spec == spec_)
        return Done{};
    if (status_.hammer != Hammer::Hanging)
        return refusal("hammer", "raised, or on its way", "hanging still before another one is put in");
    if (!(spec.energy > 0) || !(spec.release > 0 && spec.release < 180) || !(spec.loss >= 0) || !(spec.step > 0)
        || !(spec.length > 0))
        return refusal("figures", "none that a tester has", "energy, angle below 180°, step and length above zero");
    const bool guard = status_.guard;
    *this = VirtualPendulum(spec);
    status_.guard = guard;
    return Done{};
}

Expected<Done> VirtualPendulum::raise()
{
    if (status_.hammer != Hammer::Hanging)
        return refusal("hammer", moves() ? "moving" : "raised already", "hanging still");
    if (!status_.guard)
        return refusal("guard", "open", "closed before the hammer is raised");
    status_.hammer = Hammer::Rising;
    status_.reading.reset();
    return Done{};
}

Expected<Done> VirtualPendulum::setLock(bool in)
{
    if (status_.hammer != Hammer::Raised)
        return refusal("lock", "no hammer in its latch", "a raised hammer");
    status_.locked = in;
    return Done{};
}

Expected<Done> VirtualPendulum::setGuard(bool closed)
{
    if (moves())
        return refusal("guard", "the hammer moves", "a hammer at rest");
    if (!closed && status_.hammer == Hammer::Raised && !status_.locked)
        return refusal("guard", "the hammer is raised and not locked", "locked before the guard is opened");
    status_.guard = closed;
    return Done{};
}

Expected<Done> VirtualPendulum::place(double takes)
{
    if (auto ok = handsMayGoIn(); !ok)
        return ok;
    if (!(takes > 0) || !std::isfinite(takes))
        return refusal("piece", "an energy at or below zero", "above zero");
    takes_ = takes;
    status_.piece = true;
    status_.struck = false;
    return Done{};
}

Expected<Done> VirtualPendulum::takeAway()
{
    if (auto ok = handsMayGoIn(); !ok)
        return ok;
    status_.piece = false;
    return Done{};
}

Expected<Done> VirtualPendulum::setPointer()
{
    if (auto ok = handsMayGoIn(); !ok)
        return ok;
    pointer_ = 0;
    status_.pointerSet = true;
    status_.reading.reset();
    return Done{};
}

Expected<Done> VirtualPendulum::release()
{
    if (status_.hammer != Hammer::Raised)
        return refusal("release", moves() ? "the hammer moves" : "the hammer hangs", "raised into its latch");
    if (!status_.guard)
        return refusal("release", "the guard is open", "closed, and nobody in the swing");
    if (status_.locked)
        return refusal("release", "the lock is in", "drawn");
    status_.hammer = Hammer::Swinging;
    status_.struck = false;
    status_.reading.reset();
    speed_ = 0;
    return Done{};
}

void VirtualPendulum::brake()
{
    if (moves())
        status_.hammer = Hammer::Braking;
}

/// The piece takes its energy out of the hammer as it comes through the bottom.
void VirtualPendulum::hit()
{
    const double left = 0.5 * inertia_ * speed_ * speed_ - takes_;
    speed_ = left > 0 ? std::sqrt(2 * left / inertia_) : 0;
    status_.struck = true;
    status_.piece = false;
}

void VirtualPendulum::swing(double dt)
{
    const double alpha = spec_.release * std::numbers::pi / 180;
    const double bearings = (1 - pointerShare) * spec_.loss / (2 * alpha), pushed = pointerShare * spec_.loss / alpha;
    const bool pushes = status_.angle >= pointer_ && speed_ > 0 && status_.angle >= 0;
    const double friction = (bearings + (pushes ? pushed : 0)) * (speed_ > 0 ? 1 : speed_ < 0 ? -1 : 0);
    const auto pull = [&] { return (-moment_ * std::sin(status_.angle) - friction) / inertia_ * dt / 2; };
    const double before = status_.angle;
    speed_ += pull();
    status_.angle += speed_ * dt;
    speed_ += pull();
    if (before < 0 && status_.angle >= 0 && status_.piece)
        hit();
    if (status_.angle > pointer_) {
        pointer_ = status_.angle;
        status_.pointerSet = false;
    }
}

/// What the pointer shows: the energy that was not left at its height, to the step of the scale.
void VirtualPendulum::cameToRest()
{
    status_.hammer = Hammer::Hanging;
    status_.angle = speed_ = 0;
    if (status_.pointerSet)
        return; // braked before it came through: nothing moved the pointer
    const double alpha = spec_.release * std::numbers::pi / 180;
    const double shown = moment_ * (std::cos(std::min(pointer_, alpha)) - std::cos(alpha));
    status_.reading = std::round(shown / spec_.step) * spec_.step;
}

void VirtualPendulum::advance(double seconds)
{
    const double alpha = spec_.release * std::numbers::pi / 180;
    switch (status_.hammer) {
    case Hammer::Hanging:
    case Hammer::Raised: return;
    case Hammer::Rising:
        status_.angle -= alpha / raisedIn * seconds;
        if (status_.angle <= -alpha) {
            status_.angle = -alpha;
            status_.hammer = Hammer::Raised;
            status_.locked = true;
        }
        return;
    case Hammer::Swinging:
        for (double done = 0; done < seconds && status_.hammer == Hammer::Swinging; done += stride)
            swing(std::min(stride, seconds - done));
        return;
    case Hammer::Braking:
        // The band takes hold of a hammer that swings out its highest rise first: a blow is never cut short.
        if (speed_ > 0 && status_.angle >= 0) {
            for (double done = 0; done < seconds && speed_ > 0; done += stride)
                swing(std::min(stride, seconds - done));
            return;
        }
        speed_ = 0;
        status_.angle *= std::exp(-seconds / brakeTime);
        constexpr double still = 0.01; // rad
        if (std::abs(status_.angle) < still)
            cameToRest();
    }
}

} // namespace fortitor
