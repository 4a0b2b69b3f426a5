// SPDX-License-Identifier: GPL-3.0-or-later
#include "plan/load_train.h"

#include <gtest/gtest.h>

namespace fortitor {
namespace {

SpecimenInput bar(const char* diameter = "10 mm")
{
    SpecimenInput in;
    in.label = "A1";
    in.shape = "round";
    in.dimensions["diameter"] = {*parseQuantity(diameter, Kind::Length)};
    in.dimensions["parallel_length"] = {*parseQuantity("60 mm", Kind::Length)};
    in.published = {{"Rm", 320}, {"yield", 270}, {"A", 0.1}};
    in.publishedSource = "reference table";
    return in;
}

const TrainLink cell50{"cell", "K-50", 50000, 0.02};
const TrainLink cell5{"cell", "K-5", 5000, 0.02};
const TrainLink cell1000{"cell", "K-1000", 2000000, 0.02};
const TrainLink grips40{"grips", "G-40", 40000, 0};

TEST(ExpectedLoad, StrengthTimesSection)
{
    const ExpectedLoad e = expectedLoad(*findMethod("tension-metal"), bar());
    ASSERT_TRUE(e.maximum);
    EXPECT_NEAR(*e.maximum, 320 * 78.5398, 0.1);
    EXPECT_NEAR(*e.yield, 270 * 78.5398, 0.1);
    SpecimenInput unknown = bar();
    unknown.published.clear();
    EXPECT_FALSE(expectedLoad(*findMethod("tension-metal"), unknown).maximum);
    EXPECT_FALSE(expectedLoad(*findMethod("tension-metal"), unknown).basis.empty());
    SpecimenInput unmeasured = bar();
    unmeasured.dimensions.erase("diameter");
    EXPECT_FALSE(expectedLoad(*findMethod("tension-metal"), unmeasured).maximum);
}

TEST(LoadTrain, TheWeakestLinkCounts)
{
    const auto weakest = weakestLink({cell50, grips40, {"fixture", "unknown", 0, 0}});
    ASSERT_TRUE(weakest);
    EXPECT_EQ(weakest->name, "G-40");
    EXPECT_FALSE(weakestLink({{"fixture", "unknown", 0, 0}}));
    EXPECT_EQ(proposeLimits({cell50, grips40}, *findMethod("tension-metal"), bar(),
                            expectedLoad(*findMethod("tension-metal"), bar()))
                  .force,
              40000);
}

TEST(LoadTrain, MarginsAreShares)
{
    const auto margins = trainMargins({cell50, grips40}, expectedLoad(*findMethod("tension-metal"), bar()));
    EXPECT_NEAR(margins[0].used, 25132.7 / 50000, 1e-4);
    EXPECT_NEAR(margins[1].used, 25132.7 / 40000, 1e-4);
}

TEST(LoadTrain, ACellTooSmallOrTooLargeIsRefusedWithTheBetterOne)
{
    const ExpectedLoad e = expectedLoad(*findMethod("tension-metal"), bar());
    const std::vector<TrainLink> others{cell5, cell50, cell1000};
    const auto small = checkTrain({cell5, grips40}, e, others);
    ASSERT_EQ(small.size(), 1u);
    EXPECT_EQ(small[0].code, "cell-too-small");
    EXPECT_EQ(small[0].severity, Severity::Reject);
    EXPECT_NE(small[0].advice.find("K-50"), std::string::npos);
    const auto large = checkTrain({cell1000, grips40}, e, others);
    ASSERT_EQ(large.size(), 1u);
    EXPECT_EQ(large[0].code, "cell-too-large");
    EXPECT_TRUE(checkTrain({cell50, grips40}, e, others).empty());
    const auto weak = checkTrain({cell50, {"grips", "G-20", 20000, 0}}, e, others);
    ASSERT_EQ(weak.size(), 1u);
    EXPECT_EQ(weak[0].code, "link-too-weak");
    EXPECT_TRUE(checkTrain({cell5}, {}, others).empty());
}

TEST(Rates, MethodA)
{
    const auto rates =
        planRates(*findMethod("tension-metal"), bar(), expectedLoad(*findMethod("tension-metal"), bar()));
    ASSERT_TRUE(rates);
    EXPECT_NEAR(rates->yieldSpeed * 60, 0.9, 1e-12); // 60 mm: 0.9 mm/min
    EXPECT_NEAR(rates->afterSpeed, 0.0067 * 60, 1e-12);
    EXPECT_NEAR(rates->lowest, 0.0002, 1e-12);
    EXPECT_NEAR(rates->highest, 0.0003, 1e-12);
    EXPECT_GT(rates->wholeTime, rates->yieldTime);
    SpecimenInput none = bar();
    none.dimensions.erase("parallel_length");
    EXPECT_FALSE(planRates(*findMethod("tension-metal"), none, expectedLoad(*findMethod("tension-metal"), none)));
    none.dimensions["grip_distance"] = {*parseQuantity("90 mm", Kind::Length)};
    EXPECT_NEAR(
        planRates(*findMethod("tension-metal"), none, expectedLoad(*findMethod("tension-metal"), none))->yieldSpeed
            * 60,
        1.35, 1e-12);
}

TEST(Limits, EachStopsTheRunInWords)
{
    const StopLimits limits{.force = 40000, .travel = 20, .forceDrop = 0.4, .time = 600};
    EXPECT_FALSE(limitReached(limits, {12000, 12000, 5, 100}));
    EXPECT_EQ(limitReached(limits, {40001, 40001, 5, 100}), "stopped at the force limit, 40.0 kN");
    EXPECT_EQ(limitReached(limits, {12000, 12000, 20.1, 100}), "stopped at the travel limit, 20.0 mm");
    EXPECT_EQ(limitReached(limits, {12000, 12000, 5, 601}), "stopped at the time limit");
}

TEST(Limits, AForceDropCountsOnceThePeakIsClearOfTheNoise)
{
    const StopLimits limits{.force = 40000, .travel = 20, .forceDrop = 0.4, .time = 600};
    EXPECT_FALSE(limitReached(limits, {6100, 10000, 5, 100}));
    EXPECT_EQ(limitReached(limits, {5999, 10000, 5, 100}), "stopped at a force drop of 40 %");
    EXPECT_FALSE(limitReached(limits, {-3, 12, 0, 1})); // noise about zero
    const StopLimits folding{.force = 40000, .travel = 20, .time = 600};
    EXPECT_FALSE(limitReached(folding, {100, 10000, 5, 100}));
}

} // namespace
} // namespace fortitor
