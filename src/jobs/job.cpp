// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/job.h"

#include "jobs/job_reader.h"
#include "jobs/rules.h"
#include "reference/published.h"
#include "reference/tables.h"
#include "units/nearest.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor {

std::string listed(const std::vector<std::string>& words)
{
    return fmt::format("{}", fmt::join(words, ", "));
}

Expected<Job> JobReader::read()
{
    if (!json_.is_object() || !json_.contains("fortitor_job"))
        return Problem{"job file", "no key \"fortitor_job\"", "\"fortitor_job\": 1", "Is this a job file?"};
    if (json_["fortitor_job"] != 1)
        return Problem{"fortitor_job", json_["fortitor_job"].dump(), "1", "The file may come from a newer program."};
    head();
    options();
    if (job_.method)
        job_.method = findMethod(job_.method->id, base_.options);
    instruments();
    requirements();
    daily();
    rules();
    people();
    specimens();
    unknown(json_, {"fortitor_job", "job",       "method",  "material", "options", "requirements", "specimens",
                    "instruments",  "limits",    "truth",   "lot",      "plan",    "report",       "stage",
                    "judged",       "importing", "journal", "chain",    "daily",   "rules"},
            "");
    if (problem_)
        return *problem_;
    return std::move(job_);
}

void JobReader::fail(Problem p)
{
    if (!problem_)
        problem_ = std::move(p);
}

void JobReader::unknown(const Json& object, const std::set<std::string>& known, const std::string& path)
{
    for (const auto& [key, value] : object.items())
        if (!known.contains(key))
            kept("The key \"" + path + key + "\" is not known", key, {known.begin(), known.end()});
}

/// Something that is not understood: told with the name that is nearest, and kept.
void JobReader::kept(const std::string& words, const std::string& found, const std::vector<std::string>& known)
{
    job_.notes.push_back(
        {"unknown-key", Severity::Note, {}, words + "; it is kept as it is." + nearestWords(found, known), "", {}});
}

std::string JobReader::text(const Json& object, const std::string& key, const std::string& path)
{
    if (!object.contains(key) || object[key].is_null())
        return {};
    if (object[key].is_string())
        return object[key].get<std::string>();
    fail({path + key, object[key].dump().substr(0, 40), "a text in quotes", {}});
    return {};
}

std::optional<Quantity> JobReader::quantity(const Json& value, Kind kind, const std::string& path, const Unit* scale)
{
    if (!value.is_string()) {
        fail({path,
              value.dump().substr(0, 40),
              "a " + std::string(kindName(kind)) + " as a text with its unit, such as \"10.02 "
                  + std::string(baseUnit(kind).symbol) + "\"",
              {}});
        return std::nullopt;
    }
    // A number of hardness belongs to one scale; elsewhere a unit must be written.
    auto q = parseQuantity(value.get<std::string>(), kind);
    if (q && kind == Kind::Hardness && scale)
        q = parseQuantity(value.get<std::string>(), kind, scale);
    if (q)
        return *q;
    Problem p = q.problem();
    p.place = path;
    fail(p);
    return std::nullopt;
}

/// Something is there under the key, and is not null.
bool JobReader::has(const Json& object, const std::string& key)
{
    const auto it = object.find(key);
    return it != object.end() && !it->is_null();
}

/// The members that are texts: each is one or null.
void JobReader::texts(const Json& object, std::initializer_list<const char*> keys, const std::string& path)
{
    for (const char* key : keys)
        (void)text(object, key, path);
}

const Json& JobReader::object(const char* key)
{
    static const Json empty = Json::object();
    if (!json_.contains(key) || json_[key].is_null())
        return empty;
    if (json_[key].is_object())
        return json_[key];
    fail({key, json_[key].dump().substr(0, 40), "an object in braces", {}});
    return empty;
}

