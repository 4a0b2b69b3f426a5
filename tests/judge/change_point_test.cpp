// SPDX-License-Identifier: GPL-3.0-or-later
// A change of slope among noise: found where it is, and its chance of a false alarm is what it says.
#include "judge/change_point.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::change_point_test {
namespace {

struct Course {
    std::vector<double> x, y;
};

/// Noise that hangs together from one to the next.
Course noise(Random& random, size_t n, double correlation, double slope = 0.02)
{
    Course c;
    double e = random.normal() / std::sqrt(1 - correlation * correlation);
    for (size_t i = 0; i < n; ++i) {
        e = correlation * e + random.normal();
        c.x.push_back(1000 * static_cast<double>(i));
        c.y.push_back(5 + slope * static_cast<double>(i) + e);
    }
    return c;
}

TEST(ChangePoint, ABendIsFoundWhereItIs)
{
    Random random(11);
    int covered = 0;
    constexpr int trials = 60;
    double most = 0;
    for (int trial = 0; trial < trials; ++trial) {
        Course c = noise(random, 96, 0);
        for (size_t i = 60; i < 96; ++i)
            c.y[i] += 0.5 * static_cast<double>(i - 60);
        const auto found = greatestChange(c.x, c.y);
        ASSERT_TRUE(found);
        EXPECT_LE(found->falseAlarm, 0.001);
        most = std::max(most, std::abs(found->at - 60e3));
        covered += found->within.first <= 60e3 && 60e3 <= found->within.second;
        EXPECT_NEAR(found->before * 1000, 0.02, 0.04);
        EXPECT_NEAR(found->after * 1000, 0.52, 0.06);
        EXPECT_NEAR(found->noise, 1, 0.35);
    }
    EXPECT_LT(most, 4e3);
    EXPECT_GE(covered, 51); // of 95 %
}

TEST(ChangePoint, FalseAlarmsAreAsRareAsIsTold)
{
    for (const double correlation : {0.0, 0.5, 0.8}) {
        Random random(3);
        int one = 0, five = 0;
        constexpr int trials = 150;
        for (int trial = 0; trial < trials; ++trial) {
            const Course c = noise(random, 96, correlation);
            const auto found = greatestChange(c.x, c.y);
            ASSERT_TRUE(found);
            one += found->falseAlarm <= 0.01;
            five += found->falseAlarm <= 0.05;
        }
        EXPECT_LE(one, 6) << correlation; // 1.5 are meant
        EXPECT_LE(five, 16) << correlation; // 7.5 are meant
    }
}

TEST(ChangePoint, ACurveIsNoneOfSecondDegreeAndAJumpIsFitted)
{
    Random random(9);
    Course c = noise(random, 90, 0);
    for (size_t i = 0; i < 90; ++i)
        c.y[i] += 0.01 * static_cast<double>(i * i);
    EXPECT_LE(greatestChange(c.x, c.y)->falseAlarm, 0.001); // of a straight one
    EXPECT_GT(greatestChange(c.x, c.y, 2)->falseAlarm, 0.02);
    Course jumped = noise(random, 90, 0);
    for (size_t i = 40; i < 90; ++i)
        jumped.y[i] += 30;
    const double at[] = {40e3};
    EXPECT_GT(greatestChange(jumped.x, jumped.y, 1, at)->falseAlarm, 0.02);
    const Course same = jumped;
    EXPECT_EQ(greatestChange(same.x, same.y)->falseAlarm, greatestChange(jumped.x, jumped.y)->falseAlarm);
}

TEST(ChangePoint, WhatCanNotTellGivesNothing)
{
    std::vector<double> x, y;
    for (int i = 0; i < 40; ++i) {
        x.push_back(i);
        y.push_back(3 + 2 * i);
    }
    EXPECT_FALSE(greatestChange(x, y)); // nothing but rounding
    EXPECT_FALSE(greatestChange(std::span(x).first(8), std::span(y).first(8)));
    const std::vector<double> still(40, 7.0);
    EXPECT_FALSE(greatestChange(still, y));
    EXPECT_FALSE(greatestChange(x, still));
}

} // namespace
} // namespace fortitor::change_point_test
