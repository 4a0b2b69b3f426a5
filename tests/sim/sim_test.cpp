// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/catalogue.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <set>

namespace fortitor {
namespace {

TEST(Sim, TheSameSeedGivesTheSameBytes)
{
    for (const CatalogueEntry& entry : catalogue()) {
        EXPECT_EQ(recordCsv(simulateRun(entry, 42, 1500).record), recordCsv(simulateRun(entry, 42, 1500).record))
            << entry.name;
        EXPECT_NE(recordCsv(simulateRun(entry, 42, 1500).record), recordCsv(simulateRun(entry, 43, 1500).record))
            << entry.name;
    }
}

TEST(Sim, NamesAreFoundAndUnique)
{
    std::set<std::string> names;
    for (const CatalogueEntry& entry : catalogue()) {
        EXPECT_TRUE(names.insert(entry.name).second);
        EXPECT_EQ(findCatalogueEntry(entry.name), &entry);
    }
    EXPECT_EQ(findCatalogueEntry("unobtainium"), nullptr);
}

TEST(Sim, TruthFollowsFromTheModel)
{
    for (const CatalogueEntry& entry : catalogue()) {
        const auto* model = std::get_if<MetalModel>(&entry.model);
        if (!model)
            continue;
        const MetalTruth t = truthOf(*model);
        EXPECT_EQ(t.modulus, model->modulus);
        if (model->upper > 0) {
            EXPECT_NEAR(t.upper, model->upper, 1e-9);
            EXPECT_EQ(t.proof02, 0);
        } else {
            EXPECT_NEAR(t.proof02, model->stress(0.002), 1e-6) << entry.name;
        }
        EXPECT_GE(t.strength, model->stress(0.5 * model->uniform)) << entry.name;
    }
}

TEST(Sim, PathsRiseAlongTheCrosshead)
{
    for (const CatalogueEntry& entry : catalogue()) {
        const BarPath path = barPath(lawOf(entry.model), entry.parallelLength, 78.5, entry.compliance);
        EXPECT_TRUE(std::ranges::is_sorted(path.crosshead)) << entry.name;
        EXPECT_EQ(path.crosshead.size(), path.stress.size());
        EXPECT_EQ(path.crosshead.size(), path.strain.size());
    }
}

VirtualFrame frameWith(FrameConditions conditions)
{
    VirtualBar bar;
    bar.law = lawOf(findCatalogueEntry("rigger-tube")->model);
    conditions.forceNoise = 0;
    conditions.forceStep = 0.01;
    return VirtualFrame(bar, conditions, 1);
}

TEST(VirtualFrame, ClosingTheSecondGripPutsLoadOn)
{
    FrameConditions c;
    c.clampLoad = 1400;
    c.slack = 0;
    VirtualFrame frame = frameWith(c);
    EXPECT_NEAR(frame.step(0.02).force, 0, 0.1);
    frame.closeTopGrip();
    EXPECT_NEAR(frame.step(0.02).force, 0, 0.1);
    EXPECT_FALSE(frame.gripped());
    frame.closeBottomGrip();
    EXPECT_TRUE(frame.gripped());
    EXPECT_NEAR(frame.step(0.02).force, 1400, 20);
}

TEST(VirtualFrame, ZeroHidesAnOffset)
{
    FrameConditions c;
    c.zeroOffset = 85;
    VirtualFrame frame = frameWith(c);
    EXPECT_NEAR(frame.step(0.02).force, 85, 0.1);
    frame.zeroForce();
    EXPECT_NEAR(frame.step(0.02).force, 0, 0.1);
}

TEST(VirtualFrame, RunsToTheBreakAndTheForceFalls)
{
    FrameConditions c;
    c.clampLoad = 0;
    c.slack = 0;
    VirtualFrame frame = frameWith(c);
    frame.closeTopGrip();
    frame.closeBottomGrip();
    frame.setSpeed(0.2);
    double peak = 0;
    for (int i = 0; i < 20000 && !frame.broken(); ++i)
        peak = std::max(peak, frame.step(0.01).force);
    EXPECT_TRUE(frame.broken());
    EXPECT_NEAR(peak / 78.5 / truthOf(std::get<MetalModel>(findCatalogueEntry("rigger-tube")->model)).strength, 1,
                0.002);
    for (int i = 0; i < 50; ++i)
        frame.step(0.01);
    EXPECT_NEAR(frame.step(0.01).force, 0, 1);
}

TEST(VirtualFrame, UnloadsAlongTheModulus)
{
    FrameConditions c;
    c.clampLoad = 0;
    c.slack = 0;
    c.compliance = 6e-6;
    VirtualFrame frame = frameWith(c);
    frame.closeTopGrip();
    frame.closeBottomGrip();
    frame.setSpeed(0.05);
    while (frame.trueStrain() < 0.01)
        frame.step(0.01);
    const double s1 = frame.trueStress();
    const double e1 = frame.trueStrain();
    frame.setSpeed(-0.02);
    for (int i = 0; i < 100; ++i)
        frame.step(0.01);
    EXPECT_NEAR((s1 - frame.trueStress()) / (e1 - frame.trueStrain()) / 70000, 1, 0.001);
}

TEST(VirtualFrame, AnExtensometerTakenOffStandsStill)
{
    FrameConditions c;
    c.extensionNoise = 0;
    VirtualFrame frame = frameWith(c);
    frame.closeTopGrip();
    frame.closeBottomGrip();
    frame.setSpeed(0.1);
    for (int i = 0; i < 300; ++i)
        frame.step(0.01);
    frame.takeExtensometerOff();
    const double there = frame.step(0.01).extension;
    for (int i = 0; i < 100; ++i)
        EXPECT_NEAR(frame.step(0.01).extension, there, 2e-4);
}

TEST(Random, EvenAndNormal)
{
    Random random(1);
    double sum = 0;
    double squares = 0;
    for (int i = 0; i < 100000; ++i) {
        const double v = random.normal();
        sum += v;
        squares += v * v;
    }
    EXPECT_NEAR(sum / 1e5, 0, 0.015);
    EXPECT_NEAR(squares / 1e5, 1, 0.02);
    for (int i = 0; i < 1000; ++i) {
        const double v = random.between(2, 3);
        EXPECT_GE(v, 2);
        EXPECT_LT(v, 3);
    }
}

} // namespace
} // namespace fortitor
