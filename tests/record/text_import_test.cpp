// SPDX-License-Identifier: GPL-3.0-or-later
// Every way of writing a text record, and what is wrong with files in practice.
#include "record/text_encoding.h"
#include "record/text_import.h"

#include "sim/random.h"

#include <gtest/gtest.h>

#include <clocale>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>

namespace fortitor {
namespace {

ImportRequest needsForceAndExtension()
{
    ImportRequest r;
    r.needed = {{"force"}, {"extension", "strain", "displacement"}};
    return r;
}

Record read(const std::string& text, const ImportRequest& request = needsForceAndExtension())
{
    auto record = importTextBytes(text, "A1.csv", request);
    EXPECT_TRUE(record) << record.problem().text() << "\n" << text.substr(0, 200);
    return record ? std::move(*record) : Record{};
}

std::string why(const std::string& text, const ImportRequest& request = needsForceAndExtension())
{
    auto record = importTextBytes(text, "A1.csv", request);
    EXPECT_FALSE(record) << text.substr(0, 200);
    return record ? "" : record.problem().text();
}

double at(const Record& r, const char* channel, size_t row)
{
    const Channel* c = r.find(channel);
    EXPECT_TRUE(c) << channel;
    return c && row < c->values.size() ? c->values[row] : std::nan("");
}

struct Dialect {
    const char* name;
    std::string text;
};

class Dialects : public testing::TestWithParam<Dialect> { };

/// The same three rows in every dialect: 0, 1.5, 3 kN and 0, 0.01, 0.02 mm.
TEST_P(Dialects, GiveTheSameRecord)
{
    const Record r = read(GetParam().text);
    ASSERT_EQ(r.rows(), 3u);
    EXPECT_DOUBLE_EQ(at(r, "force", 1), 1500);
    EXPECT_DOUBLE_EQ(at(r, "force", 2), 3000);
    EXPECT_DOUBLE_EQ(at(r, "extension", 1), 0.01);
    EXPECT_DOUBLE_EQ(at(r, "extension", 2), 0.02);
}

const Dialect dialects[] = {
    {"comma", "Force (kN),Extension (mm)\n0,0\n1.5,0.01\n3,0.02\n"},
    {"semicolonDecimalComma", "Kraft [kN];Ext [mm]\n0;0\n1,5;0,01\n3;0,02\n"},
    {"tabs", "Load/kN\tExtensometer/mm\n0\t0\n1.5\t0.01\n3\t0.02\n"},
    {"blanks", "Force(kN)   Ext(mm)\n 0      0\n 1.5    0.01\n 3.0    0.02\n"},
    {"unitsRow", "Force,Extension\nkN,mm\n0,0\n1.5,0.01\n3,0.02\n"},
    {"unitsRowInBrackets", "Force,Extension\n(kN),(mm)\n0,0\n1.5,0.01\n3,0.02\n"},
    {"preamble", "Skerrow Bench\nOperator: operator A\n\nForce (kN),Extension (mm)\n0,0\n1.5,0.01\n3,0.02\n"},
    {"quoted", "\"Force (kN)\",\"Extension (mm)\"\n\"0\",\"0\"\n\"1.5\",\"0.01\"\n\"3\",\"0.02\"\n"},
    {"carriageReturns", "Force (kN),Extension (mm)\r\n0,0\r\n1.5,0.01\r\n3,0.02\r\n"},
    {"oldMacLineEnds", "Force (kN),Extension (mm)\r0,0\r1.5,0.01\r3,0.02\r"},
    {"byteOrderMark",
     "\xEF\xBB\xBF"
     "Force (kN),Extension (mm)\n0,0\n1.5,0.01\n3,0.02\n"},
    {"newtonsAndMicrometres", "Force (N),Extension (\xC2\xB5m)\n0,0\n1500,10\n3000,20\n"},
    {"latin1Micro", "Force (N),Extension (\xB5m)\n0,0\n1500,10\n3000,20\n"},
    {"exponents", "Force (N),Extension (mm)\n0e0,0\n1.5E+03,1e-2\n3e3,2.0e-02\n"},
    {"noLastNewline", "Force (kN),Extension (mm)\n0,0\n1.5,0.01\n3,0.02"},
    {"extraColumns", "No,Time (s),Force (kN),Extension (mm),Note\n1,0,0,0,start\n2,1,1.5,0.01,\n3,2,3,0.02,end\n"},
    {"otherOrder", "Extension (mm),Force (kN)\n0,0\n0.01,1.5\n0.02,3\n"},
    {"trailingSeparators", "Force (kN),Extension (mm),\n0,0,\n1.5,0.01,\n3,0.02,\n"},
};

INSTANTIATE_TEST_SUITE_P(Text, Dialects, testing::ValuesIn(dialects), [](const auto& test) { return test.param.name; });

std::string utf16(const std::string& ascii, bool little, bool mark)
{
    std::string out;
    const auto put = [&](unsigned char c) {
        out += little ? std::string{static_cast<char>(c), '\0'} : std::string{'\0', static_cast<char>(c)};
    };
    if (mark)
        out += little ? "\xFF\xFE" : "\xFE\xFF";
    for (char c : ascii)
        put(static_cast<unsigned char>(c));
    return out;
}

TEST(TextImport, Utf16WithAndWithoutMark)
{
    const std::string text = "Force (kN);Extension (mm)\r\n0;0\r\n1,5;0,01\r\n3;0,02\r\n";
    for (bool little : {true, false})
        for (bool mark : {true, false}) {
            const Record r = read(utf16(text, little, mark));
            ASSERT_EQ(r.rows(), 3u) << little << mark;
            EXPECT_DOUBLE_EQ(at(r, "force", 1), 1500);
        }
}

TEST(TextImport, LocalePlaysNoPart)
{
    const char* before = std::setlocale(LC_ALL, nullptr);
    const std::string kept = before ? before : "C";
    for (const char* name : {"de_DE.UTF-8", "de_DE", "C"}) {
        std::setlocale(LC_ALL, name);
        const Record r = read("Force (kN),Extension (mm)\n0,0\n1.5,0.01\n3,0.02\n");
        EXPECT_DOUBLE_EQ(at(r, "force", 1), 1500);
    }
    std::setlocale(LC_ALL, kept.c_str());
}

TEST(TextImport, NumbersAreExact)
{
    Random random(8);
    std::string text = "Force (N),Extension (mm)\n";
    std::vector<double> wanted;
    for (int i = 0; i < 500; ++i) {
        char line[80];
        wanted.push_back(random.between(-5e4, 5e4));
        std::snprintf(line, sizeof line, "%.17g,%.17g\n", wanted.back(), wanted.back() / 7);
        text += line;
    }
    const Record r = read(text);
    for (size_t i = 0; i < wanted.size(); ++i)
        ASSERT_EQ(at(r, "force", i), wanted[i]);
}

/// A figure as files write it: some digits, a mark, more digits; seldom with a sign, a power or a blank.
std::string anyFigure(Random& random)
{
    const auto upTo = [&](int most) { return static_cast<int>(random.between(0, most + 0.999)); };
    std::string text = upTo(2) == 0 ? "-" : upTo(20) == 0 ? "+" : "";
    for (int i = upTo(upTo(8) == 0 ? 18 : 5); i >= 0; --i)
        text += static_cast<char>('0' + upTo(9));
    if (upTo(4) > 0) {
        text += '.';
        for (int i = upTo(upTo(8) == 0 ? 18 : 6); i > 0; --i)
            text += static_cast<char>('0' + upTo(9));
    }
    return text + (upTo(20) == 0 ? "e-3" : upTo(30) == 0 ? " " : "");
}

// Sixteen letters at a time, or one by one: the nearest double, and the same rows, whatever stands beside them.
TEST(TextImport, FiguresOfEveryShapeAreExact)
{
    Random random(41);
    for (const char* delimiter : {",", ";", "\t", " "})
        for (const char* end : {"\n", "\r\n"}) {
            std::string text = std::string("Time[s]") + delimiter + "Force[N]" + delimiter + "Crosshead[mm]" + end;
            std::vector<double> force, crosshead;
            for (int i = 0; i < 4'000; ++i) {
                const std::string a = anyFigure(random), b = anyFigure(random);
                text += std::to_string(i) + ".5" + delimiter + a + delimiter + b + end;
                force.push_back(std::strtod(a.c_str(), nullptr));
                crosshead.push_back(std::strtod(b.c_str(), nullptr));
            }
            const Record r = read(text);
            ASSERT_EQ(r.rows(), 4'000u);
            for (size_t i = 0; i < force.size(); ++i) {
                ASSERT_EQ(at(r, "force", i), force[i]) << i;
                ASSERT_EQ(at(r, "displacement", i), crosshead[i]) << i;
            }
        }
}

TEST(TextImport, BlankCellsAreGaps)
{
    const Record r = read("Force (N),Extension (mm)\n0,0\n,0.01\n300,\n400,0.03\n");
    ASSERT_EQ(r.rows(), 4u);
    EXPECT_TRUE(std::isnan(at(r, "force", 1)));
    EXPECT_TRUE(std::isnan(at(r, "extension", 2)));
    EXPECT_DOUBLE_EQ(at(r, "force", 3), 400);
}

TEST(TextImport, WordsAfterTheReadingsAreKeptAsANote)
{
    const Record r = read("Force (N),Extension (mm)\n0,0\n100,0.01\n200,0.02\nEnd of test\nMax force 200 N\n");
    EXPECT_EQ(r.rows(), 3u);
    ASSERT_FALSE(r.notes.empty());
    EXPECT_NE(r.notes[0].find("End of test"), std::string::npos);
}

TEST(TextImport, ALastLineCutShortIsLeftOutAndSaid)
{
    const Record r = read("Force (N),Extension (mm),Crosshead (mm)\n0,0,0\n100,0.01,0.1\n200,0.02,0.2\n30,0.0");
    EXPECT_EQ(r.rows(), 3u);
    ASSERT_FALSE(r.notes.empty());
}

TEST(TextImport, DamageInTheMiddleNamesTheLine)
{
    const std::string words = why("Force (N),Extension (mm)\n0,0\n100,0.01\nxx,yy\n300,0.03\n400,0.04\n");
    EXPECT_NE(words.find("line 4"), std::string::npos) << words;
    EXPECT_NE(words.find("A1.csv"), std::string::npos) << words;
}

TEST(TextImport, EmptyAndBinaryFiles)
{
    EXPECT_NE(why("").find("A1.csv"), std::string::npos);
    EXPECT_FALSE(why("\n\n\n").empty());
    EXPECT_FALSE(why(std::string("\x7f"
                                 "ELF\0\0\0\1\2\3\0\0",
                                 12))
                     .empty());
    std::string png = "\x89PNG\r\n\x1a\n";
    for (int i = 0; i < 500; ++i)
        png += static_cast<char>(i * 37);
    EXPECT_FALSE(why(png).empty());
}

TEST(TextImport, EndlessLine)
{
    std::string text(3'000'000, '7');
    EXPECT_FALSE(why(text).empty());
    std::string fields;
    for (int i = 0; i < 400000; ++i)
        fields += "1,";
    EXPECT_FALSE(why(fields).empty());
}

TEST(TextImport, AMissingUnitNamesTheColumnAndWhatIsThere)
{
    const std::string words = why("Force,Extension (mm)\n0,0\n100,0.01\n200,0.02\n");
    EXPECT_NE(words.find("Force"), std::string::npos) << words;
    EXPECT_NE(words.find("unit"), std::string::npos) << words;
    EXPECT_NE(words.find("Extension"), std::string::npos) << words;
}

TEST(TextImport, AnUnknownUnitIsNamed)
{
    const std::string words = why("Force (stone),Extension (mm)\n0,0\n100,0.01\n200,0.02\n");
    EXPECT_NE(words.find("stone"), std::string::npos) << words;
}

TEST(TextImport, AMissingColumnNamesWhatIsThere)
{
    const std::string words = why("Apples (kg),Pears (mm)\n0,0\n100,0.01\n200,0.02\n");
    EXPECT_NE(words.find("force"), std::string::npos) << words;
    EXPECT_NE(words.find("Apples"), std::string::npos) << words;
}

TEST(TextImport, ColumnsSettledByHand)
{
    ImportRequest r = needsForceAndExtension();
    r.choices["force"] = {2, "", "kN"};
    r.choices["extension"] = {0, "Pears", "mm"};
    const Record record = read("n,Apples,Pears\n1,0,0\n2,1.5,0.01\n3,3,0.02\n", r);
    EXPECT_DOUBLE_EQ(at(record, "force", 1), 1500);
    EXPECT_DOUBLE_EQ(at(record, "extension", 2), 0.02);
    r.choices["force"] = {9, "", "kN"};
    EXPECT_FALSE(why("n,Apples,Pears\n1,0,0\n2,1.5,0.01\n", r).empty());
    r.choices["force"] = {2, "", "mm"};
    const std::string words = why("n,Apples,Pears\n1,0,0\n2,1.5,0.01\n", r);
    EXPECT_NE(words.find("force"), std::string::npos) << words;
    EXPECT_NE(words.find("length"), std::string::npos) << words;
}

TEST(TextImport, StrainInAnExtensionColumnIsUnderstoodByItsUnit)
{
    const Record percent = read("Force (kN),Strain (%)\n0,0\n1.5,0.1\n3,0.2\n");
    EXPECT_DOUBLE_EQ(at(percent, "strain", 1), 0.001);
    const Record length = read("Force (kN),Strain (mm)\n0,0\n1.5,0.1\n3,0.2\n");
    EXPECT_DOUBLE_EQ(at(length, "extension", 1), 0.1);
}

TEST(TextImport, InchRecord)
{
    const Record r = read("Load (lbf),Extension (in),Crosshead (in)\n0,0,0\n1000,0.001,0.01\n2000,0.002,0.02\n");
    EXPECT_NEAR(at(r, "force", 1), 4448.2216152605, 1e-9);
    EXPECT_NEAR(at(r, "extension", 1), 0.0254, 1e-15);
    EXPECT_NEAR(at(r, "displacement", 2), 0.508, 1e-13);
}

TEST(TextImport, ProgressAndStop)
{
    std::string text = "Force (N),Extension (mm)\n";
    while (text.size() < 12'000'000)
        text += "12345.678,0.123456\n";
    int calls = 0;
    ImportRequest r = needsForceAndExtension();
    r.progress = [&](double share) {
        EXPECT_GE(share, 0);
        EXPECT_LE(share, 1);
        return ++calls < 2;
    };
    auto record = importTextBytes(text, "big.csv", r);
    ASSERT_FALSE(record);
    EXPECT_EQ(calls, 2);
    EXPECT_NE(record.problem().text().find("stopped"), std::string::npos);
}

TEST(TextImport, AMissingFileAndAFolder)
{
    const auto gone = importText("/nowhere/at/all.csv", needsForceAndExtension());
    ASSERT_FALSE(gone);
    EXPECT_NE(gone.problem().text().find("/nowhere/at/all.csv"), std::string::npos);
    EXPECT_FALSE(importText(std::filesystem::temp_directory_path().string(), needsForceAndExtension()));
}

TEST(TextImport, PreviewShowsTheLayout)
{
    const auto file = std::filesystem::temp_directory_path() / "fortitor-preview.csv";
    std::ofstream(file) << "Bench 2\nKraft [kN];Weg [mm]\n0;0\n1,5;0,01\n3;0,02\n";
    const auto layout = readLayout(file.string());
    std::filesystem::remove(file);
    ASSERT_TRUE(layout) << layout.problem().text();
    EXPECT_EQ(layout->delimiter, ';');
    EXPECT_EQ(layout->marks.decimal, ',');
    EXPECT_EQ(layout->headerLine, 2u);
    ASSERT_EQ(layout->columns.size(), 2u);
    EXPECT_EQ(layout->columns[0].channel, "force");
    EXPECT_EQ(layout->preview.size(), 3u);
}

TEST(TextEncoding, Recognised)
{
    DecodedText out;
    ASSERT_TRUE(decodeText("plain", out));
    EXPECT_EQ(out.encoding, "UTF-8");
    DecodedText latin;
    ASSERT_TRUE(decodeText("10 \xB5m", latin));
    EXPECT_EQ(latin.encoding, "Latin-1");
    EXPECT_EQ(latin1ToUtf8("\xB5"), "\xC2\xB5");
    EXPECT_TRUE(isUtf8("µm"));
    EXPECT_FALSE(isUtf8("\xB5m"));
}

/// Mutated files never crash, hang or give columns of unequal length.
TEST(TextImport, MutatedFiles)
{
    Random random(2026);
    for (int round = 0; round < 3000; ++round) {
        std::string text = dialects[static_cast<size_t>(random.between(0, std::size(dialects)))].text;
        for (int i = 0; i < 40; ++i)
            text += text.find(';') != std::string::npos ? "3;0,02\n" : "3,0.02\n";
        const int hits = 1 + static_cast<int>(random.between(0, 6));
        for (int h = 0; h < hits; ++h) {
            const auto place = static_cast<size_t>(random.between(0, static_cast<double>(text.size())));
            switch (static_cast<int>(random.between(0, 4))) {
            case 0: text[place] = static_cast<char>(random.between(0, 256)); break;
            case 1: text.erase(place, static_cast<size_t>(random.between(1, 9))); break;
            case 2:
                text.insert(place,
                            std::string(static_cast<size_t>(random.between(1, 5)),
                                        static_cast<char>(random.between(0, 256))));
                break;
            default: text.insert(place, text.substr(0, std::min(place, size_t{30}))); break;
            }
            if (text.empty())
                text = " ";
        }
        auto record = importTextBytes(text, "mutated", needsForceAndExtension());
        if (!record) {
            EXPECT_FALSE(record.problem().text().empty());
            continue;
        }
        for (const Channel& c : record->channels)
            ASSERT_EQ(c.values.size(), record->rows());
    }
}

TEST(Record, ColumnGrows)
{
    Column column;
    constexpr size_t rows = 50000;
    for (size_t i = 0; i < rows; ++i)
        column.append(static_cast<double>(i));
    ASSERT_EQ(column.size(), rows);
    for (size_t i = 0; i < rows; ++i)
        ASSERT_EQ(column.values()[i], static_cast<double>(i));
    EXPECT_FALSE(column.hasGaps());
    Column copy = column;
    EXPECT_EQ(copy.back(), column.back());
    copy.append(std::nan(""));
    EXPECT_TRUE(copy.hasGaps());
    EXPECT_FALSE(column.hasGaps());
    column = std::move(copy);
    EXPECT_TRUE(column.hasGaps());
    column.append(column.values().first(0)); // nothing
    EXPECT_EQ(column.size(), rows + 1);
    column = Column();
    EXPECT_FALSE(column.hasGaps());
    EXPECT_TRUE(column.gather().empty());
}

} // namespace
} // namespace fortitor
