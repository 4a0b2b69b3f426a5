// SPDX-License-Identifier: GPL-3.0-or-later
// Poisson's ratio from keyed readings: worked figures, corrections, each slip of the pen named.
#include "methods/poisson/poisson.h"

#include "sim/random.h"
#include "support.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor::poisson_test {
namespace {

constexpr double nan = std::numeric_limits<double>::quiet_NaN();

struct Sheet {
    std::vector<double> along; ///< µε
    std::vector<double> across; ///< µε
    std::vector<double> force{}; ///< N
};

SpecimenInput inputOf(const Sheet& sheet, std::map<std::string, std::string> options = {})
{
    SpecimenInput in;
    in.label = "R1";
    in.shape = "rectangular";
    in.options = std::move(options);
    in.record = test::keyedRecord(
        {{"force", sheet.force}, {"strain", sheet.along, 1e-6}, {"transverse_strain", sheet.across, 1e-6}});
    return in;
}

Outcome read(const Sheet& sheet, std::map<std::string, std::string> options = {})
{
    auto out = evaluatePoisson(inputOf(sheet, std::move(options)));
    EXPECT_TRUE(out) << (out ? "" : out.problem().text());
    return out ? *out : Outcome{};
}

const Sheet worked{{30, 61, 92, 122, 153}, {-10, -20, -30, -40, -51}};

TEST(Poisson, TheWorkedFigure)
{
    const Outcome o = read(worked);
    EXPECT_NEAR(*o.find("nu")->value, 0.332, 0.0005);
    EXPECT_FALSE(o.find("E")->value);
    EXPECT_FALSE(o.find("nu_load")->value);
    EXPECT_TRUE(o.remarked("not-applicable"));
    EXPECT_GT(o.find("nu")->budget.expanded, 0);
    EXPECT_TRUE(o.curve());
    EXPECT_NEAR(o.curve()->slope, 0.332, 0.0005);
}

TEST(Poisson, TransverseSensitivityIsTakenOff)
{
    // What gauges with Kt 0.01 show of a true 0.300: 0.291.
    const double kt = 0.01;
    Sheet shown;
    for (int k = 1; k <= 6; ++k) {
        const double along = 100.0 * k;
        const double across = -30.0 * k;
        const double scale = 1 / (1 - 0.285 * kt);
        shown.along.push_back(scale * (along + kt * across));
        shown.across.push_back(scale * (across + kt * along));
    }
    EXPECT_NEAR(*read(shown).find("nu")->value, 0.291, 0.0005);
    EXPECT_NEAR(*read(shown, {{"transverse_sensitivity", "0.01"}}).find("nu")->value, 0.300, 1e-9);
    EXPECT_NEAR(read(shown, {{"transverse_sensitivity", "0.01"}}).curve()->x.back(), 600e-6, 1e-9);
}

TEST(Poisson, GaugeFactorsScaleTheModulusNotNu)
{
    Sheet sheet = worked;
    sheet.force = {1000, 2000, 3000, 4000, 5000};
    SpecimenInput in = inputOf(sheet);
    in.dimensions["area"] = {*parseQuantity("75 mm2", Kind::Area)};
    const double E = *evaluatePoisson(in)->find("E")->value;
    EXPECT_NEAR(E, 1000 / 75.0 / 30.7e-6, 0.01 * E);
    in.options = {{"gauge_factor", "2.10"}, {"gauge_factor_set", "2.00"}};
    const Outcome o = *evaluatePoisson(in);
    EXPECT_NEAR(*o.find("E")->value, E * 2.10 / 2.00, 1e-6 * E);
    EXPECT_NEAR(*o.find("nu")->value, 0.332, 0.0005);
    EXPECT_NEAR(*o.find("nu_load")->value, 0.332, 0.003);
    in.options = {{"gauge_factor", "2.10"}};
    EXPECT_TRUE(evaluatePoisson(in)->remarked("gauge-factor-half"));
    in.options = {{"gauge_factor", "0"}, {"gauge_factor_set", "2"}};
    EXPECT_FALSE(evaluatePoisson(in));
    in.options = {{"transverse_sensitivity", "1.2"}};
    EXPECT_FALSE(evaluatePoisson(in));
}

TEST(Poisson, BothFacesAreAveraged)
{
    auto record = std::make_shared<Record>();
    record->channels.reserve(3);
    Column& front = record->add("strain").values;
    Column& back = record->add("strain_2").values;
    Column& across = record->add("transverse_strain").values;
    for (int k = 0; k <= 6; ++k) {
        front.append(120e-6 * k);
        back.append(80e-6 * k);
        across.append(-33e-6 * k);
    }
    SpecimenInput in = inputOf(worked);
    in.record = record;
    EXPECT_NEAR(*evaluatePoisson(in)->find("nu")->value, 0.33, 1e-9);
}

TEST(Poisson, AReadingOffTheLineIsNamed)
{
    Sheet sheet{{100, 200, 300, 400, 500, 600, 700}, {-33, -66, -99, -152, -165, -198, -231}};
    const Outcome o = read(sheet);
    const auto it = std::ranges::find(o.remarks, "reading-off-line", &Remark::code);
    ASSERT_NE(it, o.remarks.end());
    EXPECT_NE(it->text.find("Reading 4 "), std::string::npos) << it->text;
    EXPECT_FALSE(read(worked).remarked("reading-off-line"));
}

TEST(Poisson, AMissedReadingLeavesTheOthers)
{
    Sheet sheet{{30, 61, nan, 122, 153, 184}, {-10, -20, -30, -40, nan, -61}, {1000, 2000, 3000, 4000, 5000, 6000}};
    const Outcome o = read(sheet);
    EXPECT_NEAR(*o.find("nu")->value, 0.332, 0.004);
    const auto it = std::ranges::find(o.remarks, "reading-missed", &Remark::code);
    ASSERT_NE(it, o.remarks.end());
    EXPECT_NE(it->text.find("3 and 5"), std::string::npos);
}

TEST(Poisson, SlipsOfThePenAreNamedAndNotComputedOver)
{
    // microstrain taken for strain
    const Outcome big = read({{30e6, 61e6, 92e6}, {-10e6, -20e6, -30e6}});
    EXPECT_TRUE(big.remarked("unit-slip"));
    EXPECT_FALSE(big.find("nu")->value);
    // swapped columns
    EXPECT_TRUE(read({{-10, -20, -30, -40, -51}, {30, 61, 92, 122, 153}}).remarked("gauges-swapped"));
    // one reading only
    const Outcome one = read({{30}, {-10}});
    EXPECT_TRUE(one.remarked("too-few-readings"));
    EXPECT_FALSE(one.find("nu")->value);
    EXPECT_TRUE(read({{30, 61, 92}, {-10, -20, -30}}).remarked("few-readings"));
    // keyed without the minus
    const Outcome plus = read({{30, 61, 92, 122, 153}, {10, 20, 30, 40, 51}});
    EXPECT_TRUE(plus.remarked("sign"));
    EXPECT_NEAR(*plus.find("nu")->value, 0.332, 0.0005);
    // a load lower than the one before, and one keyed twice
    Sheet sheet = worked;
    sheet.force = {1000, 2000, 300, 4000, 5000};
    EXPECT_TRUE(read(sheet).remarked("load-decreasing"));
    sheet.force = {1000, 2000, 2000, 4000, 5000};
    EXPECT_TRUE(read(sheet).remarked("step-repeated"));
    // implausible
    EXPECT_TRUE(read({{100, 200, 300, 400, 500}, {-60, -120, -180, -240, -300}}).remarked("implausible"));
    // all the same
    EXPECT_TRUE(read({{50, 50, 50}, {-10, -10, -10}}).remarked("too-few-readings"));
}

TEST(Poisson, TheZeroThatComesBackOffIsSaid)
{
    Sheet sheet{
        {0, 100, 200, 300, 400, 500, 20}, {0, -33, -66, -99, -132, -165, -7}, {0, 1000, 2000, 3000, 4000, 5000, 0}};
    EXPECT_TRUE(read(sheet).remarked("zero-drift"));
    EXPECT_NEAR(*read(sheet).find("nu")->value, 0.33, 1e-9) << "the returned zero is not on the line";
    sheet.along.back() = 4;
    EXPECT_FALSE(read(sheet).remarked("zero-drift"));
}

TEST(Poisson, NoReadingsAndNoChannels)
{
    SpecimenInput in = inputOf(worked);
    in.record = nullptr;
    EXPECT_TRUE(evaluatePoisson(in)->remarked("no-record"));
    auto record = std::make_shared<Record>();
    record->add("force").values.append(1);
    in.record = record;
    EXPECT_FALSE(evaluatePoisson(in));
}

TEST(Poisson, AnyOrderOfColumnsAndAnyScaleOfStepsGivesTheSame)
{
    Random random(4);
    for (int round = 0; round < 200; ++round) {
        const double nu = random.between(0.05, 0.45);
        const double step = random.between(20, 200);
        Sheet sheet;
        for (int k = 0; k < 8; ++k) {
            sheet.along.push_back(step * k);
            sheet.across.push_back(-nu * step * k);
        }
        EXPECT_NEAR(*read(sheet).find("nu")->value, nu, 1e-9);
    }
}

} // namespace
} // namespace fortitor::poisson_test
