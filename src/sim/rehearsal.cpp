// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/rehearsal.h"

#include "methods/common/live_curve.h"
#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>

namespace fortitor {
namespace {

constexpr int bandPoints = 120;

double median(std::vector<double> values)
{
    std::ranges::sort(values);
    const size_t n = values.size();
    return n == 0 ? 0 : n % 2 ? values[n / 2] : 0.5 * (values[n / 2 - 1] + values[n / 2]);
}

/// Grips, ease, zero, balance, guard: what a person does before the start.
Expected<Done> makeReady(TestFrame& frame, const RehearsalPlan& plan, bool pressed)
{
    if (auto done = frame.zero(); !done)
        return done;
    if (pressed) {
        if (auto done = frame.centre(); !done)
            return done;
    } else {
        for (auto done : {frame.closeTop(), frame.closeBottom()})
            if (!done)
                return done;
        frame.step();
        if (auto done = frame.ease(0.001 * plan.frame.cell); !done)
            return done;
        for (double left = 120 * plan.frame.rate; left > 0 && frame.status().easing; --left)
            frame.step();
    }
    if (auto done = frame.putExtensometerOn(); !done)
        return done;
    return frame.setGuard(true);
}

struct RateWatch {
    double inside = 0;
    double outside = 0;
    /// Over the last second; the drive comes up to it first.
    void look(const LiveCurve& curve, const RehearsalPlan& plan, double inStage)
    {
        if (plan.highest <= 0 || inStage < 2 || curve.empty())
            return;
        if (const auto rate = curve.strainRate())
            (*rate >= plan.lowest && *rate <= plan.highest ? inside : outside) += 1;
    }
};

Expected<RehearsedRun> runOne(const RehearsalPlan& plan, int number)
{
    TestFrame frame(plan.frame);
    MountSpec mount = plan.mount;
    mount.seed = mount.seed * 1000003 + 17 + static_cast<std::uint64_t>(number); // a sister, never the specimen itself
    if (auto done = frame.mount(mount); !done)
        return done.problem();
    const CatalogueEntry& entry = *findCatalogueEntry(mount.specimen);
    const bool pressed = entry.height > 0 || entry.fixture == "bending";
    if (auto ready = makeReady(frame, plan, pressed); !ready)
        return ready.problem();
    (void)frame.takeEvents();
    if (auto started = frame.start(plan.program, plan.limits); !started)
        return started.problem();
    const auto column = [&](std::string_view name) {
        return static_cast<size_t>(std::ranges::find(frame.channels(), name) - frame.channels().begin());
    };
    const size_t force = 1;
    const size_t extension = column(entry.gauges ? "strain" : "extension");
    const size_t back = entry.gauges ? column("strain_2") : extension;
    const size_t way = column("displacement");
    const double length = mount.length > 0 ? mount.length : entry.parallelLength;
    const double gauge = plan.byTravel ? 0
        : entry.gauges                 ? 1
        : mount.gaugeLength > 0        ? mount.gaugeLength
        : entry.extensometer > 0       ? entry.extensometer
                                       : length;
    LiveCurve curve(mount.section > 0 ? mount.section : 1, gauge, plan.byTravel ? 1 : length);
    RehearsedRun run;
    RateWatch rates;
    double waited = 0;
    double stageBegan = -1;
    const double longest = 2 * plan.limits.time + 600;
    for (long i = 0; frame.status().state != DriveState::Ended && frame.time() - frame.startTime() < longest; ++i) {
        const std::vector<double>& row = frame.step();
        if (!frame.bar()->broken())
            curve.add(row[0], row[force],
                      entry.gauges                 ? 0.5 * (row[extension] + row[back])
                          : extension < row.size() ? row[extension]
                                                   : 0,
                      row[way] - (plan.byTravel ? frame.startPosition() : 0), frame.status().extensometer);
        run.peak = std::max(run.peak, row[force]);
        if (frame.status().stage == 1 && frame.status().state == DriveState::Running && i % 5 == 0) {
            stageBegan = stageBegan < 0 ? row[0] : stageBegan;
            if (const double strain = curve.strain().back();
                strain > 0.3 * plan.yieldStrain && strain < 0.8 * plan.yieldStrain)
                rates.look(curve, plan, row[0] - stageBegan);
        }
        if (frame.status().state == DriveState::Waiting) {
            waited += 1 / plan.frame.rate;
            const auto stage = static_cast<size_t>(frame.status().stage);
            if (!run.offAt && plan.program.stages[stage].act == "extensometer-off") {
                run.offAt = frame.time() - frame.startTime();
                run.offStrain = curve.strain().back();
            }
            if (waited >= plan.answerTime) {
                waited = 0;
                (void)frame.answer();
            }
        }
    }
    run.ended = frame.status().ended;
    run.words = frame.status().endedWords;
    run.seconds = frame.time() - frame.startTime();
    run.last = frame.position() - frame.startPosition();
    if (rates.inside + rates.outside > 0)
        run.inWindow = rates.inside / (rates.inside + rates.outside);
    run.x = curve.strain();
    run.y = curve.stress();
    return run;
}

/// The way up to the greatest x: what comes behind it goes back.
size_t forward(const RehearsedRun& run)
{
    return static_cast<size_t>(std::ranges::max_element(run.x) - run.x.begin()) + 1;
}

double valueAt(const RehearsedRun& run, size_t end, double x)
{
    const auto first = run.x.begin();
    const auto it =
        std::partition_point(first, first + static_cast<std::ptrdiff_t>(end), [&](double v) { return v < x; });
    const auto i = static_cast<size_t>(it - first);
    if (i == 0 || i >= end)
        return run.y[std::min(i, end - 1)];
    const double span = run.x[i] - run.x[i - 1];
    return span > 0 ? run.y[i - 1] + (run.y[i] - run.y[i - 1]) * (x - run.x[i - 1]) / span : run.y[i];
}

void makeBand(Rehearsal& r)
{
    std::vector<double> ends;
    for (const RehearsedRun& run : r.runs)
        if (!run.x.empty())
            ends.push_back(*std::ranges::max_element(run.x));
    const double end = ends.empty() ? 0 : *std::ranges::min_element(ends);
    if (!(end > 0))
        return;
    for (int i = 0; i <= bandPoints; ++i) {
        // Closer together at the foot, where it bends.
        const double share = static_cast<double>(i) / bandPoints;
        const double x = end * share * share;
        std::vector<double> values;
        for (const RehearsedRun& run : r.runs)
            if (!run.x.empty())
                values.push_back(valueAt(run, forward(run), x));
        r.x.push_back(x);
        r.low.push_back(*std::ranges::min_element(values));
        r.high.push_back(*std::ranges::max_element(values));
        r.middle.push_back(median(values));
    }
}

std::string duration(double seconds)
{
    return seconds < 90 ? fmt::format("{:.0f} s", seconds)
                        : fmt::format("{:.0f} min {:02.0f} s", std::floor(seconds / 60), std::fmod(seconds, 60));
}

std::string between(double low, double high, const std::function<std::string(double)>& words)
{
    const std::string a = words(low);
    const std::string b = words(high);
    return a == b ? a : a + " to " + b;
}

} // namespace

Expected<std::optional<Rehearsal>> rehearse(const RehearsalPlan& plan, const Progress& progress)
{
    Rehearsal rehearsal;
    for (int i = 0; i < plan.runs; ++i) {
        if (progress && !progress(static_cast<double>(i) / plan.runs))
            return std::optional<Rehearsal>();
        auto run = runOne(plan, i);
        if (!run)
            return run.problem();
        rehearsal.runs.push_back(std::move(*run));
    }
    makeBand(rehearsal);
    return std::optional(std::move(rehearsal));
}

std::vector<std::string> rehearsalWords(const Rehearsal& r, const StopLimits& limits)
{
    std::vector<std::string> words;
    if (r.runs.empty())
        return words;
    const auto range = [&](auto get) {
        const auto [low, high] = std::ranges::minmax(r.runs, {}, get);
        return std::pair(get(low), get(high));
    };
    std::map<std::string, int> ends;
    for (const RehearsedRun& run : r.runs)
        ++ends[run.ended == "broken" ? "breaks" : run.ended == "end" ? "goes to its travel and back" : run.words];
    std::string how;
    for (const auto& [what, count] : ends)
        how += (how.empty() ? "" : "; ")
            + (ends.size() == 1 ? "Each of " + std::to_string(r.runs.size()) + " "
                                : std::to_string(count) + " of " + std::to_string(r.runs.size()) + " ")
            + (what.starts_with("stopped") ? "is " : "") + what;
    words.push_back(how + ".");
    const auto [shortest, longest] = range([](const RehearsedRun& x) { return x.seconds; });
    words.push_back("Takes " + between(shortest, longest, duration)
                    + ", with some seconds for each thing that is asked.");
    const auto [least, most] = range([](const RehearsedRun& x) { return x.peak; });
    std::string peak =
        "Greatest force " + between(least, most, [](double f) { return formatQuantity(f, *findUnit("kN"), 3); });
    if (limits.force > 0)
        peak += fmt::format(", {:.0f} % of the force limit", 100 * most / limits.force);
    words.push_back(peak + ".");
    std::vector<double> off;
    std::vector<double> strain;
    double inside = 1;
    bool rated = false;
    for (const RehearsedRun& run : r.runs) {
        if (run.offAt) {
            off.push_back(*run.offAt);
            strain.push_back(*run.offStrain);
        }
        if (run.inWindow) {
            rated = true;
            inside = std::min(inside, *run.inWindow);
        }
    }
    if (!off.empty())
        words.push_back("The extensometer comes off after "
                        + between(*std::ranges::min_element(off), *std::ranges::max_element(off), duration)
                        + fmt::format(", at {:.2f} % strain.", 100 * median(strain)));
    if (rated)
        words.push_back(inside > 0.995
                            ? "The rate stays in its window on the straight part."
                            : fmt::format("The rate is out of its window for up to {:.0f} % of the straight part.",
                                          100 * (1 - inside)));
    return words;
}

} // namespace fortitor
