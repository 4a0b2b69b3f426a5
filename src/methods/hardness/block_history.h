// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "judge/individuals_chart.h"
#include "methods/hardness/spacing.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace fortitor {

/// What a piece, or a reference block, tells of the machine that it was read on.
struct TesterWork {
    std::string tester{}; ///< as it is noted; empty: not noted
    std::string scale{}; ///< "HRC", "HV 1", "HBW 5/750"
    std::string fitted{}; ///< indenter, ball and force
    std::string anvil{}; ///< as it is noted; empty: not noted
    std::string when{}; ///< yyyy-MM-ddTHH:mm of its first reading; empty: not known
    bool piece = true; ///< no reference block
    bool check = false; ///< a reference block with its figures
    double block = 0; ///< its number
    double error = 0, spread = 0;
    double errorLimit = 0, spreadLimit = 0;
    bool within = true;
    std::vector<IndentPlace> places{}; ///< of its indents, where they are known
};

/// The scale of a piece with its force, as checks are told apart by.
std::string testedScale(const HardnessSetting& setting);

/// Nothing of what is not read yet. `outcome` is needed of blocks only.
std::optional<TesterWork> testerWorkOf(const SpecimenInput& input, const Outcome* outcome);
/// The anvil it is noted to stand on; empty: not noted.
std::string anvilOf(const SpecimenInput& input);
/// Whether a specimen is a reference block.
bool isBlock(const SpecimenInput& input);

/// The checks of one machine on one scale, in the order of time.
struct BlockHistory {
    IndividualsChart chart; ///< of the errors
    std::vector<std::string> words; ///< what it tells: limits passed, drift, runs; the latest first
    bool drifts = false; ///< now, while still within the limits
    double slope = 0; ///< of the error a check, where it drifts
    std::optional<double> checksLeft; ///< until the limit is reached at that slope
};
BlockHistory blockHistory(std::span<const TesterWork> checks);

/// Of pieces and checks of one machine and scale in the order of time: the places of pieces that were read after the last
/// good check before a bad one.
std::vector<size_t> readInDoubt(std::span<const TesterWork> work);

} // namespace fortitor
