// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/record_check.h"

#include "methods/common/section.h"

#include "curve/record_faults.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <span>

namespace fortitor {
namespace {

const Channel* loadOf(const Method& method, const Record& record)
{
    return record.find(method.train.load == Kind::Torque ? "torque" : "force");
}

/// The travel that goes on while a load channel stands at its end.
std::vector<double> travelOf(const Record& record)
{
    for (const char* name : {"displacement", "extension", "deflection", "strain", "twist"})
        if (const Channel* channel = record.find(name); channel && !channel->values.empty())
            return channel->values.gather();
    return {};
}

/// The one value of a channel that has no other; nothing for fewer than two readings.
std::optional<double> onlyValue(std::span<const double> values)
{
    std::optional<double> only;
    size_t readings = 0;
    for (const double v : values) {
        if (std::isnan(v))
            continue;
        if (only && *only != v)
            return std::nullopt;
        only = v;
        ++readings;
    }
    return readings >= 2 ? only : std::nullopt;
}

/// The first row of two or more without a reading next to the greatest load: the true maximum may lie in there.
std::optional<size_t> gapAtTop(std::span<const double> values)
{
    constexpr double near = 0.95;
    double greatest = 0;
    for (const double v : values)
        greatest = std::abs(v) > std::abs(greatest) ? v : greatest;
    for (size_t i = 1; i + 1 < values.size(); ++i)
        if (std::isnan(values[i]) && std::isnan(values[i + 1]) && !std::isnan(values[i - 1])
            && values[i - 1] / greatest >= near)
            return i;
    return std::nullopt;
}

std::string timeWords(const TimeDisorder& t)
{
    switch (t.fault) {
    case TimeFault::Backwards:
        return fmt::format("Time runs backwards at row {}{}.", t.at + 1,
                           t.count > 1 ? fmt::format(", and {} more times", t.count - 1) : "");
    case TimeFault::Standing: return "Time stands still: every row has the same.";
    case TimeFault::Leaping: return fmt::format("Time leaps at row {} over more than half of the record.", t.at + 1);
    }
    return {};
}

} // namespace

CheckedRecord checkRecord(const Method& method, std::shared_ptr<const Record> record, bool keyed)
{
    CheckedRecord checked{record, {}, {}};
    const Channel* load = record ? loadOf(method, *record) : nullptr;
    if (!load)
        return checked;
    const std::span<const double> values = load->values.values();
    const Unit& unit = baseUnit(load->kind);
    if (const auto only = onlyValue(values)) {
        checked.record = nullptr;
        checked.remarks.push_back(
            {"load-constant",
             Severity::Reject,
             {},
             fmt::format("The {} is {} in all {} readings: nothing was loaded, or nothing was recorded.", load->name,
                         formatQuantity(*only, unit), values.size()),
             "Is it the right file, and the right column?",
             {}});
        return checked;
    }
    if (keyed)
        return checked; // a person has read each of them
    if (const auto clipped = findClipped(values, [&] { return travelOf(*record); })) {
        checked.withheld = method.onMaximum;
        checked.remarks.push_back(
            {"force-clipped",
             Severity::Reject,
             method.onMaximum,
             fmt::format(
                 "The {} stands at {} for {} readings, to the digit, while the travel goes on: the channel was at "
                 "the end of its range.",
                 load->name, formatQuantity(values[clipped->begin], unit), clipped->end - clipped->begin),
             "What stands on the maximum is not given; repeat the test with a larger range.",
             {}});
    }
    if (const auto gap = gapAtTop(values))
        checked.remarks.push_back(
            {"gap-at-maximum",
             Severity::Caution,
             method.onMaximum,
             fmt::format("The {} has no readings from row {} on, close to its maximum: the true one may lie in there.",
                         load->name, *gap + 1),
             "Was the channel beyond its range, or the logger stopped? Look at the curve before the strength is used.",
             {}});
    const Channel* time = record->find("time");
    if (const auto disorder = time ? findTimeDisorder(time->values.values()) : std::nullopt) {
        auto without = std::make_shared<Record>(*record);
        std::erase_if(without->channels, [](const Channel& c) { return c.name == "time"; });
        checked.record = std::move(without);
        checked.remarks.push_back(
            {"time-disorder",
             Severity::Caution,
             {},
             timeWords(*disorder) + " Rates are not given.",
             "Were two tests written into one file, or the logger stopped and started? What does not rest on time "
             "is read all the same.",
             {}});
    }
    return checked;
}

std::optional<Problem> impossibleSize(const Method& method, const SpecimenInput& input)
{
    for (const auto& [key, readings] : input.dimensions) {
        const FieldSpec* field = method.findField(key);
        for (const Quantity& q : readings)
            if (!(q.base > 0) && !(field && field->negative))
                return Problem{input.label + ", dimensions." + key, '"' + q.text + '"', "a size above zero",
                               "Measure it again; leave it out where it was not measured."};
    }
    return impossibleSection(input);
}

} // namespace fortitor
