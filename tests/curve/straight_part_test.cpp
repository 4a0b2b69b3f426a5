// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/straight_part.h"

#include "curve/signal.h"
#include "curve/synthetic.h"

#include <gtest/gtest.h>

namespace fortitor {
namespace {

using test::bilinear;
using test::Curve;

TEST(StraightPart, ExactOnABilinearCurve)
{
    const Curve c = bilinear(70000, 250, 900, 0.03, 3000);
    const auto part = findStraightPart(c.x, c.y, 0);
    ASSERT_TRUE(part);
    EXPECT_NEAR(part->slope(), 70000, 1e-3);
    EXPECT_NEAR(part->origin(), 0, 1e-10);
    EXPECT_LE(part->line.at(c.x[part->end - 1]), 250.5);
}

TEST(StraightPart, FindsTheOriginOfAShiftedCurve)
{
    const Curve c = bilinear(210000, 300, 800, 0.02, 2000, 0, 0.0011);
    const auto part = findStraightPart(c.x, c.y, 0);
    ASSERT_TRUE(part);
    EXPECT_NEAR(part->origin(), 0.0011, 1e-9);
}

TEST(StraightPart, LeavesFootOut)
{
    Curve c;
    for (int i = 0; i < 4000; ++i) {
        const double s = 300.0 * i / 3999;
        const double foot = 4e-4 * (1 - std::exp(-s / 8));
        const double plastic = s > 260 ? 0.05 * std::pow((s - 260) / 40, 2) : 0;
        c.x.push_back(s / 70000 + foot + plastic);
        c.y.push_back(s);
    }
    const auto part = findStraightPart(c.x, c.y, 0);
    ASSERT_TRUE(part);
    EXPECT_NEAR(part->slope() / 70000, 1, 0.002);
    EXPECT_NEAR(part->origin(), 4e-4, 2e-5);
    EXPECT_GT(c.y[part->begin], 8);
}

TEST(StraightPart, NeverSearchesHardening)
{
    // Hardening as straight as anyone could wish, and ten times as long as the elastic part.
    const Curve c = bilinear(70000, 200, 1500, 0.2, 4000, 0.3);
    const auto part = findStraightPart(c.x, c.y, noiseOf(c.y));
    ASSERT_TRUE(part);
    EXPECT_NEAR(part->slope() / 70000, 1, 0.01);
}

TEST(StraightPart, NoiseDoesNotMoveItMuch)
{
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
        const Curve c = bilinear(70000, 250, 900, 0.02, 4000, 0.8, 0, seed);
        const auto part = findStraightPart(c.x, c.y, noiseOf(c.y));
        ASSERT_TRUE(part);
        EXPECT_NEAR(part->slope() / 70000, 1, 0.005) << seed;
    }
}

TEST(StraightPart, FewPointsAreNotStretched)
{
    const std::vector<double> x{0, 0.0004, 0.0008, 0.0012, 0.0016, 0.002, 0.003, 0.005, 0.01};
    const std::vector<double> y{0, 28, 56, 84, 112, 140, 190, 205, 215};
    const auto part = findStraightPart(x, y, 0);
    ASSERT_TRUE(part);
    EXPECT_TRUE(part->fewPoints);
    EXPECT_NEAR(part->slope() / 70000, 1, 0.05);
}

TEST(StraightPart, RefusesWhatDoesNotClimb)
{
    const std::vector<double> x{0, 1, 2, 3, 4, 5};
    EXPECT_FALSE(findStraightPart(x, std::vector<double>{5, 4, 3, 2, 1, 0}, 0));
    EXPECT_FALSE(findStraightPart(x, std::vector<double>{1, 1, 1, 1, 1, 1}, 0));
    EXPECT_FALSE(findStraightPart(std::vector<double>{0, 1}, std::vector<double>{0, 1}, 0));
    EXPECT_FALSE(findStraightPart({}, {}, 0));
}

TEST(StraightPart, ScalesAndShifts)
{
    const Curve c = bilinear(70000, 250, 900, 0.02, 2500, 0.4, 0, 9);
    Curve d = c;
    for (double& x : d.x)
        x = 3 * x + 0.01;
    for (double& y : d.y)
        y *= 2;
    const auto a = findStraightPart(c.x, c.y, noiseOf(c.y));
    const auto b = findStraightPart(d.x, d.y, noiseOf(d.y));
    ASSERT_TRUE(a && b);
    EXPECT_NEAR(b->slope() / a->slope(), 2.0 / 3, 1e-4);
    EXPECT_NEAR(b->origin(), 3 * a->origin() + 0.01, 1e-6);
}

TEST(StraightPart, BetweenStresses)
{
    const Curve c = bilinear(70000, 250, 900, 0.02, 5000);
    const auto part = straightPartBetweenStresses(c.x, c.y, 50, 200);
    ASSERT_TRUE(part);
    EXPECT_GE(c.y[part->begin], 50);
    EXPECT_LE(c.y[part->end - 1], 200);
    EXPECT_NEAR(part->slope(), 70000, 1e-3);
    EXPECT_FALSE(straightPartBetweenStresses(c.x, c.y, 200, 50));
    EXPECT_FALSE(straightPartBetweenStresses(c.x, c.y, 100, 100.01));
    EXPECT_FALSE(straightPartBetweenStresses(c.x, c.y, 4000, 5000));
}

TEST(StraightPart, Chord)
{
    // σ = 1000·√ε: the chord from 0.01 to 0.04 is (200−100)/0.03.
    std::vector<double> x;
    std::vector<double> y;
    for (int i = 0; i <= 20000; ++i) {
        x.push_back(0.05 * i / 20000);
        y.push_back(1000 * std::sqrt(x.back()));
    }
    const auto part = chordBetweenStrains(x, y, 0.01, 0.04);
    ASSERT_TRUE(part);
    EXPECT_NEAR(part->slope(), 100 / 0.03, 0.5);
    EXPECT_FALSE(chordBetweenStrains(x, y, 0.04, 0.01));
    EXPECT_FALSE(chordBetweenStrains(x, y, 0.01, 0.2));
}

} // namespace
} // namespace fortitor
