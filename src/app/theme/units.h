// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/display.h"

#include <QObject>
#include <QString>

namespace fortitor {

/// The units people see, one choice for the whole program. Nothing that is kept depends on it.
class Units : public QObject {
    Q_OBJECT
public:
    static Units& instance();
    [[nodiscard]] UnitSystem system() const { return system_; }
    void setSystem(UnitSystem system);

signals:
    void changed();

private:
    UnitSystem system_ = UnitSystem::SI;
};

/// A quantity as people see it now, with its unit: "24.6 kN", "5530 lbf".
QString shownQuantity(double base, Kind kind, int digits = 3);

inline UnitSystem units()
{
    return Units::instance().system();
}

} // namespace fortitor
