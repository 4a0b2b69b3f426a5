// SPDX-License-Identifier: GPL-3.0-or-later
// What a person moves or measures otherwise on a metal bar: marks by hand, subdivided marks, two
// faces; and the curve in its other views.
#include "methods/tension_metal/tension_metal.h"

#include "methods/display.h"
#include "methods/support.h"
#include "sim/catalogue.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace fortitor::tension_marks_test {
namespace {

using namespace test;

SpecimenInput simulated(const char* name, std::uint64_t seed)
{
    const CatalogueEntry& entry = *findCatalogueEntry(name);
    auto run = simulateRun(entry, seed);
    SpecimenInput in;
    in.label = "A1";
    in.shape = "round";
    for (const auto& [key, values] : run.specimen.dimensions)
        for (const std::string& v : values)
            in.dimensions[key].push_back(length(v));
    in.record = std::make_shared<const Record>(std::move(run.record));
    return in;
}

TEST(MarksByHand, TheBreakMovedBackShortensTheElongations)
{
    SpecimenInput in = simulated("rigger-tube", 3);
    const auto automatic = evaluateTensionMetal(in);
    ASSERT_TRUE(automatic);
    const CurveMark* mark = automatic->curve()->find("break");
    ASSERT_TRUE(mark);
    EXPECT_EQ(mark->option, "break_at");
    in.options["break_at"] = markOptionText(*automatic->curve(), mark->x - 0.02);
    const auto moved = evaluateTensionMetal(in);
    ASSERT_TRUE(moved);
    EXPECT_NEAR(*moved->find("At")->value, mark->x - 0.02, 2e-4);
    EXPECT_LT(*moved->find("Ut")->value, *automatic->find("Ut")->value);
    EXPECT_DOUBLE_EQ(*moved->find("Rm")->value, *automatic->find("Rm")->value);
    const Remark* told = remarkOf(*moved, "moved-by-hand");
    ASSERT_TRUE(told);
    EXPECT_NE(std::ranges::find(told->symbols, "At"), told->symbols.end());
}

TEST(MarksByHand, TheMaximumMovedTakesTheStrengthThere)
{
    SpecimenInput in = simulated("rigger-tube", 3);
    in.options["maximum_at"] = "2.000 %";
    const auto moved = evaluateTensionMetal(in);
    ASSERT_TRUE(moved);
    const CurveView& v = *moved->curve();
    const auto at = std::ranges::find_if(v.x, [](double x) { return x >= 0.02; }) - v.x.begin();
    EXPECT_NEAR(*moved->find("Rm")->value, v.y[static_cast<size_t>(at)], 0.5);
    EXPECT_NEAR(*moved->find("Agt")->value, 0.02, 1e-4);
}

TEST(MarksByHand, UpperAndLowerYield)
{
    SpecimenInput in = simulated("backstay-twin", 3);
    const auto automatic = evaluateTensionMetal(in);
    ASSERT_TRUE(automatic);
    const double x = automatic->curve()->find("ReL")->x;
    in.options["lower_yield_at"] = markOptionText(*automatic->curve(), x * 1.2);
    in.options["upper_yield_at"] = markOptionText(*automatic->curve(), x * 0.5);
    const auto moved = evaluateTensionMetal(in);
    ASSERT_TRUE(moved);
    EXPECT_NEAR(moved->curve()->find("ReL")->x, x * 1.2, 1e-4);
    EXPECT_NEAR(moved->curve()->find("ReH")->x, x * 0.5, 1e-4);
    EXPECT_NE(*moved->find("ReH")->value, *automatic->find("ReH")->value);
}

TEST(MarksByHand, APlaceThatDoesNotReadIsRefused)
{
    SpecimenInput in = simulated("rigger-tube", 3);
    in.options["break_at"] = "far out";
    EXPECT_FALSE(evaluateTensionMetal(in));
}

SpecimenInput fittedHalves()
{
    SpecimenInput in;
    in.label = "A1";
    in.shape = "round";
    in.dimensions["diameter"] = {length("10.02 mm")};
    in.dimensions["gauge_length"] = {length("50 mm")};
    in.dimensions["mark_interval"] = {length("5 mm")}; // N = 10
    in.options["elongation_by"] = "subdivided marks";
    return in;
}

TEST(StepMethod, EvenRest)
{
    // n = 4, N − n = 6: Z lies three intervals beyond Y. XY 24.1, YZ 17.2: (24.1 + 34.4 − 50)/50.
    SpecimenInput in = fittedHalves();
    in.dimensions["length_xy"] = {length("24.1 mm")};
    in.dimensions["intervals_xy"] = {*parseQuantity("4", Kind::Number)};
    in.dimensions["length_yz"] = {length("17.2 mm")};
    const auto o = evaluateTensionMetal(in);
    ASSERT_TRUE(o);
    EXPECT_NEAR(*o->find("A")->value, 0.17, 1e-12);
    EXPECT_TRUE(remarkOf(*o, "step-method"));
}

TEST(StepMethod, OddRestTakesBothNeighbours)
{
    SpecimenInput in = fittedHalves();
    in.dimensions["length_xy"] = {length("30 mm")};
    in.dimensions["intervals_xy"] = {*parseQuantity("5", Kind::Number)};
    in.dimensions["length_yz"] = {length("11.2 mm")};
    auto o = evaluateTensionMetal(in);
    ASSERT_TRUE(o);
    EXPECT_FALSE(o->find("A")->value);
    EXPECT_TRUE(remarkOf(*o, "missing-dimension"));
    in.dimensions["length_yz"].push_back(length("16.8 mm"));
    o = evaluateTensionMetal(in);
    ASSERT_TRUE(o);
    EXPECT_NEAR(*o->find("A")->value, (30 + 11.2 + 16.8 - 50) / 50, 1e-12);
}

TEST(StepMethod, ACountThatCannotBeIsRefused)
{
    SpecimenInput in = fittedHalves();
    in.dimensions["length_xy"] = {length("30 mm")};
    in.dimensions["length_yz"] = {length("11.2 mm")};
    for (const char* n : {"11", "0", "2.5"}) {
        in.dimensions["intervals_xy"] = {*parseQuantity(n, Kind::Number)};
        EXPECT_FALSE(evaluateTensionMetal(in)) << n;
    }
}

TEST(TwoFaces, BendingIsToldAndTheMeanServes)
{
    SpecimenInput in = simulated("rigger-tube", 3);
    const auto alone = evaluateTensionMetal(in);
    for (const double share : {0.04, 0.16}) {
        auto record = std::make_shared<Record>(*in.record);
        Column front;
        Column back;
        for (size_t i = 0; i < record->rows(); ++i) {
            const double e = record->find("extension")->values[i];
            front.append(e * (1 + share));
            back.append(e * (1 - share));
        }
        for (Channel& c : record->channels)
            if (c.name == "extension")
                c.values = std::move(front);
        record->add("extension_2").values = std::move(back);
        SpecimenInput two = in;
        two.record = record;
        const auto o = evaluateTensionMetal(two);
        ASSERT_TRUE(o);
        const Remark* bending = remarkOf(*o, "bending");
        ASSERT_TRUE(bending);
        EXPECT_EQ(bending->severity, share > 0.1 ? Severity::Caution : Severity::Note);
        EXPECT_NEAR(*o->find("E")->value, *alone->find("E")->value, 0.002 * *alone->find("E")->value);
    }
}

TEST(CurveViews, LoadAndExtensionAreStressAndStrainTimesSizes)
{
    const auto o = evaluateTensionMetal(simulated("rigger-tube", 3));
    ASSERT_TRUE(o);
    const auto load = loadExtension(*o->curve());
    ASSERT_TRUE(load);
    EXPECT_EQ(load->yAxis.kind, Kind::Force);
    for (size_t i = 0; i < load->x.size(); i += 500) {
        EXPECT_DOUBLE_EQ(load->x[i], o->curve()->x[i] * 50);
        EXPECT_DOUBLE_EQ(load->y[i], o->curve()->y[i] * o->curve()->section);
    }
    EXPECT_NEAR(load->find("Rm")->y, o->curve()->find("Rm")->y * o->curve()->section, 1e-9);
    EXPECT_TRUE(load->find("Rm")->option.empty());
}

TEST(CurveViews, TheTrueCurveEndsWhereTheNeckBegins)
{
    const auto o = evaluateTensionMetal(simulated("rigger-tube", 3));
    ASSERT_TRUE(o);
    const auto real = trueCurve(*o->curve());
    ASSERT_TRUE(real);
    EXPECT_LE(real->x.back(), std::log1p(*o->find("Agt")->value) + 1e-9);
    EXPECT_NEAR(real->find("Rm")->y, *o->find("Rm")->value * (1 + *o->find("Agt")->value), 0.01);
    EXPECT_FALSE(real->find("break"));
    CurveView blunt = *o->curve();
    blunt.uniform = 0;
    EXPECT_FALSE(trueCurve(blunt));
    blunt.section = 0;
    EXPECT_FALSE(loadExtension(blunt));
}

TEST(DisplayUnits, OnlyWhatIsShownChanges)
{
    const ResultSpec rm{"Rm", "strength", "MPa", 1, true, ""};
    EXPECT_EQ(showValue(rm, 312.2, 0).text, "312");
    const auto inch = showValue(rm, 312.2, 0, RoundingRule::StepsToEven, UnitSystem::InchPound);
    EXPECT_EQ(inch.unit, "ksi");
    EXPECT_NEAR(inch.value, 312.2 / 6.894757293168361, 1e-9);
    const auto old = showValue(rm, 312.2, 0, RoundingRule::StepsToEven, UnitSystem::Legacy);
    EXPECT_EQ(old.unit, "kgf/mm²");
    EXPECT_NEAR(old.value, 312.2 / 9.80665, 1e-9);
    const ResultSpec A{"A", "elongation", "%", 0.5, true, ""};
    EXPECT_EQ(showValue(A, 0.128, 0, RoundingRule::StepsToEven, UnitSystem::InchPound).text,
              showValue(A, 0.128, 0).text);
    EXPECT_EQ(displayUnit(Kind::Force, 1500, UnitSystem::SI).symbol, "kN");
    EXPECT_EQ(displayUnit(Kind::Force, 900, UnitSystem::SI).symbol, "N");
    EXPECT_EQ(displayUnit(Kind::Force, 1500, UnitSystem::InchPound).symbol, "lbf");
    EXPECT_EQ(displayUnit(Kind::Energy, 1, UnitSystem::InchPound).kind, Kind::Energy);
}

} // namespace
} // namespace fortitor::tension_marks_test
