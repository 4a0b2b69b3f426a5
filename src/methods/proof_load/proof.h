// SPDX-License-Identifier: GPL-3.0-or-later
// A part while its record is read.
#pragma once

#include "methods/common/figures.h"
#include "methods/proof_load/cycles.h"
#include "methods/proof_load/proof_load.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor::proof {

inline constexpr double usualOffset = 0.2; // mm

inline const std::vector<std::string> ofTheWay{"k",       "set_1", "set_2",  "slack", "creep_1",
                                               "creep_2", "W_h",   "d_knee", "d_max"};
inline const std::vector<std::string> ofTheCycles{"k", "set_1", "set_2", "slack", "creep_1", "creep_2", "W_h"};
inline const std::vector<std::string> ofThePull{"F_max", "F_break", "d_max", "factor"};

/// A specimen while its record is read.
struct Proof {
    Figures& f;
    ProofLoads loads;
    ProofData data;
    std::vector<ProofPull> cycles; ///< put on and taken off at the proof load
    std::optional<ProofPull> pull; ///< to the end
    std::vector<ProofPull> all; ///< loads, of whatever kind
    double start = 0; ///< mm, of the way before the first load
    Term cell; ///< doubt of the force, as a factor
};

/// "15.69 kN", "812.4 N".
std::string inN(double force);
/// "15.7 kN", shorter.
std::string inKilonewton(double force);
/// The result where it has a value.
const Result* valueOf(const Outcome& outcome, const char* symbol);

/// Remarks on loads that can't be as they are told: units taken for each other, a hold that is missing, a way that goes
/// back, a fixture that carried more than it may.
void lookAtLoads(Proof& p);
/// The curve with its cycles, levels and marks.
void drawProof(Proof& p);
/// What was found between the loads, beside the curve.
void tellChecks(Proof& p);

} // namespace fortitor::proof
