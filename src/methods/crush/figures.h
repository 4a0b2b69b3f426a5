// SPDX-License-Identifier: GPL-3.0-or-later
// What evaluateCrush is put together from.
#pragma once

#include "curve/maximum.h"
#include "methods/common/figures.h"
#include "methods/crush/crush.h"

namespace fortitor {

struct CrushFigures : Figures {
    using Figures::Figures;
    std::vector<double> travel; ///< mm from the touch
    std::vector<double> force; ///< N
    double noise = 0;
    double zeroDoubt = 0;
    size_t touch = 0;
    size_t end = 0; ///< one past the greatest travel
    size_t crushEnd = 0; ///< index up to which the energy counts
    double crush = 0; ///< mm
    PeakFit peak;
};

/// Force and travel made positive, without gaps.
Expected<Done> readChannels(CrushFigures& f);

/// The touch: the first force clear of noise, run back to zero along the climb that follows it.
Expected<Done> findTouch(CrushFigures& f);

} // namespace fortitor
