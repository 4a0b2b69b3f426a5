// SPDX-License-Identifier: GPL-3.0-or-later
// Blocks of variable amplitude, and extensometers over a field of displacements.
#include "history/block_file.h"
#include "methods/fatigue_sn/displacement_field.h"
#include "support.h"

#include <gtest/gtest.h>

#include <unistd.h>

#include <cmath>
#include <filesystem>
#include <fstream>

namespace fortitor::variable_test {
namespace {

namespace fs = std::filesystem;

class Files : public testing::Test {
protected:
    void SetUp() override
    {
        folder = fs::temp_directory_path() / ("fortitor-block-" + std::to_string(::getpid()));
        fs::create_directories(folder);
    }
    void TearDown() override { fs::remove_all(folder); }
    std::string write(const char* name, const std::string& text)
    {
        std::ofstream(folder / name) << text;
        return (folder / name).string();
    }
    fs::path folder;
};

using Block = Files;

TEST_F(Block, IsReadAsAProgramAndAsTurningPoints)
{
    const auto program =
        readBlock(write("p.csv", "step,cycles,range (MPa),mean (MPa)\n1,1000,40,0\n2,10,90,5\n3,1000,40,0\n"));
    ASSERT_TRUE(program) << program.problem().text();
    ASSERT_EQ(program->cycles.size(), 2u);
    EXPECT_EQ(program->count, 2010);
    EXPECT_EQ(program->greatest, 90);
    // E1049: 3: 0.5; 4: 1.5; 6: 0.5; 8: 1.0; 9: 0.5.
    const auto points = readBlock(write("t.csv", "stress (MPa)\n-2\n1\n-3\n5\n-1\n3\n-4\n4\n-2\n"));
    ASSERT_TRUE(points);
    const std::vector<std::pair<double, double>> wanted{{3, 0.5}, {4, 1.5}, {6, 0.5}, {8, 1}, {9, 0.5}};
    EXPECT_EQ(points->cycles, wanted);
    EXPECT_EQ(readBlock(write("k.csv", "stress (ksi)\n0\n1\n0\n"))->cycles.size(), 1u);
    EXPECT_NEAR(readBlock(folder / "k.csv")->greatest, 6.894757, 1e-6);
    for (const char* bad : {"", "stress (ue)\n1\n2\n", "1\n1\n1\n", "stress\n1\nx\n", "cycles,range\n10,-5\n"})
        EXPECT_FALSE(readBlock(write("bad.csv", bad))) << bad;
    EXPECT_FALSE(readBlock((folder / "none.csv").string()));
}

TEST_F(Block, DamageIsMinersByHand)
{
    // The worked spectrum: class 71, knee 52.31 MPa.
    const auto block = readBlock(write("m.csv", "cycles,range (MPa)\n4000000,20\n800000,50\n200000,75\n10000,120\n"));
    DamageCurve curve;
    EXPECT_NEAR(blockDamage(*block, curve), 0.27616, 5e-6);
    curve.rule = DamageCurve::Below::Straight;
    EXPECT_NEAR(blockDamage(*block, curve), 0.32641, 5e-6);
    EXPECT_NEAR(blockDamage(*block, curve, 2), 8 * 0.32641, 4e-5);
    curve.rule = DamageCurve::Below::Cut;
    EXPECT_NEAR(blockDamage(*block, curve), 0.14201, 5e-6);
}

TEST_F(Block, APieceHasItsMeasuredSumAndItsPlaceOnTheLine)
{
    SpecimenInput in;
    in.label = "V1";
    in.options = {{"kind", "variable"}, {"class", "71 MPa"}};
    in.options["block"] = write("m.csv", "cycles,range (MPa)\n4000000,20\n800000,50\n200000,75\n10000,120\n");
    in.readings["blocks"] = {*parseQuantity("2.5", Kind::Number, findUnit("1", Kind::Number))};
    in.notes = {{"outcome", "broken"}};
    Outcome out = test::evaluated("fatigue-sn", in);
    EXPECT_NEAR(*test::valueOf(out, "damage_sum"), 2.5 * 0.27616, 2e-5);
    EXPECT_EQ(*test::valueOf(out, "S"), 120);
    EXPECT_NEAR(*test::valueOf(out, "N"), 2.5 * 5'010'000, 1e-6);
    EXPECT_FALSE(out.remarked("damage-sum-low"));
    in.options["below"] = "straight";
    in.readings["range"] = {*parseQuantity("60 MPa", Kind::Stress)}; // run at half of it
    out = test::evaluated("fatigue-sn", in);
    EXPECT_NEAR(*test::valueOf(out, "damage_sum"), 2.5 * 0.32641 / 8, 2e-5);
    EXPECT_EQ(*test::valueOf(out, "S"), 60);
    EXPECT_TRUE(out.remarked("damage-sum-low"));
    in.notes["outcome"] = "run-out";
    EXPECT_EQ(test::evaluated("fatigue-sn", in).find("damage_sum")->bound, Result::Bound::AtLeast);
    in.options.erase("class");
    EXPECT_FALSE(test::valueOf(test::evaluated("fatigue-sn", in), "damage_sum"));
    in.readings.erase("blocks");
    EXPECT_TRUE(test::evaluated("fatigue-sn", in).remarked("no-blocks"));
    in.options.erase("block");
    EXPECT_TRUE(test::evaluated("fatigue-sn", in).remarked("no-block"));
    in.options["block"] = "/nowhere/block.csv";
    EXPECT_FALSE(findMethod("fatigue-sn")->evaluate(in));
    in.options = {{"kind", "sn"}};
    EXPECT_FALSE(test::evaluated("fatigue-sn", in).find("damage_sum"));
}

using Field = Files;

/// v = eps·y beyond the toe at 10, u nothing; one point lost.
std::string field(double eps, bool lost = false)
{
    std::string text = "cycles,x (mm),y (mm),u (mm),v (mm)\n";
    for (const int cycles : {0, 1000, 2000})
        for (int x = 0; x <= 20; x += 2)
            for (int y = 0; y <= 20; y += 2) {
                const double strain = eps * (1 + cycles / 1000.0 * (x == 10 ? 1 : 0));
                text += std::to_string(cycles) + "," + std::to_string(x) + "," + std::to_string(y) + ",0,"
                    + (lost && x == 10 && y == 10 && cycles == 1000 ? std::string("nan") : std::to_string(strain * y))
                    + "\n";
            }
    return text;
}

TEST_F(Field, GaugesAreLaidAcrossTheToe)
{
    const auto gauges = readGauges("y = 10 mm", "4 mm", "3, 10 mm");
    ASSERT_TRUE(gauges) << gauges.problem().text();
    const auto path = write("f.csv", field(1e-3));
    EXPECT_TRUE(looksLikeField(path));
    const auto record = recordOfField(path, *gauges);
    ASSERT_TRUE(record) << record.problem().text();
    ASSERT_EQ(record->rows(), 3u);
    EXPECT_NEAR(record->find("strain")->values[0], 1e-3, 1e-9); // between the points, linear
    EXPECT_NEAR(record->find("strain_2")->values[0], 1e-3, 1e-9);
    EXPECT_NEAR(record->find("strain_2")->values[2], 3e-3, 1e-9);
    EXPECT_EQ(record->find("cycles")->values[1], 1000);
    // A point that was lost is a gap of that gauge only.
    const auto gap = recordOfField(write("l.csv", field(1e-3, true)), *readGauges("10 mm", "1 mm", "3, 10 mm"));
    ASSERT_TRUE(gap);
    EXPECT_TRUE(std::isnan(gap->find("strain_2")->values[1]));
    EXPECT_FALSE(std::isnan(gap->find("strain")->values[1]));
}

TEST_F(Field, WhatCanNotBeIsNamed)
{
    for (const auto& [toe, length, along] : {std::tuple("z = 3", "2 mm", "0"),
                                             {"y = high", "2 mm", "0"},
                                             {"y = 3", "0 mm", "0"},
                                             {"y = 3", "2 kN", "0"},
                                             {"y = 3", "2 mm", ""},
                                             {"y = 3", "2 mm", "1,2,3,4,5,6,7,8,9 mm"}})
        EXPECT_FALSE(readGauges(toe, length, along)) << toe << length << along;
    const ToeGauges gauges = *readGauges("y = 10 mm", "4 mm", "10");
    for (const std::string& bad :
         {std::string("x,y,u,v\n1,2,3,4\n"), std::string("cycles,x,y,u,v\n0,1,1,0,0\n0,2,1,0,0\n"),
          std::string("cycles,x,y,u,v\n0,one,1,0,0\n"), std::string("cycles,x,y,u,v\n")})
        EXPECT_FALSE(recordOfField(write("bad.csv", bad), gauges)) << bad;
    EXPECT_FALSE(recordOfField(write("f.csv", field(1e-3)), *readGauges("y = 90 mm", "4 mm", "10")));
    EXPECT_FALSE(looksLikeField(write("s.csv", "cycles,strain\n1,2\n")));
}

} // namespace
} // namespace fortitor::variable_test
