// SPDX-License-Identifier: GPL-3.0-or-later
// Every unit of the exchange format, by its exact factor, in every spelling.
#include "units/quantity.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor {
namespace {

struct Spelling {
    const char* text;
    Kind kind;
    double base;
};

constexpr double lbf = 0.45359237 * 9.80665;

const Spelling spellings[] = {
    {"1 N", Kind::Force, 1},
    {"1 kN", Kind::Force, 1e3},
    {"1 MN", Kind::Force, 1e6},
    {"1 lbf", Kind::Force, lbf},
    {"1 kip", Kind::Force, 1000 * lbf},
    {"1 kgf", Kind::Force, 9.80665},
    {"1 tf", Kind::Force, 9806.65},
    {"1 t", Kind::Force, 9806.65},
    {"1 mm", Kind::Length, 1},
    {"1 cm", Kind::Length, 10},
    {"1 m", Kind::Length, 1000},
    {"1 um", Kind::Length, 1e-3},
    {"1 µm", Kind::Length, 1e-3},
    {"1 μm", Kind::Length, 1e-3},
    {"1 in", Kind::Length, 25.4},
    {"1 mil", Kind::Length, 0.0254},
    {"1 thou", Kind::Length, 0.0254},
    {"1 1/2 in", Kind::Length, 38.1},
    {"7/64 in", Kind::Length, 25.4 * 7 / 64},
    {"1 mm2", Kind::Area, 1},
    {"1 mm²", Kind::Area, 1},
    {"1 cm2", Kind::Area, 100},
    {"1 in2", Kind::Area, 645.16},
    {"1 Pa", Kind::Stress, 1e-6},
    {"1 kPa", Kind::Stress, 1e-3},
    {"1 MPa", Kind::Stress, 1},
    {"1 GPa", Kind::Stress, 1e3},
    {"1 psi", Kind::Stress, lbf / 645.16},
    {"1 ksi", Kind::Stress, 1000 * lbf / 645.16},
    {"1 kgf/mm2", Kind::Stress, 9.80665},
    {"1 N/mm2", Kind::Stress, 1},
    {"1 N/mm²", Kind::Stress, 1},
    {"0.002 mm/mm", Kind::Strain, 0.002},
    {"0.2 %", Kind::Strain, 0.002},
    {"2000 ue", Kind::Strain, 0.002},
    {"2000 µε", Kind::Strain, 0.002},
    {"1 Nm", Kind::Torque, 1000},
    {"1 N.m", Kind::Torque, 1000},
    {"1 N·m", Kind::Torque, 1000},
    {"1 N·mm", Kind::Torque, 1},
    {"1 lbf·in", Kind::Torque, lbf * 25.4},
    {"1 in·lbf", Kind::Torque, lbf * 25.4},
    {"1 lbf·ft", Kind::Torque, lbf * 304.8},
    {"180 deg", Kind::Angle, 3.14159265358979323846},
    {"180°", Kind::Angle, 3.14159265358979323846},
    {"1 rad", Kind::Angle, 1},
    {"1 rev", Kind::Angle, 2 * 3.14159265358979323846},
    {"1 J", Kind::Energy, 1},
    {"1 kJ", Kind::Energy, 1000},
    {"1 mJ", Kind::Energy, 1e-3},
    {"1 ft·lbf", Kind::Energy, lbf * 0.3048},
    {"1 kgf·m", Kind::Energy, 9.80665},
    {"1 kg", Kind::Mass, 1},
    {"1 g", Kind::Mass, 1e-3},
    {"1 lb", Kind::Mass, 0.45359237},
    {"1 s", Kind::Time, 1},
    {"1 ms", Kind::Time, 1e-3},
    {"1 min", Kind::Time, 60},
    {"1 h", Kind::Time, 3600},
    {"23 °C", Kind::Temperature, 23},
    {"23 degC", Kind::Temperature, 23},
    {"73.4 °F", Kind::Temperature, 23},
    {"296.15 K", Kind::Temperature, 23},
    {"60 mm/min", Kind::Speed, 1},
    {"1 mm/s", Kind::Speed, 1},
    {"1 in/min", Kind::Speed, 25.4 / 60},
    {"1 m/s", Kind::Speed, 1000},
};

class ContractUnits : public testing::TestWithParam<Spelling> { };

TEST_P(ContractUnits, ExactFactor)
{
    const Spelling& s = GetParam();
    const auto quantity = parseQuantity(s.text, s.kind);
    ASSERT_TRUE(quantity) << s.text << ": " << quantity.problem().text();
    EXPECT_NEAR(quantity->base, s.base, 1e-12 * std::max(1.0, std::abs(s.base))) << s.text;
    EXPECT_EQ(quantity->text, s.text);
}

TEST_P(ContractUnits, BackAndForth)
{
    const Spelling& s = GetParam();
    const auto quantity = parseQuantity(s.text, s.kind);
    ASSERT_TRUE(quantity);
    const double shown = quantity->unit->fromBase(quantity->base);
    EXPECT_NEAR(quantity->unit->toBase(shown), quantity->base, 1e-12 * std::max(1.0, std::abs(quantity->base)));
}

TEST_P(ContractUnits, TheWrongKindNamesBoth)
{
    const Spelling& s = GetParam();
    for (const Kind other : {Kind::Force, Kind::Length, Kind::Time}) {
        if (other == s.kind || std::string(s.text).ends_with(" t"))
            continue;
        const auto quantity = parseQuantity(s.text, other);
        ASSERT_FALSE(quantity) << s.text;
        const std::string words = quantity.problem().text();
        EXPECT_NE(words.find(kindName(other)), std::string::npos) << words;
        // A pound-force foot may be a torque or an energy; either name will do.
        EXPECT_TRUE(words.find(kindName(s.kind)) != std::string::npos
                    || std::string(s.text).find("lbf") != std::string::npos)
            << words;
    }
}

TEST_P(ContractUnits, ANumberAloneIsRefused)
{
    const Spelling& s = GetParam();
    std::string number(s.text);
    number = number.substr(0, number.find_first_not_of("0123456789.,/ "));
    const auto bare = parseQuantity(number, s.kind);
    EXPECT_FALSE(bare) << number;
    const auto assumed = parseQuantity(number, s.kind, &baseUnit(s.kind));
    EXPECT_TRUE(assumed) << number;
}

INSTANTIATE_TEST_SUITE_P(Units, ContractUnits, testing::ValuesIn(spellings));

TEST(ContractUnits, ExactConstants)
{
    EXPECT_DOUBLE_EQ(parseQuantity("1 in", Kind::Length)->base, 25.4);
    EXPECT_DOUBLE_EQ(parseQuantity("1 lb", Kind::Mass)->base, 0.45359237);
    EXPECT_DOUBLE_EQ(parseQuantity("1 kgf", Kind::Force)->base, 9.80665);
}

TEST(ContractUnits, WhatMustNotRead)
{
    for (const char* text : {"", " ", "mm", "10,000.5 mm", "1 000 mm", "1'000 mm", "10..2 mm", "1e mm", "--3 mm",
                             "1/0 in", "0x10 mm", "inf mm", "nan mm", "1 mm mm", "1e999 mm"})
        EXPECT_FALSE(parseQuantity(text, Kind::Length)) << text;
}

TEST(ContractUnits, MegaIsNotMilli)
{
    EXPECT_NE(parseQuantity("1 MN", Kind::Force)->base, 1e-3);
    EXPECT_FALSE(parseQuantity("1 mPa", Kind::Stress) && parseQuantity("1 mPa", Kind::Stress)->base == 1);
    EXPECT_DOUBLE_EQ(parseQuantity("1 KN", Kind::Force)->base, 1000);
}

} // namespace
} // namespace fortitor
