// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"
#include "jobs/analysis.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>

namespace fortitor::cli {
namespace {

int exitCode(const JobOutcome& outcome)
{
    const auto unread = std::ranges::count_if(outcome.specimens, [](const SpecimenOutcome& s) { return s.problem.has_value(); });
    const bool any = std::ranges::any_of(outcome.specimens, [](const SpecimenOutcome& s) {
        return s.outcome && std::ranges::any_of(s.outcome->results, [](const Result& r) { return r.value.has_value(); });
    });
    if (unread > 0)
        return unread == std::ssize(outcome.specimens) ? wrongInput : doneInPart;
    return any ? done : noResult;
}

} // namespace

int analyse(const std::string& jobFile, const std::string& out, bool allowOutside)
{
    const auto wrong = [](const Problem& p) {
        fmt::print(stderr, "fortitor-cli: {}\n", p.text());
        return wrongInput;
    };
    auto json = readJsonFile(jobFile);
    if (!json)
        return wrong(json.problem());
    auto job = readJob(*json);
    if (!job) {
        Problem p = job.problem();
        p.place = jobFile + ", " + p.place;
        return wrong(p);
    }
    const JobOutcome outcome = analyseJob(*job, std::filesystem::path(jobFile).parent_path().string(), allowOutside);
    for (const SpecimenOutcome& s : outcome.specimens)
        if (s.problem)
            fmt::print(stderr, "fortitor-cli: {}\n", s.problem->text());
    const int code = exitCode(outcome);
    const std::string text = resultsJson(*job, outcome).dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
    if (out.empty()) {
        fmt::print("{}", text);
    } else if (auto ok = writeFileWhole(out, text); !ok) {
        fmt::print(stderr, "fortitor-cli: {}\n", ok.problem().text());
        return otherFailure;
    }
    return code;
}

} // namespace fortitor::cli
