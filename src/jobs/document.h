// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// One place of a job file and what stood and stands there. No value: the key was or is not there.
struct Change {
    std::string path; ///< JSON pointer
    std::optional<Json> before;
    std::optional<Json> after;
};

/// Puts a value at a path of a job, or takes it out; how every change is carried out, undone and replayed.
/// Throws what the JSON library throws where the path leads nowhere.
void putAt(Json& json, const std::string& path, const std::optional<Json>& value);

/// Something a person did to a job, in words, with all it changed.
struct Command {
    std::string words; ///< "diameter 2 of A3: 10.01 mm"
    std::string why; ///< the reason given, where one was asked for
    std::vector<Change> changes;
};

/// A job as the application edits it: the job file's own JSON, the job read from it, and what was
/// done to it, with undo. Keys that the program does not know stay where they are.
class JobDocument {
public:
    static Expected<JobDocument> fromJson(Json json);

    [[nodiscard]] const Json& json() const { return *json_; }
    /// The same for a thread that still works on it when the document is further on.
    [[nodiscard]] std::shared_ptr<const Json> shared() const { return json_; }
    [[nodiscard]] const Job& job() const { return job_; }

    /// Carries a command out. One that would leave no readable job is refused and changes nothing.
    Expected<Done> apply(const Command& command);
    [[nodiscard]] bool canUndo() const { return !done_.empty(); }
    [[nodiscard]] bool canRedo() const { return !undone_.empty(); }
    [[nodiscard]] std::string undoWords() const { return done_.empty() ? "" : done_.back().words; }
    [[nodiscard]] std::string redoWords() const { return undone_.empty() ? "" : undone_.back().words; }
    /// The command that was taken back, as it was carried out: after and before changed places.
    std::optional<Command> undo();
    std::optional<Command> redo();

private:
    JobDocument(Json json, Job job) : json_(std::make_shared<const Json>(std::move(json))), job_(std::move(job)) { }
    Expected<Done> carryOut(const Command& command);

    std::shared_ptr<const Json> json_;
    Job job_;
    std::vector<Command> done_;
    std::vector<Command> undone_;
};

/// Collects changes against a document; each sees what the ones before it did.
class CommandBuilder {
public:
    CommandBuilder(const JobDocument& document, std::string words, std::string why = {})
        : json_(document.json()), command_{std::move(words), std::move(why), {}}
    {
    }
    /// Sets a value, making missing objects on the way; nullopt takes the key out.
    CommandBuilder& set(const std::string& path, std::optional<Json> value);
    CommandBuilder& append(const std::string& listPath, Json value);
    [[nodiscard]] const Json& json() const { return json_; }
    [[nodiscard]] Command take() { return std::move(command_); }

private:
    Json json_;
    Command command_;
};

} // namespace fortitor
