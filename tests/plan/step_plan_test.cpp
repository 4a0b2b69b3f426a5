// SPDX-License-Identifier: GPL-3.0-or-later
// Plans of steps: as typed, from the material, and what comes next.
#include "plan/step_plan.h"

#include "plan/load_train.h"
#include "sim/stepped_bench.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>
#include <numbers>

namespace fortitor {
namespace {

constexpr double oneDegree = std::numbers::pi / 180;
const Unit& degrees = *findUnit("deg");
const Unit& newton = *findUnit("N");

TEST(StepPlan, IsReadAsTyped)
{
    const auto plan = parseSteps("5 deg x 2, 20 deg x 1; 50", Kind::Angle, degrees);
    ASSERT_TRUE(plan) << plan.problem().text();
    const double wanted[] = {0, 5, 10, 30, 80, 130};
    for (size_t i = 0; i < std::size(wanted); ++i)
        EXPECT_NEAR(*plan->target(i) / oneDegree, wanted[i], 1e-9);
    EXPECT_FALSE(plan->readings());
    EXPECT_EQ(planText(*plan), "5 deg x 2, 20 deg x 1, 50 deg");
    const auto decimal = parseSteps("0,5 kN × 3", Kind::Force, newton);
    ASSERT_TRUE(decimal);
    EXPECT_NEAR(*decimal->target(3), 1500, 1e-9);
    EXPECT_FALSE(decimal->target(4));
    EXPECT_EQ(decimal->readings(), 4u);
    for (const char* bad : {"", "x", "5 deg", "0 N", "-5 N", "100 N, 50 N", "100 N x 1.5", "100 N x", "100 N x 0"})
        EXPECT_FALSE(parseSteps(bad, Kind::Force, newton)) << bad;
}

TEST(StepPlan, NextIsTheFirstBeyondWhatWasReached)
{
    auto plan = *parseSteps("100 N x 3", Kind::Force, newton);
    EXPECT_EQ(plan.next({}), 0);
    EXPECT_EQ(plan.next({0}), 100);
    EXPECT_EQ(plan.next({0, 104}), 200) << "overshot a little";
    EXPECT_EQ(plan.next({0, 190}), 300) << "overshot by nearly a step";
    EXPECT_EQ(plan.next({0, 100, std::nan(""), 200}), 300);
    EXPECT_FALSE(plan.next({0, 100, 200, 300}));
    plan.returns = true;
    EXPECT_EQ(plan.next({0, 100, 200, 300}), 0) << "the zero is read again";
    EXPECT_FALSE(plan.next({0, 100, 200, 300, 0}));
    // A first reading that was missed is passed over.
    EXPECT_EQ(plan.next({std::nan("")}), 100);
}

SpecimenInput shaft(double d)
{
    SpecimenInput in;
    in.shape = "round";
    in.dimensions["diameter"] = {Quantity{d, findUnit("mm"), 0.01, ""}};
    in.dimensions["gauge_length"] = {Quantity{150, findUnit("mm"), 0.1, ""}};
    in.published = {{"E", 70000}, {"nu", 0.33}, {"G", 26300}, {"yield", 260}, {"Rm", 310}};
    return in;
}

TEST(StepPlan, FollowsTheMaterial)
{
    const Method& torsion = *findMethod("torsion");
    const auto fine = stepPlan(torsion, shaft(12), degrees);
    ASSERT_TRUE(fine);
    EXPECT_NEAR(fine->runs.front().size / oneDegree, 1, 1e-9)
        << "the surface yields near 8°: eight steps or more before it";
    EXPECT_GT(fine->runs.back().size, 10 * fine->runs.front().size);
    EXPECT_EQ(fine->runs.back().count, 0);
    SpecimenInput unknown = shaft(12);
    unknown.published.clear();
    EXPECT_NEAR(stepPlan(torsion, unknown, degrees)->runs.front().size / oneDegree, 5, 1e-9);
    SpecimenInput stated = shaft(12);
    stated.options["steps"] = "10 deg x 3";
    EXPECT_EQ(stepPlan(torsion, stated, degrees)->readings(), 4u);
    stated.options["steps"] = "ten";
    EXPECT_FALSE(stepPlan(torsion, stated, degrees));

    SpecimenInput beam;
    for (const auto& [key, mm] : {std::pair("width", 20.0), {"depth", 20.0}, {"span", 300.0}})
        beam.dimensions[key] = {Quantity{mm, findUnit("mm"), 0.01, ""}};
    beam.published["MOR"] = 70;
    const auto force = stepPlan(*findMethod("flexure"), beam, newton);
    ASSERT_TRUE(force);
    // 70 MPa on 20 × 20 over 300 mm break at 1244 N: twelve or more steps of 100 N.
    EXPECT_NEAR(force->runs.front().size, 100, 1e-9);

    SpecimenInput strip = shaft(12);
    const auto held = stepPlan(*findMethod("poisson"), strip, *findUnit("kN"));
    ASSERT_TRUE(held);
    EXPECT_TRUE(held->returns);
    EXPECT_EQ(held->readings(), 12u);
    EXPECT_LT(*held->target(10), 0.55 * 260 * std::numbers::pi * 36);
}

TEST(ExpectedTorque, OfTheWholeSectionAndInWords)
{
    const ExpectedLoad e = expectedLoad(*findMethod("torsion"), shaft(12));
    ASSERT_TRUE(e.maximum && e.yield);
    EXPECT_NEAR(*e.maximum, 310 / std::sqrt(3) * std::numbers::pi * 1728 / 12, 1);
    EXPECT_NEAR(*e.yield, 260 / std::sqrt(3) * std::numbers::pi * 1728 / 16, 1);
    SpecimenInput stated = shaft(12);
    stated.options["expected_torque"] = "80 Nm";
    EXPECT_NEAR(*expectedLoad(*findMethod("torsion"), stated).maximum, 80e3, 1e-6);
    const auto remarks = checkTrain({{"cell", "torque cell Q-50", 50e3, 0.02}}, e, {}, Kind::Torque);
    ASSERT_EQ(remarks.size(), 1u);
    EXPECT_NE(remarks.front().text.find("N·m"), std::string::npos) << remarks.front().text;
}

TEST(BeamSpeed, FromSpanDepthAndTheStrainRateOfTheEdge)
{
    SpecimenInput in;
    for (const auto& [key, mm] :
         {std::pair("width", 45.0), {"depth", 95.0}, {"span", 1700.0}, {"load_span", 1700.0 / 3}})
        in.dimensions[key] = {Quantity{mm, findUnit("mm"), 0.01, ""}};
    const Method& flexure = *findMethod("flexure");
    const auto speed = [&] { return planRates(flexure, in, {})->yieldSpeed * 60; };
    EXPECT_NEAR(speed(), 7.61, 0.005);
    in.options["edge_rate"] = "0.01 /min";
    EXPECT_NEAR(speed(), 50.7, 0.05);
    in.options["edge_rate"] = "0.0015 /min";
    in.options["loading"] = "four-point";
    EXPECT_NEAR(speed(), 8.45, 0.005);
    in.dimensions.erase("span");
    EXPECT_FALSE(planRates(flexure, in, {}));
}

TEST(SteppedBench, BringsToItsTargetsReadsAndBreaks)
{
    for (const char* name : {"rigger-strip", "loom-batten", "sill-pin", "hollow-shaft"}) {
        const CatalogueEntry& entry = *findCatalogueEntry(name);
        const auto bench = steppedBench(entry, drawSpecimen(entry, 3), 3);
        ASSERT_TRUE(bench) << name;
        const std::string stepped = findMethod(entry.method)->intake.stepped;
        const double step = stepped == "twist" ? 2 * oneDegree : entry.method == "poisson" ? 1000 : 100;
        const auto first = bench->bringTo(step);
        const auto second = bench->bringTo(2 * step);
        ASSERT_TRUE(first && second) << name;
        EXPECT_NEAR(second->at(stepped), 2 * step, 0.15 * step) << name;
        for (const PadChannel& channel : findMethod(entry.method)->intake.columns) {
            if (!channel.optional) {
                EXPECT_TRUE(second->contains(channel.name)) << name << " " << channel.name;
            }
        }
        // The same seed shows the same.
        const auto again = steppedBench(entry, drawSpecimen(entry, 3), 3);
        EXPECT_EQ(*again->bringTo(step), *first) << name;
    }
    const CatalogueEntry& pin = *findCatalogueEntry("sill-pin");
    const auto bench = steppedBench(pin, drawSpecimen(pin, 3), 3);
    EXPECT_FALSE(bench->bringTo(40));
    EXPECT_TRUE(bench->broken());
    EXPECT_FALSE(bench->bringTo(0.1)) << "broken stays broken";
    EXPECT_GT(bench->atBreak().at("torque"), 5e4);
    EXPECT_GT(bench->atBreak().at("twist"), 5);
    EXPECT_EQ(steppedBench(*findCatalogueEntry("rigger-tube"), drawSpecimen(*findCatalogueEntry("rigger-tube"), 1), 1),
              nullptr);
}

} // namespace
} // namespace fortitor
