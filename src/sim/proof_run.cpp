// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/method.h"
#include "plan/load_train.h"
#include "sim/catalogue.h"
#include "sim/test_frame.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// What a person finds between and after the loads: what has hardly set moves free, what has yielded needs a tool, what
/// is bent for good is stuck.
std::string foundAfter(const PartModel& m, double greatest)
{
    const double rise = greatest > m.knee ? (greatest - m.knee) / (m.strength - m.knee) : 0;
    return rise <= 0 ? "free" : rise < 0.6 ? "tool" : "stuck";
}

} // namespace

SimulatedRun simulateProof(const CatalogueEntry& entry, SimulatedSpecimen specimen, std::uint64_t seed, double points)
{
    SimulatedRun run;
    run.specimen = std::move(specimen);
    run.record.source = "simulated frame, " + entry.name + ", seed " + std::to_string(seed);
    const Method& method = *findMethod(entry.method);
    SpecimenInput input;
    input.options = entry.options;
    const ExpectedLoad expected = expectedLoad(method, input);
    const auto rates = planRates(method, input, expected);
    const auto program = rates ? method.program({input, expected, *rates})
                               : Expected<RunProgram>(Problem{"program", "no speed", "a working load", {}});
    if (!program)
        return run;
    FrameSpec spec;
    spec.cell = entry.cell;
    points = points > 0 ? points : entry.points;
    spec.rate = std::clamp(std::round(points / rates->wholeTime), 10.0, 5000.0);
    TestFrame frame(spec);
    StopLimits limits;
    limits.force = entry.cell;
    limits.forceDrop = 0.4;
    bool ready = static_cast<bool>(frame.mount(run.specimen.bar, run.specimen.conditions, seed * 104729 + 3));
    ready = ready && frame.closeTop() && frame.zero() && frame.closeBottom() && frame.setGuard(true)
        && frame.start(*program, limits);
    Column& time = (run.record.channels.reserve(3), run.record.add("time").values);
    Column& force = run.record.add("force").values;
    Column& way = run.record.add("displacement").values;
    const double begun = frame.time();
    double greatest = 0, waited = 0;
    const double longest = 4 * rates->wholeTime + 600;
    constexpr double checked = 3; // s that the check takes in the record
    while (ready && frame.status().state != DriveState::Ended && frame.time() - begun < longest) {
        const std::vector<double>& row = frame.step();
        time.append(row[0] - begun);
        force.append(row[1]);
        way.append(row[2]);
        greatest = std::max(greatest, row[1]);
        if (frame.status().state != DriveState::Waiting)
            continue;
        waited += 1 / spec.rate;
        if (waited < checked)
            continue;
        waited = 0;
        if (const std::string& note = program->stages[static_cast<size_t>(frame.status().stage)].note; !note.empty())
            run.specimen.notes[note] = foundAfter(std::get<PartModel>(run.specimen.model), greatest);
        (void)frame.answer();
    }
    const bool broke = frame.bar() && frame.bar()->broken();
    const auto& part = std::get<PartModel>(run.specimen.model);
    run.specimen.notes["function_end"] = broke ? "stuck" : foundAfter(part, greatest);
    run.specimen.notes["end"] = broke ? "broken" : "stopped";
    // What was not reached can't be read.
    if (!broke)
        run.specimen.truth.erase("F_max");
    if (greatest < part.knee)
        run.specimen.truth.erase("F_knee");
    return run;
}

} // namespace fortitor
