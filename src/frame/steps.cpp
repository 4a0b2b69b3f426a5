// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/steps.h"
#include "units/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

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

} // namespace

double roundStep(double value)
{
    if (!(value > 0) || !std::isfinite(value))
        return 1;
    const double power = std::pow(10, std::floor(std::log10(value) + 1e-9));
    const double share = value / power;
    return (share >= 5 ? 5 : share >= 2 ? 2 : 1) * power;
}

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
    const auto wanted =
        "steps such as " + runText({5 * unit.factor, 8}, unit) + ", " + runText({20 * unit.factor, 0}, unit);
    for (size_t at = 0; at <= text.size();) {
        // A comma followed by a blank ends a part; "0,5 N" keeps its decimal mark.
        size_t end = at;
        while (end < text.size() && text[end] != ';'
               && !(text[end] == ',' && (end + 1 == text.size() || text[end + 1] == ' ')))
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
            return Problem{"options.steps", '"' + std::string(text) + '"', wanted,
                           "Only the last size may stand without a count."};
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

} // namespace fortitor
