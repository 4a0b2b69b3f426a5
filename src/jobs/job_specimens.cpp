// SPDX-License-Identifier: GPL-3.0-or-later
// The specimens of a job file: sizes, notes, records, readings, and what a person said of them.
#include "jobs/job_reader.h"

#include "methods/common/section.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor {

void JobReader::specimens()
{
    if (!json_.contains("specimens") || !json_["specimens"].is_array())
        return fail({"specimens",
                     json_.contains("specimens") ? json_["specimens"].dump().substr(0, 40) : "nothing",
                     "a list in brackets",
                     {}});
    std::set<std::string> labels;
    size_t number = 0;
    for (const Json& item : json_["specimens"]) {
        const std::string path = fmt::format("specimens[{}].", ++number);
        if (!item.is_object())
            return fail({path, item.dump().substr(0, 40), "an object in braces", {}});
        Specimen s;
        s.label = text(item, "label", path);
        if (s.label.empty())
            return fail({path + "label", "none", "a label of its own for each specimen", {}});
        if (!labels.insert(s.label).second)
            return fail(
                {path + "label", '"' + s.label + "\" for the second time", "a label of its own for each specimen", {}});
        s.input = base_;
        s.input.label = s.label;
        if (has(item, "options"))
            readOptions(item["options"], s.input.options, path + "options.");
        dimensions(item, s, path);
        notes(item, s, path);
        record(item, s, path);
        history(item, s, path + "history.");
        places(item, s, path + "places");
        pictures(item, s, path + "pictures");
        zones(item, s, path + "zones.");
        person(item, s, path);
        unknown(item,
                {"label", "dimensions", "options", "record", "readings", "notes", "settled", "excluded", "truth",
                 "done", "checks", "rehearsal", "corrections", "places", "pictures", "zones", "history"},
                path);
        if (problem_)
            return;
        job_.specimens.push_back(std::move(s));
    }
}

void JobReader::dimensions(const Json& item, Specimen& s, const std::string& path)
{
    if (!item.contains("dimensions") || item["dimensions"].is_null())
        return;
    const Json& d = item["dimensions"];
    if (!d.is_object())
        return fail({path + "dimensions", d.dump().substr(0, 40), "an object in braces", {}});
    for (const auto& [key, value] : d.items()) {
        const std::string at = path + "dimensions." + key;
        if (key == "shape") {
            s.input.shape = text(d, key, path + "dimensions.");
            const auto& shapes = job_.method ? job_.method->shapes : std::vector<std::string>{};
            if (!shapes.empty() && std::ranges::find(shapes, s.input.shape) == shapes.end())
                fail({at, '"' + s.input.shape + '"', "one of: " + listed(shapes), {}});
            continue;
        }
        const FieldSpec* field = job_.method ? job_.method->findField(key) : nullptr;
        const bool known = field || isSectionKey(key);
        if (!known)
            kept("The dimension \"" + key + "\" of " + s.label + " is not one of this method", key,
                 job_.method ? names(job_.method->fields, &FieldSpec::key) : std::vector<std::string>());
        if (!known)
            continue;
        const Kind kind = key.ends_with("area") ? Kind::Area : field ? field->kind : Kind::Length;
        std::vector<Quantity> readings;
        const Json list = value.is_array() ? value : Json::array({value});
        for (const Json& one : list) {
            if (one.is_null())
                continue;
            const auto q = quantity(one, kind, at);
            if (!q)
                return;
            if (q->base < 0 && !(field && field->negative))
                return fail({at, '"' + q->text + '"', "a size that is not negative", {}});
            readings.push_back(*q);
        }
        if (!readings.empty())
            s.input.dimensions[key] = readings;
    }
    if (s.input.shape.empty())
        s.input.shape = job_.method ? impliedShape(s.input, job_.method->shapes) : std::string();
}

void JobReader::notes(const Json& item, Specimen& s, const std::string& path)
{
    if (!has(item, "notes"))
        return;
    if (!item["notes"].is_object())
        return fail({path + "notes", item["notes"].dump().substr(0, 40), "an object in braces", {}});
    for (const auto& [key, value] : item["notes"].items())
        if (value.is_string())
            s.input.notes[key] = value.get<std::string>();
        else if (value.is_number() || value.is_boolean())
            s.input.notes[key] = value.dump();
        else if (!value.is_null())
            fail({path + "notes." + key, value.dump().substr(0, 40), "a text in quotes", {}});
}

