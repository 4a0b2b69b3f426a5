// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "sim/random.h"

#include <cmath>
#include <vector>

namespace fortitor::test {

struct Curve {
    std::vector<double> x; ///< strain
    std::vector<double> y; ///< MPa
};

/// σ = E·ε up to `limit`, then a straight hardening of slope `tangent`; strain stepped evenly.
inline Curve bilinear(double E, double limit, double tangent, double lastStrain, size_t points, double noise = 0,
                      double strainShift = 0, std::uint64_t seed = 1)
{
    Curve c;
    Random random(seed);
    for (size_t i = 0; i < points; ++i) {
        const double e = lastStrain * static_cast<double>(i) / static_cast<double>(points - 1);
        const double kink = limit / E;
        c.x.push_back(e + strainShift);
        c.y.push_back((e < kink ? E * e : limit + tangent * (e - kink)) + noise * random.normal());
    }
    return c;
}

/// Ramberg–Osgood: ε = σ/E + 0.002·(σ/R)^m, stepped in stress. Its 0.2 % proof stress is R exactly.
inline Curve rambergOsgood(double E, double R, double m, double lastStress, size_t points)
{
    Curve c;
    for (size_t i = 0; i < points; ++i) {
        const double s = lastStress * static_cast<double>(i) / static_cast<double>(points - 1);
        c.x.push_back(s / E + 0.002 * std::pow(s / R, m));
        c.y.push_back(s);
    }
    return c;
}

} // namespace fortitor::test
