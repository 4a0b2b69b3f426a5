// SPDX-License-Identifier: GPL-3.0-or-later
// The run as it is told the frame beforehand.
#include "methods/common/run.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor {
namespace {

const RatePlan metal{.yieldSpeed = 0.015,
                     .afterSpeed = 0.4,
                     .strainRate = 0.00025,
                     .changeStrain = 0.018,
                     .lowest = 0.0002,
                     .highest = 0.0003};

TEST(Program, SlowToYieldThenFasterThenTheExtensometerOff)
{
    const RunProgram p = runToBreak(metal, 0.03, 0);
    ASSERT_EQ(p.stages.size(), 4u);
    EXPECT_EQ(p.stages[0].control, Control::Hold);
    EXPECT_EQ(p.stages[1].control, Control::StrainRate);
    EXPECT_EQ(p.stages[1].value, 0.00025);
    EXPECT_EQ(p.stages[1].untilStrain, 0.018);
    EXPECT_TRUE(p.stages[1].prompt.empty());
    EXPECT_EQ(p.stages[2].value, 0.4);
    EXPECT_EQ(p.stages[2].untilStrain, 0.03);
    EXPECT_EQ(p.stages[2].act, "extensometer-off");
    EXPECT_EQ(p.stages[3].untilStrain, 0);
    EXPECT_FALSE(p.returns);
    EXPECT_FALSE(programProblem(p));
}

TEST(Program, TheExtensometerMayComeOffBeforeTheChange)
{
    const RunProgram p = runToBreak(metal, 0.01, 0);
    ASSERT_EQ(p.stages.size(), 4u);
    EXPECT_EQ(p.stages[1].act, "extensometer-off");
    EXPECT_EQ(p.stages[1].control, Control::StrainRate);
    EXPECT_EQ(p.stages[2].control, Control::Speed) << "nothing shows the strain any more";
    EXPECT_EQ(p.stages[2].value, 0.015);
    EXPECT_EQ(p.stages[3].value, 0.4);
}

TEST(Program, APressedPieceGoesToItsTravelAndBack)
{
    const RunProgram p = runToBreak({.yieldSpeed = 0.2, .afterSpeed = 0.2}, 0, 40);
    ASSERT_EQ(p.stages.size(), 2u);
    EXPECT_EQ(p.stages[1].untilTravel, 40);
    EXPECT_TRUE(p.returns);
    EXPECT_NEAR(p.returnSpeed, 0.8, 1e-12);
}

TEST(Program, WhatIsWrongIsNamed)
{
    const auto found = [](RunStage stage, bool last = true) {
        RunProgram p;
        p.stages.push_back(stage);
        if (!last)
            p.stages.push_back(stage);
        const auto problem = programProblem(p);
        return problem ? problem->found : "";
    };
    EXPECT_EQ(programProblem({})->found, "no stage");
    EXPECT_EQ(found({.words = "a", .control = Control::Speed, .value = std::nan("")}), "a figure that is not a number");
    EXPECT_EQ(found({.words = "a", .control = Control::Hold}), "a hold without a time");
    EXPECT_EQ(found({.words = "a", .control = Control::Speed}), "a rate of zero");
    EXPECT_EQ(found({.words = "a", .control = Control::Speed, .value = 1}, false), "no end");
    EXPECT_EQ(found({.words = "a", .control = Control::Cycles, .value = 1, .low = 2, .high = 1, .count = 3}),
              "cycles without a range, a number or a frequency");
    EXPECT_EQ(found({.words = "a", .control = Control::Speed, .value = 1}), "");
}

TEST(Program, NamesGoBothWays)
{
    for (const Control c :
         {Control::Hold, Control::Speed, Control::ForceRate, Control::StrainRate, Control::Position, Control::Cycles})
        EXPECT_EQ(controlNamed(controlName(c)), c);
    EXPECT_FALSE(controlNamed("sideways"));
}

} // namespace
} // namespace fortitor
