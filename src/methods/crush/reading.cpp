// SPDX-License-Identifier: GPL-3.0-or-later
// Force and travel made ready, from the touch on.
#include "methods/crush/crush.h"
#include "methods/crush/figures.h"

#include "curve/maximum.h"
#include "curve/signal.h"
#include "methods/common/figures.h"
#include "methods/common/section.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {

Expected<Done> readChannels(CrushFigures& f)
{
    const Record& record = *f.input.record;
    const Channel* force = record.find("force");
    const Channel* way = record.find("displacement");
    for (const char* other : {"deflection", "extension"})
        if (!way)
            way = record.find(other);
    if (!force || force->values.size() < 10)
        return Problem{f.input.label + ", record",
                       force ? std::to_string(force->values.size()) + " rows" : "no force",
                       "a force channel with at least ten readings",
                       {}};
    const auto compliance = optionQuantity(f.input, "compliance", Kind::Compliance);
    if (!compliance)
        return compliance.problem();
    size_t missed = 0;
    for (size_t i = 0; i < force->values.size(); ++i) {
        const double F = force->values[i];
        const double d = way ? way->values[i] : 0;
        if (std::isnan(F) || std::isnan(d)) {
            ++missed;
            continue;
        }
        f.force.push_back(F);
        f.travel.push_back(d);
    }
    if (missed > 0)
        f.remark("reading-missed", Severity::Note, {},
                 fmt::format("{} of {} rows lack a reading and were left out.", missed, force->values.size()));
    if (f.force.size() < 10)
        return Problem{f.input.label + ", record", std::to_string(f.force.size()) + " whole rows", "at least ten", {}};
    const Extremes ends = extremesOf(f.force);
    bool turned = false;
    if (-ends.least > 3 * std::abs(ends.greatest)) {
        for (double& F : f.force)
            F = -F;
        turned = true;
    }
    const size_t top = indexOfGreatest(f.force);
    if (f.travel[top] < f.travel.front()) {
        for (double& d : f.travel)
            d = -d;
        turned = true;
    }
    if (turned)
        f.remark("sign-turned", Severity::Note, {}, "Compression was recorded as negative; the sign was turned.");
    for (size_t i = 0; i < f.force.size(); ++i)
        f.travel[i] -= compliance->value_or(0) * f.force[i];
    if (!way)
        f.travel.clear();
    return Done{};
}

namespace {

/// A handful of keyed readings has no quiet stretch; its first one may still be the touch itself.
bool startsAtNothing(const CrushFigures& f, const QuietStart& quiet)
{
    return quiet.quiet == 0 && quiet.onset > 0 && std::abs(f.force[quiet.onset - 1]) <= 0.02 * quiet.top;
}

} // namespace

Expected<Done> findTouch(CrushFigures& f)
{
    const auto stated = optionQuantity(f.input, "touch", Kind::Force);
    const auto byHand = optionQuantity(f.input, "touch_at", Kind::Length);
    if (!stated || !byHand)
        return !stated ? stated.problem() : byHand.problem();
    f.noise = noiseOf(f.force);
    const QuietStart quiet = findQuietStart(f.force, f.noise, extremesOf(f.force).greatest);
    const std::string zero = optionOr(f.input, "force_zero", "auto");
    // Before the touch nothing lies on the platens' cell: what the quiet start shows is a zero error.
    if (quiet.quiet > 0 && zero != "none"
        && std::abs(quiet.level)
            > std::max(3 * quiet.scatter / std::sqrt(static_cast<double>(quiet.quiet)), 1e-6 * quiet.top)) {
        for (double& F : f.force)
            F -= quiet.level;
        const bool large = std::abs(quiet.level) > 0.005 * quiet.top;
        if (std::abs(quiet.level) > 0.0005 * quiet.top)
            f.remark("zero-offset", large ? Severity::Caution : Severity::Note, {"F_peak", "W", "F_mean", "efficiency"},
                     fmt::format("{} before the touch was taken off.",
                                 formatQuantity(quiet.level, baseUnit(Kind::Force), 3)),
                     large ? "Zero the force with nothing on the platens before each piece." : "", "force_zero");
    } else if (quiet.quiet == 0 && !startsAtNothing(f, quiet)) {
        f.remark("no-gap", Severity::Caution, {"d_peak", "W", "F_mean", "efficiency"},
                 "The record starts under load: the touch can't be seen.",
                 "Leave a small visible gap before the start.");
    }
    f.touch = startsAtNothing(f, quiet) ? quiet.onset - 1 : quiet.onset;
    if (*stated) {
        f.touch = 0;
        while (f.touch + 1 < f.force.size() && f.force[f.touch] < **stated)
            ++f.touch;
    }
    if (f.travel.empty())
        return Done{};
    double at = f.travel[f.touch];
    // Along the first part of the climb, down to zero force.
    size_t later = f.touch;
    const double high = 0.1 * quiet.top;
    while (later + 1 < f.force.size() && f.force[later] < high)
        ++later;
    if (later > f.touch + 3 && !*stated && quiet.quiet > 0) {
        const LineFit line = fitLine(std::span(f.travel).subspan(f.touch, later - f.touch),
                                     std::span(f.force).subspan(f.touch, later - f.touch));
        if (line.valid() && line.slope > 0)
            at = std::clamp(line.meanX - line.meanY / line.slope, f.travel.front(), f.travel[f.touch]);
    }
    at += byHand->value_or(0);
    if (at > f.travel.front() + 1e-4)
        f.remark("touch-found", Severity::Note, {"d_peak", "W"},
                 fmt::format("{} mm of gap before the touch were taken off{}.", formatFixed(at - f.travel.front(), 3),
                             *byHand ? ", moved by hand" : ""));
    for (double& d : f.travel)
        d -= at;
    return Done{};
}

} // namespace fortitor
