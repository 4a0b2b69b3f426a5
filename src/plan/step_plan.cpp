// SPDX-License-Identifier: GPL-3.0-or-later
#include "plan/step_plan.h"

#include "plan/load_train.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

/// The greatest of 1, 2 and 5 times a power of ten that is not above a value; the value is in shown units.
double roundSize(double value)
{
    if (!(value > 0) || !std::isfinite(value))
        return 1;
    const double power = std::pow(10, std::floor(std::log10(value) + 1e-9));
    const double share = value / power;
    return (share >= 5 ? 5 : share >= 2 ? 2 : 1) * power;
}

std::string runText(const StepRun& run, const Unit& unit)
{
    const std::string size = formatQuantity(run.size, unit, 3);
    // "5.00 °" is 5 °.
    const size_t blank = size.find(' ');
    std::string number = size.substr(0, blank);
    if (number.find('.') != std::string::npos) {
        number.erase(number.find_last_not_of('0') + 1);
        if (number.back() == '.')
            number.pop_back();
    }
    const std::string text = number + (blank == std::string::npos ? "" : size.substr(blank));
    return run.count > 0 ? fmt::format("{} x {}", text, run.count) : text;
}

std::string trimmed(std::string_view text)
{
    const size_t a = text.find_first_not_of(" \t");
    const size_t b = text.find_last_not_of(" \t");
    return a == std::string_view::npos ? std::string() : std::string(text.substr(a, b - a + 1));
}

/// Twist of the bar at which its surface yields, rad; nothing without material, sizes or length.
std::optional<double> yieldTwist(const SpecimenInput& input, const ExpectedLoad& expected)
{
    const auto find = [&](const char* key) { const auto it = input.published.find(key); return it == input.published.end() ? 0.0 : it->second; };
    const auto size = [&](const char* key) { const auto it = input.dimensions.find(key); return it == input.dimensions.end() || it->second.empty() ? 0.0 : it->second.front().base; };
    const double G = find("G") > 0 ? find("G") : find("E") / 2.6;
    const double d = size(input.shape == "tube" ? "outer_diameter" : "diameter");
    const double yield = find("yield") / std::numbers::sqrt3;
    if (!(G > 0) || !(d > 0) || !(yield > 0) || !(size("gauge_length") > 0) || !expected.maximum)
        return std::nullopt;
    return yield / G * size("gauge_length") / (d / 2);
}

StepPlan twistPlan(const SpecimenInput& input, const ExpectedLoad& expected, const Unit& unit)
{
    StepPlan plan;
    plan.unit = &unit;
    const double degree = std::numbers::pi / 180;
    const auto yields = yieldTwist(input, expected);
    if (!yields) {
        plan.runs = {{5 * degree, 8}, {20 * degree, 4}, {50 * degree, 0}};
        plan.words = "5° to begin with; name material and sizes for steps of its own";
        return plan;
    }
    // Eight or more before the surface yields, the chucks' own give aside; as many again over the bend.
    const double fine = roundSize(*yields / 8 / degree) * degree;
    plan.runs = {{fine, 14}, {2 * fine, 5}, {5 * fine, 4}, {20 * fine, 4}, {100 * fine, 0}};
    plan.words = fmt::format("the surface yields near {}°", formatSignificant(*yields / degree, 2));
    return plan;
}

StepPlan forcePlan(const Method& method, const ExpectedLoad& expected, const Unit& unit)
{
    StepPlan plan;
    plan.unit = &unit;
    plan.returns = method.pad.returns;
    if (plan.returns) {
        // Elastic only: up to half of the yield, ten steps.
        const double top = expected.yield ? 0.5 * *expected.yield : expected.maximum ? 0.5 * *expected.maximum : 0;
        plan.runs = {{top > 0 ? roundSize(unit.fromBase(top / 10)) * unit.factor : unit.factor, 10}};
        plan.words = top > 0 ? "ten steps, up to half of the yield" : "ten steps; with a section they would follow the material";
        return plan;
    }
    plan.runs = {{expected.maximum ? roundSize(unit.fromBase(*expected.maximum / 12)) * unit.factor : 100 * unit.factor, 0}};
    plan.words = expected.maximum ? "a dozen or more to the break: " + expected.basis : "the expected load is not known: state it on Plan";
    return plan;
}

} // namespace

