// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/force_over.h"

#include "curve/signal.h"

#include <fmt/format.h>

#include <cmath>

namespace fortitor {

Expected<ForceOver> forceOver(Figures& f, const Channel& x, const std::vector<std::string>& symbols,
                              const Channel* third)
{
    constexpr size_t fewest = 30;
    const Channel* force = f.input.record->find("force");
    const size_t n = force ? force->values.size() : 0;
    if (n < fewest)
        return Problem{f.input.label + ", record",
                       force ? std::to_string(n) + " rows" : "no force",
                       "a force channel with at least thirty readings",
                       {}};
    ForceOver out;
    out.force.reserve(n);
    out.x.reserve(n);
    if (third)
        out.third.reserve(n);
    size_t missed = 0;
    for (size_t i = 0; i < n; ++i) {
        const double F = force->values[i], at = x.values[i], t = third ? third->values[i] : 0;
        if (std::isnan(F) || std::isnan(at) || std::isnan(t)) {
            ++missed;
            continue;
        }
        out.force.push_back(F);
        out.x.push_back(at);
        if (third)
            out.third.push_back(t);
    }
    if (out.force.size() < fewest)
        return Problem{
            f.input.label + ", record", std::to_string(out.force.size()) + " whole rows", "at least thirty", {}};
    if (missed > 0)
        f.remark("reading-missed", missed * 100 > n ? Severity::Caution : Severity::Note, symbols,
                 fmt::format("{} of {} rows lack a reading and were left out.", missed, n));
    const Extremes ends = extremesOf(out.force);
    if (-ends.least > 3 * std::abs(ends.greatest)) {
        for (double& F : out.force)
            F = -F;
        f.remark("sign-turned", Severity::Note, {}, "The force was recorded as negative; the sign was turned.");
    }
    return out;
}

} // namespace fortitor
