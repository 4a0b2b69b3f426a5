// SPDX-License-Identifier: GPL-3.0-or-later
#include "plan/program.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace fortitor {
namespace {

constexpr double quietFor = 1.2; // s of record before the drive starts: where the force stands by itself
constexpr std::array<std::string_view, 6> names{"hold", "speed", "force-rate", "strain-rate", "position", "cycles"};

} // namespace

std::string_view controlName(Control control)
{
    return names[static_cast<size_t>(control)];
}

std::optional<Control> controlNamed(std::string_view name)
{
    const auto it = std::ranges::find(names, name);
    return it == names.end() ? std::nullopt : std::optional(static_cast<Control>(it - names.begin()));
}

RunProgram planProgram(const RatePlan& rates, double removeAt, double endTravel)
{
    RunProgram program;
    program.stages.push_back({.words = "Quiet start", .control = Control::Hold, .untilTime = quietFor});
    const RunStage bySpeed{.words = "Slow, " + formatQuantity(rates.yieldSpeed, *findUnit("mm/min"), 3), .control = Control::Speed, .value = rates.yieldSpeed};
    // The frame itself takes up motion while the specimen is elastic: what is wanted of the strain is led
    // by the strain.
    RunStage now = bySpeed;
    if (rates.strainRate > 0 && rates.changeStrain > 0)
        now = {.words = fmt::format("Slow, {} /s by the strain", formatSignificant(rates.strainRate, 2)), .control = Control::StrainRate, .value = rates.strainRate};
    RunStage faster{.words = "Past yield, " + formatQuantity(rates.afterSpeed, *findUnit("mm/min"), 3), .control = Control::Speed, .value = rates.afterSpeed};
    const bool changes = rates.changeStrain > 0;
    const auto takeOff = [&](RunStage stage) {
        stage.untilStrain = removeAt;
        stage.prompt = "Take the extensometer off now.";
        stage.act = "extensometer-off";
        return stage;
    };
    if (changes && removeAt > 0 && removeAt < rates.changeStrain) {
        program.stages.push_back(takeOff(now));
        now = bySpeed; // nothing shows the strain any more
    }
    if (changes) {
        now.untilStrain = rates.changeStrain;
        program.stages.push_back(now);
        now = faster;
        now.untilStrain = 0;
    }
    if (removeAt > 0 && (!changes || removeAt >= rates.changeStrain))
        program.stages.push_back(takeOff(now));
    if (program.stages.back().words == now.words)
        now.words = "On, " + formatQuantity(now.value, *findUnit("mm/min"), 3);
    now.untilTravel = endTravel;
    program.stages.push_back(now);
    program.returns = endTravel > 0;
    program.returnSpeed = 4 * rates.yieldSpeed;
    return program;
}

RunProgram planSteps(double top, int steps, double speed, double holds)
{
    RunProgram program;
    program.stages.push_back({.words = "Quiet start", .control = Control::Hold, .untilTime = quietFor});
    for (int k = 1; k <= steps; ++k) {
        const double force = top * k / steps;
        program.stages.push_back({.words = fmt::format("To step {}, {}", k, formatQuantity(force, *findUnit("kN"), 3)), .control = Control::Speed, .value = speed, .untilForce = force});
        program.stages.push_back({.words = fmt::format("Step {}: held", k), .control = Control::Hold, .untilTime = holds});
    }
    program.returns = true;
    program.returnSpeed = speed;
    return program;
}

std::optional<Problem> programProblem(const RunProgram& program)
{
    if (program.stages.empty())
        return Problem{"program", "no stage", "at least one", {}};
    for (size_t i = 0; i < program.stages.size(); ++i) {
        const RunStage& s = program.stages[i];
        const std::string place = fmt::format("program, stage {}", i + 1);
        for (const double figure : {s.value, s.low, s.high, s.count, s.untilStrain, s.untilForce, s.untilTravel, s.untilTime})
            if (!std::isfinite(figure))
                return Problem{place, "a figure that is not a number", "finite figures", {}};
        const bool ends = s.untilStrain > 0 || s.untilForce > 0 || s.untilTravel > 0 || s.untilTime > 0 || s.control == Control::Position || s.control == Control::Cycles;
        if (!ends && i + 1 < program.stages.size())
            return Problem{place, "no end", "a strain, force, travel or time that ends it", "Only the last stage may run on, to the break."};
        if (s.control == Control::Hold && !(s.untilTime > 0))
            return Problem{place, "a hold without a time", "a time in s", {}};
        if (s.control != Control::Hold && s.value == 0 && s.control != Control::Position)
            return Problem{place, "a rate of zero", "a rate", {}};
        if (s.control == Control::Cycles && (!(s.high > s.low) || !(s.count > 0) || !(s.value > 0)))
            return Problem{place, "cycles without a range, a number or a frequency", "low below high, a count and Hz", {}};
    }
    return std::nullopt;
}

} // namespace fortitor
