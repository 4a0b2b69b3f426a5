// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/individuals_chart.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <stdexcept>

namespace fortitor::individuals_chart_test {
namespace {

using Kind = ChartSignal::Kind;

size_t count(const IndividualsChart& chart, Kind kind)
{
    return static_cast<size_t>(std::ranges::count(chart.alarms, kind, &ChartSignal::kind));
}

TEST(IndividualsChart, MeanAndLimitsByTheMovingRange)
{
    // Moving ranges 1, 2, 1, 3, 1: mean 1.6; limits 10.5 ± 2.66·1.6 of the usual tables.
    const double values[] = {10, 11, 9, 10, 13, 12};
    const auto chart = individualsChart(values);
    EXPECT_NEAR(chart.mean, 65.0 / 6, 1e-12);
    EXPECT_NEAR(chart.upper - chart.mean, 2.66 * 1.6, 0.002 * 1.6);
    EXPECT_NEAR(chart.mean - chart.lower, 2.66 * 1.6, 0.002 * 1.6);
    EXPECT_TRUE(chart.alarms.empty());
}

TEST(IndividualsChart, NamesAJumpADriftAndAShift)
{
    std::vector<double> values;
    for (int i = 0; i < 30; ++i)
        values.push_back(i % 2 == 0 ? 0.2 : -0.2);
    EXPECT_TRUE(individualsChart(values).alarms.empty());
    auto jumped = values;
    jumped[20] = 3;
    const auto jump = individualsChart(jumped);
    EXPECT_GE(count(jump, Kind::Beyond), 1u);
    EXPECT_EQ(std::ranges::find(jump.alarms, Kind::Beyond, &ChartSignal::kind)->at, 20u);
    auto drifting = values;
    for (int i = 0; i < 6; ++i)
        drifting.push_back(-0.2 + 0.05 * i);
    EXPECT_EQ(count(individualsChart(drifting), Kind::Trend), 1u)
        << "five steps up, the last of six values completes it";
    auto shifted = values;
    for (int i = 0; i < 9; ++i)
        shifted.push_back(i % 2 == 0 ? 0.35 : 0.45);
    EXPECT_GE(count(individualsChart(shifted), Kind::Side), 1u);
}

TEST(IndividualsChart, FewValuesAndBadOnes)
{
    EXPECT_TRUE(individualsChart({}).alarms.empty());
    const double one[] = {4.5};
    EXPECT_EQ(individualsChart(one).mean, 4.5);
    EXPECT_EQ(individualsChart(one).upper, 4.5);
    const std::vector<double> same(40, 7.0);
    const auto flat = individualsChart(same);
    EXPECT_EQ(flat.upper, 7.0);
    EXPECT_TRUE(flat.alarms.empty());
    const double bad[] = {1, std::numeric_limits<double>::quiet_NaN()};
    EXPECT_THROW(individualsChart(bad), std::invalid_argument);
    // Shifting all of them by much leaves the limits' width alone.
    std::vector<double> large;
    for (int i = 0; i < 100; ++i)
        large.push_back(1e9 + (i % 3) * 0.5);
    const auto far = individualsChart(large);
    EXPECT_NEAR(far.upper - far.mean, far.mean - far.lower, 1e-5);
    EXPECT_NEAR(far.mean, 1e9 + 0.495, 1e-6);
}

} // namespace
} // namespace fortitor::individuals_chart_test
