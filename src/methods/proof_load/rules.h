// SPDX-License-Identifier: GPL-3.0-or-later
// Acceptance rules as people enter them, each with its source: none of them is law by itself.
#pragma once

#include "methods/outcome.h"
#include "methods/proof_load/proof_load.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

struct ProofRule {
    std::string name{}, source{}, place{}, edition{}, date{};
    /// What the least breaking load is a multiple of.
    enum class Against { WorkingLoad, GrossMass, Force } against = Against::WorkingLoad;
    std::optional<double> grossMass{}; ///< kg
    std::optional<double> breakFactorMin{};
    std::optional<double> breakForceMin{}; ///< N
    std::optional<double> proofFactor{};
    std::optional<double> hold{}; ///< s
    std::optional<double> setMax{}; ///< mm, of either cycle
    std::optional<int> cycles{};
    std::string function{}; ///< "free", "tool": no worse than that after each load
};

/// Why a rule can't be cited: it has no name, no source, asks for nothing, or a figure is none.
std::optional<Problem> ruleProblem(const ProofRule& rule);

/// N that the part must carry by the rule; nothing where it asks for no breaking load, or what it is a multiple of is not
/// known.
std::optional<double> leastBreak(const ProofRule& rule, std::optional<double> workingLoad);

struct RuleVerdict {
    std::string name{};
    enum class Says { Met, Failed, Open } says = Says::Open;
    std::string text{}; ///< each thing asked, and what was found
};

/// An "at least" meets what lies below it and leaves open what lies above.
RuleVerdict judgeRule(const ProofRule& rule, const Outcome& outcome, const SpecimenInput& input);

/// The name of the one that asks for the greater breaking load; empty where they can't be compared, or are alike.
std::string stricter(const ProofRule& a, const ProofRule& b, std::optional<double> workingLoad);

} // namespace fortitor
