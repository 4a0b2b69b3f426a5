// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/toe_correction.h"

#include "units/quantity.h"

#include <fmt/format.h>

namespace fortitor {

void remarkToe(Figures& f, const StressStrain& data, const StraightPart& s, double origin, double maximum,
               const std::vector<std::string>& symbols)
{
    const double toe = origin - data.strain[data.onset];
    if (toe > 2e-5)
        f.remark("toe-corrected", Severity::Note, symbols,
                 fmt::format("Toe-corrected by {} % strain.", formatSignificant(toe * 100, 2)),
                 "Slack in the grips. The dashed line in the magnifier shows where zero now is.");
    const double foot = s.line.at(data.strain[s.begin]);
    if (toe > 1e-4 && foot > 0.3 * maximum)
        f.remark("toe-large", Severity::Caution, symbols,
                 fmt::format("The toe reaches up to {} % of the maximum.", formatFixed(100 * foot / maximum, 0)),
                 "Look at grips and alignment; the modulus stands on what is left.");
}

} // namespace fortitor
