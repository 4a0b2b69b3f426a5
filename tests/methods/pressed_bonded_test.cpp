// SPDX-License-Identifier: GPL-3.0-or-later
// Flatwise tension, compression and crush: closed forms, signs, clocks and checks.
#include "support.h"

#include "methods/common/cure.h"

#include <numbers>

namespace fortitor::pressed_bonded_test {
namespace {

using namespace test;

TEST(Flatwise, TheBlockAdhesiveLeavesTheSet)
{
    SpecimenInput in = simulatedInput("shell-sandwich", 3);
    EXPECT_TRUE(remarkOf(evaluated("flatwise-tension", in), "failure-not-noted"));
    in.notes["failure_place"] = "core";
    EXPECT_FALSE(remarkOf(evaluated("flatwise-tension", in), "failure-not-noted"));
    in.notes["failure_place"] = "block adhesive";
    const Outcome o = evaluated("flatwise-tension", in);
    const Remark* r = remarkOf(o, "adhesive-failure");
    ASSERT_TRUE(r);
    EXPECT_EQ(r->severity, Severity::Reject);
    const auto& leaves = findMethod("flatwise-tension")->leavesSet;
    EXPECT_NE(std::ranges::find(leaves, "adhesive-failure"), leaves.end());
}

TEST(Flatwise, WithoutAPickUpThereIsNoModulus)
{
    SpecimenInput in = simulatedInput("shell-sandwich", 3);
    const double whole = *valueOf(evaluated("flatwise-tension", in), "Fz_tu");
    in.record = without(*in.record, "extension");
    const Outcome o = evaluated("flatwise-tension", in);
    EXPECT_NEAR(*valueOf(o, "Fz_tu"), whole, 1e-3 * whole); // the top is smoothed over another x
    EXPECT_FALSE(valueOf(o, "E_z"));
    EXPECT_EQ(o.curve()->xAxis.kind, Kind::Length);
}

TEST(Cure, TheClockRefusesWhatWasLoadedTooSoon)
{
    SpecimenInput in = simulatedInput("shell-sandwich", 3);
    in.notes = {
        {"bonded", "2026-11-24 09:30"}, {"cure", "24 h"}, {"tested", "2026-11-25 08:00"}, {"failure_place", "core"}};
    const Outcome o = evaluated("flatwise-tension", in);
    const Remark* r = remarkOf(o, "cure-incomplete");
    ASSERT_TRUE(r);
    EXPECT_EQ(r->severity, Severity::Reject);
    EXPECT_NE(r->text.find("22.5 h"), std::string::npos);
    in.notes["tested"] = "2026-11-25 09:30";
    EXPECT_FALSE(remarkOf(evaluated("flatwise-tension", in), "cure-incomplete"));
    in.notes["tested"] = "";
    EXPECT_TRUE(remarkOf(evaluated("flatwise-tension", in), "cure-unknown"));
    in.notes["bonded"] = "yesterday";
    EXPECT_TRUE(remarkOf(evaluated("flatwise-tension", in), "cure-unknown"));
}

TEST(Cure, WallClocks)
{
    EXPECT_EQ(wallClock("1970-01-02 00:00"), 86400);
    EXPECT_EQ(*wallClock("2026-11-25T09:30:15") - *wallClock("2026-11-25 09:30"), 15);
    EXPECT_EQ(*wallClock("2028-03-01 00:00") - *wallClock("2028-02-28 00:00"), 2 * 86400.0); // a leap year
    for (const char* bad : {"", "2026-11-25", "2026-13-01 00:00", "2026-02-30 10:00", "2026-11-25 25:00", "soon"})
        EXPECT_FALSE(wallClock(bad)) << bad;
    SpecimenInput in;
    in.notes = {{"bonded", "2026-11-25 09:30"}, {"cure", "90 min"}};
    EXPECT_NEAR((*cureClock(in))->hours, 1.5, 1e-12);
    in.notes["cure"] = "24 mm";
    EXPECT_FALSE(cureClock(in));
}

/// A straight column of a given law between platens, a gap before it.
SpecimenInput column(double diameter, double height, const std::function<double(double)>& stress, double last,
                     double sign = 1)
{
    SpecimenInput in;
    in.label = "K1";
    in.shape = "round";
    in.dimensions["diameter"] = {Quantity{diameter, findUnit("mm"), 0.01, ""}};
    in.dimensions["height"] = {Quantity{height, findUnit("mm"), 0.01, ""}};
    in.dimensions["extensometer_gauge_length"] = {Quantity{height / 2, findUnit("mm"), 0.01, ""}};
    const double section = std::numbers::pi / 4 * diameter * diameter;
    auto record = std::make_shared<Record>();
    record->channels.reserve(3);
    Channel& force = record->add("force");
    Channel& extension = record->add("extension");
    Channel& way = record->add("displacement");
    for (int i = 0; i < 60; ++i) {
        force.values.append(0);
        extension.values.append(0);
        way.values.append(sign * i * 0.01);
    }
    for (int i = 0; i <= 4000; ++i) {
        const double e = last * i / 4000;
        force.values.append(sign * stress(e) * section);
        extension.values.append(sign * e * height / 2);
        way.values.append(sign * (0.6 + e * height));
    }
    for (int i = 1; i <= 80; ++i) { // back to the start
        force.values.append(sign * stress(last) * section * (1 - i / 80.0));
        extension.values.append(sign * (last - 0.001 * i / 80.0) * height / 2);
        way.values.append(sign * (0.6 + last * height - 0.3 * i / 80.0));
    }
    in.record = record;
    return in;
}

TEST(Compression, ABilinearColumnBothSigns)
{
    const auto law = [](double e) { return e < 0.004 ? 70000 * e : 280 + 1500 * (e - 0.004); };
    for (const double sign : {1.0, -1.0}) {
        const Outcome o = evaluated("compression", column(12, 24, law, 0.05, sign));
        EXPECT_NEAR(*valueOf(o, "E"), 70000, 150);
        // 70000(e − 0.002) = 280 + 1500(e − 0.004) → σ = 70000·(e − 0.002)
        const double e = (280 - 6 + 140) / 68500.0;
        EXPECT_NEAR(*valueOf(o, "Rp0.2"), 70000 * (e - 0.002), 0.5);
        EXPECT_FALSE(valueOf(o, "sigma_max"));
        EXPECT_TRUE(remarkOf(o, "no-maximum"));
        EXPECT_EQ(remarkOf(o, "sign-turned") != nullptr, sign < 0);
    }
}

TEST(Compression, StressAtAStatedStrain)
{
    SpecimenInput in = column(
        12, 24, [](double e) { return e < 0.004 ? 70000 * e : 280 + 1500 * (e - 0.004); }, 0.05);
    in.options["stated_strain"] = "3 %";
    EXPECT_NEAR(*valueOf(evaluated("compression", in), "sigma_at_strain"), 280 + 1500 * 0.026, 0.5);
    in.options["stated_strain"] = "9 %";
    EXPECT_TRUE(remarkOf(evaluated("compression", in), "strain-not-reached"));
    in.options["stated_strain"] = "long";
    EXPECT_FALSE(findMethod("compression")->evaluate(in));
}

TEST(Compression, SlenderPiecesAndPicks)
{
    SpecimenInput in = column(
        12, 24, [](double e) { return 70000 * e; }, 0.003);
    EXPECT_FALSE(remarkOf(evaluated("compression", in), "slender"));
    in.dimensions["height"] = {*parseQuantity("40 mm", Kind::Length)};
    EXPECT_TRUE(remarkOf(evaluated("compression", in), "slender"));
    in.notes["shape_after"] = "buckled";
    EXPECT_EQ(remarkOf(evaluated("compression", in), "buckled")->severity, Severity::Reject);
    in.notes["shape_after"] = "barrelled";
    EXPECT_TRUE(remarkOf(evaluated("compression", in), "barrelling"));
}

TEST(Compression, PlatenStrainNeedsTheCompliance)
{
    SpecimenInput in = simulatedInput("sill-block", 3);
    in.record = without(*in.record, "extension");
    EXPECT_FALSE(valueOf(evaluated("compression", in), "E"));
    EXPECT_TRUE(remarkOf(evaluated("compression", in), "crosshead-strain"));
}

TEST(Compression, TheComplianceComesOffWhicheverTheSign)
{
    for (const double sign : {1.0, -1.0}) {
        SpecimenInput in = column(
            12, 24, [](double e) { return e < 0.004 ? 70000 * e : 280 + 1500 * (e - 0.004); }, 0.05, sign);
        auto record = without(*in.record, "extension");
        const Column& force = record->find("force")->values;
        Column softer; // what the platens travel with a machine of 5 µm/kN between them
        for (size_t i = 0; i < force.size(); ++i)
            softer.append(record->find("displacement")->values[i] + 5e-6 * force[i]);
        for (Channel& c : record->channels)
            if (c.name == "displacement")
                c.values = std::move(softer);
        in.record = record;
        in.options["compliance"] = "5e-6 mm/N";
        const Outcome o = evaluated("compression", in);
        EXPECT_NEAR(*valueOf(o, "E"), 70000, 200) << sign;
    }
}

/// Triangle to 1000 N at 2 mm, then 400 N flat to 30 mm, then steeply up to 36 mm; gap of 1 mm before.
SpecimenInput shell(double sign = 1, double offset = 0)
{
    SpecimenInput in;
    in.label = "C1";
    in.shape = "shell";
    in.dimensions["height"] = {*parseQuantity("115.2 mm", Kind::Length)};
    auto record = std::make_shared<Record>();
    record->channels.reserve(2);
    Channel& force = record->add("force");
    Channel& way = record->add("displacement");
    const auto law = [](double d) {
        return d <= 0 ? 0 : d < 2 ? 500 * d : d < 3 ? 1000 - 600 * (d - 2) : d < 30 ? 400.0 : 400 + 600 * (d - 30);
    };
    for (int i = 0; i <= 7400; ++i) {
        const double d = -1 + i * 0.005;
        force.values.append(sign * (law(d) + offset));
        way.values.append(sign * (d + 1));
    }
    in.record = record;
    return in;
}

TEST(Crush, PeakEnergyMeanAndEfficiencyOfAKnownShape)
{
    for (const double sign : {1.0, -1.0}) {
        SpecimenInput in = shell(sign);
        in.options["crush_to"] = "20 mm";
        const Outcome o = evaluated("crush", in);
        // 1000 + 700 + 17·400 = 8500 N·mm
        EXPECT_NEAR(*valueOf(o, "F_peak"), 1000, 2);
        EXPECT_NEAR(*valueOf(o, "d_peak"), 2, 0.02);
        EXPECT_NEAR(*valueOf(o, "W"), 8.5, 0.02);
        EXPECT_NEAR(*valueOf(o, "F_mean"), 425, 1);
        EXPECT_NEAR(*valueOf(o, "efficiency"), 0.425, 0.002);
        EXPECT_EQ(remarkOf(o, "sign-turned") != nullptr, sign < 0);
        EXPECT_TRUE(remarkOf(o, "touch-found"));
    }
}

TEST(Crush, TheEndOfTheCrushIsFoundByItself)
{
    // It climbs through twice the running mean (some 412 N) a little past 30 mm: 824 N at 30.7.
    const Outcome o = evaluated("crush", shell());
    EXPECT_NEAR(*valueOf(o, "crush"), 30.7, 0.2);
    EXPECT_NEAR(*valueOf(o, "F_peak"), 1000, 2); // not the force of the piece crushed together
}

TEST(Crush, AnOffsetBeforeTheTouchIsTakenOff)
{
    SpecimenInput in = shell(1, 25);
    in.options["crush_to"] = "20 mm";
    const Outcome o = evaluated("crush", in);
    EXPECT_NEAR(*valueOf(o, "W"), 8.5, 0.02);
    EXPECT_TRUE(remarkOf(o, "zero-offset"));
    in.options["force_zero"] = "none";
    EXPECT_GT(*valueOf(evaluated("crush", in), "F_peak"), 1020);
}

TEST(Crush, WhatCannotBeHadIsSaid)
{
    SpecimenInput in = shell();
    in.options["crush_to"] = "80 mm";
    const Outcome o = evaluated("crush", in);
    EXPECT_FALSE(valueOf(o, "W"));
    EXPECT_TRUE(explained(o, "W"));
    in.options["crush_to"] = "0 mm";
    EXPECT_FALSE(findMethod("crush")->evaluate(in));
    in = shell();
    in.record = without(*in.record, "displacement");
    const Outcome force = evaluated("crush", in);
    EXPECT_FALSE(valueOf(force, "W"));
    EXPECT_TRUE(remarkOf(force, "peak-not-told"));
    in = shell();
    in.notes["condition"] = "dented";
    EXPECT_TRUE(remarkOf(evaluated("crush", in), "dented"));
}

TEST(Crush, MarksMoveByHand)
{
    SpecimenInput in = shell();
    const Outcome o = evaluated("crush", in);
    EXPECT_EQ(o.curve()->find("crush end")->option, "crush_to");
    in.options["touch_at"] = "0.5 mm";
    EXPECT_NEAR(*valueOf(evaluated("crush", in), "d_peak"), 1.5, 0.03);
    in.options["peak_at"] = "1.0 mm";
    EXPECT_NEAR(*valueOf(evaluated("crush", in), "F_peak"), 750, 15);
}

} // namespace
} // namespace fortitor::pressed_bonded_test
