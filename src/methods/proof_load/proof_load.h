// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"

namespace fortitor {

/// Proof load and strength of parts with a rated working load (methods basis, "Proof load").
Method proofLoad();

/// Proof cycles and, where it was made, the pull to the end. Refused: loads that do not read or are none.
Expected<Outcome> evaluateProofLoad(const SpecimenInput& input);

/// The loads as the options tell them, N; nothing where they are not stated.
struct ProofLoads {
    std::optional<double> working{}, proof{}, fixture{};
    int cycles = 2;
};
/// A mass stands for its weight: 2 t is 19 613.3 N. Refused: what does not read, is not above zero, a fixture that is
/// weaker than the proof load, fewer than one cycle or more than twenty.
Expected<ProofLoads> proofLoadsOf(const SpecimenInput& input);
/// A load as it is typed, with a unit of force, or of mass for its weight.
Expected<double> loadIn(const std::string& text, const std::string& place);

} // namespace fortitor
