// SPDX-License-Identifier: GPL-3.0-or-later
// Acceptance rules as people enter them, each with its source: none of them is law by itself.
#pragma once

#include "units/expected.h"

#include <optional>
#include <string>

namespace fortitor {

struct AcceptanceRule {
    std::string name{}, source{}, place{}, edition{}, date{};
    /// What the least breaking load is a multiple of.
    enum class Against { WorkingLoad, GrossMass, Force } against = Against::WorkingLoad;
    std::optional<double> grossMass{}; ///< kg
    std::optional<double> breakFactorMin{};
    std::optional<double> breakForceMin{}; ///< N
    std::optional<double> proofFactor{};
    std::optional<double> hold{}; ///< s
    std::optional<double> setMax{}; ///< mm, of any proof cycle
    std::optional<int> cycles{};
    std::string function{}; ///< the worst state that is accepted after a proof load; empty: not asked
};

/// Why a rule can't be cited: it has no name, no source, asks for nothing, or a figure makes no sense.
std::optional<Problem> ruleProblem(const AcceptanceRule& rule);

struct RuleVerdict {
    std::string name{};
    enum class Says { Met, Failed, Open } says = Says::Open;
    std::string text{}; ///< each thing asked, and what was found
};

/// "met", "failed", "open", as files have it.
std::string_view saysName(RuleVerdict::Says says);

} // namespace fortitor
