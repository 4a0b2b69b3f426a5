// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/spread.h"

#include "jobs/edits.h"
#include "methods/common/figures.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

namespace fortitor {
namespace {

constexpr size_t mostAtOne = 100, mostPieces = 500;

const Unit* unitOf(const SpreadSpec& spec)
{
    return findUnit(spec.unit, spec.kind);
}

std::optional<double> noted(const Job& job, const Specimen& one, const std::string& key)
{
    const SpreadSpec& spec = *job.method->spread;
    if (const auto read = parseQuantity(noteOf(one.input, key), spec.kind, unitOf(spec)))
        return read->base;
    const auto list = one.input.readings.find(key);
    return list != one.input.readings.end() && !list->second.empty() && list->second.front()
        ? std::optional(list->second.front()->base)
        : std::nullopt;
}

bool tested(const Specimen& one)
{
    return one.keyed() || !one.recordId.empty() || !one.recordFile.empty();
}

SpreadGroup& groupAt(std::vector<SpreadGroup>& groups, double value, double near)
{
    const auto it =
        std::ranges::find_if(groups, [&](const SpreadGroup& g) { return std::abs(g.value - value) <= near; });
    return it != groups.end() ? *it : groups.emplace_back(SpreadGroup{.value = value});
}

/// Trimmed text before and behind the last of some signs.
std::pair<std::string, std::string> splitCount(const std::string& one)
{
    size_t at = one.find_last_of(":*x");
    size_t length = 1;
    if (const size_t times = one.rfind("×"); times != std::string::npos && (at == std::string::npos || times > at)) {
        at = times;
        length = std::string_view("×").size();
    }
    if (at == std::string::npos)
        return {one, "1"};
    return {one.substr(0, at), one.substr(at + length)};
}

} // namespace

std::vector<SpreadGroup> spreadOf(const Job& job)
{
    std::vector<SpreadGroup> groups;
    if (!job.method || !job.method->spread)
        return groups;
    const SpreadSpec& spec = *job.method->spread;
    for (const Specimen& one : job.specimens)
        if (!tested(one))
            if (const auto planned = noted(job, one, spec.planned))
                ++groupAt(groups, *planned, 1e-9).pieces;
    for (const Specimen& one : job.specimens)
        if (const auto value = tested(one) ? noted(job, one, spec.noted) : std::nullopt) {
            SpreadGroup& group = groupAt(groups, noted(job, one, spec.planned).value_or(*value), spec.alike);
            ++group.pieces;
            ++group.done;
        }
    std::ranges::sort(groups, {}, &SpreadGroup::value);
    return groups;
}

size_t unplanned(const Job& job)
{
    if (!job.method || !job.method->spread)
        return 0;
    return static_cast<size_t>(std::ranges::count_if(job.specimens, [&](const Specimen& one) {
        return !tested(one) && !noted(job, one, job.method->spread->planned);
    }));
}

Expected<std::vector<SpreadGroup>> readSpread(const SpreadSpec& spec, const std::string& text)
{
    std::vector<SpreadGroup> groups;
    size_t all = 0;
    for (size_t from = 0; from <= text.size();) {
        const size_t to = std::min(text.find(';', from), text.size());
        const std::string one = text.substr(from, to - from);
        from = to + 1;
        if (one.find_first_not_of(" \t") == std::string::npos)
            continue;
        const auto [value, count] = splitCount(one);
        const auto read = parseQuantity(value, spec.kind, unitOf(spec));
        const auto pieces = parseNumber(count);
        if (!read || !pieces || *pieces < 1 || *pieces != std::floor(*pieces)
            || *pieces > static_cast<double>(mostAtOne))
            return Problem{spec.label, '"' + one + '"',
                           fmt::format("a value and how many pieces, up to {}, such as {}", mostAtOne, spec.example),
                           "Groups are parted by a semicolon."};
        groupAt(groups, read->base, 1e-9).pieces += static_cast<size_t>(*pieces);
        all += static_cast<size_t>(*pieces);
    }
    if (all > mostPieces)
        return Problem{spec.label, fmt::format("{} pieces", all), fmt::format("at most {} in one job", mostPieces), {}};
    std::ranges::sort(groups, {}, &SpreadGroup::value);
    return groups;
}

std::string spreadText(const SpreadSpec& spec, const std::vector<SpreadGroup>& groups)
{
    std::string text;
    for (const SpreadGroup& group : groups)
        text +=
            fmt::format("{}{:.10g}: {}", text.empty() ? "" : "; ", unitOf(spec)->fromBase(group.value), group.pieces);
    return text;
}

namespace edits {

Expected<Command> spread(const JobDocument& document, const std::vector<SpreadGroup>& wanted)
{
    const Job& job = document.job();
    const SpreadSpec& spec = *job.method->spread;
    std::vector<std::string> plans; // of each piece that is not tested yet, in their order
    for (const SpreadGroup& group : wanted) {
        size_t done = 0;
        for (const SpreadGroup& now : spreadOf(job))
            if (std::abs(now.value - group.value) <= spec.alike)
                done += now.done;
        const std::string text = fmt::format("{:.10g} {}", unitOf(spec)->fromBase(group.value), spec.unit);
        if (done > group.pieces)
            return Problem{spec.label,
                           fmt::format("{} at {}", group.pieces, text),
                           fmt::format("{} or more: so many were tested there", done),
                           {}};
        plans.insert(plans.end(), group.pieces - done, text);
    }
    CommandBuilder builder(document, "plan: " + spreadText(spec, wanted));
    size_t next = 0;
    const auto set = [&](size_t index, std::optional<Json> value) {
        builder.set(fmt::format("/specimens/{}/notes/{}", index, spec.planned), std::move(value));
    };
    for (size_t i = 0; i < job.specimens.size(); ++i) {
        if (tested(job.specimens[i]))
            continue;
        if (next < plans.size())
            set(i, plans[next++]);
        else if (!noteOf(job.specimens[i].input, spec.planned).empty())
            set(i, std::nullopt);
    }
    std::string label = nextLabel(job);
    const std::string shape = job.method->shapes.empty() ? "" : job.method->shapes.front();
    for (Job grown = job; next < plans.size(); ++next) {
        builder.append(
            "/specimens",
            Json{{"label", label},
                 {"dimensions", {{"shape", job.specimens.empty() ? shape : job.specimens.back().input.shape}}},
                 {"notes", {{spec.planned, plans[next]}}}});
        grown.specimens.emplace_back().label = label;
        label = nextLabel(grown);
    }
    return builder.take();
}

} // namespace edits
} // namespace fortitor
