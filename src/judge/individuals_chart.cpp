// SPDX-License-Identifier: GPL-3.0-or-later
#include "judge/individuals_chart.h"

#include <cmath>
#include <stdexcept>

namespace fortitor {
namespace {

constexpr double rangeOfTwo = 1.128; // mean range of two over the standard deviation
constexpr size_t oneSide = 9;
constexpr size_t oneWay = 6;

} // namespace

IndividualsChart individualsChart(std::span<const double> values)
{
    IndividualsChart chart;
    for (const double v : values)
        if (!std::isfinite(v))
            throw std::invalid_argument("a value of the chart is not finite");
    if (values.empty())
        return chart;
    const double first = values.front();
    double sum = 0;
    for (const double v : values)
        sum += v - first;
    chart.mean = first + sum / static_cast<double>(values.size());
    chart.lower = chart.upper = chart.mean;
    if (values.size() < 2)
        return chart;
    double ranges = 0;
    for (size_t i = 1; i < values.size(); ++i)
        ranges += std::abs(values[i] - values[i - 1]);
    chart.sigma = ranges / static_cast<double>(values.size() - 1) / rangeOfTwo;
    chart.lower = chart.mean - 3 * chart.sigma;
    chart.upper = chart.mean + 3 * chart.sigma;

    size_t above = 0, below = 0; // running on one side
    size_t rising = 1, falling = 1;
    for (size_t i = 0; i < values.size(); ++i) {
        const double v = values[i];
        if (v > chart.upper || v < chart.lower)
            chart.alarms.push_back({ChartSignal::Kind::Beyond, i});
        above = v > chart.mean ? above + 1 : 0;
        below = v < chart.mean ? below + 1 : 0;
        if (above >= oneSide || below >= oneSide)
            chart.alarms.push_back({ChartSignal::Kind::Side, i});
        if (i == 0)
            continue;
        rising = v > values[i - 1] ? rising + 1 : 1;
        falling = v < values[i - 1] ? falling + 1 : 1;
        if (rising >= oneWay || falling >= oneWay)
            chart.alarms.push_back({ChartSignal::Kind::Trend, i});
    }
    return chart;
}

} // namespace fortitor
