// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "cli/commands.h"
#include "jobs/analysis.h"

#include <algorithm>

namespace fortitor::cli {

/// The job of a file. Refused, with the file named: what is no job, and one without specimens.
inline Expected<Job> jobOf(const std::string& file)
{
    const auto json = readJsonFile(file);
    if (!json)
        return json.problem();
    auto job = readJob(*json);
    if (!job) {
        Problem problem = job.problem();
        problem.place = file + ", " + problem.place;
        return problem;
    }
    if (job->specimens.empty())
        return Problem{file + ", specimens", "an empty list", "one specimen or more", {}};
    return job;
}

/// What a program that worked a job out ends with.
inline int exitCode(const JobOutcome& outcome)
{
    const auto unread =
        std::ranges::count_if(outcome.specimens, [](const SpecimenOutcome& s) { return s.problem.has_value(); });
    const bool any = std::ranges::any_of(outcome.specimens, [](const SpecimenOutcome& s) {
        return s.outcome
            && std::ranges::any_of(s.outcome->results, [](const Result& r) { return r.value.has_value(); });
    });
    const bool set =
        outcome.set && std::ranges::any_of(outcome.set->results, [](const Result& r) { return r.value.has_value(); });
    if (unread > 0)
        return unread == std::ssize(outcome.specimens) ? wrongInput : doneInPart;
    return any || set ? done : noResult;
}

} // namespace fortitor::cli
