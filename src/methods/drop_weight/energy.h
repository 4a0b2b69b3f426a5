// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/common/figures.h"
#include "methods/drop_weight/drop_weight.h"
#include "units/gravity.h"

namespace fortitor {

/// Where the speed at the contact comes from.
enum class SpeedBy { Flags, Stated, Height, Thickness, Nothing };

struct ContactSpeed {
    SpeedBy by = SpeedBy::Nothing;
    std::optional<Term> speed{}; ///< mm/s
    std::optional<Term> mass{}; ///< kg
};

/// E_nominal is set, and what it is held against said.
void nominalEnergy(Figures& f, const DropPlan& plan);

/// The speed at the contact: by flags, as stated, or of a free fall. `contact`: when it begins, s of the record.
Expected<ContactSpeed> contactSpeed(Figures& f, const DropPlan& plan, std::optional<double> contact);

} // namespace fortitor
