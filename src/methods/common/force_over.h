// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/common/figures.h"

#include <string>
#include <vector>

namespace fortitor {

/// Force over a second channel without gaps, the force turned so that the greatest is positive.
struct ForceOver {
    std::vector<double> x, force;
    std::vector<double> third; ///< of a further channel, where one was asked for
};

/// Rows that lack a reading are left out, with a remark on `symbols`. Refused: no force, or fewer than thirty whole rows.
Expected<ForceOver> forceOver(Figures& f, const Channel& x, const std::vector<std::string>& symbols,
                              const Channel* third = nullptr);

} // namespace fortitor
