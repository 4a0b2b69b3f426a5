// SPDX-License-Identifier: GPL-3.0-or-later
// Text records as other machines and other people leave them: what can be told is read, what can't is asked, and
// nothing is joined, scaled or dropped without a word.
#include "record/text_cells.h"
#include "record/text_import.h"

#include <gtest/gtest.h>

#include <cmath>
#include <fmt/format.h>
#include <functional>

namespace fortitor {
namespace {

const std::vector<std::vector<std::string>> forceAndExtension{{"force"}, {"extension"}};

Expected<Record> importOf(const std::string& text, ImportRequest request = {})
{
    return importTextBytes(text, "A1.csv", request);
}

Record good(const std::string& text, ImportRequest request = {})
{
    auto record = importOf(text, request);
    EXPECT_TRUE(record) << (record ? "" : record.problem().text());
    return record ? std::move(*record) : Record{};
}

std::string refused(const std::string& text, ImportRequest request = {})
{
    auto record = importOf(text, request);
    EXPECT_FALSE(record) << text.substr(0, 200);
    return record ? std::string() : record.problem().text();
}

double cellAt(const Record& record, const char* channel, size_t row)
{
    const Channel* c = record.find(channel);
    EXPECT_TRUE(c) << channel;
    return c && row < c->values.size() ? c->values[row] : std::nan("");
}

std::string rows(int count, const std::function<std::string(int)>& row)
{
    std::string out;
    for (int i = 0; i < count; ++i)
        out += row(i) + '\n';
    return out;
}

std::string plainRows(int count, double from = 0)
{
    return rows(count, [&](int i) { return fmt::format("{:.2f};{:.3f};{:.4f}", from + 0.1 * i, 0.5 * i, 0.001 * i); });
}

constexpr const char* head = "Time (s);Force (kN);Extension (mm)\n";

// ---- several tests in one file

TEST(SeveralTests, ABlankLineBetweenIsNeverJoined)
{
    const std::string text = head + plainRows(40) + "\n" + plainRows(30);
    const std::string words = refused(text);
    EXPECT_NE(words.find("part 1: lines 2 to 41, 40 readings"), std::string::npos) << words;
    EXPECT_NE(words.find("part 2: lines 43 to 72, 30 readings"), std::string::npos) << words;
    EXPECT_NE(words.find("record.part"), std::string::npos) << words;
    EXPECT_EQ(good(text, {.part = 1}).rows(), 40u);
    const Record second = good(text, {.part = 2});
    EXPECT_EQ(second.rows(), 30u);
    EXPECT_DOUBLE_EQ(cellAt(second, "force", 1), 500);
    EXPECT_NE(refused(text, {.part = 3}).find("1 to 2"), std::string::npos);
}

TEST(SeveralTests, AClockThatStartsAgain)
{
    const std::string text = head + plainRows(40) + plainRows(25);
    EXPECT_NE(refused(text).find("2 blocks"), std::string::npos);
    EXPECT_EQ(good(text, {.part = 2}).rows(), 25u);
}

TEST(SeveralTests, EachUnderItsOwnHeaderInItsOwnUnits)
{
    const std::string text = head + plainRows(40) + "\nTime (s);Extension (mm);Force (N)\n"
        + rows(20, [](int i) { return fmt::format("{:.1f};{:.3f};{:.1f}", 0.1 * i, 0.002 * i, 250.0 * i); });
    const Record second = good(text, {.part = 2});
    EXPECT_EQ(second.rows(), 20u);
    EXPECT_DOUBLE_EQ(cellAt(second, "force", 2), 500);
    EXPECT_NEAR(cellAt(second, "extension", 2), 0.004, 1e-12);
}

TEST(SeveralTests, AFooterOfBareFiguresIsNoReading)
{
    EXPECT_NE(refused(head + plainRows(40) + "\n24.60;312.2;12.8\n").find("2 blocks"), std::string::npos);
}

TEST(SeveralTests, ABlankLineInOneTestPartsNothing)
{
    // A page break while the clock runs on, and a blank line after every reading.
    EXPECT_EQ(good(head + plainRows(40) + "\n" + plainRows(30, 4.0)).rows(), 70u);
    EXPECT_EQ(good(head
                   + rows(30, [](int i) { return fmt::format("{:.2f};{:.3f};{:.4f}\n", 0.1 * i, 0.5 * i, 0.001 * i); }))
                  .rows(),
              30u);
    EXPECT_EQ(good("Force (kN);Extension (mm)\n"
                   + rows(30, [](int i) { return fmt::format("{:.3f};{:.4f}\n", 0.5 * i, 0.001 * i); }))
                  .rows(),
              30u);
}

TEST(SeveralTests, PartOneOfOneIsTheFile)
{
    EXPECT_EQ(good(head + plainRows(20), {.part = 1}).rows(), 20u);
    EXPECT_NE(refused(head + plainRows(20), {.part = 2}).find("one test"), std::string::npos);
}

// ---- grouping and decimal marks

TEST(DecimalMark, ThreeDecimalsOfAGermanRecordStay)
{
    const Record r = good("Zeit (s);Kraft (kN);Weg (mm)\n" + rows(50, [](int i) {
                              std::string t = fmt::format("{:.3f};{:.3f};{:.3f}", 0.1 * i, 12.345 + i, 0.001 * i);
                              for (char& c : t)
                                  if (c == '.')
                                      c = ',';
                              return t;
                          }));
    EXPECT_DOUBLE_EQ(cellAt(r, "force", 0), 12345);
}

TEST(DecimalMark, WholeNumbersWithGroupsAreNotAThousandTimesTooSmall)
{
    // 0, 35, 70 … 980, 1,015 …: no writer of decimals leaves the small ones whole.
    const auto grouped = [](long v) {
        return v < 1000 ? std::to_string(v) : fmt::format("{},{:03}", v / 1000, v % 1000);
    };
    const Record r = good("Time (s);Force (N);Travel (um)\n" + rows(400, [&](int i) {
                              return fmt::format("{};{};{}", i, grouped(35L * i), grouped(7L * i));
                          }));
    EXPECT_DOUBLE_EQ(cellAt(r, "force", 300), 10500);
    EXPECT_DOUBLE_EQ(cellAt(r, "force", 10), 350);
    const auto pointed = [](long v) {
        return v < 1000 ? std::to_string(v) : fmt::format("{}.{:03}", v / 1000, v % 1000);
    };
    EXPECT_DOUBLE_EQ(
        cellAt(good("Zeit (s);Kraft (N);Weg (um)\n"
                    + rows(400, [&](int i) { return fmt::format("{};{};{}", i, pointed(35L * i), pointed(7L * i)); })),
               "force", 300),
        10500);
}

TEST(DecimalMark, GroupsAndDecimalsTogether)
{
    EXPECT_DOUBLE_EQ(cellAt(good("Time (s);Force (N)\n"
                                 + rows(30, [](int i) { return fmt::format("{}.0;{},{:03}.25", i, 12 + i, 345); })),
                            "force", 0),
                     12345.25);
    EXPECT_DOUBLE_EQ(cellAt(good("Zeit (s);Kraft (N)\n"
                                 + rows(30, [](int i) { return fmt::format("{},0;{}.{:03},25", i, 12 + i, 345); })),
                            "force", 0),
                     12345.25);
    EXPECT_DOUBLE_EQ(cellAt(good("Time (s),Force (N)\n"
                                 + rows(30, [](int i) { return fmt::format("{}.0,\"{},{:03}.25\"", i, 12 + i, 345); })),
                            "force", 0),
                     12345.25);
    EXPECT_DOUBLE_EQ(cellAt(good("Time (s);Force (N)\n"
                                 + rows(30, [](int i) { return fmt::format("{};1,{:03},{:03}", i, 200 + i, 345); })),
                            "force", 0),
                     1200345)
        << "two marks in one figure";
}

TEST(DecimalMark, WhatCanBeReadBothWaysIsAsked)
{
    const std::string text =
        "Time (s);Force (N)\n" + rows(30, [](int i) { return fmt::format("{};{},{:03}", 100 + i, 12 + i, 345); });
    const std::string words = refused(text);
    EXPECT_NE(words.find("12,345"), std::string::npos) << words;
    EXPECT_NE(words.find("record.decimal"), std::string::npos) << words;
    EXPECT_DOUBLE_EQ(cellAt(good(text, {.decimal = ','}), "force", 0), 12.345);
    EXPECT_DOUBLE_EQ(cellAt(good(text, {.decimal = '.'}), "force", 0), 12345);
    // One cell far down settles it.
    EXPECT_DOUBLE_EQ(cellAt(good(text + rows(500, [](int i) { return fmt::format("{};{},{:03}", 130 + i, 12, 345); })
                                 + "700;0,004\n"),
                            "force", 0),
                     12.345);
}

// ---- units and columns in conflict

TEST(Conflict, AUnitInTheHeaderAgainstOneInTheRowOfUnits)
{
    const std::string text = "Time (s);Force (kN);Extension (mm)\ns;N;mm\n" + plainRows(20);
    const std::string words = refused(text);
    EXPECT_NE(words.find("column 2"), std::string::npos) << words;
    EXPECT_NE(words.find("kN in its header and N in the row of units"), std::string::npos) << words;
    EXPECT_DOUBLE_EQ(cellAt(good(text, {.choices = {{"force", {2, "", "kN"}}}}), "force", 2), 1000);
    EXPECT_EQ(good("Time (s);Force (kN);Extension (mm)\ns;kN;-\n" + plainRows(20)).rows(), 20u)
        << "the same twice is none";
}

TEST(Conflict, TwoColumnsThatClaimOneChannel)
{
    const std::string text = "Time (s);Force (kN);Load (kN);Ext (mm)\n"
        + rows(20, [](int i) { return fmt::format("{};{}.5;{}.25;0.00{}", i, i, 7 * i, i % 10); });
    const std::string words = refused(text);
    EXPECT_NE(words.find("column 2 \"Force\", column 3 \"Load\""), std::string::npos) << words;
    EXPECT_DOUBLE_EQ(cellAt(good(text, {.choices = {{"force", {3, "", ""}}}}), "force", 2), 14250);
    const Record both = good("Force (kN);Extension 1 (mm);Extension 2 (mm)\n"
                             + rows(20, [](int i) { return fmt::format("{}.5;0.1{};0.2{}", i, i % 10, i % 10); }));
    EXPECT_TRUE(both.find("extension") && both.find("extension_2"));
}

// ---- marks of what is no reading

TEST(Overflow, MarksAndFiguresAreMissingAndSaid)
{
    for (const char* mark : {"9.9E37", "1e38", "-9.91E+37", "####", "OVLD", "OL", "INF", "+Inf", "*****", "1e400"}) {
        const Record r = good(head + rows(30, [&](int i) {
                                  return i >= 20 && i < 23 ? fmt::format("{}.0;{}.5;{}", i, i, mark)
                                                           : fmt::format("{}.0;{}.5;0.0{:02}", i, i, i);
                              }));
        EXPECT_TRUE(std::isnan(cellAt(r, "extension", 21))) << mark;
        EXPECT_FALSE(std::isnan(cellAt(r, "force", 21))) << mark;
        EXPECT_EQ(r.rows(), 30u) << mark;
        ASSERT_FALSE(r.notes.empty()) << mark;
        EXPECT_NE(r.notes.front().find("3 readings were beyond"), std::string::npos) << r.notes.front();
    }
}

TEST(Overflow, RunsOfAConverterAtItsEnd)
{
    const Record r = good(head + rows(40, [](int i) {
                              return i >= 30 ? fmt::format("{}.0;32767;0.0{:02}", i, i)
                                             : fmt::format("{}.0;{};0.0{:02}", i, 1000 * i, i);
                          }));
    EXPECT_TRUE(std::isnan(cellAt(r, "force", 35)));
    EXPECT_FALSE(r.notes.empty());
    EXPECT_DOUBLE_EQ(
        cellAt(good(
                   head
                   + rows(40, [](int i) { return fmt::format("{}.0;{};0.0{:02}", i, i == 30 ? 32767 : 1000 * i, i); })),
               "force", 30),
        32767e3)
        << "one alone may be a reading";
}

// ---- shapes of files

TEST(Shapes, WordsInTheFirstRowsOfAnotherColumnDropNoRow)
{
    const std::string text = "A;B;Note;C\n"
        + rows(100, [](int i) { return fmt::format("{};{}.5;{};0.0{:02}", i, i, i < 40 ? "settling" : "7", i); });
    const Record r = good(text, {.choices = {{"force", {2, "", "kN"}}, {"extension", {4, "", "mm"}}}});
    EXPECT_EQ(r.rows(), 100u);
    EXPECT_DOUBLE_EQ(cellAt(r, "force", 0), 500);
}

TEST(Shapes, SparseLastColumnOfWordsAndEmptyCellsAtTheEnd)
{
    const auto events = [](int i, const char* tail) { return fmt::format("{}.0;{}.5;0.0{:02}{}", i, i, i, tail); };
    EXPECT_EQ(good("Time (s);Force (kN);Extension (mm);Event\n"
                   + rows(60, [&](int i) { return events(i, i % 20 == 7 ? ";Extensometer off" : ""); }))
                  .rows(),
              60u);
    EXPECT_EQ(good(head + rows(60, [&](int i) { return events(i, i % 20 == 7 ? ";grip closed" : ""); })).rows(), 60u)
        << "a mark under no header";
    EXPECT_EQ(good(head + rows(60, [&](int i) { return events(i, ";;;"); })).rows(), 60u);
    EXPECT_EQ(
        good("Time (s);Force (kN);Extension (mm);;;\n" + rows(60, [&](int i) { return events(i, ";;;"); })).rows(),
        60u);
    EXPECT_NE(refused(head + rows(60, [&](int i) { return events(i, i == 30 ? ";17.5" : ""); })).find("line 32"),
              std::string::npos)
        << "a figure too many is damage";
}

TEST(Shapes, FixedWidthWithBlanksInsideHeaders)
{
    const std::string text =
        "   Test Time   Axial Force   Crosshead Travel\n         (s)          (kN)               (mm)\n"
        + rows(30, [](int i) { return fmt::format("{:12.2f}{:14.3f}{:19.4f}", 0.1 * i, 0.5 * i, 0.01 * i); });
    const Record r = good(text);
    EXPECT_DOUBLE_EQ(cellAt(r, "force", 2), 1000);
    EXPECT_NEAR(cellAt(r, "displacement", 2), 0.02, 1e-12);
    // Single blanks only: by their places.
    const Record placed = good(
        "Elapsed Time Axial Force  Axial Displacement\n"
            + rows(30, [](int i) { return fmt::format("{:12.2f} {:11.3f} {:19.4f}", 0.1 * i, 0.5 * i, 0.01 * i); }),
        {.choices = {{"time", {0, "Elapsed Time", "s"}},
                     {"force", {0, "Axial Force", "kN"}},
                     {"displacement", {0, "Axial Displacement", "mm"}}}});
    EXPECT_DOUBLE_EQ(cellAt(placed, "force", 2), 1000);
}

TEST(Shapes, HeadersWithLineBreaksInQuotes)
{
    const Record r = good("\"Time\n(s)\";\"Force\r\n(kN)\";\"Extension\n(mm)\"\n" + plainRows(20));
    EXPECT_EQ(r.rows(), 20u);
    EXPECT_DOUBLE_EQ(cellAt(r, "force", 2), 1000);
    // An inch mark opens no quote.
    EXPECT_EQ(good("Bar 1/2\" round\nTime (s);Force (kN);Extension (mm)\n" + plainRows(20)).rows(), 20u);
}

TEST(Shapes, AFooterOfStatisticsInWords)
{
    const Record r = good(head + plainRows(30) + "Mean;24.60;312.2\nStd dev;0.12;3.4\nMaximum;24.9;318\n");
    EXPECT_EQ(r.rows(), 30u);
    ASSERT_FALSE(r.notes.empty());
    EXPECT_NE(r.notes.back().find("Words after the readings"), std::string::npos);
}

TEST(Shapes, NamesWithUnderscoresAndLetters)
{
    const Record r = good("Time_s;Force_N;ΔL (mm)\n" + plainRows(10));
    EXPECT_DOUBLE_EQ(cellAt(r, "force", 2), 1);
    EXPECT_NEAR(cellAt(r, "extension", 2), 0.002, 1e-12);
}

struct Named {
    const char* header;
    const char* channel;
};

TEST(Names, InTenLanguagesAndInCapitals)
{
    for (const Named& n : {Named{"KRAFT", "force"},
                           {"PRÜFKRAFT", "force"},
                           {"LÄNGENÄNDERUNG", "extension"},
                           {"Verlaengerung", "extension"},
                           {"ZEIT", "time"},
                           {"Effort", "force"},
                           {"Allongement", "extension"},
                           {"DÉPLACEMENT", "displacement"},
                           {"Temps", "time"},
                           {"Couple", "torque"},
                           {"Forza", "force"},
                           {"Allungamento", "extension"},
                           {"Corsa", "displacement"},
                           {"Tempo", "time"},
                           {"Fuerza", "force"},
                           {"Alargamiento", "extension"},
                           {"Desplazamiento", "displacement"},
                           {"Tiempo", "time"},
                           {"Extensómetro", "extension"},
                           {"Siła", "force"},
                           {"Wydłużenie", "extension"},
                           {"Przemieszczenie", "displacement"},
                           {"Czas", "time"},
                           {"SÍLA", "force"},
                           {"Prodloužení", "extension"},
                           {"Posuv", "displacement"},
                           {"Čas", "time"},
                           {"Kracht", "force"},
                           {"Verlenging", "extension"},
                           {"Verplaatsing", "displacement"},
                           {"Tijd", "time"},
                           {"Belastning", "force"},
                           {"FÖRLÄNGNING", "extension"},
                           {"Förskjutning", "displacement"},
                           {"Tid", "time"},
                           {"Força", "force"},
                           {"Alongamento", "extension"},
                           {"Deslocamento", "displacement"},
                           {"Deflexão", "deflection"},
                           {"∆L", "extension"}})
        EXPECT_EQ(channelFromHeader(n.header, nullptr), n.channel) << n.header;
}

// ---- what is said

TEST(Messages, AreShortAndShowNoControlCharacters)
{
    std::string header = "Time (s)";
    std::string row = "0.5";
    for (int c = 0; c < 400; ++c) {
        header += ";Ch\x01nnel " + std::string(80, 'x') + std::to_string(c);
        row += ";1.25";
    }
    const std::string words =
        refused(header + "\n" + rows(10, [&](int) { return row; }), {.needed = forceAndExtension});
    EXPECT_LT(words.size(), 2000u);
    EXPECT_EQ(words.find('\x01'), std::string::npos);
    EXPECT_NE(words.find("\\x01"), std::string::npos) << words;
    const std::string nameless =
        refused(rows(10, [](int i) { return fmt::format("{};{}.5;{}.25", i, i, i); }), {.needed = forceAndExtension});
    EXPECT_EQ(nameless.find("\"\""), std::string::npos) << nameless;
    EXPECT_NE(nameless.find("column 2 without a name"), std::string::npos) << nameless;
}

} // namespace
} // namespace fortitor
