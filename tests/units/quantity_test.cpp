// SPDX-License-Identifier: GPL-3.0-or-later
#include "units/quantity.h"

#include <gtest/gtest.h>

#include <clocale>
#include <cmath>

namespace fortitor {
namespace {

double base(const std::string& text, Kind kind)
{
    const auto q = parseQuantity(text, kind);
    EXPECT_TRUE(q) << text << ": " << (q ? "" : q.problem().text());
    return q ? q->base : std::nan("");
}

std::string why(const std::string& text, Kind kind)
{
    const auto q = parseQuantity(text, kind);
    return q ? "" : q.problem().text();
}

TEST(Quantity, ReadsWhatPeopleType)
{
    EXPECT_DOUBLE_EQ(base("10.02 mm", Kind::Length), 10.02);
    EXPECT_DOUBLE_EQ(base("10,02mm", Kind::Length), 10.02);
    EXPECT_DOUBLE_EQ(base("1 5/16 in", Kind::Length), 33.3375);
    EXPECT_DOUBLE_EQ(base("3/16 in", Kind::Length), 4.7625);
    EXPECT_DOUBLE_EQ(base("0.3945 in", Kind::Length), 0.3945 * 25.4);
    EXPECT_DOUBLE_EQ(base("1e3 N", Kind::Force), 1000);
    EXPECT_DOUBLE_EQ(base("1.5E-3 kN", Kind::Force), 1.5);
    EXPECT_DOUBLE_EQ(base("-35 ue", Kind::Strain), -35e-6);
    EXPECT_DOUBLE_EQ(base("\u221235 µε", Kind::Strain), -35e-6);
    EXPECT_DOUBLE_EQ(base("+0.2 %", Kind::Strain), 0.002);
    EXPECT_DOUBLE_EQ(base(".5 mm", Kind::Length), 0.5);
    EXPECT_DOUBLE_EQ(base("70 GPa", Kind::Stress), 70000);
    EXPECT_DOUBLE_EQ(base("12 mil", Kind::Length), 0.3048);
    EXPECT_DOUBLE_EQ(base("2 thou", Kind::Length), 0.0508);
    EXPECT_DOUBLE_EQ(base("5 μm", Kind::Length), 0.005);
}

TEST(Quantity, ExactFactors)
{
    EXPECT_DOUBLE_EQ(base("1 lbf", Kind::Force), 4.4482216152605);
    EXPECT_DOUBLE_EQ(base("1 kgf", Kind::Force), 9.80665);
    EXPECT_DOUBLE_EQ(base("1 tf", Kind::Force), 9806.65);
    EXPECT_DOUBLE_EQ(base("1 t", Kind::Force), 9806.65);
    EXPECT_NEAR(base("1 ksi", Kind::Stress), 6.894757293168361, 1e-12);
    EXPECT_DOUBLE_EQ(base("1 kgf/mm2", Kind::Stress), 9.80665);
    EXPECT_DOUBLE_EQ(base("1 N/mm²", Kind::Stress), 1);
    EXPECT_DOUBLE_EQ(base("1 N.m", Kind::Torque), 1000);
    EXPECT_DOUBLE_EQ(base("1 lb", Kind::Mass), 0.45359237);
    EXPECT_NEAR(base("212 °F", Kind::Temperature), 100, 1e-12);
    EXPECT_NEAR(base("1 in2", Kind::Area), 645.16, 1e-12);
    EXPECT_NEAR(base("1 ft·lbf", Kind::Energy), 1.3558179483314004, 1e-12);
    EXPECT_NEAR(base("60 mm/min", Kind::Speed), 1, 1e-15);
}

TEST(Quantity, RefusesWithBothKindsNamed)
{
    EXPECT_NE(why("5 kg", Kind::Force).find("mass"), std::string::npos);
    EXPECT_NE(why("5 kg", Kind::Force).find("a force"), std::string::npos);
    EXPECT_NE(why("10.02", Kind::Length).find("without a unit"), std::string::npos);
    EXPECT_NE(why("5 furlong", Kind::Length).find("unknown unit \"furlong\""), std::string::npos);
    EXPECT_NE(why("1,234.5 mm", Kind::Length), "");
    EXPECT_NE(why("1 234 mm", Kind::Length).find("Grouping"), std::string::npos);
    EXPECT_NE(why("mm", Kind::Length), "");
    EXPECT_NE(why("", Kind::Length), "");
    EXPECT_NE(why("1/0 in", Kind::Length), "");
    EXPECT_NE(why("nan mm", Kind::Length), "");
    EXPECT_NE(why("1e999 N", Kind::Force), "");
    EXPECT_NE(why("5 mPa", Kind::Stress), "") << "milli and mega must never be mixed up";
}

TEST(Quantity, EveryUnitReadsBackWhatItShows)
{
    for (const Unit& unit : allUnits()) {
        const double value = 12.375;
        const auto q = parseQuantity("12.375 " + std::string(unit.symbol), unit.kind);
        if (unit.symbol == "1" || unit.symbol == "1/s" || unit.symbol == "1/min")
            continue;
        ASSERT_TRUE(q) << unit.symbol << ": " << q.problem().text();
        EXPECT_NEAR(unit.fromBase(q->base), value, 1e-9) << unit.symbol;
    }
}

TEST(Quantity, LocaleDoesNotMatter)
{
    const std::string before = std::setlocale(LC_ALL, nullptr);
    for (const char* name : {"de_DE.UTF-8", "fr_FR.UTF-8", "C"}) {
        std::setlocale(LC_ALL, name);
        EXPECT_DOUBLE_EQ(base("10.02 mm", Kind::Length), 10.02);
        EXPECT_EQ(formatFixed(1234.5, 1), "1234.5");
    }
    std::setlocale(LC_ALL, before.c_str());
}

TEST(Quantity, KeepsTheResolutionTyped)
{
    EXPECT_DOUBLE_EQ(parseQuantity("10.02 mm", Kind::Length)->resolution, 0.01);
    EXPECT_NEAR(parseQuantity("0.3945 in", Kind::Length)->resolution, 0.00254, 1e-15);
    EXPECT_DOUBLE_EQ(parseQuantity("1e3 N", Kind::Force)->resolution, 1000);
}

TEST(Rounding, HalfRules)
{
    EXPECT_DOUBLE_EQ(roundToStep(0.15, 0.1), 0.2);
    EXPECT_DOUBLE_EQ(roundToStep(0.25, 0.1), 0.2);
    EXPECT_DOUBLE_EQ(roundToStep(0.25, 0.1, HalfRule::AwayFromZero), 0.3);
    EXPECT_DOUBLE_EQ(roundToStep(-0.25, 0.1, HalfRule::AwayFromZero), -0.3);
    EXPECT_DOUBLE_EQ(roundToStep(312.5, 1), 312);
    EXPECT_DOUBLE_EQ(roundToStep(313.5, 1), 314);
    EXPECT_DOUBLE_EQ(roundToStep(12.74, 0.5), 12.5);
    EXPECT_DOUBLE_EQ(roundToStep(69840, 100), 69800);
    EXPECT_TRUE(std::isnan(roundToStep(std::nan(""), 1)));
}

TEST(Formatting, NeverShowsNonsense)
{
    EXPECT_EQ(formatFixed(-0.0001, 2), "0.00");
    EXPECT_EQ(formatFixed(std::nan(""), 2), "–");
    EXPECT_EQ(formatSignificant(78.8, 4), "78.80");
    EXPECT_EQ(formatSignificant(0, 4), "0");
    EXPECT_EQ(formatQuantity(24600, *findUnit("kN"), 4), "24.60 kN");
}

} // namespace
} // namespace fortitor
