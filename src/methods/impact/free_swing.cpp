// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/impact/free_swing.h"

#include "judge/individuals_chart.h"
#include "methods/impact/impact.h"
#include "methods/impact/swing.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {

DailyJudged judgeSwings(std::span<const DailyValue> swings, const SpecimenInput& input, const std::string& today)
{
    DailyJudged judged;
    const ImpactGeometry* geometry = geometryOf(input);
    const auto pendulum = geometry ? pendulumOf(input, *geometry) : Expected<Pendulum>(Problem{});
    if (pendulum && !pendulum->subtract)
        judged.limit = lossShare * pendulum->energy;
    if (swings.empty()) {
        judged.words.push_back("No free swing is kept yet.");
        return judged;
    }
    const DailyValue& last = swings.back();
    judged.today = last.when.starts_with(today);
    judged.within = !judged.limit || last.value <= *judged.limit;
    if (!judged.today)
        judged.words.push_back(fmt::format("No free swing today: the last is of {}.",
                                           last.when.empty() ? "an unknown day" : last.when.substr(0, 10)));
    if (!judged.within)
        judged.words.push_back(fmt::format("The last loses {:.3g} J, {:.2f} % of the pendulum; 0.5 % is the most.",
                                           last.value, 100 * last.value / pendulum->energy));
    std::vector<double> losses;
    for (const DailyValue& one : swings)
        losses.push_back(one.value);
    constexpr size_t enough = 5; // limits of fewer say nothing
    if (losses.size() < enough)
        return judged;
    const IndividualsChart chart = individualsChart(losses);
    for (const ChartSignal& signal : chart.alarms) {
        if (signal.at + 1 != losses.size())
            continue;
        judged.words.push_back(signal.kind == ChartSignal::Kind::Beyond
                                   ? fmt::format("The last stands apart from the days before, {:.3g} to {:.3g} J.",
                                                 std::max(0.0, chart.lower), chart.upper)
                                   : signal.kind == ChartSignal::Kind::Trend
                                   ? "Six or more days running go one way: bearings, or the pointer?"
                                   : "Nine or more days running lie on one side of the mean.");
    }
    return judged;
}

} // namespace fortitor
