// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/worked_job.h"

#include <fmt/format.h>

#include <filesystem>

namespace fortitor::cli {
namespace {

/// The first remarks that stand in the way, in words.
std::string whyNone(const SpecimenOutcome& s)
{
    std::string words;
    int told = 0;
    constexpr int most = 3;
    for (const Severity severity : {Severity::Reject, Severity::Caution})
        for (const Remark& r : s.outcome->remarks)
            if (r.severity == severity && told < most) {
                words += (words.empty() ? "" : " ") + r.text;
                ++told;
            }
    return words.empty() ? "The record gives none of the results of this method." : words;
}

} // namespace

int analyse(const std::string& jobFile, const std::string& out, bool allowOutside)
{
    const auto job = jobOf(jobFile);
    if (!job) {
        fmt::print(stderr, "fortitor-cli: {}\n", job.problem().text());
        return wrongInput;
    }
    std::vector<std::string> texts(job->specimens.size());
    const auto letGo = [&](size_t i, SpecimenOutcome& s) {
        texts[i] = specimenText(s, *job);
        if (!s.outcome)
            return;
        std::erase_if(s.outcome->views, [](const View& view) { return std::holds_alternative<CurveView>(view); });
        if (job->method->evaluateSet)
            return; // the set may build on how its figures came about
        for (Result& r : s.outcome->results)
            r.derivation.reset();
    };
    const JobOutcome outcome =
        analyseJob(*job, std::filesystem::path(jobFile).parent_path().string(), allowOutside, letGo);
    for (const SpecimenOutcome& s : outcome.specimens)
        if (s.problem)
            fmt::print(stderr, "fortitor-cli: {}\n", s.problem->text());
    const int code = exitCode(outcome);
    if (code == wrongInput)
        return code; // nothing was worked out: what an older file says stays
    if (code == noResult)
        for (const SpecimenOutcome& s : outcome.specimens)
            fmt::print(stderr, "fortitor-cli: {}: no result. {}\n", s.label, whyNone(s));
    const std::string text = resultsText(*job, outcome, texts);
    if (out.empty() || out == "-") {
        fmt::print("{}", text);
    } else if (auto ok = writeFileWhole(out, text); !ok) {
        fmt::print(stderr, "fortitor-cli: {}\n", ok.problem().text());
        return otherFailure;
    }
    return code;
}

} // namespace fortitor::cli
