// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/job.h"

#include "methods/common/section.h"
#include "reference/published.h"
#include "reference/tables.h"
#include "units/nearest.h"

#include <fmt/format.h>

#include <algorithm>
#include <limits>
#include <set>

namespace fortitor {
namespace {

std::string listed(const std::vector<std::string>& words)
{
    return fmt::format("{}", fmt::join(words, ", "));
}

template <class Spec> std::vector<std::string> names(const std::vector<Spec>& specs, std::string Spec::*name)
{
    std::vector<std::string> all;
    for (const Spec& spec : specs)
        all.push_back(spec.*name);
    return all;
}

/// Reads one job; the first Problem ends it.
class JobReader {
public:
    explicit JobReader(const Json& json) : json_(json) { }

    Expected<Job> read()
    {
        if (!json_.is_object() || !json_.contains("fortitor_job"))
            return Problem{"job file", "no key \"fortitor_job\"", "\"fortitor_job\": 1", "Is this a job file?"};
        if (json_["fortitor_job"] != 1)
            return Problem{"fortitor_job", json_["fortitor_job"].dump(), "1",
                           "The file may come from a newer program."};
        head();
        options();
        instruments();
        requirements();
        people();
        specimens();
        unknown(json_,
                {"fortitor_job", "job", "method", "material", "options", "requirements", "specimens", "instruments",
                 "limits", "truth", "lot", "plan", "report", "stage", "judged", "importing", "journal"},
                "");
        if (problem_)
            return *problem_;
        return std::move(job_);
    }

private:
    void fail(Problem p)
    {
        if (!problem_)
            problem_ = std::move(p);
    }

    void unknown(const Json& object, const std::set<std::string>& known, const std::string& path)
    {
        for (const auto& [key, value] : object.items())
            if (!known.contains(key))
                kept("The key \"" + path + key + "\" is not known", key, {known.begin(), known.end()});
    }

    /// Something that is not understood: told with the name that is nearest, and kept.
    void kept(const std::string& words, const std::string& found, const std::vector<std::string>& known)
    {
        job_.notes.push_back(
            {"unknown-key", Severity::Note, {}, words + "; it is kept as it is." + nearestWords(found, known), "", {}});
    }

    std::string text(const Json& object, const std::string& key, const std::string& path)
    {
        if (!object.contains(key) || object[key].is_null())
            return {};
        if (object[key].is_string())
            return object[key].get<std::string>();
        fail({path + key, object[key].dump().substr(0, 40), "a text in quotes", {}});
        return {};
    }

    std::optional<Quantity> quantity(const Json& value, Kind kind, const std::string& path)
    {
        if (!value.is_string()) {
            fail({path,
                  value.dump().substr(0, 40),
                  "a " + std::string(kindName(kind)) + " as a text with its unit, such as \"10.02 "
                      + std::string(baseUnit(kind).symbol) + "\"",
                  {}});
            return std::nullopt;
        }
        auto q = parseQuantity(value.get<std::string>(), kind);
        if (q)
            return *q;
        Problem p = q.problem();
        p.place = path;
        fail(p);
        return std::nullopt;
    }

    /// Something is there under the key, and is not null.
    static bool has(const Json& object, const std::string& key)
    {
        const auto it = object.find(key);
        return it != object.end() && !it->is_null();
    }

    /// The members that are texts: each is one or null.
    void texts(const Json& object, std::initializer_list<const char*> keys, const std::string& path)
    {
        for (const char* key : keys)
            (void)text(object, key, path);
    }

    const Json& object(const char* key)
    {
        static const Json empty = Json::object();
        if (!json_.contains(key) || json_[key].is_null())
            return empty;
        if (json_[key].is_object())
            return json_[key];
        fail({key, json_[key].dump().substr(0, 40), "an object in braces", {}});
        return empty;
    }

