// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/fatigue_sn/set_view.h"

#include "methods/common/figures.h"
#include "methods/fatigue_sn/detail_class.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// From the shortest to the longest run, a third of a decade beyond each.
std::vector<double> placesOf(const std::vector<SnRun>& runs, double reference)
{
    double low = reference, high = reference;
    for (const SnRun& run : runs) {
        low = std::min(low, run.piece.cycles);
        high = std::max(high, run.piece.cycles);
    }
    constexpr int places = 40;
    constexpr double beyond = 1.8;
    std::vector<double> at;
    for (int k = 0; k <= places; ++k)
        at.push_back(low / beyond * std::pow(high / low * beyond * beyond, static_cast<double>(k) / places));
    return at;
}

void addGroups(ScatterView& view, const std::vector<SnGroup>& groups, const std::vector<double>& places)
{
    for (const SnGroup& group : groups) {
        if (!group.line || !(group.line->slope > 0))
            continue;
        FittedLine line{.label = group.name, .x = places};
        for (const double cycles : places)
            line.y.push_back(group.line->rangeAt(cycles));
        view.lines.push_back(std::move(line));
    }
}

/// The detail class whose line goes through a place, by slope 3.
std::string classTold(double cycles, double range)
{
    if (!(cycles > 0) || !(range > 0))
        return {};
    return fmt::format("{:.4g} MPa at {} cycles: on the line of class {:.3g}", range, cyclesText(cycles),
                       range * std::cbrt(cycles / classCycles));
}

} // namespace

std::string boundWords(const SnBound& bound)
{
    return bound.by == SnBound::By::Prediction
        ? fmt::format("characteristic, {:.3g} % survive (prediction)", 100 * bound.confidence)
        : fmt::format("characteristic, {:.3g} % survive with {:.3g} % confidence", 100 * bound.survival,
                      100 * bound.confidence);
}

ScatterView snView(const std::vector<SnRun>& runs, const std::optional<SnLine>& line, const SnSettings& settings,
                   const std::vector<SnGroup>& groups)
{
    ScatterView view{.xAxis = {"cycles", Kind::Number, Scale::Log},
                     .yAxis = {settings.meanStress == MeanStress::None ? "stress range" : "stress range at R = −1",
                               Kind::Stress, Scale::Log}};
    view.told = classTold;
    const bool several = groups.size() > 1;
    for (const SnRun& run : runs) {
        ScatterPoint point{.x = run.piece.cycles,
                           .y = run.piece.range,
                           .label = run.input->label,
                           .open = run.piece.open,
                           .left = run.piece.open && !settings.rule.runOuts};
        for (const SnGroup& group : groups)
            if (several && group.name == groupName(*run.input, *runs.front().input))
                point.look = group.name;
        view.points.push_back(std::move(point));
    }
    const auto places = placesOf(runs, settings.reference);
    if (line && line->slope > 0) {
        constexpr double ninety = 1.6449; // a tenth of all outside
        FittedLine mean{.label = "mean line, nine of ten in the band", .x = places};
        FittedLine low{.label = "characteristic"};
        for (const double cycles : places) {
            const double decades = ninety * line->scatter / line->slope;
            mean.y.push_back(line->rangeAt(cycles));
            mean.low.push_back(mean.y.back() * std::pow(10, -decades));
            mean.high.push_back(mean.y.back() * std::pow(10, decades));
            if (const auto range = settings.bound.rangeAt(*line, cycles)) {
                low.x.push_back(cycles);
                low.y.push_back(*range);
            }
        }
        view.lines.push_back(std::move(mean));
        if (!low.x.empty())
            view.lines.push_back(std::move(low));
    }
    if (several)
        addGroups(view, groups, places);
    if (settings.detailClass) {
        FittedLine detail{.label = fmt::format("class {:.3g}", *settings.detailClass), .x = places};
        const double slope = settings.rule.slope.value_or(3);
        for (const double cycles : places)
            detail.y.push_back(*settings.detailClass * std::pow(classCycles / cycles, 1 / slope));
        view.lines.push_back(std::move(detail));
    }
    view.marks.push_back({settings.reference, true, cyclesText(settings.reference)});
    return view;
}

ScatterView stairView(const SetInput& set, const std::optional<Stairs>& stairs)
{
    ScatterView view{.xAxis = {"run", Kind::Number}, .yAxis = {"stress range", Kind::Stress}};
    double number = 0;
    for (const SnRun& run : runsOf(set)) {
        if (run.elsewhere)
            continue;
        view.points.push_back({.x = ++number,
                               .y = run.piece.range,
                               .label = run.input->label,
                               .look = run.piece.open ? "run-out" : "broken"});
    }
    if (stairs)
        view.marks.push_back({stairs->mean, false, fmt::format("mean {:.4g} MPa", stairs->mean)});
    return view;
}

} // namespace fortitor
