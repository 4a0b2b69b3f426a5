// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/dropped_plate.h"

#include "sim/random.h"
#include "units/gravity.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

namespace fortitor {
namespace {

/// The force of a plate over its deflection: it climbs, loses some of it at once where it is damaged, and comes back
/// along a steeper way.
struct PlateForce {
    const DroppedKind& kind;
    double stiffness, damageAt;
    double fallTime = 3e-5; // s
    bool damaged = false, back = false;
    double since = 0; ///< s of the loss
    double share = 1;
    double deepest = 0, top = 0;
    double firstLoad = 0;

    double operator()(double deflection, double time)
    {
        if (deflection <= 0)
            return 0;
        if (back) {
            const double left = kind.kept * deepest;
            return deflection <= left ? 0 : top * std::pow((deflection - left) / (deepest - left), kind.power + 0.5);
        }
        const double whole = stiffness * std::pow(deflection, kind.power);
        if (!damaged && whole >= damageAt) {
            damaged = true;
            since = time;
            firstLoad = whole;
        }
        if (damaged)
            share = 1 - kind.lost * std::clamp((time - since) / fallTime, 0.0, 1.0);
        return share * whole;
    }
};

} // namespace

DroppedPlate dropOn(const DroppedKind& kind, double height, std::uint64_t seed)
{
    Random random(seed * 7919 + 29);
    DroppedPlate plate;
    plate.thickness = kind.thickness * (1 + 0.006 * random.normal());
    plate.speed = std::sqrt(2 * standardGravity * height / 1000) * (1 - 0.004 * random.even());
    PlateForce force{kind, kind.stiffness * (1 + 0.03 * random.normal()), kind.damageAt * (1 + 0.05 * random.normal())};
    const double before = 1e-3 + 1e-5 * random.even(); // s in the record ahead of the contact
    const double step = 1 / kind.rate / 100;
    const double omega = 2 * std::numbers::pi * kind.ringing * (1 + 0.04 * random.normal());
    double v = plate.speed, way = 0, energyAtTop = 0, wayAtTop = 0, top = 0; // m/s, m, J, m, N
    double shown = 0, shownRate = 0, contact = 0; // of the cell; s
    plate.record.source = "simulated drop tower, seed " + std::to_string(seed);
    plate.record.channels.reserve(2);
    Column& times = plate.record.add("time").values;
    Column& forces = plate.record.add("force").values;
    long next = 0;
    constexpr double count = 1; // N of the converter
    const double offset = 12 * random.normal();
    for (long i = 0; static_cast<double>(i) * step < kind.length; ++i) {
        const double t = static_cast<double>(i) * step;
        double F = 0;
        if (t >= before && contact == 0) {
            F = force(1000 * way, t);
            if (F > top) {
                top = F;
                wayAtTop = way;
                energyAtTop = 0.5 * kind.mass * (plate.speed * plate.speed - v * v) + kind.mass * standardGravity * way;
            }
            const double before1 = standardGravity - F / kind.mass;
            v += before1 * step;
            way += v * step;
            if (v < 0 && !force.back) {
                force.deepest = 1000 * way;
                force.top = F;
                force.back = true;
            }
            if (force.back && force(1000 * way, t) <= 0)
                contact = t - before;
        }
        // The cell: a mass on a spring, half-implicit steps.
        shownRate += (omega * omega * (F - shown) - 2 * kind.damping * omega * shownRate) * step;
        shown += shownRate * step;
        if (t >= static_cast<double>(next) / kind.rate) {
            times.append(static_cast<double>(next) / kind.rate);
            forces.append(std::round((shown + offset + kind.noise * random.normal()) / count) * count);
            ++next;
        }
    }
    const double absorbed = 0.5 * kind.mass * (plate.speed * plate.speed - v * v) + kind.mass * standardGravity * way;
    plate.truth = {{"F_max", top},
                   {"d_at_max", 1000 * wayAtTop},
                   {"E_at_max", energyAtTop},
                   {"E_a", absorbed},
                   {"E_i", 0.5 * kind.mass * plate.speed * plate.speed},
                   {"v_i", 1000 * plate.speed},
                   {"t_contact", contact}};
    if (force.damaged)
        plate.truth["F_1"] = force.firstLoad;
    plate.dent = std::max(0.05, 0.016 * absorbed * (1 + 0.06 * random.normal()));
    plate.dentRelaxed = plate.dent * random.between(0.78, 0.88);
    plate.damageLength = 7 + 1.15 * absorbed * (1 + 0.05 * random.normal());
    plate.damageWidth = plate.damageLength * random.between(0.62, 0.72);
    return plate;
}

double leftAfter(double energy)
{
    return 0.42 + 0.58 * std::exp(-energy / 17);
}

} // namespace fortitor
