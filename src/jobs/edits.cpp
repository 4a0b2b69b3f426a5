// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/edits.h"

#include "jobs/json_at.h"
#include "jobs/rules.h"

#include <fmt/format.h>

#include <algorithm>

namespace fortitor::edits {
namespace {

std::string at(size_t index)
{
    return fmt::format("/specimens/{}", index);
}

const std::string& labelOf(const JobDocument& document, size_t index)
{
    return document.job().specimens[index].label;
}

/// "diameter" of A3's readings as the file has them, always a list.
Json readingList(const JobDocument& document, size_t index, const std::string& key)
{
    const Json::json_pointer path(at(index) + "/dimensions/" + key);
    if (!document.json().contains(path))
        return Json::array();
    const Json& value = document.json().at(path);
    return value.is_array() ? value : Json::array({value});
}

} // namespace

Json newJob(const std::string& number, const std::string& title, const Method& method, int specimens)
{
    Json json;
    json["fortitor_job"] = 1;
    json["job"] = {{"number", number}, {"title", title}};
    json["method"] = method.id;
    json["material"] = Json::object();
    json["options"] = Json::object();
    json["requirements"] = Json::array();
    json["specimens"] = Json::array();
    for (int i = 1; i <= specimens; ++i)
        json["specimens"].push_back({{"label", fmt::format("A{}", i)},
                                     {"dimensions", {{"shape", method.shapes.empty() ? "" : method.shapes.front()}}}});
    return json;
}

Command head(const JobDocument& document, const std::string& key, const std::string& value)
{
    return CommandBuilder(document, key + " of the job: " + value).set("/job/" + key, value).take();
}

Command method(const JobDocument& document, const Method& chosen)
{
    CommandBuilder builder(document, "method: " + chosen.name);
    builder.set("/method", chosen.id);
    builder.set("/requirements", Json::array());
    Json options = Json::object();
    const Json now = objectAt(document.json(), "options");
    for (const auto& [key, value] : now.items())
        if (chosen.findOption(key))
            options[key] = value;
    builder.set("/options", options);
    for (size_t i = 0; i < document.job().specimens.size(); ++i) {
        const std::string& shape = document.job().specimens[i].input.shape;
        if (std::ranges::find(chosen.shapes, shape) == chosen.shapes.end())
            builder.set(at(i) + "/dimensions/shape", chosen.shapes.front());
    }
    return builder.take();
}

Command material(const JobDocument& document, const std::string& name)
{
    return CommandBuilder(document, "material: " + name).set("/material/name", name).take();
}

Command option(const JobDocument& document, const std::string& key, const std::string& value, const std::string& why)
{
    return CommandBuilder(document, key + ": " + (value.empty() ? "default" : value), why)
        .set("/options/" + key, value.empty() ? std::nullopt : std::optional<Json>(value))
        .take();
}

Command specimenOption(const JobDocument& document, size_t index, const std::string& key, const std::string& value,
                       const std::string& why)
{
    return CommandBuilder(
               document,
               fmt::format("{} of {}: {}", key, labelOf(document, index), value.empty() ? "as the job" : value), why)
        .set(at(index) + "/options/" + key, value.empty() ? std::nullopt : std::optional<Json>(value))
        .take();
}

Expected<Command> reading(const JobDocument& document, size_t index, const FieldSpec& field, size_t place,
                          const std::string& text)
{
    Json list = readingList(document, index, field.key);
    const std::string path = at(index) + "/dimensions/" + field.key;
    const std::string words =
        fmt::format("{}{} of {}: {}", field.label, field.readings > 1 ? fmt::format(" {}", place + 1) : "",
                    labelOf(document, index), text.empty() ? "taken out" : text);
    if (text.empty()) {
        if (place < list.size())
            list[place] = nullptr;
    } else {
        const auto quantity = parseQuantity(text, field.kind, &baseUnit(field.kind));
        if (!quantity) {
            Problem p = quantity.problem();
            p.place = labelOf(document, index) + ", " + field.label;
            return p;
        }
        while (list.size() <= place)
            list.push_back(nullptr);
        const bool bare = parseNumber(text).has_value();
        list[place] = bare ? text + " " + std::string(baseUnit(field.kind).symbol) : text;
    }
    while (!list.empty() && list.back().is_null())
        list.erase(list.size() - 1);
    CommandBuilder builder(document, words);
    if (list.empty())
        builder.set(path, std::nullopt);
    else
        builder.set(path, list.size() == 1 && field.readings == 1 ? list.front() : list);
    return builder.take();
}

Command shape(const JobDocument& document, size_t index, const std::string& shape)
{
    return CommandBuilder(document, "shape of " + labelOf(document, index) + ": " + shape)
        .set(at(index) + "/dimensions/shape", shape)
        .take();
}

Command note(const JobDocument& document, size_t index, const std::string& key, const std::string& value)
{
    return CommandBuilder(document, fmt::format("{} of {}: {}", key, labelOf(document, index), value))
        .set(at(index) + "/notes/" + key, value.empty() ? std::nullopt : std::optional<Json>(value))
        .take();
}

std::string nextLabel(const Job& job)
{
    std::string label = job.specimens.empty() ? "A0" : job.specimens.back().label;
    for (;;) {
        size_t digits = label.size();
        while (digits > 0 && label[digits - 1] >= '0' && label[digits - 1] <= '9')
            --digits;
        const std::string tail = label.substr(digits);
        label = label.substr(0, digits)
            + (tail.empty()          ? "-2"
                   : tail.size() > 9 ? tail + "1"
                                     : std::to_string(std::stol(tail) + 1));
        if (std::ranges::find(job.specimens, label, &Specimen::label) == job.specimens.end())
            return label;
    }
}

Command addSpecimen(const JobDocument& document)
{
    const Job& job = document.job();
    Json specimen{{"label", nextLabel(job)}};
    std::string shape = job.method->shapes.empty() ? "" : job.method->shapes.front();
    if (!job.specimens.empty() && !job.specimens.back().input.shape.empty())
        shape = job.specimens.back().input.shape;
    specimen["dimensions"]["shape"] = shape;
    // Lengths that belong to the whole lot go along; measured sections never do.
    if (!job.specimens.empty())
        for (const FieldSpec& field : job.method->fields)
            if (field.readings == 1 && !field.afterBreak) {
                const Json list = readingList(document, job.specimens.size() - 1, field.key);
                if (!list.empty())
                    specimen["dimensions"][field.key] = list.front();
            }
    return CommandBuilder(document, "specimen " + specimen["label"].get<std::string>() + " added")
        .append("/specimens", specimen)
        .take();
}

Command removeSpecimen(const JobDocument& document, size_t index, const std::string& why)
{
    Json list = document.json().at("specimens");
    list.erase(index);
    return CommandBuilder(document, "specimen " + labelOf(document, index) + " taken out", why)
        .set("/specimens", list)
        .take();
}

Command relabel(const JobDocument& document, size_t index, const std::string& label)
{
    return CommandBuilder(document, labelOf(document, index) + " is now " + label)
        .set(at(index) + "/label", label)
        .take();
}

namespace {

using NamedLimits = std::vector<std::pair<const char*, std::string>>;

/// Puts limits of a symbol in place of those of the same names; the entry goes with its last limit.
Expected<Command> limitsOf(const JobDocument& document, const std::string& symbol, const NamedLimits& limits,
                           const std::string& words)
{
    const ResultSpec* spec = document.job().method->findResult(symbol);
    if (!spec)
        return Problem{"requirement", '"' + symbol + '"', "a result of this method", {}};
    const Unit* unit = &unitOf(*spec);
    Json list = listAt(document.json(), "requirements");
    auto it = std::ranges::find_if(list, [&](const Json& one) { return textAt(one, "symbol") == symbol; });
    if (it == list.end()) {
        list.push_back({{"symbol", symbol}});
        it = list.end() - 1;
    }
    for (const auto& [key, text] : limits) {
        it->erase(key);
        if (text.empty())
            continue;
        const auto quantity = parseQuantity(text, unit->kind, unit);
        if (!quantity) {
            Problem p = quantity.problem();
            p.place = std::string("requirement on ") + symbol;
            return p;
        }
        (*it)[key] = parseNumber(text) ? text + " " + std::string(unit->symbol) : text;
    }
    if (std::ranges::none_of(std::initializer_list<const char*>{"min", "max", "mean_min", "lower_bound_min"},
                             [&](const char* key) { return it->contains(key); }))
        list.erase(it);
    return CommandBuilder(document, "wanted of " + symbol + ": " + words).set("/requirements", list).take();
}

} // namespace

Expected<Command> requirement(const JobDocument& document, const std::string& symbol, const std::string& min,
                              const std::string& max)
{
    return limitsOf(document, symbol, {{"min", min}, {"max", max}},
                    fmt::format("{}{}{}", min.empty() ? "" : "at least " + min, min.empty() || max.empty() ? "" : ", ",
                                max.empty() ? min.empty() ? "nothing" : "" : "at most " + max));
}

Expected<Command> lotRequirement(const JobDocument& document, const std::string& symbol, const std::string& mean,
                                 const std::string& bound)
{
    return limitsOf(document, symbol, {{"mean_min", mean}, {"lower_bound_min", bound}},
                    fmt::format("mean of the lot at least {}, lower bound at least {}", mean.empty() ? "–" : mean,
                                bound.empty() ? "–" : bound));
}

Expected<Command> noRequirement(const JobDocument& document, const std::string& symbol)
{
    return limitsOf(document, symbol, {{"min", ""}, {"max", ""}, {"mean_min", ""}, {"lower_bound_min", ""}}, "nothing");
}

Command cite(const JobDocument& document, const AcceptanceRule& rule)
{
    Json list = document.json().contains("rules") && document.json()["rules"].is_array() ? document.json()["rules"]
                                                                                         : Json::array();
    const auto same = std::ranges::find_if(list, [&](const Json& one) { return textAt(one, "name") == rule.name; });
    if (same == list.end())
        list.push_back(ruleJson(rule));
    else
        *same = ruleJson(rule);
    return CommandBuilder(document, "cites " + rule.name).set("/rules", list).take();
}

Command uncite(const JobDocument& document, size_t index)
{
    Json list = document.json()["rules"];
    const std::string name = textAt(list[index], "name");
    list.erase(index);
    return CommandBuilder(document, "cites " + name + " no more").set("/rules", list).take();
}

Command settle(const JobDocument& document, size_t index, const std::string& code, const std::string& who,
               const std::string& why, const std::string& when)
{
    return CommandBuilder(document, fmt::format("{} of {} accepted", code, labelOf(document, index)), why)
        .append(at(index) + "/settled", Json{{"code", code}, {"who", who}, {"why", why}, {"when", when}})
        .take();
}

Command unsettle(const JobDocument& document, size_t index, const std::string& code)
{
    Json list = listAt(document.json()["specimens"][index], "settled");
    list.erase(std::remove_if(list.begin(), list.end(), [&](const Json& one) { return textAt(one, "code") == code; }),
               list.end());
    return CommandBuilder(document, fmt::format("{} of {} open again", code, labelOf(document, index)))
        .set(at(index) + "/settled", list)
        .take();
}

Command judge(const JobDocument& document, const std::string& who, const std::string& when)
{
    return CommandBuilder(document, "the set judged by " + who)
        .set("/judged", Json{{"who", who}, {"when", when}})
        .take();
}

Command unjudge(const JobDocument& document)
{
    return CommandBuilder(document, "the judgement opened again").set("/judged", std::nullopt).take();
}

Command exclude(const JobDocument& document, size_t index, const std::string& why)
{
    return CommandBuilder(document, labelOf(document, index) + " left out of the set", why)
        .set(at(index) + "/excluded", why)
        .take();
}

Command include(const JobDocument& document, size_t index)
{
    return CommandBuilder(document, labelOf(document, index) + " back in the set")
        .set(at(index) + "/excluded", std::nullopt)
        .take();
}

Command attachRecord(const JobDocument& document, size_t index, const std::string& id, const std::string& source,
                     const ColumnChoices& columns)
{
    Json record{{"id", id}, {"source", source}};
    for (const auto& [channel, choice] : columns) {
        record["columns"][channel]["column"] = choice.column > 0 ? Json(choice.column) : Json(choice.header);
        if (!choice.unit.empty())
            record["columns"][channel]["unit"] = choice.unit;
    }
    CommandBuilder builder(document, "record of " + labelOf(document, index) + ": " + source);
    if (!document.job().method || !document.job().method->intake.recordBeside)
        builder.set(at(index) + "/readings", std::nullopt);
    return builder.set(at(index) + "/record", record).take();
}

Command instrument(const JobDocument& document, const std::string& kind, const Json& description)
{
    return CommandBuilder(document, kind + ": " + textAt(description, "name", "none"))
        .set("/instruments/" + kind, description)
        .take();
}

Kind limitKind(std::string_view key, Kind load)
{
    if (key == "force")
        return load;
    if (key == "travel" && load == Kind::Torque)
        return Kind::Angle;
    return key == "time" ? Kind::Time : key == "force_drop" ? Kind::Strain : Kind::Length;
}

Expected<Command> limit(const JobDocument& document, const std::string& key, const std::string& text, double most)
{
    CommandBuilder builder(document, "stop limit, " + key + ": " + (text.empty() ? "as proposed" : text));
    if (text.empty())
        return builder.set("/limits/" + key, std::nullopt).take();
    const Kind kind = limitKind(key, document.job().method->train.load);
    const auto quantity = parseQuantity(text, kind, &baseUnit(kind));
    if (!quantity) {
        Problem p = quantity.problem();
        p.place = "stop limit, " + key;
        return p;
    }
    if (!(quantity->base > 0))
        return Problem{"stop limit, " + key, text, "more than zero",
                       "A limit of zero would stop the run before it begins."};
    if (most > 0 && quantity->base > most * (1 + 1e-9))
        return Problem{"stop limit, " + key, text, "at most " + formatQuantity(most, baseUnit(kind)),
                       key == "force" ? "The weakest link of the load train sets it." : ""};
    const bool bare = parseNumber(text).has_value();
    return builder.set("/limits/" + key, bare ? text + " " + std::string(baseUnit(kind).symbol) : text).take();
}

void applyLimits(const Json& job, Kind load, StopLimits& limits)
{
    const Json own = objectAt(job, "limits");
    const auto put = [&](const char* key, double& into, bool onlyLower) {
        if (!own.is_object() || !own.contains(key) || !own[key].is_string())
            return;
        const Kind kind = limitKind(key, load);
        const auto quantity = parseQuantity(own[key].get<std::string>(), kind, &baseUnit(kind));
        if (quantity && quantity->base > 0 && (!onlyLower || (into > 0 && quantity->base <= into)))
            into = quantity->base;
    };
    put("force", limits.force, true);
    put("extension", limits.extension, false);
    put("travel", limits.travel, false);
    put("force_drop", limits.forceDrop, false);
    put("time", limits.time, false);
}

Command rehearsal(const JobDocument& document, size_t index, const Json& body)
{
    return CommandBuilder(document, "rehearsed: " + labelOf(document, index))
        .set(at(index) + "/rehearsal", body)
        .take();
}

Command step(const JobDocument& document, size_t index, const std::string& text, bool done)
{
    Json list = listAt(document.json()["specimens"][index], "done");
    list.erase(std::remove(list.begin(), list.end(), Json(text)), list.end());
    if (done)
        list.push_back(text);
    return CommandBuilder(document,
                          fmt::format("{}: {} {}", labelOf(document, index), text, done ? "done" : "not done"))
        .set(at(index) + "/done", list)
        .take();
}

bool stepDone(const JobDocument& document, size_t index, const std::string& text)
{
    const Json list = listAt(document.json()["specimens"][index], "done");
    return std::ranges::find(list, Json(text)) != list.end();
}

} // namespace fortitor::edits
