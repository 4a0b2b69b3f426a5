// SPDX-License-Identifier: GPL-3.0-or-later
// The straight part of what stands so far, and the reading that can't be right.
#include "curve/step_doubt.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

namespace fortitor {
namespace {

constexpr double nan = std::numeric_limits<double>::quiet_NaN();
const std::vector<double> load{0, 100, 200, 300, 400};
const std::vector<double> dial{0, 1.01, 1.99, 3.02, 4.00};
using Kind = StepDoubt::Kind;

TEST(StepDoubt, TheLineStandsAsSoonAsThreeReadingsDo)
{
    EXPECT_FALSE(straightSoFar({load.data(), 2}, {dial.data(), 2}, 0.01).line.valid());
    const auto three = straightSoFar({load.data(), 3}, {dial.data(), 3}, 0.01);
    ASSERT_TRUE(three.line.valid());
    EXPECT_NEAR(three.line.slope, 0.00995, 1e-6);
    const std::vector<double> gaps{0, nan, 1.99, 3.02, 4.00};
    EXPECT_EQ(straightSoFar(load, gaps, 0.01).on.size(), 4u);
    // One off is passed over; two in a row end it.
    const std::vector<double> more{0, 100, 200, 300, 400, 500, 600, 700};
    const std::vector<double> bent{0, 1, 2, 3, 4, 5.6, 7.4, 9.5};
    const auto ended = straightSoFar(more, bent, 0.01);
    EXPECT_TRUE(ended.left);
    EXPECT_EQ(ended.on.size(), 5u);
    EXPECT_NEAR(ended.line.slope, 0.01, 1e-9);
}

TEST(StepDoubt, WhatFitsIsTaken)
{
    EXPECT_FALSE(doubtStep(load, dial, 500, 5.0, 0.01));
    EXPECT_FALSE(doubtStep(load, dial, 500, 5.1, 0.01));
    EXPECT_FALSE(doubtStep({load.data(), 2}, {dial.data(), 2}, 200, 55, 0.01)) << "two readings make no line yet";
    EXPECT_FALSE(doubtStep(load, dial, 500, nan, 0.01));
    EXPECT_FALSE(doubtStep(load, dial, 10, 0.2, 0.01)) << "on the way back";
}

TEST(StepDoubt, EachSlipHasItsName)
{
    const auto kind = [&](double x, double y) {
        return doubtStep(load, dial, x, y, 0.01).value_or(StepDoubt{0, Kind::Jump}).kind;
    };
    EXPECT_EQ(kind(500, 6.0), Kind::OffLine);
    EXPECT_EQ(kind(500, 4.2), Kind::OffLine);
    EXPECT_EQ(kind(500, 50.1), Kind::Ten);
    EXPECT_EQ(kind(500, 0.501), Kind::Ten);
    EXPECT_EQ(kind(500, -5.0), Kind::Sign);
    EXPECT_EQ(kind(500, 4.00), Kind::Same);
    EXPECT_NEAR(doubtStep(load, dial, 500, 6.0, 0.01)->expected, 5.0, 0.03);
}

TEST(StepDoubt, AfterTheBendOnlyLeapsAreAskedAbout)
{
    const std::vector<double> more{0, 100, 200, 300, 400, 500, 600};
    const std::vector<double> bent{0, 1, 2, 3, 4, 5.6, 7.8};
    EXPECT_FALSE(doubtStep(more, bent, 700, 10.8, 0.01)) << "it goes on bending";
    EXPECT_FALSE(doubtStep(more, bent, 700, 14.0, 0.01));
    EXPECT_EQ(doubtStep(more, bent, 700, 25.0, 0.01)->kind, Kind::Jump);
    EXPECT_EQ(doubtStep(more, bent, 700, 6.0, 0.01)->kind, Kind::Back);
    EXPECT_EQ(doubtStep(more, bent, 700, 100.0, 0.01)->kind, Kind::Ten);
    // A torque that stands once all of the bar yields is none.
    const std::vector<double> flat{0, 10, 20, 30, 40, 46, 47};
    EXPECT_FALSE(doubtStep(more, flat, 700, 47.1, 0.1));
}

} // namespace
} // namespace fortitor
