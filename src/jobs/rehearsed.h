// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/document.h"
#include "sim/rehearsal.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// What a specimen keeps of its rehearsal, to stand beside the real curve.
struct Rehearsed {
    std::string date;
    bool byTravel = false; ///< x in mm, else strain
    bool asForce = false; ///< y in N, else MPa
    std::vector<double> x, low, middle, high;
    std::vector<std::string> words;
};

/// Six digits of each figure: a forecast is not known better.
Json rehearsedJson(const Rehearsed& rehearsed);
/// Nothing when there is none, or when its columns don't go together.
std::optional<Rehearsed> rehearsedOf(const Json& specimen);

} // namespace fortitor
