// SPDX-License-Identifier: GPL-3.0-or-later
// Hardness against worked figures of the methods basis, and against the formulas solved the other way round.
#include "methods/hardness/conversion.h"
#include "methods/hardness/indent.h"
#include "methods/hardness/notation.h"

#include "judge/uncertainty.h"
#include "reference/tables.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor::hardness_test {
namespace {

Quantity mm(const std::string& text)
{
    const auto q = parseQuantity(text, Kind::Length);
    EXPECT_TRUE(q) << text;
    return *q;
}

Quantity lengthOf(double value)
{
    return {.base = value, .unit = &baseUnit(Kind::Length), .resolution = 0, .text = "as worked out"};
}

const HardnessScale& scale(const char* name)
{
    const HardnessScale* found = findHardnessScale(name);
    EXPECT_TRUE(found) << name;
    return *found;
}

bool says(const IndentReading& indent, const std::string& code)
{
    return std::ranges::find(indent.remarks, code, &Remark::code) != indent.remarks.end();
}

bool says(const Converted& converted, const std::string& code)
{
    return std::ranges::find(converted.remarks, code, &Remark::code) != converted.remarks.end();
}

double number(const Expected<IndentReading>& indent)
{
    EXPECT_TRUE(indent && indent->read);
    return indent && indent->read ? indent->read->value() : std::nan("");
}

TEST(Rockwell, WorkedFigures)
{
    const struct {
        const char* scale;
        const char* depth;
        double wanted;
        const char* notation;
    } cases[] = {{"HRC", "0.112 mm", 44.0, "44.0 HRC"},       {"HRB", "0.090 mm", 85.0, "85.0 HRBW"},
                 {"HR30N", "0.045 mm", 55.0, "55.0 HR30N"},   {"HR45N", "0.0624 mm", 37.6, "37.6 HR45N"},
                 {"HR15T", "0.0188 mm", 81.2, "81.2 HR15TW"}, {"HR30T", "0.0412 mm", 58.8, "58.8 HR30TW"}};
    for (const auto& one : cases) {
        const auto indent = rockwellIndent(scale(one.scale), mm(one.depth));
        EXPECT_NEAR(number(indent), one.wanted, 1e-9) << one.scale;
        EXPECT_EQ(indent->notation, one.notation);
    }
}

TEST(Rockwell, OutOfTheBandThereIsNoNumberButTheScaleToUse)
{
    const auto soft = rockwellIndent(scale("HRC"), mm("0.170 mm")); // 15 HRC
    ASSERT_TRUE(soft);
    EXPECT_FALSE(soft->read);
    ASSERT_TRUE(says(*soft, "scale-out-of-range"));
    EXPECT_EQ(soft->remarks[0].severity, Severity::Reject);
    EXPECT_NE(soft->remarks[0].advice.find("HRBW"), std::string::npos);
    const auto hard = rockwellIndent(scale("HRB"), mm("0.050 mm")); // 105 HRBW
    ASSERT_TRUE(hard);
    EXPECT_FALSE(hard->read);
    EXPECT_NE(hard->remarks[0].advice.find("HRC"), std::string::npos);
    EXPECT_FALSE(rockwellIndent(scale("HRC"), mm("-0.01 mm")));
    EXPECT_FALSE(rockwellIndent(scale("HV"), mm("0.01 mm")));
}

TEST(Rockwell, EveryScaleHoldsAtBothEndsOfItsBandAndNoFurther)
{
    for (const HardnessScale& one : hardnessScales()) {
        if (one.by != HardnessScale::By::Rockwell)
            continue;
        const auto at = [&](double hr) { return rockwellIndent(one, lengthOf((one.full - hr) * one.step)); };
        EXPECT_TRUE(at(one.lowest + 1e-6)->read) << one.name;
        EXPECT_TRUE(at(one.highest - 1e-6)->read) << one.name;
        EXPECT_FALSE(at(one.lowest - 0.1)->read) << one.name;
        EXPECT_FALSE(at(one.highest + 0.1)->read) << one.name;
        EXPECT_EQ(unitOf(one).symbol, one.name);
        EXPECT_EQ(one.full, one.ball > 0 && one.preload > 50 ? 130 : 100) << one.name;
    }
}

TEST(Rockwell, OnTheLimitIsInsideAsItIsTyped)
{
    for (const HardnessScale& one : hardnessScales()) {
        if (one.by != HardnessScale::By::Rockwell)
            continue;
        for (const double hr : {one.lowest, one.highest})
            EXPECT_TRUE(rockwellIndent(one, mm(formatFixed((one.full - hr) * one.step, 3) + " mm"))->read)
                << hr << " " << one.name;
    }
    const auto brinell = [](const char* d, double force) { return brinellIndent({force, 2.5, {}}, {mm(d), mm(d)}); };
    EXPECT_TRUE(brinell("0.600 mm", 612.9)->read); // 0.24 of the ball
    EXPECT_TRUE(brinell("1.500 mm", 612.9)->read); // 0.60
    EXPECT_FALSE(says(*vickersIndent({98.07, 0, {}}, {mm("0.200 mm"), mm("0.190 mm")}), "indent-uneven"));
}

TEST(Rockwell, ThicknessFollowsTheDepth)
{
    EXPECT_NEAR(rockwellIndent(scale("HRC"), mm("0.112 mm"))->leastThickness, 1.12, 1e-12);
    EXPECT_NEAR(rockwellIndent(scale("HRB"), mm("0.090 mm"))->leastThickness, 1.35, 1e-12);
}

TEST(Brinell, WorkedFigures)
{
    const auto large = brinellIndent({29420, 10, {}}, {mm("4.12 mm"), mm("4.12 mm")});
    EXPECT_EQ(std::lround(number(large)), 215);
    EXPECT_EQ(large->notation, "215 HBW 10/3000");
    EXPECT_EQ(brinellIndent({7355, 5, {}}, {mm("2.05 mm"), mm("2.05 mm")})->notation, "217 HBW 5/750");
    const auto small = brinellIndent({1839, 2.5, 20}, {mm("0.912 mm"), mm("0.918 mm")});
    EXPECT_NEAR(number(small), 275.4, 0.05);
    EXPECT_EQ(small->notation, "275 HBW 2.5/187.5/20");
    EXPECT_NEAR(small->across / 2.5, 0.366, 1e-9);
    EXPECT_NEAR(small->depth, 0.0867, 5e-5);
    EXPECT_NEAR(small->leastThickness, 8 * small->depth, 1e-12);
}

/// The mean pressure over the curved face of the cap, worked out from its depth.
TEST(Brinell, IsForceOverTheFaceOfTheCap)
{
    for (double depth = 0.2; depth < 0.9; depth += 0.1) {
        const double D = 10;
        const double d = 2 * std::sqrt(depth * (D - depth));
        if (d / D < 0.24 || d / D > 0.6)
            continue;
        const double force = 300 * std::numbers::pi * D * depth / 0.102;
        EXPECT_NEAR(number(brinellIndent({force, D, {}}, {lengthOf(d), lengthOf(d)})), 300, 1e-9);
    }
}

TEST(Brinell, WhatDoesNotCountGivesNoNumber)
{
    const auto at = [](double d, double force) { return brinellIndent({force, 10, {}}, {lengthOf(d), lengthOf(d)}); };
    EXPECT_TRUE(says(*at(2.3, 9807), "indent-size"));
    EXPECT_FALSE(at(2.3, 9807)->read);
    EXPECT_TRUE(says(*at(6.1, 29420), "indent-size"));
    EXPECT_TRUE(says(*at(2.41, 29420), "hbw-over-650") || at(2.41, 29420)->read);
    const auto over = brinellIndent({29420, 10, {}}, {lengthOf(2.4), lengthOf(2.4)}); // 653 HBW
    EXPECT_TRUE(says(*over, "hbw-over-650"));
    EXPECT_FALSE(over->read);
    EXPECT_FALSE(at(10.5, 29420)); // larger than the ball
    EXPECT_FALSE(at(0, 29420));
    EXPECT_FALSE(at(4, -1));
    EXPECT_FALSE(brinellIndent({29420, 0, {}}, {lengthOf(4), lengthOf(4)}));
}

TEST(Vickers, WorkedFigures)
{
    const auto indent = vickersIndent({98.07, 0, {}}, {mm("0.2350 mm"), mm("0.2370 mm")});
    EXPECT_EQ(std::lround(number(indent)), 333);
    EXPECT_EQ(indent->notation, "333 HV 10");
    EXPECT_EQ(formulaText(*indent->read), "0.1891 · F / d²");
    EXPECT_TRUE(indent->remarks.empty());
    EXPECT_NEAR(indent->leastThickness, 0.354, 1e-12);
    // Filar figures 4 and 31.5, 4 and 27 with 50 drum units a barrel division of 0.25 µm each.
    const auto filar = vickersIndent({9.807, 0, {}}, {mm("57.875 um"), mm("56.75 um")});
    EXPECT_EQ(std::lround(number(filar)), 565);
    EXPECT_EQ(filar->notation, "565 HV 1");
    const double d = std::sqrt(0.1891 * 294.2 / 640.0);
    EXPECT_EQ(vickersIndent({294.2, 0, 20}, {lengthOf(d), lengthOf(d)})->notation, "640 HV 30/20");
}

TEST(Vickers, FlagsWhatIsUnevenOrSmall)
{
    EXPECT_FALSE(says(*vickersIndent({98.07, 0, {}}, {mm("0.2000 mm"), mm("0.1905 mm")}), "indent-uneven"));
    const auto uneven = vickersIndent({98.07, 0, {}}, {mm("0.2000 mm"), mm("0.1895 mm")});
    EXPECT_TRUE(says(*uneven, "indent-uneven"));
    EXPECT_TRUE(uneven->read) << "flagged, not set aside";
    EXPECT_TRUE(says(*vickersIndent({0.09807, 0, {}}, {mm("19.9 um"), mm("19.9 um")}), "indent-small"));
    EXPECT_FALSE(vickersIndent({98.07, 0, {}}, {mm("0.2 mm"), mm("0 mm")}));
    EXPECT_FALSE(vickersIndent({98.07, 0, {}}, {mm("0.2 mm"), mm("-0.2 mm")}));
    EXPECT_FALSE(vickersIndent({0, 0, {}}, {mm("0.2 mm"), mm("0.2 mm")}));
    EXPECT_FALSE(vickersIndent({98.07, 0, 0}, {mm("0.2 mm"), mm("0.2 mm")}));
}

TEST(Vickers, UncertaintyIsTwiceThatOfTheDiagonal)
{
    // Two readings to 1 µm of a diagonal of 200 µm: each ±0.5 µm as a rectangle, their mean, squared.
    const auto indent = vickersIndent({98.07, 0, {}}, {mm("0.200 mm"), mm("0.200 mm")});
    const double diagonal = 0.0005 / std::sqrt(3.0);
    // Both hang on one source and go together or not: between the two bounds.
    const double relative = uncertaintyBudget(*indent->read).expanded / number(indent);
    EXPECT_GE(relative, 2 * 2 * diagonal / std::sqrt(2.0) / 0.2 * 0.999);
    EXPECT_LE(relative, 2 * 2 * diagonal / 0.2 * 1.001);
}

TEST(Knoop, WorkedFigures)
{
    const auto whole = knoopIndent({4.903, 0, {}}, {mm("0.0982 mm")});
    EXPECT_EQ(std::lround(number(whole)), 738);
    EXPECT_EQ(whole->notation, "738 HK 0.5");
    const auto halves = knoopIndent({1.961, 0, {}}, {mm("31.9 um"), mm("33.1 um")});
    EXPECT_EQ(std::lround(number(halves)), 673);
    EXPECT_EQ(halves->notation, "673 HK 0.2");
    EXPECT_TRUE(halves->remarks.empty()) << "3.6 to 3.8 % apart, 10 allowed";
    EXPECT_TRUE(says(*knoopIndent({1.961, 0, {}}, {mm("30 um"), mm("34 um")}), "indent-uneven"));
    EXPECT_FALSE(knoopIndent({1.961, 0, {}}, {}));
}

TEST(HardnessNotation, ForceIsTheNominalOneNearby)
{
    using enum HardnessScale::By;
    EXPECT_EQ(nominalForce(29420, Brinell), 3000);
    EXPECT_EQ(nominalForce(1839, Brinell), 187.5);
    EXPECT_EQ(nominalForce(0.4903, Vickers), 0.05);
    EXPECT_DOUBLE_EQ(nominalForce(9.80665 * 7, Vickers), 7) << "none within 1 %: as it is";
    const HardnessScale& hv = scale("HV");
    EXPECT_EQ(hardnessNotation(hv, 99.96, {98.07, 0, {}}), "100 HV 10");
    EXPECT_EQ(hardnessNotation(hv, 99.94, {98.07, 0, {}}), "99.9 HV 10");
    EXPECT_EQ(hardnessNotation(hv, 333, {98.07, 0, 15}), "333 HV 10");
    EXPECT_EQ(hardnessNotation(hv, 333, {98.07, 0, 15.5}), "333 HV 10/15.5");
}

TEST(Conversion, IsExactAtEveryRowOfTheTables)
{
    for (const ConversionTable& table : conversionTables()) {
        ASSERT_GT(table.rows.size(), 20u);
        for (const auto& row : table.rows)
            for (size_t a = 0; a < table.scales.size(); ++a)
                for (size_t b = 0; b < table.scales.size(); ++b) {
                    if (a == b || !row[a] || !row[b])
                        continue;
                    const auto found =
                        convertHardness(*row[a], scale(table.scales[a].c_str()), scale(table.scales[b].c_str()));
                    ASSERT_TRUE(found) << found.problem().text();
                    EXPECT_TRUE(says(*found, "converted"));
                    if (found->table == table.name)
                        EXPECT_DOUBLE_EQ(found->value, *row[b]) << *row[a] << " " << table.scales[a];
                    else
                        EXPECT_TRUE(says(*found, "tables-disagree") || found->value == *row[b])
                            << *row[a] << " " << table.scales[a];
                }
    }
}

TEST(Conversion, RisesWithinEachTable)
{
    for (const ConversionTable& table : conversionTables())
        for (size_t column = 0; column < table.scales.size(); ++column) {
            double before = 1e9;
            for (const auto& row : table.rows)
                if (row[column]) {
                    EXPECT_LE(*row[column], before) << table.scales[column];
                    before = *row[column];
                }
        }
    for (const auto& [from, to, low, high] :
         {std::tuple{"HRC", "HV", 20.0, 68.0}, std::tuple{"HRB", "HBW", 60.0, 100.0}}) {
        double before = 0;
        for (double v = low; v <= high; v += 0.05) {
            const auto one = convertHardness(v, scale(from), scale(to));
            ASSERT_TRUE(one) << v << from;
            EXPECT_GE(one->value, before) << v << from;
            before = one->value;
        }
    }
}

TEST(Conversion, BetweenRowsItIsOnTheStraightLine)
{
    EXPECT_NEAR(convertHardness(59.5, scale("HRC"), scale("HV"))->value, (674 + 697) / 2.0, 1e-9);
    EXPECT_NEAR(convertHardness(99.25, scale("HRB"), scale("HV"))->value, 234 + 0.25 * 6, 1e-9);
}

TEST(Conversion, FromTwoHundredAndFortyOnTheHardTableCounts)
{
    const auto over = convertHardness(240, scale("HV"), scale("HBW"));
    ASSERT_TRUE(over);
    EXPECT_EQ(over->table, conversionTables()[0].name);
    EXPECT_TRUE(says(*over, "tables-disagree"));
    const auto under = convertHardness(239.5, scale("HV"), scale("HBW"));
    ASSERT_TRUE(under);
    EXPECT_EQ(under->table, conversionTables()[1].name);
    EXPECT_NEAR(under->value, 239.5, 1e-9);
    EXPECT_TRUE(says(*under, "tables-disagree"));
    EXPECT_FALSE(says(*convertHardness(200, scale("HV"), scale("HBW")), "tables-disagree"));
    // There and back again, but where both tables hold the number.
    for (double hv = 120; hv < 600; hv += 7) {
        const auto there = convertHardness(hv, scale("HV"), scale("HBW"));
        ASSERT_TRUE(there) << hv;
        const auto back = convertHardness(there->value, scale("HBW"), scale("HV"));
        ASSERT_TRUE(back) << hv;
        if (says(*there, "tables-disagree") || says(*back, "tables-disagree"))
            EXPECT_NEAR(back->value, hv, 14) << hv;
        else
            EXPECT_NEAR(back->value, hv, 1e-6) << hv;
    }
}

TEST(Conversion, FromOneTableIntoTheOtherOnlyByANumberThatBothHold)
{
    const auto both = convertHardness(20, scale("HRC"), scale("HRB"));
    ASSERT_TRUE(both);
    EXPECT_TRUE(says(*both, "converted-twice"));
    EXPECT_GT(both->value, 97);
    EXPECT_LE(both->value, 100);
    EXPECT_FALSE(convertHardness(45, scale("HRC"), scale("HRB")));
    EXPECT_FALSE(convertHardness(80, scale("HRB"), scale("HRC")));
    EXPECT_TRUE(convertHardness(100, scale("HRB"), scale("HRC")));
}

TEST(Conversion, WhatIsNotHeldIsRefusedWithTheReason)
{
    const auto reason = [](double v, const char* from, const char* to, const char* material = "steel") {
        const auto got = convertHardness(v, scale(from), scale(to), material);
        EXPECT_FALSE(got) << v << from;
        return got ? std::string() : got.problem().text();
    };
    EXPECT_NE(reason(15, "HRC", "HV").find("20 to 70"), std::string::npos);
    EXPECT_NE(reason(69, "HRC", "HV").find("68"), std::string::npos) << "inside the band, beyond the table";
    EXPECT_NE(reason(700, "HBW", "HV").find("650"), std::string::npos);
    EXPECT_NE(reason(66, "HRC", "HBW").find("HBW"), std::string::npos);
    EXPECT_FALSE(reason(45, "HRC", "HV", "austenitic steel").empty());
    EXPECT_FALSE(reason(45, "HRC", "HRD").empty());
    EXPECT_FALSE(reason(45, "HRC", "HRC").empty());
    EXPECT_FALSE(reason(std::nan(""), "HV", "HRC").empty());
    EXPECT_FALSE(reason(1e9, "HV", "HRC").empty());
}

} // namespace
} // namespace fortitor::hardness_test
