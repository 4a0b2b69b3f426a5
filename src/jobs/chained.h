// SPDX-License-Identifier: GPL-3.0-or-later
// A chain of two jobs on the same plates: struck by the drop weight, then compressed (contract, "chain").
#pragma once

#include "jobs/job.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// What the drop weight job knows of a plate. J, mm, N.
struct BlowOf {
    std::string label;
    std::optional<double> energy{}, dent{}, first{};
};

/// What the job before in the chain found on a plate, in words; empty where nothing is noted: "28.16 J, dent 0.45 mm".
std::string chainWords(const Specimen& specimen);

/// The number of the job after that one in a chain.
std::string chainedNumber(const std::string& number);

/// The compression job of struck plates: their labels and sizes, the energy of each blow as a note, `chain` to where
/// they come from. `struck`: the drop weight job as it is kept.
Json compressionOf(const Json& struck, const std::vector<BlowOf>& blows, const std::string& number);

} // namespace fortitor
