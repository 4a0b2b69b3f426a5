// SPDX-License-Identifier: GPL-3.0-or-later
// What a rehearsal foretells, held against what the virtual specimens are known to do.
#include "methods/common/run.h"
#include "sim/rehearsal.h"

#include <gtest/gtest.h>

#include <algorithm>

namespace fortitor {
namespace {

RehearsalPlan rigger()
{
    const RatePlan rates{.yieldSpeed = 0.015,
                         .afterSpeed = 0.402,
                         .strainRate = 0.00025,
                         .changeStrain = 0.018,
                         .lowest = 0.0002,
                         .highest = 0.0003};
    RehearsalPlan plan;
    plan.mount = {.specimen = "rigger-tube", .seed = 3, .section = 78.5, .length = 60, .gaugeLength = 50};
    plan.program = runToBreak(rates, 0.03, 0);
    plan.limits = {.force = 40000, .extension = 25, .travel = 20, .forceDrop = 0.4, .time = 900};
    plan.lowest = rates.lowest;
    plan.highest = rates.highest;
    return plan;
}

Rehearsal done(const RehearsalPlan& plan)
{
    auto r = rehearse(plan);
    EXPECT_TRUE(r) << (r ? "" : r.problem().text());
    return r && *r ? **r : Rehearsal{};
}

TEST(Rehearsal, ForetellsBreakForceTimeAndWhenTheExtensometerComesOff)
{
    const RehearsalPlan plan = rigger();
    const Rehearsal r = done(plan);
    ASSERT_EQ(r.runs.size(), 7u);
    const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
    const double strength = drawSpecimen(entry, 1).trueValue("Rm");
    for (const RehearsedRun& run : r.runs) {
        EXPECT_EQ(run.ended, "broken");
        EXPECT_NEAR(run.peak / (strength * 78.5), 1, 0.08);
        ASSERT_TRUE(run.offAt);
        EXPECT_NEAR(*run.offStrain, 0.03, 0.002);
        // 1.2 s quiet, 1.8 % at 0.00025 /s, the rest faster.
        EXPECT_NEAR(*run.offAt, 1.2 + 0.018 / 0.00025, 6);
        ASSERT_TRUE(run.inWindow);
        EXPECT_GT(*run.inWindow, 0.9); // a coarse extensometer makes the rate of one second flicker
        EXPECT_GT(run.seconds, *run.offAt + plan.answerTime);
    }
    // No two specimens are the same.
    EXPECT_NE(r.runs[0].peak, r.runs[1].peak);
}

TEST(Rehearsal, TheBandHoldsEveryRunAndItsMiddle)
{
    const Rehearsal r = done(rigger());
    ASSERT_GT(r.x.size(), 80u);
    for (size_t i = 0; i < r.x.size(); ++i) {
        EXPECT_LE(r.low[i], r.middle[i]);
        EXPECT_LE(r.middle[i], r.high[i]);
        EXPECT_TRUE(i == 0 || r.x[i] > r.x[i - 1]);
    }
    const double mostly = *std::ranges::max_element(r.middle);
    EXPECT_NEAR(mostly, 320, 25);
    // A band of specimens, not of noise: a few per cent wide.
    const size_t at = r.x.size() / 2;
    EXPECT_LT((r.high[at] - r.low[at]) / r.middle[at], 0.12);
    EXPECT_GT((r.high[at] - r.low[at]) / r.middle[at], 0.005);
}

TEST(Rehearsal, SaysWhatWouldStopIt)
{
    RehearsalPlan plan = rigger();
    plan.limits.force = 20000;
    const Rehearsal r = done(plan);
    for (const RehearsedRun& run : r.runs)
        EXPECT_EQ(run.ended, "limit");
    const auto words = rehearsalWords(r, plan.limits);
    EXPECT_NE(words[0].find("Each of 7 is stopped at the force limit"), std::string::npos) << words[0];
}

TEST(Rehearsal, WordsTellTimeForceAndRate)
{
    const RehearsalPlan plan = rigger();
    const auto words = rehearsalWords(done(plan), plan.limits);
    ASSERT_EQ(words.size(), 5u);
    EXPECT_EQ(words[0], "Each of 7 breaks.");
    EXPECT_TRUE(words[1].starts_with("Takes ")) << words[1];
    EXPECT_NE(words[2].find("kN, 6"), std::string::npos) << words[2];
    EXPECT_NE(words[3].find("at 3.0"), std::string::npos) << words[3];
    EXPECT_NE(words[4].find("rate"), std::string::npos) << words[4];
}

TEST(Rehearsal, ARateOutsideItsWindowIsSaid)
{
    RehearsalPlan plan = rigger();
    plan.program.stages[1].value *= 2;
    const auto words = rehearsalWords(done(plan), plan.limits);
    EXPECT_NE(words.back().find("out of its window"), std::string::npos) << words.back();
}

TEST(Rehearsal, APressedPieceEndsByTravel)
{
    RehearsalPlan plan;
    plan.mount = {.specimen = "canister", .seed = 5, .section = 1};
    plan.frame = {.cell = 2000, .rate = 50, .fixture = "platens"};
    plan.program = runToBreak({.yieldSpeed = 10.0 / 60, .afterSpeed = 10.0 / 60}, 0, 42);
    plan.limits = {.force = 1900, .travel = 90, .time = 1500};
    plan.byTravel = true;
    plan.runs = 3;
    const Rehearsal r = done(plan);
    for (const RehearsedRun& run : r.runs)
        EXPECT_EQ(run.ended, "end");
    EXPECT_NEAR(r.x.back(), 42, 1);
    EXPECT_NE(rehearsalWords(r, plan.limits)[0].find("travel and back"), std::string::npos);
}

TEST(Rehearsal, StopsByHandAndRefusesWhatIsNoSpecimen)
{
    const auto stopped = rehearse(rigger(), [](double) { return false; });
    ASSERT_TRUE(stopped);
    EXPECT_FALSE(*stopped);
    RehearsalPlan plan = rigger();
    plan.mount.specimen = "moonstone";
    EXPECT_FALSE(rehearse(plan));
}

} // namespace
} // namespace fortitor
