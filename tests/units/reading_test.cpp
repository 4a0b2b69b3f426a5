// SPDX-License-Identifier: GPL-3.0-or-later
// What people say at a dial, a strain indicator, a torsion head.
#include "units/reading.h"

#include <gtest/gtest.h>

#include <numbers>
#include <random>

namespace fortitor {
namespace {

const ReadingScale dial{Kind::Length, findUnit("mm"), 0.01, 0};
const ReadingScale indicator{Kind::Strain, findUnit("µε", Kind::Strain), 0, 0};
const ReadingScale head{Kind::Angle, findUnit("deg"), 0.1 * std::numbers::pi / 180, 0};
const ReadingScale inchDial{Kind::Length, findUnit("in"), 0.0254, 0};

double valueOf(const char* text, const ReadingScale& scale)
{
    const auto q = parseReading(text, scale);
    EXPECT_TRUE(q) << text << ": " << (q ? "" : q.problem().text());
    return q ? q->base : -1;
}

TEST(Reading, NumbersFractionsAndUnits)
{
    EXPECT_DOUBLE_EQ(valueOf("3.42", dial), 3.42);
    EXPECT_DOUBLE_EQ(valueOf("3,42", dial), 3.42);
    EXPECT_DOUBLE_EQ(valueOf("1 5/16 in", dial), 1.3125 * 25.4);
    EXPECT_DOUBLE_EQ(valueOf("3/16", inchDial), 3.0 / 16 * 25.4);
    EXPECT_DOUBLE_EQ(valueOf("275", indicator), 275e-6);
    EXPECT_DOUBLE_EQ(valueOf("−35", indicator), -35e-6);
    EXPECT_DOUBLE_EQ(valueOf("-35 ue", indicator), -35e-6);
    EXPECT_DOUBLE_EQ(valueOf("+118 µε", indicator), 118e-6);
    EXPECT_DOUBLE_EQ(valueOf("0.0275 %", indicator), 275e-6);
    EXPECT_DOUBLE_EQ(valueOf("1e3", ReadingScale{Kind::Force, findUnit("N"), 0, 0}), 1000);
    EXPECT_DOUBLE_EQ(valueOf("1.5e+3 N", ReadingScale{Kind::Force, findUnit("kN"), 0, 0}), 1500);
    EXPECT_EQ(parseReading("3.42", dial)->text, "3.42 mm");
    EXPECT_EQ(parseReading("1 5/16 in", dial)->text, "1 5/16 in");
    EXPECT_EQ(parseReading("-35", indicator)->text, "-35 µε");
}

TEST(Reading, TurnsAndDivisions)
{
    EXPECT_DOUBLE_EQ(valueOf("3 rev + 42 div", dial), 3.42);
    EXPECT_DOUBLE_EQ(valueOf("3 rev 42 div", dial), 3.42);
    EXPECT_DOUBLE_EQ(valueOf("3rev+42div", dial), 3.42);
    EXPECT_DOUBLE_EQ(valueOf("42 div", dial), 0.42);
    EXPECT_DOUBLE_EQ(valueOf("42.5 div", dial), 0.425);
    EXPECT_DOUBLE_EQ(valueOf("-1 rev + 50 div", dial), -1.5) << "read off one scale: both parts go down";
    EXPECT_DOUBLE_EQ(valueOf("2 rev + 10 div", inchDial), 0.210 * 25.4);
    EXPECT_DOUBLE_EQ(valueOf("2 rev + 40 deg", head), (2 * 360 + 40) * std::numbers::pi / 180);
    EXPECT_DOUBLE_EQ(valueOf("2 rev 40°", head), (2 * 360 + 40) * std::numbers::pi / 180);
    EXPECT_DOUBLE_EQ(valueOf("5", head), 5 * std::numbers::pi / 180);
    EXPECT_DOUBLE_EQ(valueOf("1.5 mm + 20 div", dial), 1.7);
    const ReadingScale fifty{Kind::Length, findUnit("mm"), 0.01, 0.5};
    EXPECT_DOUBLE_EQ(valueOf("2 rev + 7 div", fifty), 1.07);
    // What is kept can be read by anyone.
    EXPECT_EQ(parseReading("3 rev + 42 div", dial)->text, "3.42 mm");
    EXPECT_EQ(parseReading("2 rev + 10 div", inchDial)->text, "0.210 in");
    EXPECT_EQ(parseReading("2 rev + 40 deg", head)->text, "760 deg");
}

TEST(Reading, WhatIsNoReadingIsRefusedWithWords)
{
    for (const char* bad : {"", "rev", "3 rev + ", "x", "3 apples", "1.2.3", "3 rev + 4 kN", "1,234.5", "--3", "+"})
        EXPECT_FALSE(parseReading(bad, dial)) << bad;
    const auto none = parseReading("42 div", indicator);
    ASSERT_FALSE(none);
    EXPECT_NE(none.problem().text().find("division"), std::string::npos);
    EXPECT_NE(parseReading("12 kN", dial).problem().text().find("force"), std::string::npos);
}

TEST(Reading, WhatIsKeptReadsBackTheSame)
{
    std::mt19937 random(7);
    for (int i = 0; i < 2000; ++i) {
        const std::string text = std::to_string(random() % 20) + " rev + " + std::to_string(random() % 100) + " div";
        const auto q = parseReading(text, i % 2 ? dial : inchDial);
        ASSERT_TRUE(q);
        const auto again = parseQuantity(q->text, Kind::Length);
        ASSERT_TRUE(again) << q->text;
        EXPECT_NEAR(again->base, q->base, 1e-9) << text << " → " << q->text;
    }
}

TEST(Reading, AnythingTypedIsReadOrRefused)
{
    std::mt19937 random(11);
    const std::string letters = "0123456789.,+-/ revdivmnµε°%eE\"x";
    for (int i = 0; i < 20000; ++i) {
        std::string text;
        for (auto n = random() % 14; n > 0; --n)
            text += letters[random() % letters.size()];
        if (const auto q = parseReading(text, dial)) {
            EXPECT_TRUE(std::isfinite(q->base)) << text;
        }
    }
}

} // namespace
} // namespace fortitor
