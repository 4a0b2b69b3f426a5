// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/law.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

Law metalLaw(const MetalModel& m)
{
    Law law;
    law.modulus = m.modulus;
    const auto put = [&](double stress, double plastic) {
        law.strain.push_back(stress / m.modulus + plastic);
        law.stress.push_back(stress);
    };
    const double elastic = m.upper > 0 ? m.upper : m.limit;
    for (int i = 0; i <= 400; ++i)
        put(elastic * i / 400, 0);
    // Fine where the curve bends, coarser later.
    for (double p = 2e-6; p < m.fracture; p += std::clamp(p / 200, 2e-6, 2e-5))
        put(m.stress(p), p);
    put(m.stress(m.fracture), m.fracture);
    return law;
}

/// Samples a function of strain, finely at first.
template <class F> Law sampled(F stress, double end, double modulus, double finest)
{
    Law law;
    law.modulus = modulus;
    for (double e = 0; e < end; e += std::clamp(e / 200, finest, end / 2000)) {
        law.strain.push_back(e);
        law.stress.push_back(stress(e));
    }
    law.strain.push_back(end);
    law.stress.push_back(stress(end));
    return law;
}

double softening(const SofteningModel& m, double e)
{
    if (e <= m.strainAtTop) {
        const double power = m.modulus * m.strainAtTop / m.strength;
        return m.strength * (1 - std::pow(1 - e / m.strainAtTop, power));
    }
    const double share = (e - m.strainAtTop) / (m.end - m.strainAtTop);
    return m.strength * (1 - (1 - m.rest) * share * share * (3 - 2 * share));
}

} // namespace

double PlasticModel::stress(double e) const
{
    if (e <= yieldStrain) {
        const double power = modulus * yieldStrain / yieldStress;
        return yieldStress * (1 - std::pow(1 - e / yieldStrain, power));
    }
    const double fallen = 4 * yieldStrain;
    if (e <= fallen) {
        const double share = (e - yieldStrain) / (fallen - yieldStrain);
        return yieldStress + (drawStress - yieldStress) * share * share * (3 - 2 * share);
    }
    if (e <= drawStrain)
        return drawStress;
    return drawStress + (breakStress - drawStress) * (e - drawStrain) / (breakStrain - drawStrain);
}

double SoftModel::stress(double e) const
{
    if (stiffening > 0)
        return modulus / 3 * (1 + e - 1 / ((1 + e) * (1 + e))) + stiffening * e * e * e;
    if (plateau <= 0) {
        const double stretch = 1 - e;
        return modulus / 3 * (1 / (stretch * stretch) - stretch);
    }
    // The walls give way over a strain of their own, then carry on; pressed together they stiffen.
    const double carried = plateau * (1 - std::exp(-modulus * e / plateau)) + rise * e;
    const double late = std::max(0.0, e - together);
    return carried + 60 * plateau * late * late;
}

double ShellModel::force(double d) const
{
    if (d <= peakTravel)
        return peak * d / peakTravel;
    const double fall = 1.4 * peakTravel;
    double plain = plateau;
    if (d < peakTravel + fall) {
        const double share = (d - peakTravel) / fall;
        plain = peak + (plateau - peak) * share;
    }
    const double waves = d > peakTravel + fall
        ? plateau * wave * std::sin(2 * std::numbers::pi * (d - peakTravel - fall) / waveLength)
        : 0;
    const double last = d > together ? climb * (d - together) * (d - together) : 0;
    return plain + waves + last;
}

double BeamModel::force(double d) const
{
    const double straight = limit / slope;
    if (d <= straight)
        return slope * d;
    const double rest = strength - limit;
    return limit + rest * (1 - std::exp(-(d - straight) * slope / rest));
}

double PartModel::force(double travel) const
{
    const double straight = knee / stiffness;
    if (travel <= straight)
        return stiffness * travel;
    const double rest = strength - knee;
    return knee + rest * (1 - std::exp(-(travel - straight) * hardening * stiffness / rest));
}

