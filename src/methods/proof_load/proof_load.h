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
/// Wear against the new sizes in percent; after the test what has changed.
Expected<SectionShown> partSizes(const SpecimenInput& input, bool afterBreak);
/// "marked" or "unmarked": they are of different lots.
std::string markedOrNot(const SpecimenInput& input);
/// Each part and each kind of them as a sentence.
Expected<Outcome> evaluateProofSet(const SetInput& set);
/// What it must be able to carry: the limit of the fixture or five times the working load where it is pulled to the
/// end, else the proof load.
std::optional<ExpectedMaximum> expectedOfPart(const SpecimenInput& input);
std::optional<RatePlan> partSpeeds(const RateSpec& rule, const SpecimenInput& input, const ExpectedLoad& expected);
/// Slack up, ramp by force rate, hold, back, check of the function, and again; then to the end by displacement.
Expected<RunProgram> proofProgram(const RunInput& run);
/// The same as loads over time.
std::optional<LoadProfile> proofProfile(const RunInput& run);
/// A load as it is typed, with a unit of force, or of mass for its weight.
Expected<double> loadIn(const std::string& text, const std::string& place);

} // namespace fortitor
