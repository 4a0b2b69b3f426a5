// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/run.h"

#include "methods/common/figures.h"
#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

constexpr double quietFor = 1.2; // s of record before the drive starts: where the force stands by itself

StepPlan stepsOf(double size, int count, const Unit& unit, std::string words)
{
    StepPlan plan;
    plan.unit = &unit;
    plan.runs = {{size, count}};
    plan.words = std::move(words);
    return plan;
}

} // namespace

std::optional<double> publishedYieldStrain(const SpecimenInput& input)
{
    const auto E = input.published.find("E");
    const auto yield = input.published.find("yield");
    if (E == input.published.end() || yield == input.published.end() || !(E->second > 0))
        return std::nullopt;
    return yield->second / E->second;
}

double firstOf(const SpecimenInput& input, const std::vector<std::string>& keys)
{
    for (const std::string& key : keys)
        if (const double length = firstLength(input, key); length > 0)
            return length;
    return 0;
}

RatePlan speedsOver(double length, const RateSpec& rule, const ExpectedLoad& expected)
{
    RatePlan plan;
    const double slow = rule.speed > 0 ? rule.speed / length : rule.slow;
    const double fast = rule.speed > 0 || !(rule.changeAt > 0) ? slow : rule.fast;
    plan.yieldSpeed = slow * length;
    plan.afterSpeed = fast * length;
    plan.strainRate = rule.speed > 0 ? 0 : rule.slow;
    plan.changeStrain = rule.changeAt;
    plan.lowest = (1 - rule.window) * slow;
    plan.highest = (1 + rule.window) * slow;
    const double last = expected.elongation > 0 ? 1.2 * expected.elongation : 0.2;
    plan.yieldTime = (rule.changeAt > 0 ? rule.changeAt : last) / slow;
    plan.wholeTime = plan.yieldTime + (rule.changeAt > 0 ? std::max(0.0, last - rule.changeAt) / fast : 0);
    return plan;
}

double extensometerOffAt(const SpecimenInput& input, const ExpectedLoad& expected, const std::string& gaugeField,
                         const std::string& fallback)
{
    const double gauge = firstLength(input, gaugeField);
    if (!(gauge > 0))
        return 0;
    const std::string stated = optionOr(input, "extensometer_off", fallback);
    const auto strain = stated.empty() ? Expected<Quantity>(Quantity{}) : parseQuantity(stated, Kind::Strain);
    double at = strain && strain->base > 0 ? strain->base : 0;
    if (input.instruments.extensionTravel > 0) {
        const double most = 0.9 * input.instruments.extensionTravel / gauge;
        const bool mayGoBeyond = at > most || (at == 0 && 1.2 * expected.elongation > most);
        at = mayGoBeyond ? most : at;
    }
    return at;
}

RunProgram runToBreak(const RatePlan& rates, double removeAt, double endTravel, Kind load)
{
    RunProgram program;
    program.stages.push_back({.words = "Quiet start", .control = Control::Hold, .untilTime = quietFor});
    const RunStage bySpeed{.words = "Slow, " + driveSpeedText(rates.yieldSpeed, load),
                           .control = Control::Speed,
                           .value = rates.yieldSpeed};
    // The frame itself takes up motion while the specimen is elastic: what is wanted of the strain is led
    // by the strain.
    RunStage now = bySpeed;
    if (rates.strainRate > 0 && rates.changeStrain > 0)
        now = {.words = fmt::format("Slow, {} /s by the strain", formatSignificant(rates.strainRate, 2)),
               .control = Control::StrainRate,
               .value = rates.strainRate};
    const RunStage faster{.words = "Past yield, " + driveSpeedText(rates.afterSpeed, load),
                          .control = Control::Speed,
                          .value = rates.afterSpeed};
    const bool changes = rates.changeStrain > 0 || rates.changeTravel > 0;
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
        now.untilTravel = rates.changeTravel;
        program.stages.push_back(now);
        now = faster;
    }
    if (removeAt > 0 && (!changes || removeAt >= rates.changeStrain))
        program.stages.push_back(takeOff(now));
    if (program.stages.back().words == now.words)
        now.words = "On, " + driveSpeedText(now.value, load);
    now.untilTravel = endTravel;
    program.stages.push_back(now);
    program.returns = endTravel > 0;
    program.returnSpeed = 4 * rates.yieldSpeed;
    return program;
}

