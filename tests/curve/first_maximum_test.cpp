// SPDX-License-Identifier: GPL-3.0-or-later
// The first maximum of a curve, with noise and without, and what is none.
#include "curve/first_maximum.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>
#include <vector>

namespace fortitor {
namespace {

struct PressedCurve {
    std::vector<double> x, y;
};

PressedCurve curveOf(double (*law)(double), double last, size_t n, double noise = 0)
{
    PressedCurve c;
    std::mt19937 random(3);
    std::normal_distribution<double> normal(0, 1);
    for (size_t i = 0; i < n; ++i) {
        c.x.push_back(last * static_cast<double>(i) / static_cast<double>(n - 1));
        c.y.push_back(law(c.x.back()) + noise * normal(random));
    }
    return c;
}

double climbs(double e)
{
    return 2000 * e;
}
double peaks(double e)
{
    return 50 - 50 * std::pow((e - 0.04) / 0.04, 2);
}
double levels(double e)
{
    return e < 0.02 ? 1500 * e : 30;
}
double peaksThenClimbsHigher(double e)
{
    return e < 0.06 ? peaks(e) : peaks(0.06) + 100 * (e - 0.06);
}

TEST(FirstMaximumTest, AParabolaFoundUnderNoise)
{
    for (const double noise : {0.0, 0.02, 0.1}) {
        const PressedCurve c = curveOf(peaks, 0.07, 4000, noise);
        const auto found = findFirstMaximum(c.x, c.y, 0, noise);
        ASSERT_TRUE(found) << noise;
        EXPECT_NEAR(found->peak.value, 50, 0.05 + noise / 3);
        EXPECT_NEAR(found->peak.x, 0.04, 0.004);
        EXPECT_FALSE(found->level);
    }
}

TEST(FirstMaximumTest, NoneOnACurveThatClimbsToItsEnd)
{
    for (const double noise : {0.0, 0.05, 0.3}) {
        const PressedCurve c = curveOf(climbs, 0.02, 6000, noise);
        EXPECT_FALSE(findFirstMaximum(c.x, c.y, 0, noise)) << noise;
    }
}

TEST(FirstMaximumTest, ALevelStretchCounts)
{
    const PressedCurve c = curveOf(levels, 0.08, 4000);
    const auto found = findFirstMaximum(c.x, c.y, 0, 0);
    ASSERT_TRUE(found);
    EXPECT_TRUE(found->level);
    EXPECT_NEAR(found->peak.x, 0.02, 1e-3);
    EXPECT_NEAR(found->peak.value, 30, 0.05);
}

TEST(FirstMaximumTest, AFlatTopThatFallsIsAMaximumWithItsWidth)
{
    // (1 − x)^6 flattens long before its top at 0.2, then it falls away.
    const PressedCurve c =
        curveOf([](double e) { return e < 0.2 ? 40 * (1 - std::pow(1 - e / 0.2, 6)) : 40 - 30 * (e - 0.2); }, 0.4,
                6000);
    const auto found = findFirstMaximum(c.x, c.y, 0, 0);
    ASSERT_TRUE(found);
    EXPECT_FALSE(found->level);
    EXPECT_NEAR(found->peak.value, 40, 0.05);
    EXPECT_LT(found->flatFrom, 0.15);
    EXPECT_GT(found->flatTo, 0.2);
}

TEST(FirstMaximumTest, WhatClimbsHigherLaterIsNotTheFirst)
{
    const PressedCurve c = curveOf(peaksThenClimbsHigher, 0.5, 8000);
    const auto found = findFirstMaximum(c.x, c.y, 0, 0);
    ASSERT_TRUE(found);
    EXPECT_NEAR(found->peak.value, 50, 0.05);
}

TEST(FirstMaximumTest, TooFewReadingsGiveNothing)
{
    EXPECT_FALSE(findFirstMaximum({}, {}, 0, 0));
    const std::vector<double> three{1, 2, 1};
    EXPECT_FALSE(findFirstMaximum(three, three, 0, 0));
}

} // namespace
} // namespace fortitor
