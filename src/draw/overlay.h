// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/curve_view.h"
#include "methods/display.h"

#include <QString>

#include <vector>

namespace fortitor {

/// Several curves laid over each other: their common extent, and the units it is shown in.
struct Overlay {
    double minX = 0, maxX = 0, maxY = 0; ///< base values
    double xScale = 1, yScale = 1; ///< base values to the units shown
    QString xTitle, yTitle; ///< "strain, %"
    bool mixed = false; ///< some curve has other axes than the first, and is left out
    [[nodiscard]] bool fits(const CurveView& view) const
    {
        return view.xAxis.kind == xKind && view.yAxis.kind == yKind;
    }
    Kind xKind = Kind::Strain, yKind = Kind::Stress;
};

Overlay overlayOf(const std::vector<const CurveView*>& views, UnitSystem system);

} // namespace fortitor
