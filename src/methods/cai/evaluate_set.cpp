// SPDX-License-Identifier: GPL-3.0-or-later
// What a set of energies tells: the strength that is left, over the energy of the blow.
#include "methods/cai/cai.h"

#include "methods/common/figures.h"

#include <algorithm>

namespace fortitor {

Expected<Outcome> evaluateCaiSet(const SetInput& set)
{
    Outcome out;
    ScatterView view;
    view.xAxis = {"energy of the blow", Kind::Energy};
    view.yAxis = {"strength after the blow", Kind::Stress};
    for (size_t i = 0; i < set.inputs.size(); ++i) {
        if (!set.outcomes[i])
            continue;
        const Result* strength = set.outcomes[i]->find("F_CAI");
        const auto blow = parseQuantity(noteOf(*set.inputs[i], caiKeys::blow), Kind::Energy);
        if (!strength || !strength->value || !blow)
            continue;
        view.points.push_back({.x = blow->base, .y = *strength->value, .label = set.inputs[i]->label});
    }
    if (view.points.empty())
        return out;
    const auto undamaged = set.inputs.empty() ? std::optional<double>() : [&]() -> std::optional<double> {
        const auto it = set.inputs.front()->options.find("undamaged");
        if (it == set.inputs.front()->options.end())
            return std::nullopt;
        const auto read = parseQuantity(it->second, Kind::Stress);
        return read ? std::optional(read->base) : std::nullopt;
    }();
    if (undamaged)
        view.marks.push_back({*undamaged, false, "undamaged"});
    // Joined in order of energy, through the mean of plates struck alike: nothing is fitted, it only leads the eye.
    std::ranges::sort(view.points, {}, &ScatterPoint::x);
    FittedLine line{.label = "mean of those struck alike"};
    for (size_t i = 0; i < view.points.size();) {
        constexpr double alike = 0.03;
        double x = 0, y = 0;
        size_t n = 0;
        const size_t first = i;
        for (; i < view.points.size() && view.points[i].x <= view.points[first].x * (1 + alike); ++i, ++n) {
            x += view.points[i].x;
            y += view.points[i].y;
        }
        line.x.push_back(x / static_cast<double>(n));
        line.y.push_back(y / static_cast<double>(n));
    }
    if (line.x.size() > 1)
        view.lines.push_back(std::move(line));
    out.views.emplace_back(std::move(view));
    return out;
}

} // namespace fortitor
