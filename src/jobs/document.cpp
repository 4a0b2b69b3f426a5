// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/document.h"

#include <algorithm>

namespace fortitor {
namespace {

using Pointer = Json::json_pointer;

std::optional<Json> valueAt(const Json& json, const Pointer& at)
{
    return json.contains(at) ? std::optional(json.at(at)) : std::nullopt;
}

void put(Json& json, const Pointer& at, const std::optional<Json>& value)
{
    if (value) {
        json[at] = *value;
        return;
    }
    Json& parent = json.at(at.parent_pointer());
    if (parent.is_array())
        parent.erase(std::stoul(at.back()));
    else
        parent.erase(at.back());
}

Command turned(Command command)
{
    std::ranges::reverse(command.changes);
    for (Change& c : command.changes)
        std::swap(c.before, c.after);
    return command;
}

} // namespace

void putAt(Json& json, const std::string& path, const std::optional<Json>& value)
{
    if (path.empty())
        json = value.value_or(Json());
    else
        put(json, Pointer(path), value);
}

Expected<JobDocument> JobDocument::fromJson(Json json)
{
    auto job = readJob(json);
    if (!job)
        return job.problem();
    return JobDocument(std::move(json), std::move(*job));
}

Expected<Done> JobDocument::carryOut(const Command& command)
{
    Json next = *json_;
    for (const Change& c : command.changes)
        put(next, Pointer(c.path), c.after);
    auto job = readJob(next);
    if (!job)
        return job.problem();
    json_ = std::make_shared<const Json>(std::move(next));
    job_ = std::move(*job);
    return Done{};
}

Expected<Done> JobDocument::apply(const Command& command)
{
    auto ok = carryOut(command);
    if (!ok)
        return ok;
    done_.push_back(command);
    undone_.clear();
    return ok;
}

std::optional<Command> JobDocument::undo()
{
    if (done_.empty())
        return std::nullopt;
    Command back = turned(done_.back());
    if (!carryOut(back))
        return std::nullopt;
    undone_.push_back(std::move(done_.back()));
    done_.pop_back();
    return back;
}

std::optional<Command> JobDocument::redo()
{
    if (undone_.empty())
        return std::nullopt;
    Command again = undone_.back();
    if (!carryOut(again))
        return std::nullopt;
    done_.push_back(again);
    undone_.pop_back();
    return again;
}

CommandBuilder& CommandBuilder::set(const std::string& path, std::optional<Json> value)
{
    // Whole branches that are not there yet come in as one change, so that undo takes them out again.
    Pointer at(path);
    while (!at.empty() && !json_.contains(at.parent_pointer())) {
        if (!value)
            return *this;
        Json wrapped = Json::object();
        wrapped[at.back()] = std::move(*value);
        value = std::move(wrapped);
        at = at.parent_pointer();
    }
    const auto before = valueAt(json_, at);
    if (before == value)
        return *this;
    put(json_, at, value);
    command_.changes.push_back({at.to_string(), before, std::move(value)});
    return *this;
}

CommandBuilder& CommandBuilder::append(const std::string& listPath, Json value)
{
    const Pointer at(listPath);
    if (!json_.contains(at))
        return set(listPath, Json::array({std::move(value)}));
    return set(listPath + "/" + std::to_string(json_.at(at).size()), std::move(value));
}

} // namespace fortitor
