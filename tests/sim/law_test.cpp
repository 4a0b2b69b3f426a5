// SPDX-License-Identifier: GPL-3.0-or-later
// The laws of the virtual specimens, the shelf, and the frame with a piece between its platens.
#include "methods/method.h"
#include "sim/catalogue.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

TEST(Laws, StartAtTheModulusAndAtZero)
{
    for (const CatalogueEntry& entry : catalogue()) {
        const Law law = lawOf(entry.model);
        ASSERT_GT(law.strain.size(), 100u) << entry.name;
        EXPECT_EQ(law.stress.front(), 0) << entry.name;
        EXPECT_NEAR(chordOf(law, 0, law.strain.back() * 1e-4) / law.modulus, 1, 0.03) << entry.name;
        EXPECT_TRUE(std::ranges::all_of(law.stress, [](double s) { return std::isfinite(s) && s > -1e-9; }))
            << entry.name;
    }
}

TEST(Laws, APolymerPeaksAtItsYieldAndDraws)
{
    const PlasticModel m{1000, 30, 0.1, 20, 2, 28, 3};
    EXPECT_NEAR(m.stress(0.1), 30, 1e-9);
    EXPECT_LT(m.stress(0.099), 30);
    EXPECT_NEAR(m.stress(1), 20, 1e-9);
    EXPECT_NEAR(m.stress(3), 28, 1e-9);
    EXPECT_FALSE(m.brittle());
    EXPECT_TRUE((PlasticModel{1000, 30, 0.1, 20, 2, 28, 0.05}.brittle()));
}

TEST(Laws, ALaminateEndsAtItsStrength)
{
    for (const double stiffening : {-3.0, 0.0, 5.0}) {
        const Law law = lawOf(LaminateModel{60000, stiffening, 600, 0.3, 0});
        EXPECT_NEAR(law.stress.back(), 600, 1e-6) << stiffening;
    }
}

TEST(Laws, AShellIsContinuousWhereItsPartsJoin)
{
    const ShellModel m;
    for (const double at : {m.peakTravel, 2.4 * m.peakTravel, m.together})
        EXPECT_NEAR(m.force(at - 1e-7), m.force(at + 1e-7), 0.01) << at;
    EXPECT_NEAR(m.force(m.peakTravel), m.peak, 1e-9);
    EXPECT_GT(m.force(m.end), m.peak);
}

TEST(Shelf, EveryEntryHasAMethodWithItsTruthAmongTheResults)
{
    for (const CatalogueEntry& entry : catalogue()) {
        const Method* method = findMethod(entry.method);
        ASSERT_TRUE(method) << entry.name;
        const SimulatedSpecimen s = drawSpecimen(entry, 3);
        EXPECT_FALSE(s.truth.empty()) << entry.name;
        for (const auto& [symbol, value] : s.truth)
            EXPECT_TRUE(method->findResult(symbol)) << entry.name << " " << symbol;
        for (const auto& [key, readings] : s.dimensions)
            EXPECT_TRUE(method->findField(key)) << entry.name << " " << key;
        for (const auto& [key, value] : entry.options)
            EXPECT_TRUE(method->findOption(key)) << entry.name << " " << key;
        EXPECT_NE(std::ranges::find(method->shapes, entry.shape), method->shapes.end()) << entry.name;
    }
}

TEST(Shelf, WhatHangsForAJob)
{
    EXPECT_EQ(entryFor("tension-metal", "6082-T6", "")->name, "rigger-tube");
    EXPECT_EQ(entryFor("compression", "6082-T6", "")->name, "sill-block");
    EXPECT_EQ(entryFor("tension-plastic", "PLA", "across 90°")->name, "footplate-across");
    EXPECT_EQ(entryFor("tension-plastic", "PLA", "")->name, "footplate-along");
    EXPECT_EQ(entryFor("flatwise-tension", "shell sandwich, foam core", "")->name, "shell-sandwich");
    EXPECT_EQ(entryFor("crush", "moonstone", ""), nullptr);
}

TEST(PressedFrame, GapTouchAndTheWayBack)
{
    const CatalogueEntry& entry = *findCatalogueEntry("canister");
    const auto run = simulateRun(entry, 7);
    const Column& force = run.record.find("force")->values;
    const Column& way = run.record.find("displacement")->values;
    // Nothing touches while the gap closes.
    size_t i = 0;
    while (way[i] < run.specimen.conditions.slack * 0.9)
        ++i;
    EXPECT_LT(std::abs(force[i] - run.specimen.conditions.zeroOffset), 10);
    double most = 0;
    for (size_t k = 0; k < way.size(); ++k)
        most = std::max(most, way[k]);
    EXPECT_GT(most, 40);
    EXPECT_LT(way.back(), most - 0.05); // it has begun to go back
}

TEST(PressedFrame, OneFrameWritesCompressionAsNegative)
{
    const auto a = simulateRun(*findCatalogueEntry("canister"), 7);
    const auto b = simulateRun(*findCatalogueEntry("canister-negative"), 7);
    ASSERT_EQ(a.record.rows(), b.record.rows());
    for (const char* channel : {"force", "displacement"})
        for (size_t i = 0; i < a.record.rows(); i += 997)
            EXPECT_EQ(a.record.find(channel)->values[i], -b.record.find(channel)->values[i]) << channel;
}

TEST(Gauges, FrontBackAndAcross)
{
    const auto run = simulateRun(*findCatalogueEntry("shell-skin"), 7);
    const double bending = run.specimen.trueValue("By");
    const double nu = run.specimen.trueValue("nu12");
    const size_t i = run.record.rows() / 2;
    const auto at = [&](const char* name) { return run.record.find(name)->values[i]; };
    const double mean = 0.5 * (at("strain") + at("strain_2"));
    EXPECT_NEAR((at("strain") - at("strain_2")) / (2 * mean), bending, 2e-3);
    EXPECT_NEAR(-at("transverse_strain") / mean, nu, 3e-3);
}

} // namespace
} // namespace fortitor
