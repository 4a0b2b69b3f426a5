// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/drop_weight/without_ringing.h"

#include <cstddef>
#include <vector>

namespace fortitor {

constexpr double lossTime = 1e-4; // s within which a sudden loss happens
constexpr double lossShare = 0.08; // of the force before it

/// A sudden loss of force: readings [last + 1, after) are the fall.
struct SuddenLoss {
    size_t last = 0; ///< the last reading before it
    size_t after = 0; ///< the first behind it
    double top = 0; ///< force before it, without ringing
    double fall = 0; ///< N
    double fallDoubt = 0; ///< of it, N, standard
    double doubt = 0; ///< of `top`, N, standard
    bool sure = false; ///< 8 % or more; less may be damage or not
};

/// Where sudden losses are looked for, in readings.
struct LossSearch {
    size_t begin = 0, end = 0; ///< of the contact
    size_t climbEnd = 0; ///< behind it only losses near the top count: on the way back nothing breaks any more
    size_t width = 1; ///< readings in which a loss happens
    double peak = 0; ///< N
    double noise = 0; ///< of a reading, N
    bool asResonance = true; ///< held against the cell's own step response too
};

/// Falls of 8 % against the way the force went (5 % and more: doubtful ones), which the ringing does not make up.
std::vector<SuddenLoss> findLosses(const WithoutRinging& quiet, const LossSearch& search);

} // namespace fortitor