double ShaftModel::torque(double twist) const
{
    const double yield = yieldTorque / stiffness;
    if (twist <= yield)
        return stiffness * twist;
    // The plastic ring outside the elastic core of radius c:
    // T/Ty = (4/3·(1 − c³) + (c⁴ − k⁴)/c)/(1 − k⁴).
    const double whole = 1 - std::pow(bore, 4);
    const double core = std::max(yield / twist, bore);
    const double elastic = core > bore ? (std::pow(core, 4) - std::pow(bore, 4)) / core : 0;
    return yieldTorque * (4.0 / 3.0 * (1 - std::pow(core, 3)) + elastic) / whole + hardening * (twist - yield);
}

Law lawOf(const SpecimenModel& model)
{
    struct Visit {
        Law operator()(const MetalModel& m) const { return metalLaw(m); }
        Law operator()(const PlasticModel& m) const
        {
            return sampled([&](double e) { return m.stress(e); }, m.breakStrain, m.modulus, 2e-6);
        }
        Law operator()(const LaminateModel& m) const
        {
            // The strain where the strength is reached.
            const double e = m.stiffening == 0
                ? m.strength / m.modulus
                : (-1 + std::sqrt(1 + 4 * m.stiffening * m.strength / m.modulus)) / (2 * m.stiffening);
            return sampled([&](double s) { return m.stress(s); }, e, m.modulus, 1e-6);
        }
        Law operator()(const CoreModel& m) const
        {
            return sampled([&](double e) { return m.modulus * e; }, m.strength / m.modulus, m.modulus, 1e-5);
        }
        Law operator()(const SofteningModel& m) const
        {
            Law law = sampled([&](double e) { return softening(m, e); }, m.end, m.modulus, 1e-6);
            law.breaks = false;
            return law;
        }
        Law operator()(const SoftModel& m) const
        {
            Law law = sampled([&](double e) { return m.stress(e); }, m.end, m.modulus, 1e-5);
            law.breaks = m.stiffening > 0;
            return law;
        }
        Law operator()(const ShellModel& m) const
        {
            Law law = sampled([&](double d) { return m.force(d); }, m.end, m.peak / m.peakTravel, 1e-3);
            // The peak is a corner: it must be one of the points.
            const auto after = std::ranges::lower_bound(law.strain, m.peakTravel);
            law.stress.insert(law.stress.begin() + (after - law.strain.begin()), m.peak);
            law.strain.insert(after, m.peakTravel);
            law.breaks = false;
            return law;
        }
        Law operator()(const BeamModel& m) const
        {
            return sampled([&](double d) { return m.force(d); }, m.breakDeflection, m.slope, 1e-3);
        }
        Law operator()(const ShaftModel& m) const
        {
            return sampled([&](double t) { return m.torque(t); }, m.breakTwist, m.stiffness, 1e-4);
        }
        Law operator()(const PartModel& m) const
        {
            Law law = sampled([&](double x) { return m.force(x); }, m.breakTravel, m.stiffness, 2e-4);
            // What sets for good comes late on the climb, and all of it well below the knee.
            for (size_t i = 0; i < law.strain.size(); ++i) {
                const double share = std::min(1.0, law.stress[i] / (0.5 * m.knee));
                law.strain[i] += m.seating * share * share * share * share;
            }
            return law;
        }
    };
    return std::visit(Visit{}, model);
}

BarPath barPath(const Law& law, double length, double section, double compliance)
{
    BarPath path;
    for (size_t i = 0; i < law.strain.size(); ++i) {
        const double crosshead = law.strain[i] * length + compliance * law.stress[i] * section;
        if (!path.crosshead.empty() && crosshead <= path.crosshead.back()) {
            // The crosshead can't go back: the specimen is at the later state when it comes here.
            path.stress.back() = law.stress[i];
            path.strain.back() = law.strain[i];
            continue;
        }
        path.crosshead.push_back(crosshead);
        path.stress.push_back(law.stress[i]);
        path.strain.push_back(law.strain[i]);
    }
    return path;
}

double chordOf(const Law& law, double from, double to)
{
    const auto at = [&](double e) {
        const auto i = static_cast<size_t>(std::ranges::lower_bound(law.strain, e) - law.strain.begin());
        if (i == 0 || i >= law.strain.size())
            return law.stress[std::min(i, law.stress.size() - 1)];
        const double share = (e - law.strain[i - 1]) / (law.strain[i] - law.strain[i - 1]);
        return law.stress[i - 1] + share * (law.stress[i] - law.stress[i - 1]);
    };
    return (at(to) - at(from)) / (to - from);
}

} // namespace fortitor
