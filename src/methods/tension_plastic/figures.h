// SPDX-License-Identifier: GPL-3.0-or-later
// What evaluateTensionPlastic is put together from.
#pragma once

#include "curve/first_maximum.h"
#include "methods/common/figures.h"
#include "methods/tension_plastic/tension_plastic.h"

namespace fortitor {

/// What the curve says. Strains as recorded.
struct PlasticReading {
    std::optional<StraightPart> part;
    double origin = 0;
    std::optional<FirstMaximum> yield;
    PeakFit maximum;
    bool broken = false;
    bool passed = true; ///< the maximum was passed
    size_t last = 0;
};

struct PlasticFigures : Figures {
    using Figures::Figures;
    PlasticReading reading;
    SharedDoubts doubts{Term::constant(1), Term::constant(1)};
    bool strainCounts = true; ///< the strain is one of the material
};

void strains(PlasticFigures& f, const StressStrain& data);

/// Crosshead over the grip distance, from where its own straight part meets zero force; or the
/// extensometer up to yield and crosshead increments after it.
void nominalStrain(PlasticFigures& f, const StressStrain& data, double compliance);

} // namespace fortitor
