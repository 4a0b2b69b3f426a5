// SPDX-License-Identifier: GPL-3.0-or-later
// Proof point, maximum, yield drop, break and signal.
#include "curve/fracture.h"
#include "curve/maximum.h"
#include "curve/proof_point.h"
#include "curve/signal.h"
#include "curve/yield_point.h"

#include "curve/synthetic.h"
#include "sim/law.h"

#include <gtest/gtest.h>

#include <numeric>

namespace fortitor {
namespace {

using test::bilinear;
using test::Curve;
using test::rambergOsgood;

TEST(ProofPoint, ClosedFormOfRambergOsgood)
{
    for (const double R : {100.0, 270.0, 900.0})
        for (const double m : {5.0, 12.0, 30.0}) {
            const Curve c = rambergOsgood(70000, R, m, 1.15 * R, 4000);
            const auto p = offsetPoint(c.x, c.y, 70000, 0, 0.002, 0);
            ASSERT_TRUE(p);
            EXPECT_NEAR(p->stress / R, 1, 2e-4) << R << " " << m;
        }
}

TEST(ProofPoint, LinearBetweenTwoReadings)
{
    // Between (0.004, 140) and (0.006, 160) the line 70000·(ε−0.002) is met where 120+5000·(ε... :
    // 140 + 10000(ε−0.004) = 70000(ε−0.002) → ε = 0.004 (140 = 140): exactly at the first reading.
    const std::vector<double> x{0, 0.001, 0.002, 0.004, 0.006, 0.008};
    const std::vector<double> y{0, 70, 120, 150, 160, 165};
    const auto p = offsetPoint(x, y, 70000, 0, 0.002, 0);
    ASSERT_TRUE(p);
    // 150 + 5000(ε − 0.004) = 70000(ε − 0.002) → ε = 270/65000
    EXPECT_NEAR(p->strain, 270.0 / 65000, 1e-12);
    EXPECT_NEAR(p->stress, 70000 * (270.0 / 65000 - 0.002), 1e-9);
    EXPECT_EQ(p->before, 3u);
    EXPECT_EQ(p->after, 4u);
}

TEST(ProofPoint, NotReached)
{
    const Curve c = bilinear(70000, 250, 900, 0.0045, 500);
    EXPECT_FALSE(offsetPoint(c.x, c.y, 70000, 0, 0.002, 0));
    EXPECT_FALSE(offsetPoint({}, {}, 70000, 0, 0.002, 0));
}

TEST(ProofPoint, OneStrayReadingDoesNotCount)
{
    Curve c = bilinear(70000, 250, 900, 0.02, 2000);
    const auto before = offsetPoint(c.x, c.y, 70000, 0, 0.002, 0);
    c.y[150] -= 200;
    const auto after = offsetPoint(c.x, c.y, 70000, 0, 0.002, 0);
    ASSERT_TRUE(before && after);
    EXPECT_NEAR(before->stress, after->stress, 0.05);
}

TEST(ProofPoint, StressAtAStrain)
{
    const Curve c = bilinear(70000, 210, 1000, 0.02, 4001);
    const auto p = pointAtStrain(c.x, c.y, 0.005);
    ASSERT_TRUE(p);
    EXPECT_NEAR(p->stress, 210 + 1000 * 0.002, 1e-6);
    EXPECT_FALSE(pointAtStrain(c.x, c.y, 0.5));
}

TEST(SmoothPeak, TopWithoutItsNoise)
{
    Random random(3);
    std::vector<double> x;
    std::vector<double> y;
    for (int i = 0; i < 3000; ++i) {
        const double e = 0.1 * i / 2999;
        x.push_back(e);
        y.push_back(400 - 3e4 * (e - 0.06) * (e - 0.06) + 0.5 * random.normal());
    }
    const PeakFit p = smoothPeak(x, y, 0);
    EXPECT_NEAR(p.value, 400, 0.15);
    EXPECT_NEAR(p.x, 0.06, 0.002);
    EXPECT_GT(p.raw, 400.5);
}

TEST(SmoothPeak, FewPointsGiveTheRawReading)
{
    const std::vector<double> x{0, 1, 2, 3};
    const std::vector<double> y{0, 5, 7, 6};
    const PeakFit p = smoothPeak(x, y, 0);
    EXPECT_EQ(p.value, 7);
    EXPECT_EQ(p.index, 2u);
    EXPECT_EQ(p.n, 0u);
    EXPECT_EQ(smoothPeak({}, {}, 0).n, 0u);
}

TEST(SmoothPeak, AStrayReadingOnASteepClimbIsNotSmoothedAway)
{
    std::vector<double> x(200);
    std::iota(x.begin(), x.end(), 0.0);
    std::vector<double> y(200);
    for (size_t i = 0; i < 200; ++i)
        y[i] = i < 150 ? static_cast<double>(i) : 0;
    const PeakFit p = smoothPeak(x, y, 0);
    EXPECT_NEAR(p.value, 149, 0.5);
}

Curve dropping()
{
    MetalModel m;
    m.modulus = 210000;
    m.upper = 320;
    m.limit = 280;
    m.quick = 0;
    m.slow = 150;
    m.slowStrain = 0.06;
    m.uniform = 0.15;
    m.fracture = 0.25;
    m.plateau = 0.02;
    m.serration = 3;
    m.transient = 5;
    const BarPath path = barPath(lawOf(m), 60, 78.5, 6e-6);
    return {path.strain, path.stress};
}

TEST(YieldDrop, UpperAndLowerOfTheModel)
{
    const Curve c = dropping();
    const auto drop = findYieldDrop(c.x, c.y, 210000, 0, 0);
    ASSERT_TRUE(drop);
    EXPECT_NEAR(drop->upper, 320, 1);
    EXPECT_NEAR(drop->lower, 280, 0.5); // the dip to 275 lies below all later minima: left out
    ASSERT_TRUE(drop->extension);
    EXPECT_NEAR(*drop->extension, 0.02, 0.003);
    EXPECT_LT(drop->upperStrain, 0.002);
}

TEST(YieldDrop, ARoundedCurveHasNone)
{
    const Curve c = bilinear(70000, 250, 900, 0.05, 3000, 0.5);
    EXPECT_FALSE(findYieldDrop(c.x, c.y, 70000, 0, noiseOf(c.y)));
}

TEST(YieldDrop, NeckingIsNoYielding)
{
    std::vector<double> x;
    std::vector<double> y;
    for (int i = 0; i < 2000; ++i) {
        const double e = 0.03 * i / 1999;
        x.push_back(e);
        y.push_back(e < 0.004 ? 70000 * e : 280 - 4000 * (e - 0.004));
    }
    EXPECT_FALSE(findYieldDrop(x, y, 70000, 0, 0));
}

TEST(YieldDrop, AnEmptyOrTinyCurveHasNone)
{
    EXPECT_FALSE(findYieldDrop({}, {}, 70000, 0, 0));
    const std::vector<double> few{0, 1, 2};
    EXPECT_FALSE(findYieldDrop(few, few, 70000, 0, 0));
}

TEST(Fracture, FindsTheLastPointBeforeTheFall)
{
    std::vector<double> y;
    for (int i = 0; i < 1000; ++i)
        y.push_back(20000 * std::min(1.0, i / 300.0) - (i > 700 ? (i - 700) * 8.0 : 0));
    y.push_back(9000);
    for (int i = 0; i < 40; ++i)
        y.push_back(12);
    const auto f = findFracture(y, 2, indexOfGreatest(y));
    ASSERT_TRUE(f);
    EXPECT_EQ(f->last, 999u);
    EXPECT_FALSE(f->cutInFall);
    EXPECT_NEAR(f->residual, 12, 0.5);
}

TEST(Fracture, ARecordThatStopsInMidFallIsBroken)
{
    std::vector<double> y;
    for (int i = 0; i < 500; ++i)
        y.push_back(10000 + i);
    y.push_back(6500);
    const auto f = findFracture(y, 1, indexOfGreatest(y));
    ASSERT_TRUE(f);
    EXPECT_EQ(f->last, 499u);
    EXPECT_TRUE(f->cutInFall);
    EXPECT_EQ(f->residualCount, 0u);
}

TEST(Fracture, NoneWhereNothingFalls)
{
    std::vector<double> y;
    for (int i = 0; i < 500; ++i)
        y.push_back(100.0 * i);
    EXPECT_FALSE(findFracture(y, 1, indexOfGreatest(y)));
    // A fall that is recovered from: a pause, not a break.
    for (int i = 100; i < 140; ++i)
        y[static_cast<size_t>(i)] = 100;
    EXPECT_FALSE(findFracture(y, 1, indexOfGreatest(y)));
    EXPECT_FALSE(findFracture({}, 0, indexOfGreatest({})));
}

TEST(Signal, NoiseOfALineIsNone)
{
    std::vector<double> y(5000);
    for (size_t i = 0; i < y.size(); ++i)
        y[i] = 3 + 1e-3 * static_cast<double>(i) * static_cast<double>(i);
    EXPECT_LT(noiseOf(y), 2e-3);
    EXPECT_EQ(noiseOf(std::vector<double>{1, 2}), 0);
}

TEST(Signal, NoiseOfNoise)
{
    Random random(11);
    std::vector<double> y(20000);
    for (size_t i = 0; i < y.size(); ++i)
        y[i] = 0.05 * static_cast<double>(i) + 2.5 * random.normal();
    EXPECT_NEAR(noiseOf(y), 2.5, 0.25);
}

TEST(Signal, QuantisationCountsAsNoise)
{
    std::vector<double> y(4000);
    for (size_t i = 0; i < y.size(); ++i)
        y[i] = std::round(0.01 * static_cast<double>(i)) * 5;
    EXPECT_NEAR(noiseOf(y), 5 / std::sqrt(12.0), 0.1);
}

TEST(Signal, MedianOfEvenAndOdd)
{
    EXPECT_EQ(medianOf({3, 1, 2}), 2);
    EXPECT_EQ(medianOf({4, 1, 2, 3}), 2.5);
    EXPECT_TRUE(std::isnan(medianOf({})));
}

TEST(Signal, SmoothingKeepsALineAndItsEnds)
{
    std::vector<double> y(10000);
    for (size_t i = 0; i < y.size(); ++i)
        y[i] = 1e8 + 0.5 * static_cast<double>(i);
    const auto s = smoothed(y, 40);
    for (size_t i : {size_t{0}, size_t{1}, size_t{4095}, size_t{4096}, size_t{9999}})
        EXPECT_NEAR(s[i], y[i], 1e-6) << i;
}

TEST(Signal, QuietStart)
{
    Random random(4);
    std::vector<double> y;
    for (int i = 0; i < 200; ++i)
        y.push_back(50 + random.normal());
    for (int i = 0; i < 2000; ++i)
        y.push_back(50 + 10.0 * i + random.normal());
    const QuietStart q = findQuietStart(y, 1, extremesOf(y).greatest);
    EXPECT_NEAR(static_cast<double>(q.onset), 203, 4);
    EXPECT_GT(q.quiet, 150u);
    EXPECT_NEAR(q.level, 50, 0.3);
}

TEST(Signal, AStartOnTheClimbIsNotQuiet)
{
    std::vector<double> y;
    for (int i = 0; i < 2000; ++i)
        y.push_back(500 + 10.0 * i);
    EXPECT_EQ(findQuietStart(y, 0.5, extremesOf(y).greatest).quiet, 0u);
}

} // namespace
} // namespace fortitor
