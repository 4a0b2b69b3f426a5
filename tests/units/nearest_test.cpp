// SPDX-License-Identifier: GPL-3.0-or-later
#include "units/nearest.h"

#include <gtest/gtest.h>

namespace fortitor {
namespace {

TEST(Nearest, DistancesByHand)
{
    EXPECT_EQ(wordDistance("", ""), 0u);
    EXPECT_EQ(wordDistance("abc", ""), 3u);
    EXPECT_EQ(wordDistance("kitten", "sitting"), 3u); // the textbook's
    EXPECT_EQ(wordDistance("form", "from"), 1u); // exchanged
    EXPECT_EQ(wordDistance("gauge-length", "Gauge_Length"), 0u);
    EXPECT_EQ(wordDistance("ca", "abc"), 3u); // optimal string alignment, not the unrestricted one
    EXPECT_EQ(wordDistance(std::string(100000, 'x'), "y"), 64u);
}

TEST(Nearest, OnlyWhatIsNear)
{
    const std::vector<std::string> known{"diameter", "width", "thickness", "min", "max"};
    EXPECT_EQ(nearestName("diametre", known), "diameter");
    EXPECT_EQ(nearestName("Width", known), "width");
    EXPECT_EQ(nearestName("mxa", known), "max");
    EXPECT_EQ(nearestName("colour", known), "");
    EXPECT_EQ(nearestName("", known), "");
    EXPECT_EQ(nearestName("x", known), "");
    EXPECT_EQ(nearestName("width", {}), "");
    EXPECT_EQ(nearestWords("mim", known), " Is \"min\" meant?");
    EXPECT_EQ(nearestWords("colour", known), "");
}

} // namespace
} // namespace fortitor
