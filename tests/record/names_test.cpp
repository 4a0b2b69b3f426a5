// SPDX-License-Identifier: GPL-3.0-or-later
// Column headers as machines write them.
#include "record/text_layout.h"

#include <gtest/gtest.h>

namespace fortitor {
namespace {

struct Header {
    const char* words;
    const char* unit;
    const char* channel;
};

const Header headers[] = {
    {"Force", "kN", "force"},
    {"Load", "N", "force"},
    {"Load cell", "N", "force"},
    {"Kraft", "kN", "force"},
    {"LOAD", "lbf", "force"},
    {"Extensometer", "mm", "extension"},
    {"Ext", "mm", "extension"},
    {"Ext 1", "mm", "extension"},
    {"Extension", "mm", "extension"},
    {"Strain", "%", "strain"},
    {"Strain", "mm/mm", "strain"},
    {"Strain", "mm", "extension"},
    {"Dehnung", "%", "strain"},
    {"Crosshead", "mm", "displacement"},
    {"Stroke", "mm", "displacement"},
    {"Position", "mm", "displacement"},
    {"Displacement", "mm", "displacement"},
    {"Time", "s", "time"},
    {"Zeit", "s", "time"},
    {"Torque", "Nm", "torque"},
    {"Temperature", "°C", "temperature"},
    {"Apples", "kN", ""},
};

class Headers : public testing::TestWithParam<Header> { };

TEST_P(Headers, AreUnderstood)
{
    const Header& h = GetParam();
    const Unit* unit = findUnit(h.unit);
    EXPECT_EQ(channelFromHeader(h.words, unit), h.channel) << h.words << " " << h.unit;
}

INSTANTIATE_TEST_SUITE_P(Text, Headers, testing::ValuesIn(headers));

TEST(SplitFields, QuotesAndBlanks)
{
    EXPECT_EQ(splitFields("a,b,c", ','), (std::vector<std::string>{"a", "b", "c"}));
    EXPECT_EQ(splitFields(" a ; b ", ';'), (std::vector<std::string>{"a", "b"}));
    EXPECT_EQ(splitFields("\"a,b\",c", ','), (std::vector<std::string>{"a,b", "c"}));
    EXPECT_EQ(splitFields("  1   2  3", ' '), (std::vector<std::string>{"1", "2", "3"}));
    EXPECT_EQ(splitFields("a,,c", ','), (std::vector<std::string>{"a", "", "c"}));
}

TEST(Layout, EveryDelimiterWithEveryDecimalThatCanGoWithIt)
{
    for (const char delimiter : {',', ';', '\t', ' '})
        for (const char decimal : {'.', ','}) {
            if (delimiter == decimal)
                continue;
            std::string text;
            const auto line = [&](const std::string& a, const std::string& b, const std::string& c) {
                std::string row = a + delimiter + b + delimiter + c + "\n";
                for (char& ch : row)
                    if (ch == '.')
                        ch = decimal;
                text += row;
            };
            line("Time", "Force", "Ext");
            line("s", "kN", "mm");
            for (int i = 0; i < 20; ++i)
                line(std::to_string(0.25 * i), std::to_string(1.5 * i), std::to_string(0.001 * i));
            const auto layout = recogniseLayout(text);
            ASSERT_TRUE(layout) << delimiter << decimal;
            EXPECT_EQ(layout->delimiter, delimiter);
            EXPECT_EQ(layout->marks.decimal, decimal) << delimiter;
            ASSERT_EQ(layout->columns.size(), 3u);
            EXPECT_EQ(layout->columns[1].channel, "force");
            EXPECT_EQ(layout->unitsLine, 2u);
            EXPECT_EQ(layout->firstDataLine, 3u);
        }
}

TEST(Layout, ChoicesOverrideWhatWasRecognised)
{
    auto layout = recogniseLayout("Force (N),Extension (mm),Spare (mm)\n1,2,3\n2,3,4\n3,4,5\n");
    ASSERT_TRUE(layout);
    ASSERT_TRUE(applyChoices(*layout, {{"extension", {3, "", "mm"}}}));
    EXPECT_EQ(layout->columns[2].channel, "extension");
    EXPECT_NE(layout->columns[1].channel, "extension");
    EXPECT_FALSE(applyChoices(*layout, {{"flavour", {1, "", ""}}}));
    EXPECT_FALSE(applyChoices(*layout, {{"force", {0, "no such header", "N"}}}));
    EXPECT_FALSE(applyChoices(*layout, {{"force", {1, "", "furlong"}}}));
}

} // namespace
} // namespace fortitor
