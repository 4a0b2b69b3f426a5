// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/curve_view.h"

#include "units/quantity.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

bool isStressStrain(const CurveView& view)
{
    return view.xAxis.kind == Kind::Strain && view.yAxis.kind == Kind::Stress;
}

std::string valueText(Kind kind, double base, int decimals)
{
    if (kind == Kind::Strain)
        return formatFixed(base * 100, decimals + 1) + " %";
    if (kind == Kind::Stress)
        return formatFixed(base, 2) + " MPa";
    return formatFixed(base, decimals) + " " + std::string(baseUnit(kind).symbol);
}

size_t nearestStop(const CurveMark& mark, double x)
{
    const auto it =
        std::ranges::min_element(mark.stops, {}, [&](const auto& stop) { return std::abs(stop.first - x); });
    return static_cast<size_t>(it - mark.stops.begin());
}

} // namespace

const CurveMark* CurveView::find(const std::string& id) const
{
    const auto it = std::ranges::find(marks, id, &CurveMark::id);
    return it == marks.end() ? nullptr : &*it;
}

std::optional<CurveView> loadExtension(const CurveView& view)
{
    if (!isStressStrain(view) || !(view.section > 0) || !(view.length > 0))
        return std::nullopt;
    CurveView out = view;
    out.xAxis = view.other.first;
    out.yAxis = view.other.second;
    out.straight = {};
    out.offset.reset();
    for (double& v : out.x)
        v *= view.length;
    for (double& v : out.y)
        v *= view.section;
    out.slope *= view.section / view.length;
    out.straightLow *= view.section;
    out.straightHigh *= view.section;
    out.toe *= view.length;
    for (CurveMark& m : out.marks) {
        m.x *= view.length;
        m.y *= view.section;
        m.option.clear();
    }
    for (CurveArea& a : out.areas) {
        a.from *= view.length;
        a.to *= view.length;
    }
    return out;
}

std::optional<CurveView> trueCurve(const CurveView& view)
{
    if (!isStressStrain(view) || !(view.uniform > 0))
        return std::nullopt;
    CurveView out = view;
    out.xAxis.title = "true strain";
    out.yAxis.title = "true stress";
    out.straight = {};
    out.offset.reset();
    out.areas.clear();
    size_t n = 0;
    while (n < view.x.size() && view.x[n] <= view.uniform)
        ++n;
    out.x.resize(n);
    out.y.resize(n);
    for (size_t i = 0; i < n; ++i) {
        out.y[i] = view.y[i] * (1 + view.x[i]);
        out.x[i] = std::log1p(view.x[i]);
    }
    std::erase_if(out.marks, [&](const CurveMark& m) { return m.x > view.uniform * 1.0001; });
    for (CurveMark& m : out.marks) {
        m.y *= 1 + m.x;
        m.x = std::log1p(m.x);
        m.option.clear();
    }
    return out;
}

std::string straightOptionText(const CurveView& view, double low, double high)
{
    if (view.straight.inX)
        return view.straight.word + valueText(view.xAxis.kind, low / view.slope, 3) + " "
            + valueText(view.xAxis.kind, high / view.slope, 3);
    return view.straight.word + valueText(view.yAxis.kind, low, 2) + " " + valueText(view.yAxis.kind, high, 2);
}

std::string markOptionText(const CurveView& view, double x)
{
    return valueText(view.xAxis.kind, x, 3);
}

std::string markOptionText(const CurveView& view, const CurveMark& mark, double x)
{
    return mark.stops.empty() ? markOptionText(view, x) : mark.stops[nearestStop(mark, x)].second;
}

double stopBeside(const CurveMark& mark, double x, int steps)
{
    if (mark.stops.empty())
        return x;
    const int at = static_cast<int>(nearestStop(mark, x)) + steps;
    return mark.stops[static_cast<size_t>(std::clamp(at, 0, static_cast<int>(mark.stops.size()) - 1))].first;
}

} // namespace fortitor
