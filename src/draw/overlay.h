// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/plot.h"
#include "methods/view.h"

#include <QString>

#include <vector>

namespace fortitor {

/// One of several curves laid over each other.
struct OverlaidCurve {
    const CurveView* view = nullptr;
    QString label{};
    size_t kind = 0;
    bool strong = false; ///< the one at hand
    bool aside = false; ///< left out of the set
};

/// The same of observations.
struct OverlaidPoints {
    const ScatterView* view = nullptr;
    QString label{};
    size_t kind = 0;
    bool strong = false;
    bool aside = false;
};

struct OverlayPlot {
    Plot plot;
    bool mixed = false; ///< some curve has other axes than the first, and is left out
};

/// Their plot, in the units that suit the greatest of them; those left out of the set do not count for its extent.
/// The views must outlive it.
OverlayPlot overlayOf(const std::vector<OverlaidCurve>& curves, UnitSystem system);
/// Observations over a length are joined; those left out of a fit are not drawn.
OverlayPlot overlayOfPoints(const std::vector<OverlaidPoints>& all, UnitSystem system);

} // namespace fortitor
