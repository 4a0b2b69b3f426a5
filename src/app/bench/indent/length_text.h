// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

#include <cmath>

namespace fortitor {

/// A small length as one reads it under a lens: in µm below 0.2 mm.
inline QString lengthText(double mm)
{
    return std::abs(mm) > 0 && std::abs(mm) < 0.2 ? QString::number(mm * 1000, 'g', 3) + " µm"
                                                  : QString::number(mm, 'g', 3) + " mm";
}

/// 1, 2 or 5 times a power of ten, at most that long.
inline double roundLength(double most)
{
    const double power = std::pow(10, std::floor(std::log10(most)));
    for (const double step : {5.0, 2.0, 1.0})
        if (step * power <= most)
            return step * power;
    return power;
}

} // namespace fortitor
