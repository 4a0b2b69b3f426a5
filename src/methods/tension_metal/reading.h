// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "curve/maximum.h"
#include "curve/proof_point.h"
#include "curve/straight_part.h"
#include "curve/yield_point.h"
#include "methods/common/stress_strain.h"

#include <optional>

namespace fortitor {

/// What the curve itself says, before it is tied to instruments and names. Strains as recorded.
struct TensionReading {
    StraightPart straight;
    double origin = 0; ///< recorded strain where the modulus line meets zero stress
    double toe = 0; ///< strain between the first load and that origin
    std::optional<YieldDrop> drop;
    std::optional<CurvePoint> proof; ///< at the chosen offset
    std::optional<CurvePoint> proof02; ///< at 0.2 %
    std::vector<std::optional<CurvePoint>> also; ///< at each of the other offsets that are asked for
    std::optional<CurvePoint> underLoad; ///< at 0.5 % total
    PeakFit maximum;
    std::optional<double> hardeningExponent;
    std::optional<double> hardeningCoefficient; ///< MPa
    size_t hardeningPoints = 0;
    std::optional<double> resilience; ///< MJ/m³
    std::optional<double> toughness;
};

/// Reads a stress–strain curve of a metal. Offsets as strain.
Expected<TensionReading> readTensionCurve(const SpecimenInput& input, const StressStrain& data, double offset,
                                          const std::vector<std::pair<std::string, double>>& also = {});

} // namespace fortitor
