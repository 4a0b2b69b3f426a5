// SPDX-License-Identifier: GPL-3.0-or-later
// A specimen made for a job: as strong as the reference says, for every method, and read by the methods like any other.
#include "sim/stand_in.h"

#include "methods/support.h"
#include "reference/tables.h"
#include "sim/test_frame.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::stand_in_test {
namespace {

const CatalogueEntry& made(const WantedSpecimen& wanted, std::string* restsOn = nullptr)
{
    const auto stand = standInFor(wanted);
    EXPECT_TRUE(stand) << wanted.method << " " << wanted.material;
    if (restsOn)
        *restsOn = stand->restsOn;
    const CatalogueEntry* entry = findCatalogueEntry(stand->name);
    EXPECT_TRUE(entry) << stand->name;
    EXPECT_EQ(findCatalogueEntry(stand->name), entry); // the same again
    return *entry;
}

TEST(StandIn, WhatIsOnTheShelfIsTakenFromThere)
{
    std::string restsOn;
    EXPECT_EQ(made({.method = "tension-metal", .material = "6082-T6", .shape = "round"}, &restsOn).name, "rigger-tube");
    EXPECT_TRUE(restsOn.empty());
}

// Each metal of the reference: yield and strength as published, read back from its record.
TEST(StandIn, MetalsAreAsStrongAsTheirReferenceSays)
{
    int seen = 0;
    for (const PublishedMaterial& row : publishedMaterials()) {
        if (row.kind != "metal" || !row.yield)
            continue;
        std::string restsOn;
        const CatalogueEntry& entry =
            made({.method = "tension-metal", .material = row.name + " " + row.state, .shape = "round"}, &restsOn);
        if (restsOn.empty())
            continue; // on the shelf
        ++seen;
        EXPECT_NE(restsOn.find(row.name), std::string::npos) << restsOn;
        const MetalTruth truth = truthOf(std::get<MetalModel>(entry.model));
        const double yield = truth.lower > 0 ? truth.lower : truth.proof02;
        EXPECT_EQ(truth.modulus, *row.youngsModulus) << row.name;
        EXPECT_NEAR(yield / *row.yield, 1, 0.01) << row.name;
        EXPECT_NEAR(truth.strength / *row.strength, 1, 0.01) << row.name;
        EXPECT_NEAR(truth.plasticAtBreak, *row.elongation, 0.02 * *row.elongation + 1e-9) << row.name;
        const Outcome out = test::evaluated("tension-metal", test::simulatedInput(entry.name.c_str(), 3));
        ASSERT_TRUE(test::valueOf(out, "Rm")) << row.name;
        EXPECT_NEAR(*test::valueOf(out, "Rm") / *row.strength, 1, 0.06) << row.name;
        EXPECT_NEAR(*test::valueOf(out, "E") / *row.youngsModulus, 1, 0.05) << row.name;
    }
    EXPECT_GE(seen, 5);
}

TEST(StandIn, EveryMethodOfTheShelfHasOneForAnyMaterial)
{
    for (const CatalogueEntry& shelf : catalogue()) {
        std::string restsOn;
        const CatalogueEntry& entry = made(
            {.method = shelf.method, .material = "driftwood resin", .shape = shelf.shape, .options = shelf.options},
            &restsOn);
        EXPECT_EQ(entry.method, shelf.method);
        EXPECT_EQ(entry.shape, shelf.shape);
        EXPECT_NE(restsOn.find("Nothing is published here of \"driftwood resin\""), std::string::npos) << restsOn;
        const SimulatedRun run = simulateRun(entry, 4, 500);
        EXPECT_GT(run.record.rows(), 10u) << entry.name;
    }
    EXPECT_FALSE(standInFor({.method = "hardness", .material = "anything"}));
}

TEST(StandIn, PlasticsAndLaminatesHaveTheirOwnFigures)
{
    const auto& abs = std::get<PlasticModel>(made({.method = "tension-plastic", .material = "PC"}).model);
    EXPECT_EQ(abs.modulus, 2300);
    EXPECT_NEAR(abs.yieldStress, 63, 1e-9);
    EXPECT_NEAR(abs.breakStrain, 1.1, 1e-9);
    EXPECT_GT(abs.yieldStrain, abs.yieldStress / abs.modulus);
    const auto& mat =
        std::get<LaminateModel>(made({.method = "tension-composite", .material = "glass/polyester mat"}).model);
    EXPECT_EQ(mat.modulus, 8000);
    EXPECT_EQ(mat.strength, 110);
}

// Figures that a kind does not use are not said to be used.
TEST(StandIn, WhatMaterialFiguresDoNotChangeIsSaid)
{
    for (const char* method : {"crush", "proof-load", "flatwise-tension"}) {
        std::string restsOn;
        const CatalogueEntry& entry = made({.method = method, .material = "aluminium 5083 H111"}, &restsOn);
        EXPECT_NE(restsOn.find("No figures of aluminium 5083"), std::string::npos) << restsOn;
        EXPECT_EQ(entry.name.find(';'), std::string::npos) << entry.name;
    }
    std::string restsOn;
    made({.method = "compression", .material = "aluminium 5083 H111", .shape = "round"}, &restsOn);
    EXPECT_NE(restsOn.find("with the reference figures of aluminium 5083"), std::string::npos) << restsOn;
}

// Twice as deep: eight times as stiff, four times as strong. Oak by its own modulus.
TEST(StandIn, BeamsAndShaftsAreMadeByTheirSizes)
{
    const auto beam = [](const char* wood, double depth) {
        return std::get<BeamModel>(made({.method = "flexure",
                                         .material = wood,
                                         .shape = "rectangular",
                                         .sizes = {{"width", 20}, {"depth", depth}, {"span", 300}}})
                                       .model);
    };
    const BeamModel thin = beam("oak (white)", 20), deep = beam("oak (white)", 40);
    EXPECT_NEAR(deep.slope / thin.slope, 8, 1e-6);
    EXPECT_NEAR(deep.strength / thin.strength, 4, 1e-6);
    const auto oak = findWoodSpecies("oak (white)");
    ASSERT_TRUE(oak);
    const double a = 150;
    EXPECT_NEAR(thin.slope * a * (3 * 300.0 * 300 - 4 * a * a) / (4 * 20 * std::pow(20, 3)) / oak->modulus, 1, 0.15);
    const auto shaft = [](double diameter, double length) {
        return std::get<ShaftModel>(made({.method = "torsion",
                                          .material = "steel C45",
                                          .shape = "round",
                                          .sizes = {{"diameter", diameter}, {"gauge_length", length}}})
                                        .model);
    };
    EXPECT_NEAR(shaft(20, 100).stiffness / shaft(10, 100).stiffness, 16, 1e-6);
    EXPECT_NEAR(shaft(10, 100).stiffness / shaft(10, 200).stiffness, 2, 1e-6);
    EXPECT_NEAR(shaft(20, 100).yieldTorque / shaft(10, 100).yieldTorque, 8, 1e-6);
    EXPECT_NEAR(shaft(10, 100).stiffness, 81000 * 3.14159265 / 32 * 1e4 / 100, 0.05 * 81000 * 981.7 / 100);
}

TEST(StandIn, OtherNamesAreNone)
{
    for (const char* name : {"like", "like ", "like nonsense", "like nonsense;E=1", "like rigger-tube;E=-3",
                             "like rigger-tube;E=nan", "like rigger-tube;E=1e999", "like rigger-tube;",
                             "like rigger-tube;E", "like rigger-tube;;", "like like rigger-tube"})
        EXPECT_FALSE(findCatalogueEntry(name)) << name;
    TestFrame frame{FrameSpec{}};
    EXPECT_FALSE(frame.mount({.specimen = "like nonsense"}));
    EXPECT_TRUE(frame.mount({.specimen = "like rigger-tube;E=210000;yield=370;strength=650;elongation=0.16"}));
}

} // namespace
} // namespace fortitor::stand_in_test
