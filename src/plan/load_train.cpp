// SPDX-License-Identifier: GPL-3.0-or-later
#include "plan/load_train.h"

#include "methods/common/section.h"
#include "units/measure.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

std::optional<double> published(const SpecimenInput& input, const char* symbol)
{
    const auto it = input.published.find(symbol);
    return it == input.published.end() ? std::nullopt : std::optional(it->second);
}

double firstLength(const SpecimenInput& input, const char* key)
{
    const auto it = input.dimensions.find(key);
    return it == input.dimensions.end() || it->second.empty() ? 0 : it->second.front().base;
}

std::string loadText(double load, Kind kind)
{
    return formatQuantity(load, *findUnit(kind == Kind::Torque ? "N·m" : "kN"), 3);
}

} // namespace

std::optional<double> loadedArea(const Method& method, const SpecimenInput& input)
{
    if (method.live == LiveAxes::ForceTravel)
        return 1;
    if (method.shapes == std::vector<std::string>{"block"}) {
        const double area = firstLength(input, "width") * firstLength(input, "length");
        return area > 0 ? std::optional(area) : std::nullopt;
    }
    const auto section = sectionTerm(input, "", "So");
    return section && *section ? std::optional((*section)->value()) : std::nullopt;
}

ExpectedLoad expectedLoad(const Method& method, const SpecimenInput& input)
{
    ExpectedLoad expected;
    expected.elongation = published(input, "A").value_or(0);
    const bool torque = method.loadKind == Kind::Torque;
    const auto stated = input.options.find(torque ? "expected_torque" : "expected_force");
    if (stated != input.options.end() && !stated->second.empty())
        if (const auto load = parseQuantity(stated->second, method.loadKind); load && load->base > 0) {
            expected.maximum = load->base;
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
            expected.basis = fmt::format("sizes not measured yet, or no strength known for this material; state the expected {} on Plan", kindName(method.loadKind));
        }
        return expected;
    }
    const auto strength = published(input, "Rm");
    const auto area = loadedArea(method, input);
    if (!strength || method.live == LiveAxes::ForceTravel) {
        expected.basis = method.findOption("expected_force") ? "no strength known for this material; state the expected force on Plan" : "no strength known for this material; name it on Plan";
        return expected;
    }
    if (!area) {
        expected.basis = "the section is not measured yet";
        return expected;
    }
    const si::Area section{*area};
    expected.maximum = (si::Stress{*strength} * section).value;
    if (const auto yield = published(input, "yield"))
        expected.yield = (si::Stress{*yield} * section).value;
    expected.basis = fmt::format("Rm {} MPa ({}) on {}", formatSignificant(*strength, 3), input.publishedSource, formatQuantity(section.value, baseUnit(Kind::Area)));
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

std::vector<Remark> checkTrain(const std::vector<TrainLink>& train, const ExpectedLoad& expected, const std::vector<TrainLink>& otherCells, Kind kind)
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
            remarks.push_back({cell ? "cell-too-small" : "link-too-weak", Severity::Reject, {}, fmt::format("{} carries {}; {} is expected.", link.name, kilonewtons(link.capacity), kilonewtons(force)), "Choose a stronger one.", {}});
        else if (cell && force < link.lowestShare * link.capacity)
            remarks.push_back({"cell-too-large", Severity::Reject, {}, fmt::format("{} is calibrated from {} up; only {} is expected.", link.name, kilonewtons(link.lowestShare * link.capacity), kilonewtons(force)), "Choose a smaller cell.", {}});
        else
            continue;
        if (!cell)
            continue;
        const TrainLink* better = nullptr;
        for (const TrainLink& other : otherCells)
            if (force <= other.capacity && force >= other.lowestShare * other.capacity && (!better || other.capacity < better->capacity))
                better = &other;
        if (better)
            remarks.back().advice = "Better: " + better->name + ", " + kilonewtons(better->capacity) + ".";
    }
    return remarks;
}

namespace {

/// Speed of a beam's load for a strain rate of its edge: v = Z·a(3L−4a)/(3h) (methods basis, bending).
std::optional<RatePlan> beamRates(const RateSpec& rule, const SpecimenInput& input)
{
    const double L = firstLength(input, "span");
    const double h = firstLength(input, "depth");
    const double loads = firstLength(input, "load_span");
    const auto loading = input.options.find("loading");
    const double a = loading != input.options.end() && loading->second == "four-point" ? 0.5 * (L - loads) : 0.5 * L;
    if (!(L > 0) || !(h > 0) || !(a > 0))
        return std::nullopt;
    double Z = rule.edge;
    if (const auto it = input.options.find("edge_rate"); it != input.options.end() && !it->second.empty())
        if (const auto q = parseQuantity(it->second, Kind::StrainRate); q && q->base > 0)
            Z = q->base;
    RatePlan plan;
    plan.yieldSpeed = plan.afterSpeed = Z * a * (3 * L - 4 * a) / (3 * h);
    plan.lowest = (1 - rule.window) * Z;
    plan.highest = (1 + rule.window) * Z;
    plan.yieldTime = plan.wholeTime = 0.012 / Z; // wood breaks near an edge strain of one per cent
    return plan;
}

} // namespace

std::optional<RatePlan> planRates(const RateSpec& rule, const SpecimenInput& input, const ExpectedLoad& expected)
{
    if (rule.edge > 0)
        return beamRates(rule, input);
    double length = 0;
    for (const char* key : {"parallel_length", "grip_distance", "height", "thickness"})
        if (!(length > 0))
            length = firstLength(input, key);
    if (!(length > 0))
        return std::nullopt;
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

StopLimits proposeLimits(const std::vector<TrainLink>& train, const Method& method, const SpecimenInput& input, const ExpectedLoad& expected)
{
    StopLimits limits;
    if (const auto weakest = weakestLink(train))
        limits.force = weakest->capacity;
    const double length = std::max(firstLength(input, "parallel_length"), firstLength(input, "grip_distance"));
    const double height = firstLength(input, "height");
    limits.travel = method.loading == Loading::Compression ? std::max(1.0, 0.8 * height) : std::max(5.0, 2 * length * (expected.elongation > 0 ? expected.elongation : 0.3));
    limits.forceDrop = method.loading == Loading::Compression ? 0 : 0.4; // a shell that folds drops its force each time
    const auto rates = planRates(method.rates, input, expected);
    limits.time = rates ? 3 * rates->wholeTime : 1800;
    return limits;
}

std::optional<std::string> limitReached(const StopLimits& limits, const RunState& now)
{
    if (limits.force > 0 && now.force > limits.force)
        return "stopped at the force limit, " + formatQuantity(limits.force, *findUnit("kN"), 3);
    if (limits.forceDrop > 0 && now.peak > 0.02 * limits.force && now.force < (1 - limits.forceDrop) * now.peak)
        return "stopped at a force drop of " + formatFixed(100 * limits.forceDrop, 0) + " %";
    if (limits.travel > 0 && now.travel > limits.travel)
        return "stopped at the travel limit, " + formatQuantity(limits.travel, *findUnit("mm"), 3);
    if (limits.extension > 0 && std::abs(now.extension) > limits.extension)
        return "stopped at the extensometer's limit, " + formatQuantity(limits.extension, *findUnit("mm"), 3);
    if (limits.time > 0 && now.time > limits.time)
        return std::string("stopped at the time limit");
    return std::nullopt;
}

} // namespace fortitor
