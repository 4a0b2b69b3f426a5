// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/units.h"

#include "units/quantity.h"

namespace fortitor {

Units& Units::instance()
{
    static Units one;
    return one;
}

QString shownQuantity(double base, Kind kind, int digits)
{
    return QString::fromStdString(formatQuantity(base, displayUnit(kind, base, units()), digits));
}

void Units::setSystem(UnitSystem system)
{
    if (system == system_)
        return;
    system_ = system;
    emit changed();
}

} // namespace fortitor
