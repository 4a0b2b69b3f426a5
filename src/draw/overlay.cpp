// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/overlay.h"

#include "curve/signal.h"

#include <algorithm>

namespace fortitor {

Overlay overlayOf(const std::vector<const CurveView*>& views, UnitSystem system)
{
    Overlay o;
    if (views.empty())
        return o;
    o.xKind = views.front()->xAxis.kind;
    o.yKind = views.front()->yAxis.kind;
    for (const CurveView* v : views) {
        if (!o.fits(*v)) {
            o.mixed = true;
            continue;
        }
        const Extremes x = extremesOf(v->x);
        o.minX = std::min(o.minX, x.least);
        o.maxX = std::max(o.maxX, x.greatest);
        o.maxY = std::max(o.maxY, extremesOf(v->y).greatest);
    }
    const Unit& xUnit = displayUnit(o.xKind, o.maxX, system);
    const Unit& yUnit = displayUnit(o.yKind, o.maxY, system);
    o.xScale = 1 / xUnit.factor;
    o.yScale = 1 / yUnit.factor;
    const auto title = [](const CurveAxis& axis, const Unit& unit) {
        return QString::fromStdString(axis.title + ", " + std::string(unit.symbol));
    };
    o.xTitle = title(views.front()->xAxis, xUnit);
    o.yTitle = title(views.front()->yAxis, yUnit);
    return o;
}

} // namespace fortitor
