// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated frame for fatigue runs: where it stops, what it refuses.
#include "link/messages.h"
#include "sim/fatigue_rig.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::fatigue_rig_test {
namespace {

const FatigueKind& lug()
{
    return *findFatigueKind("rigger-lug");
}

constexpr double area = 320; // mm²

RigOrder orderAt(double range)
{
    const double greatest = range / 0.9 * area;
    return {.label = "J-1 / L1", .least = 0.1 * greatest, .greatest = greatest, .frequency = 8, .temperatureStop = 500};
}

RigStatus runOut(VirtualRig& rig, double tick)
{
    for (int k = 0; k < 2'000'000 && rig.status().state == RigStatus::State::Running; ++k)
        rig.advance(tick);
    return rig.status();
}

VirtualRig loaded(const FatiguePiece& piece, const RigOrder& order)
{
    VirtualRig rig;
    EXPECT_TRUE(rig.setGuard(false));
    EXPECT_TRUE(rig.place(piece, area, order));
    EXPECT_TRUE(rig.setGuard(true));
    return rig;
}

// The same cycle whatever the pace and the tick, and what the piece itself would say.
TEST(FatigueRig, StopsAtTheVeryCycle)
{
    for (const std::uint64_t seed : {1, 2, 3, 4, 5, 6, 7}) {
        const FatiguePiece piece = drawFatiguePiece(lug(), seed);
        const FatigueEnd end = runToEnd(piece, 180, 1e7, 0.1);
        for (const auto& [pace, tick] : {std::pair(1e4, 0.02), {1e6, 0.013}, {1e5, 0.5}}) {
            VirtualRig rig = loaded(piece, orderAt(180));
            ASSERT_TRUE(rig.setPace(pace));
            ASSERT_TRUE(rig.start());
            const RigStatus stopped = runOut(rig, tick);
            EXPECT_EQ(stopped.stop, RigStatus::Stop::Stiffness);
            EXPECT_EQ(stopped.cycles, end.cycles) << seed;
            EXPECT_EQ(*rig.seen(), end.outcome);
            EXPECT_NEAR(stopped.stiffness, 0.9, 1e-4);
            EXPECT_EQ(stopped.greatest, 0); // the drive is disabled
        }
    }
}

TEST(FatigueRig, EachStopOnItsOwn)
{
    const FatiguePiece piece = drawFatiguePiece(lug(), 2);
    const auto stopOf = [&](RigOrder order) {
        VirtualRig rig = loaded(piece, order);
        EXPECT_TRUE(rig.setPace(1e5));
        EXPECT_TRUE(rig.start());
        return runOut(rig, 0.05);
    };
    RigOrder order = orderAt(180);
    order.runOut = 5'000;
    EXPECT_EQ(stopOf(order).stop, RigStatus::Stop::RunOut);
    EXPECT_EQ(stopOf(order).cycles, 5'000);
    order = orderAt(180);
    order.temperatureStop = 22.2;
    EXPECT_EQ(stopOf(order).stop, RigStatus::Stop::Temperature);
    order = orderAt(180);
    order.travelStop = 0.02;
    EXPECT_EQ(stopOf(order).stop, RigStatus::Stop::Travel);
    order = orderAt(180);
    order.stiffnessStop = 0.9; // never: it breaks first, and the force is gone
    const RigStatus broke = stopOf(order);
    EXPECT_EQ(broke.stop, RigStatus::Stop::Force);
    EXPECT_NEAR(broke.cycles, piece.life(180), 2);
}

TEST(FatigueRig, HandsAreKeptSafe)
{
    const FatiguePiece piece = drawFatiguePiece(lug(), 1);
    VirtualRig rig;
    EXPECT_FALSE(rig.place(piece, area, orderAt(180))); // the guard is closed
    EXPECT_FALSE(rig.start()); // no piece
    ASSERT_TRUE(rig.setGuard(false));
    EXPECT_FALSE(rig.start());
    RigOrder wrong = orderAt(180);
    wrong.greatest = wrong.least;
    EXPECT_FALSE(rig.place(piece, area, wrong));
    EXPECT_FALSE(rig.place(piece, 0, orderAt(180)));
    ASSERT_TRUE(rig.place(piece, area, orderAt(180)));
    EXPECT_FALSE(rig.place(piece, area, orderAt(180))); // one is in
    EXPECT_FALSE(rig.start()); // the guard is open
    ASSERT_TRUE(rig.setGuard(true));
    EXPECT_FALSE(rig.setPace(0));
    EXPECT_FALSE(rig.setPace(1e9));
    ASSERT_TRUE(rig.start());
    rig.advance(100);
    EXPECT_GT(rig.status().greatest, 0);
    EXPECT_FALSE(rig.takeAway()); // it runs
    const double before = rig.status().cycles;
    ASSERT_TRUE(rig.setGuard(false)); // that stops it
    EXPECT_EQ(rig.status().stop, RigStatus::Stop::Guard);
    EXPECT_FALSE(rig.seen()); // the piece stands
    rig.advance(100);
    EXPECT_EQ(rig.status().cycles, before);
    ASSERT_TRUE(rig.setGuard(true));
    ASSERT_TRUE(rig.start()); // it goes on from there
    rig.advance(10);
    EXPECT_GT(rig.status().cycles, before);
    rig.stop();
    EXPECT_EQ(rig.status().stop, RigStatus::Stop::Hand);
    ASSERT_TRUE(rig.setPace(1e6));
    ASSERT_TRUE(rig.start());
    runOut(rig, 0.1);
    ASSERT_TRUE(rig.seen());
    EXPECT_FALSE(rig.start()); // it has ended
    EXPECT_FALSE(rig.takeAway()); // the guard is closed
    ASSERT_TRUE(rig.setGuard(false));
    EXPECT_TRUE(rig.takeAway());
    EXPECT_EQ(rig.status().state, RigStatus::State::Empty);
}

// Taken out and put in again: what it ran before counts.
TEST(FatigueRig, CyclesBeforeCount)
{
    const FatiguePiece piece = drawFatiguePiece(lug(), 3);
    RigOrder order = orderAt(180);
    order.before = 50'000;
    VirtualRig rig = loaded(piece, order);
    EXPECT_EQ(rig.status().cycles, 50'000);
    ASSERT_TRUE(rig.setPace(1e5));
    ASSERT_TRUE(rig.start());
    EXPECT_EQ(runOut(rig, 0.05).cycles, runToEnd(piece, 180, 1e7, 0.1).cycles);
}

TEST(FatigueRig, WhatIsToldComesBack)
{
    RigStatus status{.state = RigStatus::State::Stopped,
                     .stop = RigStatus::Stop::Temperature,
                     .label = "J-1 / L1",
                     .cycles = 412'000,
                     .least = 6'400,
                     .greatest = 64'000,
                     .travel = 0.6,
                     .stiffness = 0.97,
                     .temperature = 61,
                     .frequency = 8,
                     .pace = 1e4,
                     .guard = false};
    EXPECT_EQ(*rigFrom(rigJson(status)), status);
    const RigOrder order = orderAt(150);
    EXPECT_EQ(*rigOrderFrom(rigOrderJson(order)), order);
    LinkJson wrong = rigJson(status);
    wrong["state"] = "asleep";
    EXPECT_FALSE(rigFrom(wrong));
    wrong = rigJson(status);
    wrong["cycles"] = "many";
    EXPECT_FALSE(rigFrom(wrong));
    LinkJson without = rigOrderJson(order);
    without.erase("greatest");
    EXPECT_FALSE(rigOrderFrom(without));
}

// A thousand lives lie about the line that they are drawn from.
TEST(FatigueRig, LivesLieAboutTheirLine)
{
    double sum = 0, squares = 0;
    int elsewhere = 0, counted = 0;
    for (std::uint64_t seed = 1; seed <= 1'000; ++seed) {
        const FatiguePiece piece = drawFatiguePiece(lug(), seed);
        elsewhere += piece.elsewhere;
        if (piece.elsewhere)
            continue;
        const double off = std::log10(piece.life(150)) - (lug().logA - lug().slope * std::log10(150.0));
        sum += off;
        squares += off * off;
        ++counted;
    }
    EXPECT_NEAR(sum / counted, 0, 0.015);
    EXPECT_NEAR(std::sqrt(squares / counted), lug().scatter, 0.01);
    EXPECT_NEAR(elsewhere, 40, 20);
    EXPECT_EQ(fatigueKind("S355, fillet-welded lug"), &lug());
    EXPECT_EQ(fatigueKind("own alloy"), nullptr);
    EXPECT_EQ(fatigueKind(""), nullptr);
}

} // namespace
} // namespace fortitor::fatigue_rig_test
