// SPDX-License-Identifier: GPL-3.0-or-later
// What a careful reader would ask of an S–N line.
#pragma once

#include "methods/common/figures.h"
#include "methods/fatigue_sn/groups.h"

namespace fortitor {

void checkLine(Figures& f, const std::vector<SnRun>& runs, const SnLine& line, const SnSettings& settings);
/// What run-outs and a free or fixed slope do to the figures.
void tellChoices(Figures& f, const std::vector<SnRun>& runs, const SnLine& line, const SnSettings& settings);

inline const std::vector<std::string> ofTheLine{"m", "log_a", "s_logN", "S_ref", "S_char"};

} // namespace fortitor