    void head()
    {
        const Json& job = object("job");
        job_.number = text(job, "number", "job.");
        job_.title = text(job, "title", "job.");
        const std::string method = text(json_, "method", "");
        job_.method = findMethod(method);
        if (!job_.method) {
            std::vector<std::string> names;
            for (const Method& m : methodRegistry())
                names.push_back(m.id);
            fail({"method", '"' + method + '"', "one of: " + listed(names), {}});
            return;
        }
        const Json& material = object("material");
        job_.materialName = text(material, "name", "material.");
        for (const std::string& table : job_.method->reference)
            if (auto found = publishedValues(table, job_.materialName)) {
                base_.publishedSource = found->source;
                for (const auto& [symbol, value] : found->values)
                    base_.published[symbol] = value;
            }
        texts(material, {"moisture", "temperature", "direction", "conditioning"}, "material.");
        // State of the material stands for every specimen that does not say otherwise.
        for (const auto& [key, value] : material.items())
            if (value.is_string()
                && (key == "moisture" || key == "temperature" || key == "direction" || key == "conditioning"
                    || (job_.method && job_.method->findNote(key))))
                base_.notes[key] = value.get<std::string>();
        if (!has(material, "published"))
            return;
        if (!material["published"].is_object())
            return fail({"material.published", material["published"].dump().substr(0, 40), "an object in braces", {}});
        for (const auto& [symbol, value] : material["published"].items()) {
            const ResultSpec* spec = job_.method->findResult(symbol);
            const auto kind = spec ? std::optional(unitOf(*spec).kind) : publishedKind(symbol);
            if (!kind) {
                kept("The published value \"" + symbol + "\" belongs to no result here", symbol,
                     names(job_.method->results, &ResultSpec::symbol));
                continue;
            }
            if (const auto q = quantity(value, *kind, "material.published." + symbol)) {
                base_.published[symbol] = q->base;
                base_.publishedSource = "material data of the job";
            }
        }
    }

    void options() { readOptions(object("options"), base_.options, "options."); }

    /// Options of the job, or of one specimen where it stands apart from the others.
    void readOptions(const Json& list, std::map<std::string, std::string>& out, const std::string& path)
    {
        if (!list.is_object())
            return fail({path, list.dump().substr(0, 40), "an object in braces", {}});
        for (const auto& [key, value] : list.items()) {
            if (value.is_null())
                continue;
            if (!value.is_string()) {
                fail({path + key, value.dump().substr(0, 40), "a text in quotes", {}});
                continue;
            }
            out[key] = value.get<std::string>();
            const auto& specs = job_.method ? job_.method->options : std::vector<OptionSpec>{};
            if (std::ranges::find(specs, key, &OptionSpec::key) == specs.end())
                kept("The option \"" + key + "\" is not one of this method", key, names(specs, &OptionSpec::key));
        }
    }

    void instruments()
    {
        const Json& tools = object("instruments");
        for (const auto& [key, tool] : tools.items()) {
            if (tool.is_object())
                texts(tool, {"name", "class", "capacity", "travel", "error", "strength", "cure"},
                      "instruments." + key + ".");
            else if (!tool.is_null())
                fail({"instruments." + key, tool.dump().substr(0, 40), "an object in braces", {}});
        }
        Instruments& out = base_.instruments;
        const auto device = [&](const char* key, const char* kind) -> const DeviceClass* {
            if (!tools.contains(key) || !tools[key].is_object() || !has(tools[key], "class"))
                return nullptr;
            const std::string name = text(tools[key], "class", std::string("instruments.") + key + ".");
            const DeviceClass* found = findDeviceClass(kind, name);
            if (!found)
                fail({std::string("instruments.") + key + ".class",
                      '"' + name + '"',
                      "a class of the table of device classes",
                      {}});
            return found;
        };
        const auto named = [&](const char* key) {
            return tools.contains(key) && tools[key].is_object()
                ? text(tools[key], "name", std::string("instruments.") + key + ".")
                : std::string();
        };
        if (const DeviceClass* c = device("force", "force")) {
            out.forceError = c->relative;
            out.forceName = (named("force").empty() ? "force cell" : named("force")) + ", class " + c->name;
        }
        if (const DeviceClass* c = device("extensometer", "extensometer")) {
            out.extensionError = c->relative;
            out.extensionFloor = c->absolute;
            out.extensionName =
                (named("extensometer").empty() ? "extensometer" : named("extensometer")) + ", class " + c->name;
        }
        if (tools.contains("extensometer") && tools["extensometer"].is_object() && has(tools["extensometer"], "travel"))
            if (const auto q =
                    quantity(tools["extensometer"]["travel"], Kind::Length, "instruments.extensometer.travel"))
                out.extensionTravel = q->base;
        if (tools.contains("calliper") && tools["calliper"].is_object() && has(tools["calliper"], "error"))
            if (const auto q = quantity(tools["calliper"]["error"], Kind::Length, "instruments.calliper.error")) {
                out.calliperError = q->base;
                out.calliperChosen = q->base > 0;
                out.calliperName = (named("calliper").empty() ? "calliper" : named("calliper")) + ", ±" + q->text;
            }
    }

