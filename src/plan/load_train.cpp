// SPDX-License-Identifier: GPL-3.0-or-later
#include "plan/load_train.h"

#include "methods/common/run.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

std::optional<double> published(const SpecimenInput& input, const char* symbol)
{
    const auto it = input.published.find(symbol);
    return it == input.published.end() ? std::nullopt : std::optional(it->second);
}

std::string loadText(double load, Kind kind)
{
    return formatQuantity(load, *findUnit(kind == Kind::Torque ? "N·m" : "kN"), 3);
}

} // namespace

ExpectedLoad expectedLoad(const Method& method, const SpecimenInput& input)
{
    ExpectedLoad expected;
    expected.elongation = published(input, "A").value_or(0);
    const OptionSpec* option = method.optionOf(OptionSpec::Role::ExpectedLoad);
    const auto stated = option ? input.options.find(option->key) : input.options.end();
    if (stated != input.options.end() && !stated->second.empty())
        if (const auto load = parseQuantity(stated->second, method.train.load); load && load->base > 0) {
            expected.maximum = load->base;
            expected.stated = true;
            expected.basis = "as stated on Plan";
            return expected;
        }
    if (method.expect) {
        if (const auto worked = method.expect(input)) {
            expected.maximum = worked->load;
            if (worked->yield > 0)
                expected.yield = worked->yield;
            expected.basis = worked->basis;
        } else {
            expected.basis = fmt::format(
                "sizes not measured yet, or no strength known for this material; state the expected {} on Plan",
                kindName(method.train.load));
        }
        return expected;
    }
    const auto strength = published(input, "Rm");
    if (!strength || !method.live.stress) {
        expected.basis = option ? "no strength known for this material; state the expected force on Plan"
                                : "no strength known for this material; name it on Plan";
        return expected;
    }
    const auto area = method.loadedArea ? method.loadedArea(input) : std::nullopt;
    if (!area) {
        expected.basis = "the section is not measured yet";
        return expected;
    }
    expected.maximum = *strength * *area; // MPa · mm² = N
    if (const auto yield = published(input, "yield"))
        expected.yield = *yield * *area;
    expected.basis = fmt::format("Rm {} MPa ({}) on {}", formatSignificant(*strength, 3), input.publishedSource,
                                 formatQuantity(*area, baseUnit(Kind::Area)));
    return expected;
}

std::vector<TrainMargin> trainMargins(const std::vector<TrainLink>& train, const ExpectedLoad& expected)
{
    std::vector<TrainMargin> margins;
    for (const TrainLink& link : train)
        margins.push_back({link, expected.maximum && link.capacity > 0 ? *expected.maximum / link.capacity : 0});
    return margins;
}

std::optional<TrainLink> weakestLink(const std::vector<TrainLink>& train)
{
    std::optional<TrainLink> weakest;
    for (const TrainLink& link : train)
        if (link.capacity > 0 && (!weakest || link.capacity < weakest->capacity))
            weakest = link;
    return weakest;
}

std::vector<Remark> checkTrain(const std::vector<TrainLink>& train, const ExpectedLoad& expected,
                               const std::vector<TrainLink>& otherCells, Kind kind)
{
    std::vector<Remark> remarks;
    if (!expected.maximum)
        return remarks;
    const double force = *expected.maximum;
    const auto kilonewtons = [&](double load) { return loadText(load, kind); };
    for (const TrainLink& link : train) {
        if (!(link.capacity > 0))
            continue;
        const bool cell = link.kind == "cell";
        if (force > link.capacity)
            remarks.push_back({cell ? "cell-too-small" : "link-too-weak",
                               Severity::Reject,
                               {},
                               fmt::format("{} carries {}; {} is expected.", link.name, kilonewtons(link.capacity),
                                           kilonewtons(force)),
                               "Choose a stronger one.",
                               {}});
        else if (cell && force < link.lowestShare * link.capacity)
            remarks.push_back({"cell-too-large",
                               Severity::Reject,
                               {},
                               fmt::format("{} is calibrated from {} up; only {} is expected.", link.name,
                                           kilonewtons(link.lowestShare * link.capacity), kilonewtons(force)),
                               "Choose a smaller cell.",
                               {}});
        else
            continue;
        if (!cell)
            continue;
        const TrainLink* better = nullptr;
        for (const TrainLink& other : otherCells)
            if (force <= other.capacity && force >= other.lowestShare * other.capacity
                && (!better || other.capacity < better->capacity))
                better = &other;
        if (better)
            remarks.back().advice = "Better: " + better->name + ", " + kilonewtons(better->capacity) + ".";
    }
    return remarks;
}

std::optional<RatePlan> planRates(const Method& method, const SpecimenInput& input, const ExpectedLoad& expected)
{
    if (method.speeds)
        return method.speeds(method.rates, input, expected);
    const double length = firstOf(input, method.lengths);
    return length > 0 ? std::optional(speedsOver(length, method.rates, expected)) : std::nullopt;
}

std::string missingLength(const Method& method)
{
    std::string names;
    for (const std::string& key : method.lengths)
        if (const FieldSpec* field = method.findField(key))
            names += (names.empty() ? "" : " or ") + field->label;
    return (names.empty() ? "A length" : names) + " is not measured yet: the speed follows from it.";
}

StopLimits proposeLimits(const std::vector<TrainLink>& train, const Method& method, const SpecimenInput& input,
                         const ExpectedLoad& expected)
{
    StopLimits limits;
    if (const auto weakest = weakestLink(train))
        limits.force = weakest->capacity;
    const double length = firstOf(input, method.lengths);
    const LoadTrain& how = method.train;
    const bool folds = std::ranges::find(how.links, LinkSpec::Form::Platens, &LinkSpec::form) != how.links.end();
    if (how.load == Kind::Torque)
        limits.travel = 20 * std::numbers::pi; // ten turns
    else if (method.lengths.empty() && !how.pressed)
        limits.travel = 150; // a part gives way as it will
    else
        limits.travel = how.pressed ? std::max(1.0, 0.8 * length)
                                    : std::max(5.0, 2 * length * (expected.elongation > 0 ? expected.elongation : 0.3));
    // A piece that folds between platens drops its force each time.
    limits.forceDrop = folds ? 0 : 0.4;
    const auto rates = planRates(method, input, expected);
    limits.time = rates ? 3 * rates->wholeTime : 1800;
    return limits;
}

} // namespace fortitor