void JobReader::head()
{
    const Json& job = object("job");
    job_.number = text(job, "number", "job.");
    job_.title = text(job, "title", "job.");
    job_.chain = text(json_, "chain", "");
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
    base_.material = job_.materialName;
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

/// Options of the job, or of one specimen where it stands apart from the others.
void JobReader::readOptions(const Json& list, std::map<std::string, std::string>& out, const std::string& path)
{
    if (!list.is_object())
        return fail({path, list.dump().substr(0, 40), "an object in braces", {}});
    for (const auto& [key, value] : list.items()) {
        if (value.is_null())
            continue;
        if (value.is_array() && !value.empty()
            && std::ranges::all_of(value, [](const Json& one) { return one.is_string(); })) {
            for (const Json& one : value) // "27 J", "41 J"
                out[key] += (out[key].empty() ? "" : "; ") + one.get<std::string>();
        } else if (value.is_string()) {
            out[key] = value.get<std::string>();
        } else {
            fail({path + key, value.dump().substr(0, 40), "a text in quotes", {}});
            continue;
        }
        const auto& specs = job_.method ? job_.method->options : std::vector<OptionSpec>{};
        if (std::ranges::find(specs, key, &OptionSpec::key) == specs.end())
            kept("The option \"" + key + "\" is not one of this method", key, names(specs, &OptionSpec::key));
    }
}

void JobReader::instruments()
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
        if (const auto q = quantity(tools["extensometer"]["travel"], Kind::Length, "instruments.extensometer.travel"))
            out.extensionTravel = q->base;
    if (tools.contains("calliper") && tools["calliper"].is_object() && has(tools["calliper"], "error"))
        if (const auto q = quantity(tools["calliper"]["error"], Kind::Length, "instruments.calliper.error")) {
            out.calliperError = q->base;
            out.calliperChosen = q->base > 0;
            out.calliperName = (named("calliper").empty() ? "calliper" : named("calliper")) + ", ±" + q->text;
        }
}

void JobReader::requirements()
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
        const Unit& unit = unitOf(spec ? *spec : *alike);
        const Kind kind = unit.kind;
        r.unit = &unit;
        const auto limit = [&](const char* key, std::optional<double>& out) {
            if (list[i].contains(key) && !list[i][key].is_null())
                if (const auto q = quantity(list[i][key], kind, path + key, &unit))
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

void JobReader::daily()
{
    if (!has(json_, "daily"))
        return;
    const Json& list = json_["daily"];
    const DailySpec* spec = job_.method && job_.method->daily ? &*job_.method->daily : nullptr;
    if (!list.is_array())
        return fail({"daily", list.dump().substr(0, 40), "a list in brackets", {}});
    if (!spec)
        return kept("\"daily\" is known of no check of this method", "daily", {});
    for (size_t i = 0; i < list.size() && !problem_; ++i) {
        const std::string path = fmt::format("daily[{}].", i + 1);
        if (!list[i].is_object())
            return fail({path, list[i].dump().substr(0, 40), "an object with at and value", {}});
        const auto value = has(list[i], "value")
            ? quantity(list[i]["value"], spec->kind, path + "value", findUnit(spec->unit, spec->kind))
            : std::nullopt;
        if (value)
            job_.daily.push_back({text(list[i], "at", path), value->base});
        unknown(list[i], {"at", "value", "who"}, path);
    }
    std::ranges::stable_sort(job_.daily, {}, &DailyValue::when);
}

/// Acceptance rules that the job cites.
void JobReader::rules()
{
    if (!has(json_, "rules"))
        return;
    const Json& list = json_["rules"];
    if (!list.is_array())
        return fail({"rules", list.dump().substr(0, 40), "a list in brackets", {}});
    if (!list.empty() && job_.method && !job_.method->judgeRule)
        return kept("This method is held against no acceptance rules", "rules", {});
    for (size_t i = 0; i < list.size() && !problem_; ++i) {
        const std::string path = fmt::format("rules[{}].", i + 1);
        auto rule = ruleFrom(list[i], path);
        if (!rule)
            return fail(rule.problem());
        unknown(list[i], ruleKeys(), path);
        job_.rules.push_back(std::move(*rule));
    }
}

/// What people have said and set in the application.
void JobReader::people()
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

Expected<Job> readJob(const Json& json)
{
    return JobReader(json).read();
}

} // namespace fortitor