void JobReader::record(const Json& item, Specimen& s, const std::string& path)
{
    const bool hasRecord = item.contains("record") && !item["record"].is_null();
    const bool hasReadings = item.contains("readings") && !item["readings"].is_null();
    const bool both = job_.method && job_.method->intake.recordBeside;
    if (hasRecord && hasReadings && !both)
        return fail({path + "record", "both \"record\" and \"readings\"", "one of them", {}});
    if (hasReadings)
        readings(item["readings"], s, path + "readings.");
    if (!hasRecord || problem_)
        return;
    const Json& r = item["record"];
    if (!r.is_object())
        return fail({path + "record", r.dump().substr(0, 40), "an object in braces with \"file\"", {}});
    s.recordFile = text(r, "file", path + "record.");
    s.recordId = text(r, "id", path + "record.");
    s.recordIncomplete = text(r, "incomplete", path + "record.");
    recordEvents(r, s, path + "record.events");
    texts(r, {"source", "sha256"}, path + "record.");
    if (has(r, "part")) {
        if (!r["part"].is_number_integer() || r["part"].get<long long>() < 1)
            return fail({path + "record.part", r["part"].dump().substr(0, 40), "a whole number from 1", {}});
        s.recordPart = r["part"].get<size_t>();
    }
    if (const std::string decimal = text(r, "decimal", path + "record."); !decimal.empty()) {
        if (decimal != "," && decimal != ".")
            return fail({path + "record.decimal", '"' + decimal + '"', "\",\" or \".\"", {}});
        s.recordDecimal = decimal.front();
    }
    unknown(r, {"file", "id", "source", "part", "decimal", "columns", "sha256", "incomplete", "events"},
            path + "record.");
    if (!has(r, "columns"))
        return;
    if (!r["columns"].is_object())
        return fail({path + "record.columns", r["columns"].dump().substr(0, 40), "an object in braces", {}});
    for (const auto& [channel, choice] : r["columns"].items()) {
        const std::string at = path + "record.columns." + channel;
        ColumnChoice c;
        if (!choice.is_object() || !choice.contains("column"))
            return fail({at, choice.dump().substr(0, 40), "{\"column\": number or header, \"unit\": \"kN\"}", {}});
        const Json& column = choice["column"];
        if (column.is_number_integer() && column.get<long long>() > 0)
            c.column = column.get<size_t>();
        else if (column.is_string())
            c.header = column.get<std::string>();
        else
            return fail({at + ".column", column.dump().substr(0, 40), "a column number from 1, or its header", {}});
        c.unit = text(choice, "unit", at + ".");
        if (!findChannelName(channel))
            return fail({at, '"' + channel + '"', "a channel name such as force, extension, displacement", {}});
        s.columns[channel] = c;
    }
}

void JobReader::history(const Json& item, Specimen& s, const std::string& path)
{
    if (!has(item, "history"))
        return;
    const Json& h = item["history"];
    const bool listed = h.is_object() && h.contains("files") && h["files"].is_array() && !h["files"].empty();
    if (!listed)
        return fail(
            {path + "files", h.dump().substr(0, 40), "{\"files\": [\"week-1.f32\"], \"rate\": \"200 Hz\"}", {}});
    HistorySaid said;
    for (const Json& one : h["files"]) {
        if (!one.is_string() || one.get<std::string>().empty())
            return fail({path + "files", one.dump().substr(0, 40), "the names of files, in quotes", {}});
        said.files.push_back(one.get<std::string>());
    }
    for (const auto& [key, into] : {std::pair("format", &said.format),
                                    {"dataset", &said.dataset},
                                    {"channel", &said.channel},
                                    {"unit", &said.unit},
                                    {"rate", &said.rate},
                                    {"begins", &said.begins}})
        *into = text(h, key, path);
    unknown(h, {"files", "format", "dataset", "channel", "unit", "rate", "begins"}, path);
    s.input.history = std::move(said);
}

/// What happened in a record that came from a logbook: its file holds only the channels.
void JobReader::recordEvents(const Json& r, Specimen& s, const std::string& path)
{
    if (!has(r, "events"))
        return;
    if (!r["events"].is_array())
        return fail({path, r["events"].dump().substr(0, 40), "a list in brackets", {}});
    for (const Json& e : r["events"]) {
        if (!e.is_object() || !e.contains("time") || !e["time"].is_number())
            return fail({path, e.dump().substr(0, 40), "events with time in s, code and text", {}});
        s.recordEvents.push_back({e["time"].get<double>(), text(e, "code", path + "."), text(e, "text", path + ".")});
    }
}

