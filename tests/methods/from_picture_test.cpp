// SPDX-License-Identifier: GPL-3.0-or-later
// Indents from the ends that stand on their pictures.
#include "methods/hardness/from_picture.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::from_picture_test {
namespace {

using enum HardnessScale::By;

MarkedIndent square(double half)
{
    return {{PixelPoint{300 - half, 200}, {300, 200 - half}, {300 + half, 200}, {300, 200 + half}}, {0.4, 0.4}};
}

TEST(FromPicture, AnIndentIsAsHardAsItsLengthsSay)
{
    const double pixel = 0.1736e-3; // mm
    const auto read = readMarked(Vickers, {.force = 9.807}, square(155), {pixel, 0, "objective"});
    ASSERT_TRUE(read) << read.problem().text();
    const double d = 310 * pixel;
    EXPECT_NEAR(read->lengths[0].base, d, 1e-12);
    EXPECT_NEAR(read->indent.read->value(), 0.1891 * 9.807 / (d * d), 1e-9);
    const auto ball = readMarked(Brinell, {.force = 1839, .ball = 2.5}, square(150), {0.00305, 0, "lens"});
    const double across = 300 * 0.00305;
    EXPECT_NEAR(ball->indent.read->value(),
                0.102 * 2 * 1839 / (M_PI * 2.5 * (2.5 - std::sqrt(2.5 * 2.5 - across * across))), 1e-9);
    const auto knoop = readMarked(Knoop, {.force = 4.903}, square(150), {0.0982 / 300, 0, "objective"});
    EXPECT_NEAR(knoop->indent.read->value(), 1.451 * 4.903 / (0.0982 * 0.0982), 1e-9);
}

TEST(FromPicture, ItsUncertaintyIsThatOfEndsScaleAndForce)
{
    const double pixel = 0.1736e-3, force = 9.807;
    const MarkedIndent marked = square(155);
    const PixelScale scale{pixel, 0.004 * pixel, "objective 40×"};
    const auto read = readMarked(Vickers, {.force = force, .forceDoubt = verifiedForceDoubt(force)}, marked, scale);
    const double H = read->indent.read->value();
    // Half of it twice over, by hand: 2·u(d)/d of the mean of two, 2·u(k)/k of the scale they share, u(F)/F.
    const double ends = 2 * (0.4 / std::sqrt(2.0)) / 310, shared = 2 * 0.004, pressed = 0.01 / std::sqrt(3.0);
    EXPECT_NEAR(read->budget.expanded, 2 * H * std::sqrt(ends * ends + shared * shared + pressed * pressed),
                1e-3 * H * 0.01);
    ASSERT_EQ(read->budget.ranked.size(), 3u);
    EXPECT_EQ(read->budget.ranked[0].source.words, "scale of the picture, objective 40×");
    // As it is kept among the readings the two lengths alone give the same.
    const auto again = vickersIndent({.force = force, .forceDoubt = verifiedForceDoubt(force)}, read->lengths);
    EXPECT_NEAR(uncertaintyBudget(*again->read).expanded, read->budget.expanded, 1e-6 * H);
}

TEST(FromPicture, WhatCanNotBeReadIsSaidPlainly)
{
    EXPECT_FALSE(readMarked(Vickers, {.force = 9.807}, square(155), {}));
    EXPECT_FALSE(readMarked(Vickers, {.force = 0}, square(155), {1e-4, 0, "typed"}));
    EXPECT_FALSE(readMarked(Rockwell, {.force = 1471}, square(155), {1e-4, 0, "typed"}));
    EXPECT_FALSE(readMarked(Vickers, {.force = 9.807}, square(0), {1e-4, 0, "typed"})) << "no length";
    EXPECT_FALSE(readMarked(Brinell, {.force = 1839, .ball = 2.5}, square(150), {0.01, 0, "typed"}))
        << "wider than the ball";
    EXPECT_FALSE(scaleByBar({10, 10}, {14, 12}, 0.05)) << "too near";
    EXPECT_FALSE(scaleByBar({10, 10}, {214, 10}, 0));
    const auto scale = scaleByBar({10, 10}, {310, 10}, 0.05);
    ASSERT_TRUE(scale);
    EXPECT_NEAR(scale->side, 0.05 / 300, 1e-15);
    EXPECT_NEAR(scale->doubt / scale->side, std::sqrt(0.5) / 300, 1e-12);
}

TEST(FromPicture, AnEndPlacedByHandIsKnownToHalfAPixel)
{
    MarkedIndent marked = square(100);
    placeByHand(marked, 2, {410, 203});
    EXPECT_EQ(marked.ends[2].x, 410);
    EXPECT_NEAR(marked.doubts[0], std::sqrt(0.5), 1e-12);
    EXPECT_NEAR(marked.doubts[1], 0.4, 1e-12);
    // The first length of a square one is the one that lies more level.
    FoundIndent found{.shape = IndentShape::Square};
    found.corners = {PixelPoint{100, 0}, {200, 110}, {102, 200}, {0, 96}};
    found.doubts = {0.1, 0.2};
    const MarkedIndent level = markedBy(found);
    EXPECT_GT(std::abs(level.ends[2].x - level.ends[0].x), 190);
    EXPECT_EQ(level.doubts[0], 0.2);
}

} // namespace
} // namespace fortitor::from_picture_test
