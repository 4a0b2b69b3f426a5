// SPDX-License-Identifier: GPL-3.0-or-later
// What falls because it was driven back is no break; where a top is flat, a climb ends, a channel is noisy.
#include "curve/first_knee.h"
#include "curve/flat_top.h"
#include "curve/signal.h"
#include "curve/unloading.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>
#include <vector>

namespace fortitor {
namespace {

/// A climb of `up` readings at 10 N a reading and 0.01 mm, then what follows.
struct Pull {
    std::vector<double> force, way;
    size_t top = 0;

    explicit Pull(size_t up)
    {
        for (size_t i = 0; i <= up; ++i)
            add(10.0 * static_cast<double>(i), 0.01 * static_cast<double>(i));
        top = up;
    }
    void add(double F, double d)
    {
        force.push_back(F);
        way.push_back(d);
    }
};

TEST(Unloading, ADriveThatGoesBackIsSeenAndWhere)
{
    Pull p(500);
    for (int i = 0; i < 20; ++i)
        p.add(5000, 5.0); // a hold
    for (int i = 1; i <= 50; ++i)
        p.add(5000 - 100.0 * i, 5.0 - 0.1 * i);
    const auto turn = findTurn(p.way, 0, noiseOfDrive(p.way));
    ASSERT_TRUE(turn);
    EXPECT_NEAR(static_cast<double>(turn->first), 500, 2); // within its noise
    EXPECT_EQ(turn->last, 520u);
    EXPECT_TRUE(fallsByGoingBack(p.force, p.way, noiseOfDrive(p.way), 0, 520));
    Pull on(500);
    EXPECT_FALSE(findTurn(on.way, 0, noiseOfDrive(on.way)));
}

TEST(Unloading, ABreakIsNoneAlsoWhereTheMachineSpringsBackOrGoesHome)
{
    Pull stands(500);
    for (int i = 0; i < 30; ++i)
        stands.add(2, 5.0);
    EXPECT_FALSE(fallsByGoingBack(stands.force, stands.way, noiseOfDrive(stands.way), 0, 500));
    Pull springs(500);
    for (int i = 0; i < 30; ++i)
        springs.add(2, 4.0); // back by what the machine gave, within a reading, and no further
    EXPECT_FALSE(fallsByGoingBack(springs.force, springs.way, noiseOfDrive(springs.way), 0, 500));
    Pull home(500);
    for (int i = 1; i < 30; ++i)
        home.add(2, i < 4 ? 5.0 : 5.0 - 0.2 * i);
    EXPECT_FALSE(fallsByGoingBack(home.force, home.way, noiseOfDrive(home.way), 0, 500));
}

TEST(Unloading, ByTheStrainAloneAndByTheForceAlone)
{
    Pull slow(500);
    for (int i = 1; i <= 40; ++i)
        slow.add(5000 - 125.0 * i, 5.0 - 0.125 * i);
    EXPECT_TRUE(fallsAlongUnloading(slow.force, slow.way, noiseOfDrive(slow.way), 0, 500));
    EXPECT_TRUE(fallsSteadily(slow.force, 0, 500));
    Pull flatter(500);
    for (int i = 1; i <= 40; ++i)
        flatter.add(5000 - 125.0 * i, 5.0 + 0.01 * i); // it tears, and the strain goes on
    EXPECT_FALSE(fallsAlongUnloading(flatter.force, flatter.way, noiseOfDrive(flatter.way), 0, 500));
    Pull breaks(500);
    for (int i = 0; i < 30; ++i)
        breaks.add(2, 0.0);
    EXPECT_FALSE(fallsAlongUnloading(breaks.force, breaks.way, noiseOfDrive(breaks.way), 0, 500));
    EXPECT_FALSE(fallsSteadily(breaks.force, 0, 500));
}

TEST(FlatTop, TheMiddleOfALevelStretchAndTheTipOfASharpOne)
{
    Random random(3);
    std::vector<double> x, level, sharp;
    for (int i = 0; i < 4000; ++i) {
        const double e = i / 4000.0;
        x.push_back(e);
        level.push_back(100 - 400 * std::pow(std::max({0.0, 0.4 - e, e - 0.7}), 2) + 0.05 * random.normal());
        sharp.push_back(100 - 50 * std::abs(e - 0.6) + 0.05 * random.normal());
    }
    const FlatTop wide = findFlatTop(x, level, indexOfGreatest(level), 0.05);
    EXPECT_NEAR(wide.x, 0.55, 0.02);
    EXPECT_NEAR(wide.half, 0.15, 0.04);
    const FlatTop tip = findFlatTop(x, sharp, indexOfGreatest(sharp), 0.05);
    EXPECT_NEAR(tip.x, 0.6, 0.003);
    EXPECT_LT(tip.half, 0.01);
    // What climbs into the end of the readings has its top there.
    const FlatTop end = findFlatTop(std::span(x).first(2400), std::span(sharp).first(2400), 2399, 0.05);
    EXPECT_DOUBLE_EQ(end.x, x[2399]);
}

TEST(FirstKnee, TheFirstClimbOfAFoamAndNoneOfAStraightOne)
{
    std::vector<double> x, foam, straight;
    for (int i = 0; i < 3000; ++i) {
        const double e = 0.7 * i / 3000;
        x.push_back(e);
        foam.push_back(std::min(20 * e, 1 + 0.3 * e) + 300 * std::pow(std::max(0.0, e - 0.5), 2));
        straight.push_back(70000 * e);
    }
    const size_t knee = firstKnee(x, foam, 1e-4);
    EXPECT_GT(x[knee], 0.05);
    EXPECT_LT(x[knee], 0.08);
    EXPECT_EQ(firstKnee(x, straight, 1e-4), x.size());
}

TEST(Noise, UnevenReadingsOfAnEvenMotionAreNone)
{
    Random random(9);
    std::vector<double> x, y, drive;
    double at = 0;
    for (int i = 0; i < 3000; ++i) {
        at += random.between(0.001, 0.1);
        x.push_back(at);
        y.push_back(0.8 * at + 2e-4 * random.normal());
    }
    EXPECT_GT(noiseOf(y), 20 * 2e-4) << "by its rows it looks noisy";
    EXPECT_NEAR(noiseAlong(x, y), 2e-4, 0.6e-4);
    EXPECT_LT(noiseOfDrive(x), 0.01);
}

} // namespace
} // namespace fortitor
