// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/method.h"
#include "methods/tension_metal/reading.h"

#include <optional>

namespace fortitor {

/// The figures of one specimen while they are being worked out.
struct MetalFigures {
    explicit MetalFigures(const SpecimenInput& from) : input(from) {}

    const SpecimenInput& input;
    Outcome outcome;
    std::optional<Term> section;
    double offset = 0.002;
    std::string proofSymbol = "Rp0.2";
    std::optional<TensionReading> reading;
    bool yieldDrops = false;

    void set(const std::string& symbol, const Term& term);
    [[nodiscard]] bool has(const std::string& symbol) const;
    void remark(const std::string& code, Severity severity, std::vector<std::string> symbols, const std::string& text, const std::string& advice = {}, const std::string& field = {});
};

const Unit& MPa();

/// A and Z from the fitted halves.
void elongationByHand(MetalFigures& figures);
/// A at another gauge length (ISO 2566-1, -2), when it is asked for. After Rm is known.
Expected<Done> convertElongation(MetalFigures& figures);
/// All that the record gives.
void figuresFromCurve(MetalFigures& figures, StressStrain data);
/// The checks of methods basis, section 1, that look at several figures together.
void checkMetal(MetalFigures& figures);
/// Each figure that stayed empty gets a remark that says why.
void nameMissing(MetalFigures& figures);

} // namespace fortitor
