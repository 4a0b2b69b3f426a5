// SPDX-License-Identifier: GPL-3.0-or-later
// Tension of metals: worked checks, options, checks, and what happens when something is missing.
#include "methods/tension_metal/tension_metal.h"

#include "curve/synthetic.h"
#include "methods/common/live_curve.h"
#include "methods/common/section.h"
#include "methods/display.h"
#include "methods/support.h"
#include "sim/catalogue.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace fortitor::tension_metal_test {
namespace {

using namespace test;

SpecimenInput roundBar()
{
    SpecimenInput in;
    in.label = "A1";
    in.shape = "round";
    in.dimensions["diameter"] = {length("10.02 mm"), length("10.01 mm"), length("10.02 mm")};
    in.dimensions["gauge_length"] = {length("50 mm")};
    in.dimensions["extensometer_gauge_length"] = {length("50 mm")};
    in.dimensions["parallel_length"] = {length("60 mm")};
    in.dimensions["final_gauge_length"] = {length("56.4 mm")};
    in.dimensions["final_diameter"] = {length("7.31 mm"), length("7.29 mm")};
    return in;
}

/// A record whose curve is known: bilinear in stress and strain, on a bar of 78.80 mm².
std::shared_ptr<Record> bilinearRecord(double section, double E, double limit, double tangent, double last,
                                       size_t points = 3000, bool breaks = true)
{
    const auto c = test::bilinear(E, limit, tangent, last, points);
    auto record = std::make_shared<Record>();
    record->channels.reserve(3);
    Channel& force = record->add("force");
    Channel& extension = record->add("extension");
    Channel& crosshead = record->add("displacement");
    for (int i = 0; i < 30; ++i) {
        force.values.append(0);
        extension.values.append(0);
        crosshead.values.append(0);
    }
    for (size_t i = 0; i < points; ++i) {
        force.values.append(c.y[i] * section);
        extension.values.append(c.x[i] * 50);
        crosshead.values.append(c.x[i] * 60 + c.y[i] * section * 6e-6);
    }
    for (int i = 0; breaks && i < 20; ++i) {
        force.values.append(0);
        extension.values.append(last * 50);
        crosshead.values.append(last * 60);
    }
    return record;
}

Outcome evaluated(const SpecimenInput& in)
{
    auto outcome = evaluateTensionMetal(in);
    EXPECT_TRUE(outcome) << (outcome ? "" : outcome.problem().text());
    return outcome ? std::move(*outcome) : Outcome{};
}

double value(const Outcome& o, const char* symbol)
{
    const Result* r = o.find(symbol);
    EXPECT_TRUE(r && r->value) << symbol;
    return r && r->value ? *r->value : std::nan("");
}

bool missing(const Outcome& o, const char* symbol)
{
    const Result* r = o.find(symbol);
    return r && !r->value;
}

TEST(TensionMetal, WorkedSection)
{
    SpecimenInput in = roundBar();
    auto mean = sectionTerm(in, "", "So");
    ASSERT_TRUE(mean && *mean);
    EXPECT_NEAR((*mean)->value(), 78.80, 0.005);
    in.options["area_from"] = "least";
    auto least = sectionTerm(in, "", "So");
    ASSERT_TRUE(least && *least);
    EXPECT_NEAR((*least)->value(), 78.70, 0.005);
}

TEST(TensionMetal, WorkedStrengthElongationNecking)
{
    SpecimenInput in = roundBar();
    const double So = (*sectionTerm(in, "", "So"))->value();
    in.record = bilinearRecord(So, 70000, 250, (24600 / So - 250) / (0.11 - 250.0 / 70000), 0.11);
    const Outcome o = evaluated(in);
    EXPECT_NEAR(value(o, "Rm"), 312.2, 0.05);
    EXPECT_NEAR(value(o, "A"), 0.128, 1e-9);
    EXPECT_NEAR(value(o, "Z"), 0.469, 0.0005);
    EXPECT_NEAR(value(o, "E"), 70000, 20);
}

TEST(TensionMetal, ClosedFormOfABilinearCurve)
{
    SpecimenInput in = roundBar();
    const double So = (*sectionTerm(in, "", "So"))->value();
    const double E = 70000;
    const double limit = 210;
    const double H = 1400;
    in.record = bilinearRecord(So, E, limit, H, 0.08);
    const Outcome o = evaluated(in);
    // The 0.2 % line meets limit + H(ε − limit/E): ε = (E·0.002 + limit − H·limit/E)/(E − H)
    const double strain = (E * 0.002 + limit - H * limit / E) / (E - H);
    EXPECT_NEAR(value(o, "Rp0.2"), E * (strain - 0.002), 0.05);
    EXPECT_NEAR(value(o, "Rt0.5"), limit + H * (0.005 - limit / E), 0.05);
    const double top = limit + H * (0.08 - limit / E);
    EXPECT_NEAR(value(o, "Rm"), top, 0.1);
    EXPECT_NEAR(value(o, "Agt"), 0.08, 1e-4);
    EXPECT_NEAR(value(o, "Ag"), 0.08 - top / E, 1e-4);
    EXPECT_NEAR(value(o, "At"), 0.08, 1e-6);
    EXPECT_NEAR(value(o, "A_ext"), 0.08 - top / E, 1e-5);
    EXPECT_NEAR(value(o, "yield_ratio"), value(o, "Rp0.2") / value(o, "Rm"), 1e-12);
    const double kink = limit / E;
    EXPECT_NEAR(value(o, "Ut"), 0.5 * limit * kink + 0.5 * (limit + top) * (0.08 - kink), 0.02);
    const double yield = value(o, "Rp0.2");
    EXPECT_NEAR(value(o, "Ur"), 0.5 * limit * kink + 0.5 * (limit + yield) * (strain - kink), 0.005);
}

TEST(TensionMetal, HardeningOfAPowerLaw)
{
    // σt = 500·εp^0.2 on the true curve, turned back into engineering values.
    SpecimenInput in = roundBar();
    const double So = (*sectionTerm(in, "", "So"))->value();
    auto record = std::make_shared<Record>();
    record->channels.reserve(2);
    Channel& force = record->add("force");
    Channel& extension = record->add("extension");
    const auto put = [&](double stress, double strain) {
        force.values.append(stress * So);
        extension.values.append(strain * 50);
    };
    for (int i = 0; i <= 400; ++i)
        put(0.35 * i, 0.35 * i / 70000);
    for (int i = 1; i <= 3000; ++i) {
        const double plastic = 0.0017 + (0.2 - 0.0017) * i / 3000;
        const double trueStress = 500 * std::pow(plastic, 0.2);
        const double trueStrain = plastic + trueStress / 70000;
        put(trueStress / std::exp(trueStrain), std::exp(trueStrain) - 1);
    }
    in.record = record;
    const Outcome o = evaluated(in);
    EXPECT_NEAR(value(o, "n"), 0.2, 0.002);
    EXPECT_NEAR(value(o, "K"), 500, 3);
}

TEST(TensionMetal, OtherOffsets)
{
    SpecimenInput in = roundBar();
    const double So = (*sectionTerm(in, "", "So"))->value();
    in.record = bilinearRecord(So, 70000, 210, 1400, 0.08);
    in.options["yield_offset"] = "0.1 %";
    const Outcome o = evaluated(in);
    const double strain = (70000 * 0.001 + 210 - 1400 * 210.0 / 70000) / (70000 - 1400);
    EXPECT_NEAR(value(o, "Rp0.1"), 70000 * (strain - 0.001), 0.05);
    EXPECT_GT(value(o, "Rp0.2"), value(o, "Rp0.1"));
}

TEST(TensionMetal, OptionsOfTheSlope)
{
    SpecimenInput in = roundBar();
    const double So = (*sectionTerm(in, "", "So"))->value();
    in.record = bilinearRecord(So, 70000, 210, 1400, 0.08);
    for (const char* slope : {"auto", "secant 40 MPa 200 MPa", "manual 30 MPa 150 MPa", "chord 0.05 % 0.25 %"}) {
        in.options["slope"] = slope;
        EXPECT_NEAR(value(evaluated(in), "E"), 70000, 150) << slope;
    }
    for (const char* wrong :
         {"guess", "secant 40 MPa", "manual 200 MPa 30 MPa", "chord 40 MPa 90 MPa", "secant 40 200"}) {
        in.options["slope"] = wrong;
        const auto outcome = evaluateTensionMetal(in);
        const bool told = !outcome || outcome->remarked("no-straight-part");
        EXPECT_TRUE(told) << wrong;
    }
}

TEST(TensionMetal, YieldPointReportsUpperAndLowerAndLeavesTheOffsetOut)
{
    const CatalogueEntry& entry = *findCatalogueEntry("mild-bar");
    auto run = simulateRun(entry, 7);
    SpecimenInput in = roundBar();
    in.dimensions.clear();
    for (const auto& [key, values] : run.specimen.dimensions)
        for (const std::string& v : values)
            in.dimensions[key].push_back(length(v));
    in.record = std::make_shared<const Record>(run.record);
    const Outcome o = evaluated(in);
    EXPECT_NEAR(value(o, "ReH") / run.specimen.trueValue("ReH"), 1, 0.01);
    EXPECT_NEAR(value(o, "ReL") / run.specimen.trueValue("ReL"), 1, 0.015);
    EXPECT_NEAR(value(o, "Ae"), run.specimen.trueValue("Ae"), 0.003);
    EXPECT_TRUE(missing(o, "Rp0.2"));
    EXPECT_TRUE(explained(o, "Rp0.2"));

    in.options["yield"] = "offset";
    const Outcome offset = evaluated(in);
    EXPECT_TRUE(missing(offset, "ReH"));
    EXPECT_TRUE(explained(offset, "ReH"));
    EXPECT_GT(value(offset, "Rp0.2"), 200);

    in.options["yield"] = "auto";
    in.options["lower_yield"] = "short-cut";
    EXPECT_NEAR(value(evaluated(in), "ReL") / run.specimen.trueValue("ReL"), 1, 0.03);
}

TEST(TensionMetal, ARoundedCurveSaysWhyThereIsNoUpperYield)
{
    SpecimenInput in = roundBar();
    in.record = bilinearRecord(78.8, 70000, 210, 1400, 0.08);
    const Outcome o = evaluated(in);
    for (const char* symbol : {"ReH", "ReL", "Ae"}) {
        EXPECT_TRUE(missing(o, symbol));
        EXPECT_TRUE(explained(o, symbol));
    }
    EXPECT_TRUE(remarkOf(o, "not-applicable"));
}

TEST(TensionMetal, ForceZero)
{
    const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
    SimulatedSpecimen specimen = drawSpecimen(entry, 3);
    specimen.conditions.zeroOffset = 240; // about 1 %
    auto run = simulateRun(entry, specimen, 3);
    SpecimenInput in = roundBar();
    in.dimensions["area"] = {Quantity{specimen.bar.section, findUnit("mm2"), 0, ""}};
    in.record = std::make_shared<const Record>(run.record);
    const Outcome taken = evaluated(in);
    ASSERT_TRUE(remarkOf(taken, "zero-offset"));
    EXPECT_EQ(remarkOf(taken, "zero-offset")->severity, Severity::Caution);
    EXPECT_NEAR(value(taken, "Rm") / specimen.trueValue("Rm"), 1, 0.002);
    in.options["force_zero"] = "none";
    const Outcome left = evaluated(in);
    EXPECT_NEAR(value(left, "Rm") - value(taken, "Rm"), 240 / specimen.bar.section, 0.1);
    ASSERT_TRUE(remarkOf(left, "zero-offset"));
    EXPECT_EQ(remarkOf(left, "zero-offset")->severity, Severity::Caution);
}

TEST(TensionMetal, AZeroThatCannotBeToldStaysWithACaution)
{
    // The record ends before the break: nothing confirms whether the start is zero error or preload.
    SpecimenInput in = roundBar();
    auto record = bilinearRecord(78.8, 70000, 210, 1400, 0.06, 3000, false);
    auto shifted = std::make_shared<Record>();
    shifted->channels.reserve(3);
    for (const Channel& c : record->channels) {
        Channel& out = shifted->add(c.name);
        for (size_t i = 0; i < c.values.size(); ++i)
            out.values.append(c.values[i] + (c.name == "force" ? 300 : 0));
    }
    in.record = shifted;
    const Outcome o = evaluated(in);
    ASSERT_TRUE(remarkOf(o, "zero-offset"));
    EXPECT_EQ(remarkOf(o, "zero-offset")->severity, Severity::Caution);
    EXPECT_TRUE(remarkOf(o, "no-fracture"));
    EXPECT_TRUE(missing(o, "At"));
    EXPECT_TRUE(explained(o, "At"));
}

TEST(TensionMetal, CrossheadOnlyGivesNoModulusUnlessAskedFor)
{
    SpecimenInput in = roundBar();
    auto record = bilinearRecord(78.8, 70000, 210, 1400, 0.08);
    auto bare = std::make_shared<Record>();
    bare->channels.reserve(2);
    for (const char* name : {"force", "displacement"}) {
        Channel& out = bare->add(name);
        for (size_t i = 0; i < record->rows(); ++i)
            out.values.append(record->find(name)->values[i]);
    }
    in.record = bare;
    const Outcome o = evaluated(in);
    EXPECT_TRUE(missing(o, "E"));
    EXPECT_TRUE(missing(o, "Rp0.2"));
    EXPECT_TRUE(explained(o, "E"));
    EXPECT_TRUE(remarkOf(o, "crosshead-strain"));
    EXPECT_GT(value(o, "Rm"), 300);
    EXPECT_NEAR(value(o, "A_ext"), 0.076, 0.01);

    in.options["strain_from"] = "crosshead";
    EXPECT_LT(value(evaluated(in), "E"), 69000); // the machine gives way too
    in.options["compliance"] = "6e-6 mm/N";
    EXPECT_NEAR(value(evaluated(in), "E"), 70000, 400);
}

TEST(TensionMetal, ExtensometerSlipIsSeen)
{
    const CatalogueEntry& entry = *findCatalogueEntry("tempered-bar");
    SimulatedSpecimen specimen = drawSpecimen(entry, 5);
    specimen.conditions.slipAtStrain = 0.002;
    specimen.conditions.slipStep = 0.02;
    specimen.conditions.extensionNoise = 2e-4;
    auto run = simulateRun(entry, specimen, 5);
    SpecimenInput in = roundBar();
    in.dimensions["area"] = {Quantity{specimen.bar.section, findUnit("mm2"), 0, ""}};
    in.dimensions["extensometer_gauge_length"] = {length("40 mm")};
    in.record = std::make_shared<const Record>(run.record);
    ASSERT_TRUE(remarkOf(evaluated(in), "extensometer-slip"));
    // The same bar without it carries no such remark.
    specimen.conditions.slipAtStrain = 0;
    in.record = std::make_shared<const Record>(simulateRun(entry, specimen, 5).record);
    EXPECT_FALSE(remarkOf(evaluated(in), "extensometer-slip"));
}

TEST(TensionMetal, CleanBarsCarryNoSlip)
{
    int alarms = 0;
    for (std::uint64_t seed = 1; seed <= 80; ++seed) {
        const CatalogueEntry& entry = catalogue()[seed % 8]; // the metals come first
        auto run = simulateRun(entry, seed);
        SpecimenInput in = roundBar();
        in.dimensions["area"] = {Quantity{run.specimen.bar.section, findUnit("mm2"), 0, ""}};
        in.dimensions["extensometer_gauge_length"] = {length(std::to_string(entry.extensometer) + " mm")};
        in.record = std::make_shared<const Record>(run.record);
        alarms += remarkOf(evaluated(in), "extensometer-slip") != nullptr;
    }
    EXPECT_LE(alarms, 1);
}

TEST(TensionMetal, ExtensometerRemovedGoesOnFromTheCrosshead)
{
    const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
    auto run = simulateRun(entry, 12);
    SpecimenInput in = roundBar();
    in.dimensions["area"] = {Quantity{run.specimen.bar.section, findUnit("mm2"), 0, ""}};
    in.record = std::make_shared<const Record>(run.record);
    const Outcome o = evaluated(in);
    ASSERT_TRUE(remarkOf(o, "extensometer-removed"));
    EXPECT_NEAR(value(o, "A_ext"), run.specimen.trueValue("A_ext"), 0.004);
    ASSERT_TRUE(o.curve());
    EXPECT_GT(o.curve()->crossheadFrom, 0u);
    // No step where the strain changes hands.
    const size_t at = o.curve()->crossheadFrom;
    for (size_t i = at - 20; i < at + 20; ++i)
        EXPECT_LT(std::abs(o.curve()->y[i + 1] - o.curve()->y[i]), 1.5) << i;
    in.dimensions.erase("parallel_length");
    const Outcome cut = evaluated(in);
    ASSERT_TRUE(remarkOf(cut, "extensometer-removed"));
    EXPECT_EQ(remarkOf(cut, "extensometer-removed")->severity, Severity::Caution);
}

TEST(TensionMetal, NominalAndSpread)
{
    SpecimenInput in = roundBar();
    in.dimensions["diameter"] = {length("10.00 mm"), length("10.00 mm"), length("10.00 mm")};
    EXPECT_TRUE(remarkOf(evaluated(in), "nominal-dimension"));
    in.dimensions["diameter"] = {length("10.02 mm"), length("9.80 mm"), length("10.02 mm")};
    EXPECT_TRUE(remarkOf(evaluated(in), "dimension-spread"));
    in.dimensions["diameter"] = {length("10.02 mm"), length("1.001 mm"), length("10.02 mm")};
    EXPECT_TRUE(remarkOf(evaluated(in), "reading-slip"));
    in.dimensions["diameter"] = {length("10.02 mm"), length("10.01 mm"), length("10.02 mm")};
    const Outcome good = evaluated(in);
    for (const char* code : {"nominal-dimension", "dimension-spread", "reading-slip"})
        EXPECT_FALSE(remarkOf(good, code)) << code;
}

TEST(TensionMetal, SlipFactors)
{
    EXPECT_EQ(slipFactor(100.2, 10.01), 10);
    EXPECT_EQ(slipFactor(1.002, 10.01), 0.1);
    EXPECT_NEAR(slipFactor(0.3945, 10.02), 1 / 25.4, 1e-12);
    EXPECT_EQ(slipFactor(20.02, 10.01), 2);
    EXPECT_EQ(slipFactor(10.02, 10.01), 0);
    EXPECT_EQ(slipFactor(0, 10.01), 0);
}

TEST(TensionMetal, BreakNearAMark)
{
    SpecimenInput in = roundBar();
    in.dimensions["break_distance"] = {length("10 mm")};
    ASSERT_TRUE(remarkOf(evaluated(in), "break-near-mark"));
    in.options["near_mark"] = "quarter";
    in.dimensions["break_distance"] = {length("14 mm")};
    EXPECT_FALSE(remarkOf(evaluated(in), "break-near-mark"));
    in.dimensions["break_distance"] = {length("-3 mm")};
    EXPECT_TRUE(remarkOf(evaluated(in), "break-outside-gauge"));
}

TEST(TensionMetal, ElongationChecks)
{
    SpecimenInput in = roundBar();
    in.dimensions["final_gauge_length"] = {length("48 mm")};
    ASSERT_TRUE(remarkOf(evaluated(in), "elongation-negative"));
    EXPECT_EQ(remarkOf(evaluated(in), "elongation-negative")->severity, Severity::Reject);
    in.dimensions["final_diameter"] = {length("12 mm")};
    EXPECT_TRUE(remarkOf(evaluated(in), "neck-larger"));
    in = roundBar();
    in.dimensions["final_gauge_length"] = {length("51 mm")};
    EXPECT_TRUE(remarkOf(evaluated(in), "brittle-break"));
    in.record = bilinearRecord(78.8, 70000, 210, 1400, 0.08);
    EXPECT_TRUE(remarkOf(evaluated(in), "elongation-disagrees"));
}

TEST(TensionMetal, Geometry)
{
    SpecimenInput in = roundBar();
    in.dimensions["parallel_length"] = {length("52 mm")};
    EXPECT_TRUE(remarkOf(evaluated(in), "geometry"));
    in = roundBar();
    in.dimensions["extensometer_gauge_length"] = {length("20 mm")};
    EXPECT_TRUE(remarkOf(evaluated(in), "geometry"));
    EXPECT_FALSE(remarkOf(evaluated(roundBar()), "geometry"));
}

TEST(TensionMetal, YieldNotReachedAndUnusualRatio)
{
    SpecimenInput in = roundBar();
    in.record = bilinearRecord(78.8, 70000, 400, 1400, 0.005, 800);
    const Outcome o = evaluated(in);
    EXPECT_TRUE(missing(o, "Rp0.2"));
    EXPECT_TRUE(remarkOf(o, "yield-not-reached"));
    in.record = bilinearRecord(78.8, 70000, 100, 4000, 0.2);
    EXPECT_TRUE(remarkOf(evaluated(in), "ratio-unusual"));
}

TEST(TensionMetal, ModulusFarFromPublished)
{
    SpecimenInput in = roundBar();
    in.published["E"] = 70000;
    in.publishedSource = "reference table";
    in.record = bilinearRecord(78.8, 55000, 210, 1400, 0.08);
    ASSERT_TRUE(remarkOf(evaluated(in), "slope-off-published"));
    EXPECT_NE(remarkOf(evaluated(in), "slope-off-published")->advice.find("gauge length"), std::string::npos);
    in.record = bilinearRecord(78.8, 71000, 210, 1400, 0.08);
    EXPECT_FALSE(remarkOf(evaluated(in), "slope-off-published"));
}

TEST(TensionMetal, EachMissingThingIsNamed)
{
    const auto without = [](const char* key) {
        SpecimenInput in = roundBar();
        in.record = bilinearRecord(78.8, 70000, 210, 1400, 0.08);
        in.dimensions.erase(key);
        return evaluated(in);
    };
    const auto fields = [](const Outcome& o, const std::string& field) {
        return std::ranges::any_of(o.remarks,
                                   [&](const Remark& r) { return r.field == field && r.severity != Severity::Note; });
    };
    const Outcome noDiameter = without("diameter");
    for (const char* symbol : {"E", "Rp0.2", "Rm", "Z"}) {
        EXPECT_TRUE(missing(noDiameter, symbol)) << symbol;
        EXPECT_TRUE(explained(noDiameter, symbol)) << symbol;
    }
    EXPECT_TRUE(fields(noDiameter, "diameter"));
    EXPECT_TRUE(missing(without("final_gauge_length"), "A"));
    EXPECT_TRUE(fields(without("final_gauge_length"), "final_gauge_length"));
    EXPECT_TRUE(missing(without("gauge_length"), "A"));
    EXPECT_TRUE(fields(without("gauge_length"), "gauge_length"));
    EXPECT_TRUE(missing(without("final_diameter"), "Z"));
    EXPECT_TRUE(fields(without("final_diameter"), "final_diameter"));
    EXPECT_TRUE(fields(without("extensometer_gauge_length"), "extensometer_gauge_length"));
    EXPECT_TRUE(missing(without("extensometer_gauge_length"), "E"));
}

TEST(TensionMetal, EveryNullHasItsReason)
{
    // Whatever is taken away, no symbol is null without a remark that names it.
    const std::vector<std::string> keys{"diameter",        "gauge_length",       "extensometer_gauge_length",
                                        "parallel_length", "final_gauge_length", "final_diameter"};
    for (unsigned mask = 0; mask < 64; ++mask) {
        SpecimenInput in = roundBar();
        for (size_t k = 0; k < keys.size(); ++k)
            if (mask & (1u << k))
                in.dimensions.erase(keys[k]);
        for (const bool recorded : {true, false}) {
            in.record = recorded ? bilinearRecord(78.8, 70000, 210, 1400, 0.08, 600) : nullptr;
            const Outcome o = evaluated(in);
            for (const Result& r : o.results)
                EXPECT_TRUE(r.value || explained(o, r.symbol))
                    << r.symbol << " mask " << mask << " record " << recorded;
        }
    }
}

TEST(TensionMetal, RefusesWhatMakesNoSense)
{
    SpecimenInput in = roundBar();
    in.dimensions["diameter"] = {length("0 mm")};
    const auto zero = evaluateTensionMetal(in);
    ASSERT_FALSE(zero);
    EXPECT_NE(zero.problem().text().find("section"), std::string::npos);
    in = roundBar();
    in.options["yield"] = "by eye";
    ASSERT_FALSE(evaluateTensionMetal(in));
    EXPECT_NE(evaluateTensionMetal(in).problem().text().find("by eye"), std::string::npos);
    in = roundBar();
    in.options["yield_offset"] = "0 %";
    EXPECT_FALSE(evaluateTensionMetal(in));
    in.options["yield_offset"] = "0.2 mm";
    EXPECT_FALSE(evaluateTensionMetal(in));
}

TEST(TensionMetal, RecordsThatAreNone)
{
    SpecimenInput in = roundBar();
    auto tiny = std::make_shared<Record>();
    tiny->add("force").values.append(1);
    in.record = tiny;
    EXPECT_FALSE(evaluateTensionMetal(in));
    auto flat = std::make_shared<Record>();
    flat->channels.reserve(2);
    Channel& force = flat->add("force");
    Channel& extension = flat->add("extension");
    for (int i = 0; i < 500; ++i) {
        force.values.append(0);
        extension.values.append(0);
    }
    in.record = flat;
    const Outcome o = evaluated(in);
    EXPECT_TRUE(missing(o, "E"));
    EXPECT_TRUE(explained(o, "E"));
    auto gaps = std::make_shared<Record>(*bilinearRecord(78.8, 70000, 210, 1400, 0.08));
    Column holed;
    for (size_t i = 0; i < gaps->rows(); ++i)
        holed.append(i % 50 == 7 ? std::nan("") : gaps->channels[0].values[i]);
    gaps->channels[0].values = std::move(holed);
    in.record = gaps;
    const Outcome withGaps = evaluated(in);
    EXPECT_TRUE(remarkOf(withGaps, "reading-missed"));
    EXPECT_NEAR(value(withGaps, "E"), 70000, 50);
}

TEST(TensionMetal, AHandfulOfKeyedReadings)
{
    SpecimenInput in = roundBar();
    auto record = std::make_shared<Record>();
    record->channels.reserve(2);
    Channel& force = record->add("force");
    Channel& extension = record->add("extension");
    const double forces[] = {0, 5000, 10000, 15000, 18000, 20000, 20800, 21500, 22500, 23800, 24500};
    const double extensions[] = {0, 0.0453, 0.0907, 0.136, 0.170, 0.22, 0.30, 0.45, 0.8, 1.6, 2.6};
    for (size_t i = 0; i < std::size(forces); ++i) {
        force.values.append(forces[i]);
        extension.values.append(extensions[i]);
    }
    in.record = record;
    const Outcome o = evaluated(in);
    // 15 000 N on 78.80 mm² over 0.136 mm on 50 mm.
    EXPECT_NEAR(value(o, "E"), 15000 / 78.80 / (0.136 / 50), 150);
    EXPECT_TRUE(remarkOf(o, "few-points-elastic"));
    EXPECT_NEAR(value(o, "Rm"), 24500 / 78.80, 0.1);
    EXPECT_NEAR(value(o, "Rp0.2"), 261, 4);
}

TEST(TensionMetal, NegativeForceIsTurned)
{
    SpecimenInput in = roundBar();
    auto record = bilinearRecord(78.8, 70000, 210, 1400, 0.08);
    auto turned = std::make_shared<Record>();
    turned->channels.reserve(3);
    for (const Channel& c : record->channels) {
        Channel& out = turned->add(c.name);
        for (size_t i = 0; i < c.values.size(); ++i)
            out.values.append(c.name == "force" ? -c.values[i] : c.values[i]);
    }
    in.record = turned;
    const Outcome o = evaluated(in);
    EXPECT_TRUE(remarkOf(o, "sign-turned"));
    EXPECT_NEAR(value(o, "E"), 70000, 50);
}

TEST(TensionMetal, UnitsInUnitsOut)
{
    // The same bar in inches gives the same stresses.
    SpecimenInput in = roundBar();
    in.record = bilinearRecord(78.8, 70000, 210, 1400, 0.08);
    const double mm = value(evaluated(in), "Rm");
    for (auto& [key, readings] : in.dimensions)
        for (Quantity& q : readings) {
            char text[40];
            std::snprintf(text, sizeof text, "%.10f in", q.base / 25.4);
            q = length(text);
        }
    EXPECT_NEAR(value(evaluated(in), "Rm"), mm, 1e-6 * mm);
}

TEST(TensionMetal, UncertaintyFollowsTheInstruments)
{
    SpecimenInput in = roundBar();
    in.record = bilinearRecord(78.8, 70000, 210, 1400, 0.08);
    in.instruments.forceError = 0.01;
    in.instruments.calliperError = 1e-9;
    const Outcome o = evaluated(in);
    // Class 1 force alone: U = 2·1 %/√3, and the scatter of the three diameters with it.
    const Result* Rm = o.find("Rm");
    EXPECT_GT(Rm->budget.expanded / *Rm->value, 0.0115);
    EXPECT_LT(Rm->budget.expanded / *Rm->value, 0.0135);
    in.instruments.forceError = 0.02;
    EXPECT_GT(evaluated(in).find("Rm")->budget.expanded, 1.6 * Rm->budget.expanded);
    // The ratio of two stresses of one cell on one section does not know of them.
    EXPECT_LT(o.find("yield_ratio")->budget.expanded, 0.002);
}

TEST(TensionMetal, ShortExtensometerRulesTheModulus)
{
    SpecimenInput in = roundBar();
    in.record = bilinearRecord(78.8, 70000, 210, 1400, 0.08);
    const Outcome o = evaluated(in);
    const Result* E = o.find("E");
    ASSERT_FALSE(E->budget.ranked.empty());
    EXPECT_NE(E->budget.ranked.front().source.words.find("extensometer"), std::string::npos);
    // ±3 µm on 0.003·50 mm is 2 %: more than the class's 1 %.
    EXPECT_GT(E->budget.expanded / *E->value, 0.02);
}

TEST(TensionMetal, PeakOptions)
{
    const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
    auto run = simulateRun(entry, 4);
    SpecimenInput in = roundBar();
    in.dimensions["area"] = {Quantity{run.specimen.bar.section, findUnit("mm2"), 0, ""}};
    in.record = std::make_shared<const Record>(run.record);
    const double smooth = value(evaluated(in), "Rm");
    in.options["peak"] = "raw";
    const double raw = value(evaluated(in), "Rm");
    EXPECT_GT(raw, smooth);
    EXPECT_LT(raw, smooth * 1.003);
}

TEST(TensionMetal, ConvertedElongation)
{
    SpecimenInput in = roundBar();
    in.record = bilinearRecord(78.8, 210000, 300, 1500, 0.12);
    in.options["convert_gauge_length"] = "80 mm";
    const Outcome refused = evaluated(in);
    EXPECT_TRUE(missing(refused, "A_converted"));
    EXPECT_TRUE(explained(refused, "A_converted"));
    in.options["convert_family"] = "plain steel";
    const Outcome o = evaluated(in);
    EXPECT_NEAR(value(o, "A_converted"), 0.128 * std::pow(50.0 / 80, 0.4), 1e-9);
    EXPECT_TRUE(remarkOf(o, "converted"));
    in.record = bilinearRecord(78.8, 210000, 800, 1500, 0.12);
    EXPECT_TRUE(missing(evaluated(in), "A_converted"));
}

TEST(TensionMetal, OtherSections)
{
    SpecimenInput in;
    in.label = "F1";
    in.shape = "rectangular";
    in.dimensions["width"] = {length("12.50 mm"), length("12.52 mm"), length("12.48 mm")};
    in.dimensions["thickness"] = {length("3.01 mm"), length("3.02 mm"), length("3.00 mm")};
    EXPECT_NEAR((*sectionTerm(in, "", "So"))->value(), (12.50 * 3.01 + 12.52 * 3.02 + 12.48 * 3.00) / 3, 1e-9);
    in.shape = "tube";
    in.dimensions["outer_diameter"] = {length("20 mm")};
    in.dimensions["wall"] = {length("2 mm")};
    EXPECT_NEAR((*sectionTerm(in, "", "So"))->value(), 3.14159265358979 * 2 * 18, 1e-9);
    in.dimensions.erase("wall");
    in.dimensions["inner_diameter"] = {length("16 mm")};
    EXPECT_NEAR((*sectionTerm(in, "", "So"))->value(), 3.14159265358979 / 4 * (400 - 256), 1e-9);
    in.dimensions["inner_diameter"] = {length("24 mm")};
    EXPECT_FALSE(sectionTerm(in, "", "So"));
}

TEST(Registry, DeclarationsHoldTogether)
{
    for (const Method& m : methodRegistry()) {
        EXPECT_EQ(findMethod(m.id), &m);
        EXPECT_TRUE(m.evaluate);
        EXPECT_FALSE(m.standards.empty());
        for (const ResultSpec& r : m.results)
            EXPECT_TRUE(&unitOf(r)) << r.symbol;
        for (const OptionSpec& o : m.options)
            EXPECT_TRUE(o.choices.empty() || o.choices.front() == o.fallback) << o.key;
        for (const FieldSpec& f : m.fields)
            EXPECT_TRUE(f.shape.empty() || std::ranges::find(m.shapes, f.shape) != m.shapes.end()) << f.key;
        EXPECT_TRUE(std::ranges::any_of(m.steps, [](const StepSpec& s) { return !s.safety.empty(); })) << m.id;
    }
    EXPECT_EQ(findMethod("reading tea leaves"), nullptr);
}

TEST(Display, RoundsByTheRule)
{
    const Method& m = *findMethod("tension-metal");
    const auto show = [&](const char* symbol, double base, RoundingRule rule = RoundingRule::StepsToEven) {
        return showValue(specFor(m, symbol), base, 0, rule).text;
    };
    EXPECT_EQ(show("Rm", 312.18), "312");
    EXPECT_EQ(show("Rm", 312.5), "312");
    EXPECT_EQ(show("Rm", 312.5, RoundingRule::StepsAwayFromZero), "313");
    EXPECT_EQ(show("Rm", 312.18, RoundingRule::FourDigits), "312.2");
    EXPECT_EQ(show("A", 0.1274), "12.5");
    EXPECT_EQ(show("A", 0.1275), "13.0"); // 25.5 steps: a tie, to the even one
    EXPECT_EQ(show("Z", 0.4686), "47");
    EXPECT_EQ(show("E", 69849), "69.8");
    EXPECT_EQ(showValue(specFor(m, "E"), 69849, 900).uncertainty, "0.9");
    EXPECT_EQ(showValue(specFor(m, "E"), 69849, 900).unit, "GPa");
    EXPECT_EQ(show("yield_ratio", 0.8496), "0.85");
    EXPECT_EQ(showValue(specFor(m, "Rm"), std::nullopt, 0).text, "–");
    EXPECT_EQ(showValue(specFor(m, "Rm"), std::nan(""), 0).text, "–");
    EXPECT_EQ(specFor(m, "Rp0.1").unit, "MPa");
}

TEST(LiveCurve, StrainChangesHandsWithoutAStep)
{
    LiveCurve live(80, 50, 60);
    for (int i = 0; i <= 100; ++i)
        live.add(0.1 * i, 100.0 * i, 0.01 * i, 0.02 * i, i < 60);
    EXPECT_NEAR(live.stress().back(), 10000.0 / 80, 1e-12);
    EXPECT_NEAR(live.strain()[59], 0.59 / 50, 1e-12);
    EXPECT_NEAR(live.strain()[61] - live.strain()[60], 0.02 / 60, 1e-12);
    ASSERT_TRUE(live.strainRate());
    EXPECT_NEAR(*live.strainRate(), 0.2 / 60, 1e-9);
    EXPECT_NEAR(*live.crossheadRate(), 0.2 / 60, 1e-9);
    EXPECT_TRUE(LiveCurve().empty());
    EXPECT_FALSE(LiveCurve(80, 50, 60).strainRate());
}

} // namespace
} // namespace fortitor::tension_metal_test