/// The kind of a reading; one of an old record may be of another.
std::optional<Quantity> JobReader::readingOf(const PadChannel& column, const Json& value, const std::string& path)
{
    if (!value.is_string())
        return quantity(value, column.kind, path);
    const Unit* bare = column.kind == Kind::Number ? findUnit("1", Kind::Number) : nullptr;
    auto q = parseQuantity(value.get<std::string>(), column.kind, bare);
    if (q)
        return *q;
    if (column.formerly)
        if (auto old = parseQuantity(value.get<std::string>(), *column.formerly))
            return *old;
    Problem p = q.problem();
    p.place = path;
    fail(p);
    return std::nullopt;
}

/// Lists of equal length under the names that the method reads.
void JobReader::singleReadings(const Json& list, Specimen& s, const std::string& path)
{
    size_t rows = 0;
    for (const auto& [name, values] : list.items()) {
        const PadChannel* column = job_.method->intake.find(name);
        if (!column)
            return fail({path + name,
                         '"' + name + '"',
                         "one of: " + listed(names(job_.method->intake.columns, &PadChannel::name)),
                         {}});
        if (!values.is_array())
            return fail({path + name, values.dump().substr(0, 40), "a list in brackets", {}});
        if (!s.input.readings.empty() && values.size() != rows)
            return fail({path + name, std::to_string(values.size()) + " readings",
                         std::to_string(rows) + " as in the other lists", "Write null for a reading that was missed."});
        rows = values.size();
        auto& out = s.input.readings[name];
        for (size_t i = 0; i < values.size(); ++i) {
            if (values[i].is_null()) {
                out.emplace_back();
                continue;
            }
            auto q = readingOf(*column, values[i], fmt::format("{}{}[{}]", path, name, i + 1));
            if (!q)
                return;
            out.push_back(std::move(q));
        }
    }
}

void JobReader::readings(const Json& list, Specimen& s, const std::string& path)
{
    if (!list.is_object() || list.empty())
        return fail({path, list.dump().substr(0, 40), "channels with lists of readings", {}});
    if (job_.method && job_.method->intake.has(Intake::By::Readings))
        return singleReadings(list, s, path);
    Record record;
    record.source = "keyed by hand";
    size_t rows = 0;
    for (const auto& [name, values] : list.items()) {
        const ChannelName* channel = findChannelName(name);
        if (!channel)
            return fail({path + name, '"' + name + '"', "a channel name such as force, strain, deflection", {}});
        if (!values.is_array())
            return fail({path + name, values.dump().substr(0, 40), "a list in brackets", {}});
        if (!record.channels.empty() && values.size() != rows)
            return fail({path + name, std::to_string(values.size()) + " readings",
                         std::to_string(rows) + " as in the other channels",
                         "Write null for a reading that was missed."});
        rows = values.size();
        Channel& out = record.add(name);
        for (size_t i = 0; i < values.size(); ++i) {
            if (values[i].is_null()) {
                out.values.append(std::numeric_limits<double>::quiet_NaN());
                continue;
            }
            const auto q = quantity(values[i], channel->kind, fmt::format("{}{}[{}]", path, name, i + 1));
            if (!q)
                return;
            out.values.append(q->base);
        }
    }
    s.readings = std::move(record);
}

/// Where readings are to be taken: a list of places, each with x and y, or with the depth below the surface too.
void JobReader::places(const Json& item, Specimen& s, const std::string& path)
{
    if (!has(item, "places"))
        return;
    if (!item["places"].is_array())
        return fail({path, item["places"].dump().substr(0, 40), "a list in brackets", {}});
    for (const Json& one : item["places"]) {
        const std::string at = fmt::format("{}[{}].", path, s.input.places.size() + 1);
        if (!one.is_object())
            return fail({at, one.dump().substr(0, 40), "an object in braces with x and y", {}});
        Spot place;
        for (const auto& [key, into] : {std::pair("x", &place.x), std::pair("y", &place.y)}) {
            const auto q = quantity(one.contains(key) ? one[key] : Json(nullptr), Kind::Length, at + key);
            if (!q)
                return;
            *into = q->base;
        }
        if (has(one, "depth")) {
            const auto q = quantity(one["depth"], Kind::Length, at + "depth");
            if (!q)
                return;
            place.depth = q->base;
        }
        s.input.places.push_back(place);
    }
}

