// SPDX-License-Identifier: GPL-3.0-or-later
// What evaluateFlexure is put together from.
#pragma once

#include "curve/step_limit.h"
#include "methods/common/figures.h"
#include "methods/common/stepped.h"
#include "methods/flexure/flexure.h"

namespace fortitor {

struct Beam {
    Term b, h, L, a; ///< mm; a from a support to its load
};

struct FlexureFigures : Figures {
    using Figures::Figures;
    static inline const std::vector<std::string> ofTheLine{"MOE",       "sigma_pl", "F_pl",
                                                           "MOE_point", "MOE_true", "MOE_12"};
    static inline const std::vector<std::string> all{"MOE",       "sigma_pl", "F_pl",   "MOR",   "W_max",
                                                     "MOE_point", "MOE_true", "MOR_12", "MOE_12"};
    std::optional<Beam> beam;
    std::vector<double> force; ///< N, where both were read
    std::vector<double> deflection; ///< mm
    std::vector<size_t> number; ///< of the reading, from 1
    double greatest = 0; ///< N, over all readings of the load
    size_t greatestNumber = 0;
    bool greatestHasDeflection = false;
    bool fromCrosshead = false;
    double division = 0.01;
    std::vector<std::string> without; ///< results that do not apply, told together
    std::string whyWithout;
    void leave(std::vector<std::string> symbols, const std::string& why)
    {
        without.insert(without.end(), symbols.begin(), symbols.end());
        whyWithout += (whyWithout.empty() ? "" : " ") + why;
    }
    Term doubt = Term::constant(1);
};

Expected<Done> readBeam(FlexureFigures& f);
Expected<Done> readSteps(FlexureFigures& f);

/// σ = M/W with M = F·a/2 and W = b·h²/6: 3Fa/(bh²).
Term stressOf(const Beam& k, const Term& force);
Expected<std::optional<StepLimit>> straightPart(FlexureFigures& f);
void lineFigures(FlexureFigures& f, const StepLimit& limit, double ratio);

/// What each other reading as the limit would give.
void limitChoices(FlexureFigures& f, const StepLimit& now);

/// Held against the table of species: a difference is a remark, never a verdict.
void againstSpecies(FlexureFigures& f);
void density(FlexureFigures& f);
Expected<Done> moisture(FlexureFigures& f);

} // namespace fortitor
