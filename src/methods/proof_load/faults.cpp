// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/proof_load/proof.h"

#include "curve/signal.h"
#include "methods/common/stress_strain.h"
#include "units/gravity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor::proof {

void lookAtLoads(Proof& p)
{
    Figures& f = p.f;
    const double greatest = p.data.force[indexOfGreatest(p.data.force)];
    if (p.loads.fixture && greatest > 1.02 * *p.loads.fixture)
        f.remark("above-fixture", Severity::Caution, {"F_max", "factor"},
                 fmt::format("{} was reached; the fixture is stated to carry {}.", inN(greatest),
                             inN(*p.loads.fixture)),
                 "Have the fixture looked at before it is used again, or correct its limit.", "fixture_limit");
    if (p.loads.proof && p.cycles.empty()) {
        // Loads that are all off by the weight of a mass: kgf for N or the other way, or pounds.
        constexpr double pound = 4.4482216;
        for (const auto& [times, words] : {std::pair(standardGravity, "kgf were written as N"),
                                           {1 / standardGravity, "N were written as kgf"},
                                           {pound, "lbf were written as N"},
                                           {1 / pound, "N were written as lbf"}}) {
            const auto near = [&, times = times](const ProofPull& one) {
                return std::abs(one.load * times / *p.loads.proof - 1) < 0.03;
            };
            const auto alike = std::ranges::count_if(p.all, near);
            if (alike < std::max<std::ptrdiff_t>(1, p.loads.cycles))
                continue;
            f.remark("force-unit", Severity::Reject, ofThePull,
                     fmt::format("{} load{} of the record would be the proof load if {}.", alike, alike == 1 ? "" : "s",
                                 words),
                     "Check the unit of the force column.");
            break;
        }
    }
    const auto hold = optionQuantity(f.input, "hold", Kind::Time);
    if (hold && *hold && !p.data.time.empty()) {
        for (size_t c = 0; c < p.cycles.size(); ++c) {
            const ProofPull& one = p.cycles[c];
            const double held = one.held ? p.data.time[one.holdLast] - p.data.time[one.holdFirst] : 0;
            constexpr double near = 0.95;
            if (held >= near * **hold)
                continue;
            f.remark(one.held ? "hold-short" : "hold-missing", Severity::Caution, {c == 0 ? "creep_1" : "creep_2"},
                     one.held ? fmt::format("Cycle {} was held for {:.3g} s; {:.3g} s are asked.", c + 1, held, **hold)
                              : fmt::format("Cycle {} was not held at its load; {:.3g} s are asked.", c + 1, **hold),
                     "A part that creeps shows it in the hold only.", "hold");
        }
    }
    // The part is pulled on and on: its way may not go back while the force climbs.
    for (const ProofPull& one : p.all) {
        double furthest = p.data.way[one.from], back = 0;
        for (size_t i = one.from; i <= one.top; ++i) {
            back = std::max(back, furthest - p.data.way[i]);
            furthest = std::max(furthest, p.data.way[i]);
        }
        const double travel = furthest - p.data.way[one.from];
        if (back <= std::max({12 * p.data.wayNoise, 0.02 * travel, 0.01}))
            continue;
        f.remark("way-back", Severity::Caution, ofTheWay,
                 fmt::format("The displacement goes back by {:.2f} mm while the load of {} is put on.", back,
                             inN(one.load)),
                 "Did the transducer slip, or was another channel taken?");
        break;
    }
}

} // namespace fortitor::proof
