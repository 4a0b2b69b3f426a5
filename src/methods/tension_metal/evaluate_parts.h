// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/common/figures.h"
#include "methods/tension_metal/reading.h"

#include <optional>

namespace fortitor {

/// The figures of one metal bar while they are being worked out.
struct MetalFigures : Figures {
    using Figures::Figures;

    double offset = 0.002;
    std::string proofSymbol = "Rp0.2";
    std::vector<std::pair<std::string, double>> alsoProofs; ///< asked for by requirements: symbol and offset
    std::optional<TensionReading> reading;
    bool yieldDrops = false;
    bool maximumSeen = true; ///< the greatest force was passed
    bool strainLost = false; ///< the strain ends before the greatest force
};

/// A and Z from the fitted halves; A by subdivided marks when that is asked for.
Expected<Done> elongationByHand(MetalFigures& figures);
/// A at another gauge length (ISO 2566-1, -2), when it is asked for. After Rm is known.
Expected<Done> convertElongation(MetalFigures& figures);
/// All that the record gives.
Expected<Done> figuresFromCurve(MetalFigures& figures, StressStrain data);
/// Upper and lower yield, proof strengths.
void yields(MetalFigures& f, const StressStrain& data, const SharedDoubts& doubts);
/// Where readings stand far apart the true top, or the last strain, may lie between two of them.
void remarkSampling(MetalFigures& f, const StressStrain& data);
/// Marks that a person put elsewhere. Each is told in a note.
Expected<Done> moveMarks(MetalFigures& f, StressStrain& data, TensionReading& reading);
/// The curve as read becomes the view; the data are used up.
void drawCurve(MetalFigures& f, StressStrain&& data);
/// The checks of methods basis, section 1, that look at several figures together.
void checkMetal(MetalFigures& figures);
/// Each figure that stayed empty gets a remark that says why.
void nameMissing(MetalFigures& figures);

} // namespace fortitor
