// SPDX-License-Identifier: GPL-3.0-or-later
// A tester over time by its reference blocks, and the limits that hold for them.
#include "methods/hardness/block.h"
#include "methods/hardness/block_history.h"
#include "methods/hardness/hardness.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace fortitor::block_history_test {
namespace {

TesterWork check(double error, bool within = true)
{
    return {.tester = "R-2",
            .scale = "HRC",
            .check = true,
            .error = error,
            .errorLimit = 1.5,
            .spreadLimit = 0.8,
            .within = within};
}

SpecimenInput blockOf(const char* number, std::vector<const char*> readings)
{
    SpecimenInput in;
    in.label = "B";
    in.options = {{"scale", "HRC"}, {"seating", "0"}};
    in.notes = {{"block", number}, {"tester", "R-2"}, {"read_at", "2026-11-02T08:10"}};
    for (const char* text : readings)
        in.readings["value"].push_back(*parseQuantity(text, Kind::Hardness));
    return in;
}

TEST(BlockHistory, ABlockTellsOfItsTester)
{
    const SpecimenInput in = blockOf("45.2 HRC", {"45.6 HRC", "45.9 HRC", "45.7 HRC"});
    const auto outcome = evaluateHardness(in);
    ASSERT_TRUE(outcome) << outcome.problem().text();
    const auto work = testerWorkOf(in, &*outcome);
    ASSERT_TRUE(work);
    EXPECT_TRUE(work->check);
    EXPECT_EQ(work->tester, "R-2");
    EXPECT_EQ(work->scale, "HRC");
    EXPECT_NEAR(work->error, (45.6 + 45.9 + 45.7) / 3 - 45.2, 1e-9);
    EXPECT_NEAR(work->spread, 0.3, 1e-9);
    EXPECT_NEAR(work->errorLimit, 1.5, 1e-12);
    EXPECT_NEAR(work->spreadLimit, 0.02 * (100 - 45.2), 1e-9);
    EXPECT_TRUE(work->within);
    SpecimenInput off = blockOf("45.2 HRC", {"47.0 HRC", "46.9 HRC"});
    const auto bad = evaluateHardness(off);
    EXPECT_FALSE(testerWorkOf(off, &*bad)->within);
    SpecimenInput piece = in;
    piece.notes.erase("block");
    EXPECT_FALSE(testerWorkOf(piece, nullptr)->check);
    piece.readings.clear();
    EXPECT_FALSE(testerWorkOf(piece, nullptr)) << "nothing is read yet";
    SpecimenInput seated = blockOf("45.2 HRC", {"44 HRC"});
    seated.options.erase("seating");
    seated.notes["after_change"] = "yes";
    const auto nothing = evaluateHardness(seated);
    EXPECT_FALSE(testerWorkOf(seated, &*nothing)->check);
    EXPECT_FALSE(testerWorkOf(seated, &*nothing)->piece);
    EXPECT_EQ(testerWorkOf(seated, &*nothing)->fitted, "cone, 1471 N");
    SpecimenInput small = in;
    small.options = {{"scale", "HV"}, {"force", "9.807 N"}};
    small.notes.erase("block");
    EXPECT_EQ(testerWorkOf(small, nullptr)->scale, "HV 1");
    small.options = {{"scale", "HBW"}, {"force", "7355 N"}, {"ball", "5 mm"}};
    EXPECT_EQ(testerWorkOf(small, nullptr)->scale, "HBW 5/750");
}

TEST(BlockHistory, ADriftIsNamedBeforeTheLimitIsReached)
{
    std::vector<TesterWork> checks;
    const double noise[] = {0.05, -0.04, 0.02, -0.05, 0.04, 0.0, -0.03, 0.05};
    for (int i = 0; i < 16; ++i)
        checks.push_back(check(0.1 + (i > 7 ? 0.09 * (i - 7) : 0) + noise[i % 8]));
    const auto history = blockHistory(checks);
    EXPECT_TRUE(history.drifts);
    EXPECT_NEAR(history.slope, 0.08, 0.03);
    ASSERT_TRUE(history.checksLeft);
    EXPECT_NEAR(*history.checksLeft, (1.5 - checks.back().error) / history.slope, 1);
    EXPECT_NE(history.words.front().find("drifts by +0.0"), std::string::npos) << history.words.front();
    // The other way it is the other limit that comes nearer.
    for (TesterWork& one : checks)
        one.error = -one.error;
    EXPECT_LT(blockHistory(checks).slope, 0);
    EXPECT_NEAR(*blockHistory(checks).checksLeft, *history.checksLeft, 1e-9);
}

TEST(BlockHistory, ATesterThatOnlyScattersIsLeftInPeace)
{
    std::mt19937 random(7);
    std::normal_distribution<double> scatter(0.2, 0.15);
    int drifts = 0;
    constexpr int laboratories = 400;
    for (int k = 0; k < laboratories; ++k) {
        std::vector<TesterWork> checks;
        for (int i = 0; i < 30; ++i)
            checks.push_back(check(scatter(random)));
        drifts += blockHistory(checks).drifts ? 1 : 0;
    }
    EXPECT_LE(drifts, 12) << "one in a hundred is asked";
    EXPECT_NE(blockHistory({}).words.size(), 5u);
    const std::vector<TesterWork> few{check(0.1), check(0.1)};
    EXPECT_NE(blockHistory(few).words.front().find("Too few"), std::string::npos);
    const std::vector<TesterWork> still(20, check(0.3));
    EXPECT_FALSE(blockHistory(still).drifts);
}

TEST(BlockHistory, WhatWasReadSinceTheLastGoodCheckIsInDoubt)
{
    const auto piece = [] { return TesterWork{.check = false}; };
    const TesterWork seated{.piece = false};
    EXPECT_TRUE(readInDoubt(std::vector<TesterWork>{check(0.1), seated, check(3, false)}).empty()) << "no piece";
    const std::vector<TesterWork> work{piece(), check(0.1),        piece(),    piece(), check(2, false),
                                       piece(), check(1.9, false), check(0.1), piece(), check(0.2)};
    EXPECT_EQ(readInDoubt(work), (std::vector<size_t>{2, 3, 5}));
    EXPECT_EQ(readInDoubt(std::vector<TesterWork>{piece(), check(3, false)}), std::vector<size_t>{0})
        << "no check before it at all";
}

TEST(BlockLimits, OwnLinesHoldForTheLowestLevelThatReachesTheBlock)
{
    const std::vector<OwnLimit> table{{"HRC", 70, 1.0, 0.6, "works standard 12"},
                                      {"HRC", 40, 1.2, 0.9, "works standard 12"},
                                      {"HRBW", 100, 2, 1, "x"}};
    EXPECT_EQ(ownLimitFor(table, "HRC", 40)->error, 1.2);
    EXPECT_EQ(ownLimitFor(table, "HRC", 40.1)->error, 1.0);
    EXPECT_FALSE(ownLimitFor(table, "HRC", 71));
    EXPECT_FALSE(ownLimitFor(table, "HV", 40));
    // As options of a block they decide.
    SpecimenInput in = blockOf("45.2 HRC", {"46.3 HRC", "46.4 HRC"});
    const auto before = evaluateHardness(in);
    EXPECT_TRUE(testerWorkOf(in, &*before)->within);
    for (const auto& [key, value] : limitOptions(table[0]))
        in.options[key] = value;
    const auto after = evaluateHardness(in);
    EXPECT_FALSE(testerWorkOf(in, &*after)->within);
    for (const OwnLimit& one : startingLimits()) {
        EXPECT_GT(one.error, 0);
        EXPECT_GT(one.spread, 0);
        EXPECT_FALSE(one.source.empty());
    }
}

} // namespace
} // namespace fortitor::block_history_test