/// Pictures that readings were taken from; what one leaves in doubt goes to its readings.
void JobReader::pictures(const Json& item, Specimen& s, const std::string& path)
{
    if (!has(item, "pictures"))
        return;
    if (!item["pictures"].is_array())
        return fail({path, item["pictures"].dump().substr(0, 40), "a list in brackets", {}});
    for (const Json& one : item["pictures"]) {
        const std::string at = fmt::format("{}[{}].", path, s.pictures.size() + 1);
        const bool photograph = one.is_object() && !one.contains("reading") && one.contains("picture_sha256");
        if (!photograph
            && (!one.is_object() || !one.contains("reading") || !one["reading"].is_number_unsigned()
                || one["reading"].get<size_t>() == 0))
            return fail({at + "reading", one.dump().substr(0, 40), "the number of a reading, from 1", {}});
        ReadingPicture picture{.reading = photograph ? 0 : one["reading"].get<size_t>(),
                               .sha256 = text(one, "picture_sha256", at),
                               .file = text(one, "file", at),
                               .pixel = {},
                               .scale = text(one, "scale", at),
                               .found = pixels(one, "found", at),
                               .placed = pixels(one, "placed", at)};
        if (has(one, "pixel"))
            if (const auto q = quantity(one["pixel"], Kind::Length, at + "pixel"))
                picture.pixel = *q;
        if (has(one, "doubts") && one["doubts"].is_object())
            for (const auto& [name, value] : one["doubts"].items()) {
                const auto doubt = quantity(value, Kind::Length, at + "doubts." + name);
                const auto list = s.input.readings.find(name);
                if (!doubt || list == s.input.readings.end() || picture.reading > list->second.size())
                    continue;
                // Half a digit counts as a rectangle: this much of a digit is that standard uncertainty.
                if (auto& reading = list->second[picture.reading - 1])
                    reading->resolution = std::max(reading->resolution, doubt->base * std::sqrt(12.0));
            }
        if (problem_)
            return;
        s.pictures.push_back(std::move(picture));
    }
}

/// Parts of the piece: names with lists of reading numbers, each reading in one part at most.
void JobReader::zones(const Json& item, Specimen& s, const std::string& path)
{
    if (!has(item, "zones"))
        return;
    if (!item["zones"].is_object())
        return fail({path, item["zones"].dump().substr(0, 40), "names with lists of reading numbers", {}});
    std::set<size_t> seen;
    for (const auto& [name, list] : item["zones"].items()) {
        const auto isNumber = [](const Json& n) { return n.is_number_unsigned() && n.get<size_t>() > 0; };
        if (!list.is_array() || !std::ranges::all_of(list, isNumber))
            return fail({path + name, list.dump().substr(0, 40), "a list of reading numbers, from 1", {}});
        for (const Json& n : list) {
            if (!seen.insert(n.get<size_t>()).second)
                return fail({path + name,
                             fmt::format("reading {} for the second time", n.get<size_t>()),
                             "each reading in one zone",
                             {}});
            s.input.zones[name].push_back(n.get<size_t>());
        }
    }
}

/// A list of places on a picture, [x, y] each.
std::vector<std::array<double, 2>> JobReader::pixels(const Json& one, const char* key, const std::string& at)
{
    std::vector<std::array<double, 2>> all;
    if (!has(one, key))
        return all;
    const auto isPoint = [](const Json& p) {
        return p.is_array() && p.size() == 2 && p[0].is_number() && p[1].is_number();
    };
    if (!one[key].is_array() || !std::ranges::all_of(one[key], isPoint)) {
        fail({at + key, one[key].dump().substr(0, 40), "places on the picture, [x, y] each", {}});
        return all;
    }
    for (const Json& p : one[key])
        all.push_back({p[0].get<double>(), p[1].get<double>()});
    return all;
}

void JobReader::person(const Json& item, Specimen& s, const std::string& path)
{
    s.excludedBecause = text(item, "excluded", path);
    for (const char* key : {"settled", "corrections", "done", "checks"})
        if (has(item, key) && !item[key].is_array())
            fail({path + key, item[key].dump().substr(0, 40), "a list in brackets", {}});
    if (has(item, "corrections") && item["corrections"].is_array())
        for (const Json& one : item["corrections"])
            if (!one.is_object())
                fail({path + "corrections", one.dump().substr(0, 40), "an object in braces", {}});
    if (!has(item, "settled") || problem_)
        return;
    for (const Json& one : item["settled"])
        if (!one.is_object())
            fail({path + "settled", one.dump().substr(0, 40), "an object in braces", {}});
        else
            s.settled.push_back(
                {text(one, "code", path), text(one, "who", path), text(one, "why", path), text(one, "when", path)});
}

} // namespace fortitor
