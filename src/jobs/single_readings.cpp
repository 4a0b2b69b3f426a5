// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/single_readings.h"

#include "jobs/pad.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <set>
#include <sstream>
#include <tuple>

namespace fortitor {

std::string withUnit(const PadChannel& column, const std::string& text)
{
    if (column.kind == Kind::Number || !parseNumber(text))
        return text;
    return text + " " + column.unit;
}

Json pictureJson(const PictureTaken& picture, size_t reading)
{
    Json one{{"reading", reading},
             {"file", picture.file},
             {"picture_sha256", picture.sha256},
             {"pixel", picture.pixel},
             {"scale", picture.scale}};
    if (!picture.found.empty())
        one["found"] = picture.found;
    one["placed"] = picture.placed;
    one["doubts"] = Json::object();
    for (const auto& [name, doubt] : picture.doubts)
        one["doubts"][name] = doubt;
    return one;
}

Expected<std::vector<size_t>> readingNumbers(const std::string& text, size_t most)
{
    const auto wrong = [&](const std::string& found) {
        return Problem{"readings", found, fmt::format("numbers from 1 to {}, such as 1-4, 7", most), {}};
    };
    std::set<size_t> all;
    std::string part;
    std::string spaced = text;
    std::ranges::replace(spaced, ',', ' ');
    std::istringstream parts(spaced);
    while (parts >> part) {
        size_t first = 0, last = 0;
        const char* end = part.data() + part.size();
        auto [at, bad] = std::from_chars(part.data(), end, first);
        last = first;
        if (bad == std::errc() && at != end && *at == '-')
            std::tie(at, bad) = [&] {
                const auto read = std::from_chars(at + 1, end, last);
                return std::pair(read.ptr, read.ec);
            }();
        if (bad != std::errc() || at != end || first < 1 || last < first || last > most)
            return wrong(part);
        for (size_t n = first; n <= last; ++n)
            all.insert(n);
    }
    if (all.empty())
        return wrong("none");
    return std::vector<size_t>(all.begin(), all.end());
}

namespace edits {
namespace {

std::string lengthText(double mm)
{
    return fmt::format("{:.6g} mm", mm + 0.0); // no −0
}

} // namespace

Command places(const JobDocument& document, size_t index, const std::vector<Spot>& places, const std::string& words)
{
    Json list = Json::array();
    for (const Spot& place : places) {
        Json one{{"x", lengthText(place.x)}, {"y", lengthText(place.y)}};
        if (place.depth)
            one["depth"] = lengthText(*place.depth);
        list.push_back(std::move(one));
    }
    return CommandBuilder(document, words)
        .set(fmt::format("/specimens/{}/places", index), list.empty() ? std::optional<Json>() : std::optional(list))
        .take();
}

Expected<Command> takeReading(const JobDocument& document, size_t index,
                              const std::map<std::string, std::string>& texts, const std::optional<Spot>& place,
                              const std::string& words, const WithReading& with)
{
    std::map<std::string, std::string> all = texts;
    if (place)
        for (const PadChannel& column : document.job().method->intake.columns) {
            using Role = PadChannel::Role;
            if (column.role == Role::X)
                all[column.name] = lengthText(place->x);
            else if (column.role == Role::Y)
                all[column.name] = lengthText(place->y);
            else if (column.role == Role::Depth && place->depth)
                all[column.name] = lengthText(*place->depth);
        }
    std::vector<std::string> names;
    for (const auto& [name, text] : all)
        names.push_back(name);
    const PadTable table = padTable(document, index, names);
    auto command = padRow(document, index, table, all, words);
    if (!command)
        return command;
    CommandBuilder builder(document, words);
    for (const Change& one : command->changes)
        builder.set(one.path, one.after);
    if (with.picture)
        builder.append(fmt::format("/specimens/{}/pictures", index), pictureJson(*with.picture, table.rows + 1));
    for (const auto& [key, value] : with.notes)
        builder.set(fmt::format("/specimens/{}/notes/{}", index, key), Json(value));
    for (const auto& [key, value] : with.options)
        builder.set(fmt::format("/specimens/{}/options/{}", index, key), Json(value));
    return builder.take();
}

Command zone(const JobDocument& document, size_t index, const std::string& name, const std::vector<size_t>& readings)
{
    const std::set<size_t> moved(readings.begin(), readings.end());
    std::map<std::string, std::set<size_t>> zones;
    for (const auto& [each, numbers] : document.job().specimens[index].input.zones)
        for (const size_t n : numbers)
            if (!moved.contains(n))
                zones[each].insert(n);
    if (!name.empty())
        zones[name].insert(moved.begin(), moved.end());
    Json all = Json::object();
    for (const auto& [each, numbers] : zones)
        if (!numbers.empty())
            all[each] = numbers;
    const std::string& label = document.job().specimens[index].label;
    return CommandBuilder(document,
                          name.empty() ? fmt::format("{} readings of {} out of their zone", moved.size(), label)
                                       : fmt::format("{} readings of {} to zone {}", moved.size(), label, name))
        .set(fmt::format("/specimens/{}/zones", index), all.empty() ? std::optional<Json>() : std::optional(all))
        .take();
}

Expected<Command> strikeReading(const JobDocument& document, size_t index, size_t row, const std::string& who,
                                const std::string& when, const std::string& why)
{
    const PadTable table = padTable(document, index);
    const std::string& label = document.job().specimens[index].label;
    if (row >= table.rows)
        return Problem{label, fmt::format("reading {}", row + 1), fmt::format("one of {}", table.rows), {}};
    if (why.empty())
        return Problem{label, "no reason", "why the reading does not count", {}};
    CommandBuilder builder(document, fmt::format("reading {} of {} set aside", row + 1, label), why);
    for (size_t c = 0; c < table.channels.size(); ++c) {
        if (table.channels[c].role != PadChannel::Role::Figure || !table.cells[c][row])
            continue;
        builder.set(fmt::format("/specimens/{}/readings/{}/{}", index, table.channels[c].name, row), Json(nullptr));
        builder.append(fmt::format("/specimens/{}/corrections", index),
                       Json{{"step", row + 1},
                            {"channel", table.channels[c].name},
                            {"was", *table.cells[c][row]},
                            {"now", nullptr},
                            {"why", why},
                            {"who", who},
                            {"when", when}});
    }
    return builder.take();
}

} // namespace edits
} // namespace fortitor
