// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/load_said.h"

#include "units/quantity.h"
#include "units/gravity.h"

#include <cmath>

namespace fortitor {

std::string loadSaid(double load, double rated)
{
    const double mass = load / standardGravity; // kg
    std::string words = formatQuantity(load, *findUnit("kN"), 3) + " · "
        + formatQuantity(mass, std::abs(mass) >= 1000 ? *findUnit("t", Kind::Mass) : *findUnit("kg"), 3);
    if (rated > 0)
        words += " · " + formatSignificant(load / rated, 3) + " ×";
    return words;
}

} // namespace fortitor
