// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/rehearsed.h"

#include <gtest/gtest.h>

namespace fortitor {
namespace {

TEST(Rehearsed, GoesBothWaysToSixDigits)
{
    const Rehearsed r{.date = "2026-05-01",
                      .byTravel = true,
                      .asForce = true,
                      .x = {0, 1.23456789, 40},
                      .low = {0, 890.1234567, 300},
                      .middle = {0, 900, 310},
                      .high = {0, 910, 320},
                      .words = {"Each of 7 breaks."}};
    const auto back = rehearsedOf(Json{{"rehearsal", rehearsedJson(r)}});
    ASSERT_TRUE(back);
    EXPECT_TRUE(back->byTravel && back->asForce);
    EXPECT_EQ(back->words, r.words);
    EXPECT_EQ(back->date, r.date);
    for (size_t i = 0; i < r.x.size(); ++i) {
        EXPECT_NEAR(back->x[i], r.x[i], 5e-6 * std::max(1.0, r.x[i]));
        EXPECT_NEAR(back->low[i], r.low[i], 5e-6 * std::max(1.0, r.low[i]));
    }
}

TEST(Rehearsed, WhatDoesNotGoTogetherIsNone)
{
    EXPECT_FALSE(rehearsedOf(Json::object()));
    EXPECT_FALSE(rehearsedOf(Json::parse(R"({"rehearsal":3})")));
    EXPECT_FALSE(rehearsedOf(Json::parse(R"({"rehearsal":{"x":[1],"low":[1],"middle":[1]}})")));
    EXPECT_FALSE(rehearsedOf(Json::parse(R"({"rehearsal":{"x":[1,2],"low":[1],"middle":[1],"high":[1]}})")));
    EXPECT_FALSE(rehearsedOf(Json::parse(R"({"rehearsal":{"x":["a"],"low":[1],"middle":[1],"high":[1]}})")));
}

} // namespace
} // namespace fortitor
