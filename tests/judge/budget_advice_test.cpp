// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/budget_advice.h"

#include <gtest/gtest.h>

namespace fortitor {
namespace {

TEST(ImproveFirst, NamesTheRemedyAndWhatItWouldBring)
{
    Budget budget;
    budget.expanded = 5;
    budget.ranked = {{"", "cell K-50, class 1", 2.0, 0.64}, {"", "calliper C-07, ±0.02 mm", 1.5, 0.36}};
    EXPECT_EQ(improveFirst(budget, *findUnit("MPa")),
              "Improve first: a cell of better class, or a smaller one. ±5.0 would be ±3.0 MPa.");
    std::swap(budget.ranked[0].source, budget.ranked[1].source);
    EXPECT_TRUE(
        improveFirst(budget, *findUnit("MPa")).starts_with("Improve first: a micrometer instead of the calliper."));
    budget.ranked[0].source = "something odd";
    EXPECT_NE(improveFirst(budget, *findUnit("1")).find("a better instrument for something odd"), std::string::npos);
    EXPECT_TRUE(improveFirst({}, *findUnit("MPa")).empty());
}

TEST(ImproveFirst, KnowsEverySourceThatTheMethodsName)
{
    for (const char* source :
         {"force cell, class 1 (assumed)", "extensometer X-50, class 1", "crosshead", "crosshead strain",
          "fit of the straight part", "noise of the force", "resolution of the readings", "fit and both gauges"}) {
        Budget budget;
        budget.expanded = 1;
        budget.ranked = {{"", source, 0.5, 1.0}};
        EXPECT_EQ(improveFirst(budget, *findUnit("MPa")).find("a better instrument for"), std::string::npos) << source;
    }
}

} // namespace
} // namespace fortitor