RunProgram runSteps(double top, int steps, double speed, double holds)
{
    RunProgram program;
    program.stages.push_back({.words = "Quiet start", .control = Control::Hold, .untilTime = quietFor});
    for (int k = 1; k <= steps; ++k) {
        const double force = top * k / steps;
        program.stages.push_back({.words = fmt::format("To step {}, {}", k, formatQuantity(force, *findUnit("kN"), 3)),
                                  .control = Control::Speed,
                                  .value = speed,
                                  .untilForce = force});
        program.stages.push_back(
            {.words = fmt::format("Step {}: held", k), .control = Control::Hold, .untilTime = holds});
    }
    program.returns = true;
    program.returnSpeed = speed;
    return program;
}

StepPlan forceSteps(const SpecimenInput&, const ExpectedLoad& expected, const Unit& unit)
{
    if (!expected.maximum)
        return stepsOf(100 * unit.factor, 0, unit, "the expected load is not known: state it on Plan");
    const double size = roundStep(unit.fromBase(*expected.maximum / 12)) * unit.factor;
    return stepsOf(size, 0, unit, "a dozen or more to the break: " + expected.basis);
}

StepPlan elasticSteps(const SpecimenInput&, const ExpectedLoad& expected, const Unit& unit)
{
    const double top = expected.yield ? 0.5 * *expected.yield : expected.maximum ? 0.5 * *expected.maximum : 0;
    StepPlan plan = top > 0
        ? stepsOf(roundStep(unit.fromBase(top / 10)) * unit.factor, 10, unit, "ten steps, up to half of the yield")
        : stepsOf(unit.factor, 10, unit, "ten steps; with a section they would follow the material");
    plan.returns = true;
    return plan;
}

std::string driveSpeedText(double speed, Kind load, int digits)
{
    if (load == Kind::Torque)
        return formatSignificant(speed * 60 * 180 / std::numbers::pi, digits) + " °/min";
    return formatQuantity(speed, *findUnit("mm/min"), digits);
}

namespace trains {
namespace {

LoadTrain train(const std::string& fixture, std::vector<LinkSpec> below)
{
    LoadTrain t;
    t.fixture = fixture;
    t.links = {{.key = "force", .kind = "cell", .none = "no cell chosen", .form = LinkSpec::Form::Cell}};
    t.links.insert(t.links.end(), below.begin(), below.end());
    return t;
}

const LinkSpec extra{.key = "fixture", .kind = "fixture"};

} // namespace

LoadTrain gripped(const std::string& extensometer)
{
    LoadTrain t =
        train("grips",
              {{.key = "grips", .kind = "grips", .none = "no grips chosen", .form = LinkSpec::Form::Grips}, extra});
    t.extensometer = extensometer;
    return t;
}

LoadTrain pressed(const std::string& extensometer)
{
    LoadTrain t = train(
        "platens",
        {{.key = "platens", .kind = "platens", .none = "no platens chosen", .form = LinkSpec::Form::Platens}, extra});
    t.extensometer = extensometer;
    t.pressed = true;
    return t;
}

LoadTrain onFixture(const std::string& fixture, LinkSpec::Form form, const std::string& words, Kind load)
{
    LoadTrain t = train(fixture, {{.key = "fixture", .kind = "fixture", .none = words, .form = form}});
    t.load = load;
    return t;
}

} // namespace trains

std::optional<double> noArea(const SpecimenInput&)
{
    return 1;
}

} // namespace fortitor