    void requirements()
    {
        if (!has(json_, "requirements") || !job_.method)
            return;
        const Json& list = json_["requirements"];
        if (!list.is_array())
            return fail({"requirements", list.dump().substr(0, 40), "a list in brackets", {}});
        for (size_t i = 0; i < list.size(); ++i) {
            const std::string path = fmt::format("requirements[{}].", i + 1);
            if (!list[i].is_object())
                return fail({path, list[i].dump().substr(0, 40), "an object in braces", {}});
            Requirement r;
            r.symbol = text(list[i], "symbol", path);
            const ResultSpec* spec = job_.method->findResult(r.symbol);
            const auto alike = !spec && job_.method->specLike ? job_.method->specLike(r.symbol) : std::nullopt;
            if (!spec && !alike)
                return fail({path + "symbol", '"' + r.symbol + '"', "a result of this method",
                             nearestWords(r.symbol, names(job_.method->results, &ResultSpec::symbol))});
            const Kind kind = unitOf(spec ? *spec : *alike).kind;
            const auto limit = [&](const char* key, std::optional<double>& out) {
                if (list[i].contains(key) && !list[i][key].is_null())
                    if (const auto q = quantity(list[i][key], kind, path + key))
                        out = q->base;
            };
            limit("min", r.min);
            limit("max", r.max);
            limit("mean_min", r.meanMin);
            limit("lower_bound_min", r.boundMin);
            unknown(list[i], {"symbol", "min", "max", "mean_min", "lower_bound_min", "source"}, path);
            base_.alsoWanted.push_back(r.symbol);
            job_.requirements.push_back(r);
        }
    }

    /// What people have said and set in the application.
    void people()
    {
        texts(object("judged"), {"who", "when"}, "judged.");
        texts(object("importing"), {"file"}, "importing.");
        if (has(json_, "importing"))
            job_.notes.push_back({"import-unfinished",
                                  Severity::Caution,
                                  {},
                                  "The import of " + text(object("importing"), "file", "importing.")
                                      + " was interrupted: records may be missing.",
                                  "Import the file again as a new job, or add the records by hand.",
                                  {}});
        const Json& limits = object("limits");
        for (const auto& [key, value] : limits.items())
            texts(limits, {key.c_str()}, "limits.");
    }

    void specimens()
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
                return fail({path + "label",
                             '"' + s.label + "\" for the second time",
                             "a label of its own for each specimen",
                             {}});
            s.input = base_;
            s.input.label = s.label;
            if (has(item, "options"))
                readOptions(item["options"], s.input.options, path + "options.");
            dimensions(item, s, path);
            notes(item, s, path);
            record(item, s, path);
            person(item, s, path);
            unknown(item,
                    {"label", "dimensions", "options", "record", "readings", "notes", "settled", "excluded", "truth",
                     "done", "checks", "rehearsal", "corrections"},
                    path);
            if (problem_)
                return;
            job_.specimens.push_back(std::move(s));
        }
    }

    void dimensions(const Json& item, Specimen& s, const std::string& path)
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

    void notes(const Json& item, Specimen& s, const std::string& path)
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

    void record(const Json& item, Specimen& s, const std::string& path)
    {
        const bool hasRecord = item.contains("record") && !item["record"].is_null();
        const bool hasReadings = item.contains("readings") && !item["readings"].is_null();
        if (hasRecord && hasReadings)
            return fail({path + "record", "both \"record\" and \"readings\"", "one of them", {}});
        if (hasReadings)
            return readings(item["readings"], s, path + "readings.");
        if (!hasRecord)
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

    /// What happened in a record that came from a logbook: its file holds only the channels.
    void recordEvents(const Json& r, Specimen& s, const std::string& path)
    {
        if (!has(r, "events"))
            return;
        if (!r["events"].is_array())
            return fail({path, r["events"].dump().substr(0, 40), "a list in brackets", {}});
        for (const Json& e : r["events"]) {
            if (!e.is_object() || !e.contains("time") || !e["time"].is_number())
                return fail({path, e.dump().substr(0, 40), "events with time in s, code and text", {}});
            s.recordEvents.push_back(
                {e["time"].get<double>(), text(e, "code", path + "."), text(e, "text", path + ".")});
        }
    }

    void readings(const Json& list, Specimen& s, const std::string& path)
    {
        if (!list.is_object() || list.empty())
            return fail({path, list.dump().substr(0, 40), "channels with lists of readings", {}});
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

    void person(const Json& item, Specimen& s, const std::string& path)
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

    const Json& json_;
    Job job_;
    SpecimenInput base_;
    std::optional<Problem> problem_;
};

} // namespace

Expected<Job> readJob(const Json& json)
{
    return JobReader(json).read();
}

} // namespace fortitor
