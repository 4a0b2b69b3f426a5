// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Compression after impact of a plate in its fixture (methods basis, "Drop weight and compression after impact").
/// Compression counts as positive.
Method compressionAfterImpact();

/// Strength, chord modulus, bending and what is left of the strength. Refused: a section of zero, options that do not
/// read.
Expected<Outcome> evaluateCai(const SpecimenInput& input);

/// Notes of a plate that come from the job before in its chain.
namespace caiKeys {
constexpr const char* blow = "impact_energy";
constexpr const char* dent = "impact_dent";
constexpr const char* first = "impact_first"; ///< first damage load
} // namespace caiKeys

/// Strength over the energy of the blow, of the plates whose blow is known.
Expected<Outcome> evaluateCaiSet(const SetInput& set);

} // namespace fortitor
