// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/calibration.h"

#include "jobs/json_at.h"

#include "units/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace fortitor {
namespace {

/// Reference steps closer than this share of the range are the same step.
constexpr double sameStep = 1e-6;

bool within(const CalibrationStep& step, const DeviceClass& limits)
{
    const double allowed = std::max(limits.relative * step.reference, limits.absolute);
    return std::abs(step.error) <= allowed * (1 + 1e-12)
        && (limits.repeatability == 0 || step.repeatability <= limits.repeatability * (1 + 1e-12));
}

/// The classes of a device, finest first.
std::vector<DeviceClass> classesOf(const std::string& device)
{
    std::vector<DeviceClass> out;
    for (const DeviceClass& c : deviceClasses())
        if (c.device == device)
            out.push_back(c);
    std::ranges::sort(out, {}, &DeviceClass::relative);
    return out;
}

} // namespace

Expected<CalibrationResult> checkCalibration(const std::string& device, const std::string& wantedClass,
                                             const std::vector<ReferenceReading>& readings)
{
    const auto classes = classesOf(device);
    if (classes.empty())
        return Problem{"calibration", device, "force or extensometer", {}};
    double range = 0;
    for (const ReferenceReading& r : readings) {
        if (!std::isfinite(r.reference) || !std::isfinite(r.reading))
            return Problem{"calibration", "a reading that is no figure", "reference and reading", {}};
        if (r.reference < 0)
            return Problem{"calibration", "a reference below zero", "references from zero up",
                           "Compression is checked with the readings' sign turned."};
        range = std::max(range, r.reference);
    }
    std::map<long long, std::vector<const ReferenceReading*>> groups;
    for (const ReferenceReading& r : readings)
        groups[range > 0 ? std::llround(r.reference / (range * sameStep)) : 0].push_back(&r);
    CalibrationResult result;
    for (const auto& [key, group] : groups) {
        CalibrationStep step{.reference = group.front()->reference, .best = {}};
        double least = group.front()->reading;
        double greatest = least;
        for (const ReferenceReading* r : group) {
            step.mean += r->reading / static_cast<double>(group.size());
            least = std::min(least, r->reading);
            greatest = std::max(greatest, r->reading);
        }
        if (step.reference <= range * sameStep) {
            result.zeroError = range > 0 ? step.mean / range : 0;
            continue;
        }
        step.error = step.mean - step.reference;
        step.relative = step.error / step.reference;
        step.repeatability = (greatest - least) / step.reference;
        for (const DeviceClass& c : classes)
            if (step.best.empty() && within(step, c))
                step.best = c.name;
        result.steps.push_back(step);
    }
    if (result.steps.size() < 3)
        return Problem{"calibration",
                       fmt::format("{} steps above zero", result.steps.size()),
                       "at least three, over the range that is used",
                       {}};
    const auto meets = [&](const DeviceClass& c) {
        return std::ranges::all_of(result.steps, [&](const CalibrationStep& s) { return within(s, c); })
            && (c.zero == 0 || std::abs(result.zeroError) <= c.zero);
    };
    for (const DeviceClass& c : classes) {
        if (!meets(c))
            continue;
        if (result.best.empty())
            result.best = c.name;
        result.meets = result.meets || c.name == wantedClass;
    }
    const auto worst =
        std::ranges::max_element(result.steps, {}, [](const CalibrationStep& s) { return std::abs(s.relative); });
    result.words =
        fmt::format("{}; the greatest error is {:+.2f} %, at {}.",
                    result.best.empty() ? "Meets no class" : "Meets class " + result.best, 100 * worst->relative,
                    formatQuantity(worst->reference, baseUnit(device == "force" ? Kind::Force : Kind::Length)));
    return result;
}

Json checkJson(const CalibrationResult& result, const std::string& device, const std::string& wantedClass,
               const std::vector<ReferenceReading>& readings, const std::string& date, const std::string& who)
{
    Json points = Json::array();
    for (const ReferenceReading& r : readings)
        points.push_back({r.series, r.reference, r.reading});
    return {{"date", date},          {"who", who},
            {"device", device},      {"wanted", wantedClass},
            {"best", result.best},   {"passed", result.meets},
            {"words", result.words}, {"unit", device == "force" ? "N" : "mm"},
            {"readings", points}};
}

std::optional<CalibrationTrouble> calibrationTrouble(const Json& body, const std::string& due, const std::string& today)
{
    const auto checks = body.is_object() ? body.find("checks") : body.end();
    if (checks != body.end() && checks->is_array() && !checks->empty()) {
        const Json& last = checks->back();
        if (last.is_object() && last.contains("passed") && last["passed"].is_boolean() && !last["passed"].get<bool>())
            return CalibrationTrouble{"calibration-failed",
                                      "failed its check of " + textAt(last, "date") + ": " + textAt(last, "words")};
    }
    // Dates of one form sort as text.
    if (due.size() == 10 && due < today)
        return CalibrationTrouble{"calibration-overdue", "its calibration ran out on " + due};
    return std::nullopt;
}

} // namespace fortitor
