// SPDX-License-Identifier: GPL-3.0-or-later
// A method as small as one can be: a spring's rate from a few loads and lengths, with a fit over the set. It is kept
// here to prove what adding a method takes, and is not one of the program's.
#pragma once

#include "curve/line_fit.h"
#include "methods/common/figures.h"

#include <cmath>

namespace fortitor::spring {

inline Method method();

/// The rate as the slope of load on length, N/mm, with the scatter about the line as its doubt.
inline std::optional<Term> rate(const std::vector<double>& length, const std::vector<double>& load,
                                const std::string& symbol)
{
    const LineFit fit = fitLine(length, load);
    if (fit.n < 3 || !(fit.slope > 0))
        return std::nullopt;
    return Term::leaf(symbol, fit.slope, *findUnit("N/mm"), fit.slope * fit.relativeSlopeError(),
                      "scatter about the line", "slope of load on length");
}

/// What was read, as points.
inline ScatterView pointsOf(const SpecimenInput& input)
{
    ScatterView view{.xAxis = {"length", Kind::Length}, .yAxis = {"load", Kind::Force}};
    const Channel* x = input.record ? input.record->find("displacement") : nullptr;
    const Channel* y = input.record ? input.record->find("force") : nullptr;
    for (size_t i = 0; x && y && i < x->values.size(); ++i)
        if (std::isfinite(x->values[i]) && std::isfinite(y->values[i]))
            view.points.push_back({.x = x->values[i], .y = y->values[i], .label = input.label});
    return view;
}

inline std::optional<Term> rateOf(const ScatterView& view, const std::string& symbol)
{
    std::vector<double> x, y;
    for (const ScatterPoint& p : view.points) {
        x.push_back(p.x);
        y.push_back(p.y);
    }
    return rate(x, y, symbol);
}

inline Outcome outcomeOf(ScatterView view, const std::string& symbol, ResultSpec::Of of)
{
    SpecimenInput none;
    Figures f(none);
    f.begin(method(), of);
    if (const auto c = rateOf(view, symbol))
        f.set(symbol, *c);
    f.sayMissing({symbol}, "too-few-readings", "Three readings or more make a line.", "Read more steps.");
    f.outcome.views.emplace_back(std::move(view));
    return std::move(f.outcome);
}

inline Expected<Outcome> evaluate(const SpecimenInput& input)
{
    return outcomeOf(pointsOf(input), "c", ResultSpec::Of::Specimen);
}

inline Expected<Outcome> evaluateSet(const SetInput& set)
{
    ScatterView all{.xAxis = {"length", Kind::Length}, .yAxis = {"load", Kind::Force}};
    for (const Outcome* one : set.outcomes)
        if (const ScatterView* view = one ? one->view<ScatterView>() : nullptr)
            all.points.insert(all.points.end(), view->points.begin(), view->points.end());
    return outcomeOf(std::move(all), "c_set", ResultSpec::Of::Set);
}

inline Method method()
{
    Method m{.id = "spring", .name = "spring rate", .standards = "own procedure", .shapes = {"coil"}};
    m.results = {
        {.symbol = "c", .name = "rate", .unit = "N/mm", .headline = true},
        {.symbol = "c_set", .name = "rate of the set", .unit = "N/mm", .headline = true, .of = ResultSpec::Of::Set}};
    m.intake = {.ways = {Intake::By::Steps},
                .columns = {{.name = "force", .label = "Load", .unit = "N"},
                            {.name = "displacement", .label = "Length", .unit = "mm"}},
                .stepped = "force",
                .across = "displacement"};
    m.channels = {{"force"}, {"displacement"}};
    m.evaluate = evaluate;
    m.evaluateSet = evaluateSet;
    return m;
}

} // namespace fortitor::spring
