// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/run_plan.h"

#include "methods/common/figures.h"
#include "methods/common/section.h"
#include "methods/fatigue_sn/detail_class.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double usualScatter = 0.2; // of log N, of welds: what a class lies below its mean line by 1.64 of
constexpr double usualSlope = 3;

/// Half of the pieces of a detail of that class stand so long at a range.
double lifeByClass(double detail, double range, double slope)
{
    return classCycles * std::pow(detail / range, slope) * std::pow(10, 1.645 * usualScatter);
}

Expected<double> shareOf(const SpecimenInput& input, const char* key, const char* fallback)
{
    const std::string text = optionOr(input, key, fallback);
    const auto read = parseQuantity(text, Kind::Strain, findUnit("%", Kind::Strain));
    if (!read || !(read->base > 0) || !(read->base < 1))
        return Problem{std::string("options.") + key, '"' + text + '"', "a share such as 10 %", {}};
    return read->base;
}

} // namespace

Expected<RunStops> stopsOf(const SpecimenInput& input)
{
    RunStops stops;
    const std::string cycles = optionOr(input, "run_out_cycles", "1e7");
    const auto runOut = parseNumber(cycles);
    if (!runOut || !(*runOut >= 1) || !(*runOut <= 1e12))
        return Problem{"options.run_out_cycles", '"' + cycles + '"', "a number of cycles, such as 1e7", {}};
    stops.runOut = *runOut;
    const std::string way = optionOr(input, "trip_travel", "1 mm");
    const auto travel = parseQuantity(way, Kind::Length, findUnit("mm"));
    if (!travel || !(travel->base > 0))
        return Problem{"options.trip_travel", '"' + way + '"', "a length above zero, such as 1 mm", {}};
    stops.travel = travel->base;
    const auto stiffness = shareOf(input, "trip_drop", "10 %"), force = shareOf(input, "trip_force", "5 %");
    if (!stiffness)
        return stiffness.problem();
    if (!force)
        return force.problem();
    stops.stiffness = *stiffness;
    stops.force = *force;
    const std::string warm = optionOr(input, "trip_temperature", "60 °C");
    const auto temperature = parseQuantity(warm, Kind::Temperature, findUnit("°C"));
    if (!temperature)
        return Problem{"options.trip_temperature", '"' + warm + '"', "a temperature such as 60 °C", {}};
    stops.temperature = temperature->base;
    return stops;
}

Expected<RunPlan> runPlanOf(const SpecimenInput& input, const std::optional<SnLine>& line)
{
    const auto settings = snSettings(input);
    if (!settings)
        return settings.problem();
    RunPlan plan;
    const auto keyed = keyedRange(input);
    if (!keyed)
        return keyed.problem();
    plan.range = *keyed ? *keyed : plannedRange(input);
    const auto ratio = notedRatio(input);
    if (!ratio)
        return ratio.problem();
    plan.ratio = *ratio;
    plan.frequency = notedFrequency(input);
    if (!plan.range)
        return plan;
    const auto area = sectionArea(input);
    if (area && plan.ratio && *plan.ratio < 1) {
        plan.greatest = *plan.range / (1 - *plan.ratio) * *area;
        plan.least = *plan.greatest * *plan.ratio;
    }
    if (line && line->slope > 0 && settings->meanStress == MeanStress::None) {
        plan.expected = std::pow(10, line->logLifeAt(*plan.range));
        plan.basis = fmt::format("mean line of {} pieces", line->broken + line->open);
    } else if (const auto detail = settings->detailClass) {
        const double slope = settings->rule.slope.value_or(usualSlope);
        plan.expected = lifeByClass(*detail, *plan.range, slope);
        plan.basis = fmt::format("class {:.3g}, slope {:.3g}", *detail, slope);
    }
    return plan;
}

std::string runsInWords(const SpecimenInput& input, std::span<const SpreadGroup> groups)
{
    size_t pieces = 0;
    for (const SpreadGroup& group : groups)
        pieces += group.pieces;
    const std::string head = fmt::format("{} piece{} on {} level{}", pieces, pieces == 1 ? "" : "s", groups.size(),
                                         groups.size() == 1 ? "" : "s");
    const auto settings = snSettings(input);
    const auto stops = stopsOf(input);
    const double hertz = notedFrequency(input);
    if (!settings || !stops)
        return head;
    const auto detail = settings->detailClass;
    if (!detail || !(hertz > 0))
        return head + ". Give a detail class and a frequency to see the machine days.";
    const double slope = settings->rule.slope.value_or(usualSlope);
    double cycles = 0;
    for (const SpreadGroup& group : groups)
        cycles += static_cast<double>(group.pieces) * std::min(stops->runOut, lifeByClass(*detail, group.value, slope));
    return head
        + fmt::format(": about {} of one frame at {:g} Hz, as class {:.3g} with slope {:.3g} has it on the mean",
                      spanText(cycles / hertz), hertz, *detail, slope);
}

} // namespace fortitor
