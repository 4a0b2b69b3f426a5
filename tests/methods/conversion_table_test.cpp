// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of conversion that a laboratory brings along.
#include "methods/hardness/conversion.h"

#include <gtest/gtest.h>

#include <random>

namespace fortitor::conversion_table_test {
namespace {

const HardnessScale& scale(const char* name)
{
    return *findHardnessScale(name);
}

TEST(ConversionTable, IsReadInTheWaysPeopleWriteIt)
{
    const char* texts[] = {
        "# name: copper alloys, works table\n# material: CuZn\nHV,HRB,HBW\n100,55.5,95\n120,66,114\n\n140,74,-\n",
        "\xEF\xBB\xBF# name: copper alloys, works table\r\n# material: CuZn\r\nHV;HRB;HBW\r\n140;74;\r\n"
        "120;66;114\r\n100;55,5;95\r\n",
        "# name: copper alloys, works table\n# material: CuZn\nHV\tHRBW\tHBW\n100\t55,5\t95\n120\t66\t114\n"
        "140\t74\t–"};
    for (const char* text : texts) {
        const auto table = readConversionTable(text, "own.csv");
        ASSERT_TRUE(table) << table.problem().text();
        EXPECT_EQ(table->name, "copper alloys, works table");
        EXPECT_EQ(table->material, "CuZn");
        EXPECT_NEAR(convertByTable(110, scale("HV"), scale("HRB"), *table)->value, (55.5 + 66) / 2, 1e-12);
        EXPECT_NEAR(convertByTable(120, scale("HV"), scale("HBW"), *table)->value, 114, 1e-12);
        EXPECT_NEAR(convertByTable(104.5, scale("HBW"), scale("HV"), *table)->value, 110, 1e-12);
        EXPECT_FALSE(convertByTable(130, scale("HV"), scale("HBW"), *table)) << "no number there";
        EXPECT_FALSE(convertByTable(99.9, scale("HV"), scale("HRB"), *table)) << "beyond the table";
        EXPECT_FALSE(convertByTable(45, scale("HRC"), scale("HV"), *table));
        EXPECT_EQ(convertByTable(120, scale("HV"), scale("HRB"), *table)->remarks.front().code, "converted");
    }
}

TEST(ConversionTable, WhatIsNoneIsRefusedWithItsPlace)
{
    const std::pair<const char*, const char*> bad[] = {
        {"", "no table"},
        {"HV,HRB\n", "no table"},
        {"HV\n100\n120\n", "no table"},
        {"HV,hardness\n100,2\n", "line 1"},
        {"HV,HRB,HV\n1,2,3\n", "second time"},
        {"HV,HRB\n100,55\n110\n", "line 3"},
        {"HV,HRB\n100,55\n110,zero\n", "zero"},
        {"HV,HRB\n100,55\n110,-3\n", "-3"},
        {"HV,HRB\n100,55\n110,60\n105,62\n", "row 3, HV"},
        {"HV,HRB\n100,55\n110,55\n", "row 2, HRBW"},
        {"HV,HRB\n100,nan\n110,55\n", "nan"},
        {"HV,HRB\n100,55\n90,57\n", "row 2, HRBW"},
    };
    for (const auto& [text, words] : bad) {
        const auto table = readConversionTable(text, "own.csv");
        ASSERT_FALSE(table) << text;
        EXPECT_NE(table.problem().text().find(words), std::string::npos) << table.problem().text();
    }
    // Whatever bytes come, nothing worse than a refusal.
    std::mt19937 random(3);
    const std::string seed = "# name: a\nHV,HRB\n100,55\n110,60\n";
    for (int i = 0; i < 3000; ++i) {
        std::string text = seed;
        for (int k = 0; k < 4; ++k)
            text[random() % text.size()] = static_cast<char>(random() % 256);
        const auto table = readConversionTable(text, "own.csv");
        EXPECT_TRUE(!table || table->rows.size() >= 2);
    }
}

} // namespace
} // namespace fortitor::conversion_table_test
