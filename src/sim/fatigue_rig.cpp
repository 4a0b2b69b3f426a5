// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/fatigue_rig.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

using State = RigStatus::State;
using Stop = RigStatus::Stop;

constexpr double room = 22; // °C
constexpr double soft = 200; // cycles in which the range grows to what is asked

} // namespace

Expected<Done> VirtualRig::place(const FatiguePiece& piece, double area, const RigOrder& order)
{
    if (status_.state != State::Empty)
        return Problem{"rig", "a piece is in the grips: " + status_.label, "empty grips", "Take it away first."};
    if (status_.guard)
        return Problem{"guard", "closed", "open while hands are in", "Open the guard first."};
    if (!(order.greatest > order.least) || !(order.frequency > 0) || !(order.runOut >= 1) || !(order.before >= 0)
        || !(area > 0))
        return Problem{"order",
                       "no forces, frequency, run-out or section",
                       "least below greatest force, a frequency, a run-out and a section above zero",
                       {}};
    piece_ = piece;
    order_ = order;
    range_ = (order.greatest - order.least) / area;
    counted_ = order.before;
    status_ = {.state = State::Ready,
               .label = order.label,
               .cycles = order.before,
               .temperature = room,
               .frequency = order.frequency,
               .pace = status_.pace,
               .guard = false};
    return Done{};
}

Expected<Done> VirtualRig::takeAway()
{
    if (status_.state == State::Running)
        return Problem{"rig", "it runs", "a run that has stopped", "Stop it first."};
    if (status_.guard)
        return Problem{"guard", "closed", "open while hands are in", "Open the guard first."};
    status_ = {.pace = status_.pace, .guard = false};
    return Done{};
}

Expected<Done> VirtualRig::setGuard(bool closed)
{
    if (!closed && status_.state == State::Running)
        halt(Stop::Guard);
    status_.guard = closed;
    return Done{};
}

Expected<Done> VirtualRig::start()
{
    if (!status_.guard)
        return Problem{"guard", "open", "closed while it runs", "Close the guard first."};
    if (status_.state == State::Empty)
        return Problem{"rig", "no piece", "a piece in the grips", {}};
    if (seen())
        return Problem{"rig", "the run has ended", "a piece that stands", "Take it away, and put the next one in."};
    status_.state = State::Running;
    status_.stop = Stop::None;
    return Done{};
}

Expected<Done> VirtualRig::setPace(double pace)
{
    if (!(pace >= 1) || !(pace <= 1e6))
        return Problem{"pace", fmt::format("{:g}", pace), "1 to 1 000 000 times life", {}};
    status_.pace = pace;
    return Done{};
}

void VirtualRig::halt(Stop why)
{
    if (status_.state != State::Running)
        return;
    status_.state = State::Stopped;
    status_.stop = why;
    status_.least = status_.greatest = 0; // the drive is disabled
}

std::optional<std::string> VirtualRig::seen() const
{
    if (status_.state != State::Stopped)
        return std::nullopt;
    if (status_.stop == Stop::RunOut)
        return "run-out";
    if (status_.stop == Stop::Stiffness || status_.stop == Stop::Travel || status_.stop == Stop::Force)
        return piece_.elsewhere ? "elsewhere" : "broken";
    return std::nullopt;
}

/// Forces, travel, stiffness and warmth after the cycles that are counted.
void VirtualRig::settle()
{
    const double grown = std::clamp((counted_ - order_.before) / soft, 0.0, 1.0), life = piece_.life(range_);
    const double mean = (order_.greatest + order_.least) / 2, half = grown * (order_.greatest - order_.least) / 2;
    status_.cycles = std::floor(counted_);
    status_.greatest = mean + half;
    status_.least = mean - half;
    status_.stiffness = FatiguePiece::stiffnessAt(counted_ / life);
    status_.travel = 2 * half / (piece_.kind->stiffness * status_.stiffness);
    const double warm = piece_.kind->warming * order_.frequency * range_ * range_ / 100;
    status_.temperature = room + warm * (1 - std::exp(-counted_ / order_.frequency / 600));
}

void VirtualRig::advance(double seconds)
{
    if (status_.state != State::Running || !(seconds > 0))
        return;
    const double before = counted_, after = before + seconds * order_.frequency * status_.pace;
    const double first = (order_.greatest - order_.least) / piece_.kind->stiffness;
    // Which stop comes first, and at which cycle: each only ever comes nearer.
    const auto stopAt = [&](double cycles) {
        counted_ = cycles;
        settle();
        return 1 - status_.stiffness >= order_.stiffnessStop ? Stop::Stiffness
            : status_.travel - first >= order_.travelStop    ? Stop::Travel
            : status_.temperature >= order_.temperatureStop  ? Stop::Temperature
            : counted_ / piece_.life(range_) >= 1            ? Stop::Force
            : counted_ >= order_.runOut                      ? Stop::RunOut
                                                             : Stop::None;
    };
    if (stopAt(after) == Stop::None)
        return;
    double low = std::floor(before), high = std::ceil(after);
    while (high - low > 1) {
        const double half = std::floor((low + high) / 2);
        (stopAt(half) == Stop::None ? low : high) = half;
    }
    const Stop why = stopAt(high);
    halt(why);
}

} // namespace fortitor
