// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/metal_bar.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double dropStrain = 0.0006; // plastic strain over which the upper yield falls
constexpr double recoverStrain = 0.0014; // until the transient is over
constexpr int teeth = 9;

/// Hardening from the start of the plastic range, with its top at `top`.
double hardening(const MetalModel& m, double p, double top)
{
    const double slope = m.quick / m.quickStrain * std::exp(-top / m.quickStrain)
        + m.slow / m.slowStrain * std::exp(-top / m.slowStrain);
    const double bend = slope / (2 * top);
    return m.limit + m.quick * (1 - std::exp(-p / m.quickStrain)) + m.slow * (1 - std::exp(-p / m.slowStrain))
        - bend * p * p;
}

double necked(const MetalModel& m, double p, double top, double height)
{
    const double share = (p - top) / (m.fracture - m.uniform - m.level);
    return height * (1 - m.neckDrop * share * share);
}

double plateauStress(const MetalModel& m, double p)
{
    if (p < dropStrain)
        return m.upper + (m.limit - m.transient - m.upper) * p / dropStrain;
    if (p < recoverStrain)
        return m.limit - m.transient + (m.transient + m.serration) * (p - dropStrain) / (recoverStrain - dropStrain);
    // Saw teeth that come down to the lower yield, the last one exactly where hardening starts.
    const double phase = (p - recoverStrain) / (m.plateau - recoverStrain) * teeth;
    const double tooth = phase - std::floor(phase);
    return m.limit + m.serration * (tooth < 0.8 ? 1 - tooth / 0.8 : (tooth - 0.8) / 0.2);
}

} // namespace

double MetalModel::stress(double plastic) const
{
    const double shift = upper > 0 ? plateau : 0;
    const double top = uniform - shift;
    if (upper > 0 && plastic < plateau)
        return plateauStress(*this, plastic);
    // The last tooth ends at its crest; hardening takes up from the lower yield below it.
    const double p = plastic - shift;
    if (p <= top)
        return hardening(*this, p, top);
    return necked(*this, std::max(p - level, top), top, hardening(*this, top, top));
}

MetalTruth truthOf(const MetalModel& m)
{
    MetalTruth t;
    t.modulus = m.modulus;
    if (m.upper > 0) {
        t.upper = m.upper;
        t.lower = m.limit;
        t.yieldExtension = m.plateau;
    } else {
        t.proof02 = m.stress(0.002);
    }
    t.strength = m.stress(m.uniform);
    t.totalAtMaximum = m.uniform + 0.5 * m.level + t.strength / m.modulus;
    t.plasticAtBreak = m.fracture;
    t.elongation = m.fracture;
    t.necking = 1 - 1 / (1 + m.uniform) * (1 - 3.2 * (m.fracture - m.uniform));
    return t;
}

} // namespace fortitor