std::optional<double> StepPlan::target(size_t index) const
{
    double at = 0;
    size_t left = index;
    for (const StepRun& run : runs) {
        const size_t here = run.count > 0 ? std::min(left, static_cast<size_t>(run.count)) : left;
        at += run.size * static_cast<double>(here);
        left -= here;
        if (left == 0)
            return at;
    }
    return returns && left == 1 ? std::optional(0.0) : std::nullopt;
}

std::optional<size_t> StepPlan::readings() const
{
    size_t count = 1 + (returns ? 1 : 0);
    for (const StepRun& run : runs) {
        if (run.count == 0)
            return std::nullopt;
        count += static_cast<size_t>(run.count);
    }
    return count;
}

std::optional<double> StepPlan::next(const std::vector<double>& taken) const
{
    double most = -1;
    for (const double v : taken)
        most = std::max(most, std::isnan(v) ? -1 : std::abs(v));
    if (most < 0)
        return target(taken.size());
    const double slack = runs.empty() ? 0 : 0.2 * runs.front().size;
    constexpr size_t most_ = 100000;
    for (size_t i = 1; i < most_; ++i) {
        const auto t = target(i);
        if (!t)
            return std::nullopt;
        const bool back = returns && *t == 0;
        if (back) // once only
            return taken.size() > 1 && !std::isnan(taken.back()) && std::abs(taken.back()) < slack ? std::nullopt : t;
        if (*t > most + slack)
            return t;
    }
    return std::nullopt;
}

Expected<StepPlan> parseSteps(std::string_view text, Kind kind, const Unit& unit)
{
    StepPlan plan;
    plan.unit = &unit;
    const auto wanted = "steps such as " + runText({5 * unit.factor, 8}, unit) + ", " + runText({20 * unit.factor, 0}, unit);
    for (size_t at = 0; at <= text.size();) {
        // A comma followed by a blank ends a part; "0,5 N" keeps its decimal mark.
        size_t end = at;
        while (end < text.size() && text[end] != ';' && !(text[end] == ',' && (end + 1 == text.size() || text[end + 1] == ' ')))
            ++end;
        const std::string part = trimmed(text.substr(at, end - at));
        at = end + 1;
        if (part.empty())
            return Problem{"options.steps", '"' + std::string(text) + '"', wanted, {}};
        StepRun run;
        const size_t times = part.find_last_of("x*");
        std::string size = part;
        const size_t cross = part.find("×");
        const size_t mark = cross != std::string::npos ? cross : times;
        if (mark != std::string::npos && mark > 0) {
            const auto count = parseNumber(part.substr(mark + (cross != std::string::npos ? 2 : 1)));
            if (!count || *count < 1 || *count > 10000 || *count != std::floor(*count))
                return Problem{"options.steps", '"' + part + '"', wanted, "The count after x is a whole number."};
            run.count = static_cast<int>(*count);
            size = trimmed(part.substr(0, mark));
        }
        const auto q = parseQuantity(size, kind, &unit);
        if (!q)
            return Problem{"options.steps", q.problem().found, q.problem().wanted, q.problem().advice};
        if (!(q->base > 0))
            return Problem{"options.steps", '"' + part + '"', "steps above zero", {}};
        run.size = q->base;
        if (!plan.runs.empty() && plan.runs.back().count == 0)
            return Problem{"options.steps", '"' + std::string(text) + '"', wanted, "Only the last size may stand without a count."};
        plan.runs.push_back(run);
    }
    plan.words = "as stated";
    return plan;
}

std::string planText(const StepPlan& plan)
{
    std::string text;
    for (const StepRun& run : plan.runs)
        text += (text.empty() ? "" : ", ") + runText(run, *plan.unit);
    return text;
}

Expected<StepPlan> stepPlan(const Method& method, const SpecimenInput& input, const Unit& unit)
{
    const auto stated = input.options.find("steps");
    if (stated != input.options.end() && !stated->second.empty()) {
        auto plan = parseSteps(stated->second, unit.kind, unit);
        if (plan)
            plan->returns = method.pad.returns;
        return plan;
    }
    const ExpectedLoad expected = expectedLoad(method, input);
    return unit.kind == Kind::Angle ? twistPlan(input, expected, unit) : forcePlan(method, expected, unit);
}

} // namespace fortitor
