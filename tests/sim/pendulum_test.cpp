// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated pendulum: what it refuses, and energies against the closed form.
#include "sim/pendulum.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

namespace fortitor::pendulum_test {
namespace {

using Hammer = PendulumStatus::Hammer;

void run(VirtualPendulum& p, double seconds)
{
    for (double t = 0; t < seconds; t += 0.005)
        p.advance(0.005);
}

/// One blow as the rules have it; nothing in the way: a free swing.
double blow(VirtualPendulum& p, double takes)
{
    EXPECT_TRUE(p.setGuard(true));
    EXPECT_TRUE(p.raise());
    run(p, 3);
    EXPECT_TRUE(p.setGuard(false));
    if (takes > 0) {
        EXPECT_TRUE(p.place(takes));
    }
    EXPECT_TRUE(p.setPointer());
    EXPECT_TRUE(p.setGuard(true));
    EXPECT_TRUE(p.setLock(false));
    EXPECT_TRUE(p.release());
    run(p, 1.5);
    p.brake();
    run(p, 5);
    EXPECT_EQ(p.status().hammer, Hammer::Hanging);
    EXPECT_EQ(p.status().struck, takes > 0);
    return p.status().reading.value_or(NAN);
}

TEST(Pendulum, RefusesWhatIsDangerous)
{
    VirtualPendulum p;
    EXPECT_FALSE(p.release()); // it hangs
    EXPECT_FALSE(p.place(50)); // the guard is closed
    ASSERT_TRUE(p.setGuard(false));
    EXPECT_FALSE(p.raise()); // the guard is open
    ASSERT_TRUE(p.setGuard(true));
    ASSERT_TRUE(p.raise());
    EXPECT_FALSE(p.setGuard(false)); // it moves
    run(p, 3);
    EXPECT_EQ(p.status().hammer, Hammer::Raised);
    EXPECT_TRUE(p.status().locked);
    EXPECT_FALSE(p.release()); // the lock is in
    ASSERT_TRUE(p.setLock(false));
    EXPECT_FALSE(p.setGuard(false)); // raised and not locked
    ASSERT_TRUE(p.setLock(true));
    ASSERT_TRUE(p.setGuard(false));
    ASSERT_TRUE(p.place(50));
    ASSERT_TRUE(p.setLock(false));
    EXPECT_FALSE(p.release()); // the guard is open
    EXPECT_FALSE(p.place(50)); // nor hands under it
    EXPECT_EQ(p.release().problem().found, "the guard is open");
    EXPECT_FALSE(p.setUp({.energy = 150}));
}

TEST(Pendulum, AFreeSwingShowsItsLoss)
{
    for (const double loss : {0.0, 0.6, 1.4}) {
        VirtualPendulum p({.loss = loss, .step = 0.001});
        EXPECT_NEAR(blow(p, 0), loss, 0.01 * std::max(loss, 0.5)) << loss;
    }
}

TEST(Pendulum, ABlowShowsWhatThePieceTookAndItsShareOfTheLoss)
{
    const double alpha = 160 * std::numbers::pi / 180, moment = 300 / (1 - std::cos(alpha));
    for (const double takes : {5.0, 41.0, 117.0, 220.0}) {
        VirtualPendulum p({.loss = 0.6, .step = 0.001});
        const double beta = std::acos(std::cos(alpha) + takes / moment);
        // Bearings and air six tenths, over the whole way; the pointer the rest, while it is pushed.
        EXPECT_NEAR(blow(p, takes), takes + 0.6 * (0.6 * (alpha + beta) / (2 * alpha) + 0.4 * beta / alpha), 0.01)
            << takes;
    }
}

TEST(Pendulum, AnUnbrokenPieceStopsTheHammer)
{
    VirtualPendulum p({.energy = 4, .release = 150, .loss = 0.02, .step = 0.01});
    EXPECT_NEAR(blow(p, 5), 4, 0.02);
}

TEST(Pendulum, APointerThatWasNotSetShowsTheHigherRise)
{
    VirtualPendulum p({.loss = 0.6, .step = 0.001});
    (void)blow(p, 20); // rises high
    ASSERT_TRUE(p.raise());
    run(p, 3);
    ASSERT_TRUE(p.setGuard(false));
    ASSERT_TRUE(p.place(100));
    EXPECT_FALSE(p.status().pointerSet);
    ASSERT_TRUE(p.setGuard(true));
    ASSERT_TRUE(p.setLock(false));
    ASSERT_TRUE(p.release());
    run(p, 2);
    p.brake();
    run(p, 5);
    EXPECT_NEAR(*p.status().reading, 20.6, 0.3); // the blow before
}

TEST(Pendulum, StoppedOnItsWayDownItReadsNothing)
{
    VirtualPendulum p;
    ASSERT_TRUE(p.raise());
    run(p, 3);
    ASSERT_TRUE(p.setGuard(false));
    ASSERT_TRUE(p.place(60));
    ASSERT_TRUE(p.setPointer());
    ASSERT_TRUE(p.setGuard(true));
    ASSERT_TRUE(p.setLock(false));
    ASSERT_TRUE(p.release());
    run(p, 0.1);
    p.brake();
    run(p, 5);
    EXPECT_EQ(p.status().hammer, Hammer::Hanging);
    EXPECT_FALSE(p.status().reading);
    EXPECT_TRUE(p.status().piece && !p.status().struck);
}

TEST(Pendulum, TheSameWhateverTheStrides)
{
    VirtualPendulum fine({.step = 0.001}), coarse({.step = 0.001});
    for (VirtualPendulum* p : {&fine, &coarse}) {
        (void)p->raise();
        run(*p, 3);
        (void)p->setGuard(false);
        (void)p->place(60);
        (void)p->setPointer();
        (void)p->setGuard(true);
        (void)p->setLock(false);
        (void)p->release();
        for (double t = 0; t < 2; t += p == &fine ? 0.002 : 0.1)
            p->advance(p == &fine ? 0.002 : 0.1);
        p->brake();
        run(*p, 5);
    }
    EXPECT_NEAR(*fine.status().reading, *coarse.status().reading, 0.05);
}

} // namespace
} // namespace fortitor::pendulum_test
