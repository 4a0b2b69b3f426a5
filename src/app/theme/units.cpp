// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/units.h"

namespace fortitor {

Units& Units::instance()
{
    static Units one;
    return one;
}

void Units::setSystem(UnitSystem system)
{
    if (system == system_)
        return;
    system_ = system;
    emit changed();
}

} // namespace fortitor
