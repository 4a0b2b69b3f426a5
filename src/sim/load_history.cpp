// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/load_history.h"

#include <algorithm>
#include <cmath>
#include <iterator>

namespace fortitor {
namespace {

constexpr HistoryKind histories[] = {
    {.name = "rowing-history", .words = "Strain at the rigger lug, two outings a day", .of = HistoryKind::Of::Rowing},
    {.name = "transport-history",
     .words = "The same on the trailer, two trips a day",
     .of = HistoryKind::Of::Transport,
     .load = 14},
};

bool within(double hour, double from, double to)
{
    return hour >= from && hour < to;
}

/// One step of an oscillator driven by a push: Hz, damping, seconds.
void swing(double (&state)[2], double hertz, double damping, double push, double dt)
{
    const double w = 2 * std::numbers::pi * hertz;
    state[1] += dt * (w * w * (push - state[0]) - 2 * damping * w * state[1]);
    state[0] += dt * state[1];
}

} // namespace

std::span<const HistoryKind> historyKinds()
{
    return histories;
}

const HistoryKind* findHistoryKind(std::string_view name)
{
    const auto it = std::ranges::find(histories, name, &HistoryKind::name);
    return it == std::end(histories) ? nullptr : &*it;
}

LoadHistory::LoadHistory(const HistoryKind& kind, std::uint64_t seed) : kind_(kind), random_(seed * 7919 + 13) { }

/// Drive and recovery: harder and faster in pieces, hardest off the start.
double LoadHistory::stroke(double hour)
{
    if (!within(hour, 6, 7.5) && !within(hour, 17, 18.5)) {
        phase_ = 1;
        return 0;
    }
    if (phase_ >= 1) {
        const double minute = std::fmod(hour * 60, 10);
        const bool piece = minute < 4;
        phase_ = 0;
        perStroke_ = 60 / (piece ? 31 + random_.normal() : 21 + 0.8 * random_.normal());
        height_ = kind_.load * (minute < 0.2 ? 1.7 : piece ? 1.15 : 0.8) * std::exp(0.1 * random_.normal());
    }
    constexpr double drive = 0.38;
    const double share = phase_ < drive ? std::pow(std::sin(std::numbers::pi * phase_ / drive), 1.3)
                                        : -0.08 * std::sin(std::numbers::pi * (phase_ - drive) / (1 - drive));
    phase_ += 1 / (kind_.rate * perStroke_);
    return height_ * share;
}

/// The road pushes the wheel, the wheel the body; now and then a hole.
double LoadHistory::road(double hour)
{
    if (!within(hour, 8, 10) && !within(hour, 15, 17)) {
        body_[0] = body_[1] = wheel_[0] = wheel_[1] = 0;
        return 0;
    }
    const double dt = 1 / kind_.rate;
    if (random_.even() < dt / 40)
        rough_ = std::exp(0.5 * random_.normal()); // another stretch of road
    double push = rough_ * random_.normal();
    if (random_.even() < dt / 25)
        push += 60 * random_.even();
    swing(wheel_, 11, 0.12, push, dt);
    swing(body_, 1.6, 0.15, wheel_[0], dt);
    return kind_.load * (2 * wheel_[0] + 6 * body_[0]);
}

void LoadHistory::next(std::span<float> out)
{
    constexpr double day = 24;
    for (float& value : out) {
        const double hours = static_cast<double>(at_++) / kind_.rate / 3600, hour = std::fmod(hours, day);
        const double warm = kind_.warmth * std::sin(2 * std::numbers::pi * (hour - 9) / day);
        const double load = kind_.of == HistoryKind::Of::Rowing ? stroke(hour) : road(hour);
        value = static_cast<float>(warm + load + kind_.noise * random_.normal());
    }
}

} // namespace fortitor
