// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/analysis.h"

#include "jobs/analysis_parts.h"
#include "jobs/record_check.h"
#include "jobs/rules.h"
#include "methods/display.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstdint>
#include <exception>
#include <filesystem>
#include <mutex>
#include <set>
#include <thread>

namespace fortitor {
namespace {

std::vector<Remark> openRemarks(const Specimen& specimen, const std::vector<Remark>& all)
{
    std::vector<Remark> open;
    for (const Remark& r : all)
        if (std::ranges::find(specimen.settled, r.code, &Settlement::code) == specimen.settled.end())
            open.push_back(r);
    return open;
}

bool insideFolder(const std::filesystem::path& file, const std::filesystem::path& folder)
{
    const auto relative = file.lexically_relative(folder);
    return !relative.empty() && *relative.begin() != "..";
}

/// What came of an event while the record was taken; nothing for one that says nothing of the figures.
std::optional<Remark> remarkOfEvent(const Event& e)
{
    if (e.code == "calibration-overdue") // what stood against an instrument when the test began stays with the result
        return Remark{e.code,
                      Severity::Caution,
                      {},
                      "Taken with an instrument that had run out: " + e.text + ".",
                      "Have it calibrated; settle this once the calibration shows that it was still right.",
                      {}};
    if (e.code == "calibration-failed")
        return Remark{e.code,
                      Severity::Reject,
                      {},
                      "Taken with an instrument that had failed: " + e.text,
                      "Repeat the test with a sound instrument.",
                      {}};
    if (e.code == "overload")
        return Remark{"cell-overloaded",
                      Severity::Caution,
                      {},
                      "The load cell was overloaded in this run: " + e.text + ".",
                      "Check the cell before it measures again.",
                      {}};
    if (e.code == "gap")
        return Remark{"record-gap",
                      Severity::Caution,
                      {},
                      "The record has a gap: " + e.text + ".",
                      "A figure that rests on this stretch is not to be trusted.",
                      {}};
    return std::nullopt;
}

/// What was said when the record came in, what it lacks, and what happened meanwhile.
std::vector<Remark> remarksOfRecord(const Record& record)
{
    std::vector<Remark> remarks;
    for (const std::string& note : record.notes)
        remarks.push_back({"import", Severity::Note, {}, note, "", {}});
    if (!record.incompleteBecause.empty())
        remarks.push_back({"record-incomplete",
                           Severity::Caution,
                           {},
                           "The record is incomplete: " + record.incompleteBecause,
                           "What was kept is read; what came after is not known.",
                           {}});
    for (const Event& e : record.events)
        if (auto remark = remarkOfEvent(e))
            remarks.push_back(std::move(*remark));
    return remarks;
}

/// Where a file is that a job names; one outside the job's folder only where that is allowed.
Expected<std::string> insideJob(const std::string& place, const std::string& name, const std::string& folder,
                                bool allowOutside)
{
    namespace fs = std::filesystem;
    std::error_code error;
    const fs::path base = fs::weakly_canonical(folder.empty() ? "." : folder, error);
    const fs::path file = fs::weakly_canonical(base / name, error);
    if (!allowOutside && (fs::path(name).is_absolute() || !insideFolder(file, base)))
        return Problem{place, '"' + name + '"', "a path inside the job's folder",
                       "Move the record there, or allow it with --allow-outside."};
    return file.string();
}

} // namespace

Expected<std::shared_ptr<const Record>> loadRecord(const Specimen& specimen, const Method& method,
                                                   const std::string& folder, bool allowOutside,
                                                   const Progress& progress)
{
    if (specimen.readings)
        return std::make_shared<const Record>(*specimen.readings);
    if (specimen.recordFile.empty())
        return std::shared_ptr<const Record>();
    const auto file = insideJob(specimen.label + ", record.file", specimen.recordFile, folder, allowOutside);
    if (!file)
        return file.problem();
    ImportRequest request;
    request.choices = specimen.columns;
    request.part = specimen.recordPart;
    request.decimal = specimen.recordDecimal;
    request.needed = method.channels;
    request.progress = progress;
    auto record = importText(*file, request);
    if (!record) {
        Problem p = record.problem();
        p.place = specimen.label + ", " + p.place;
        return p;
    }
    if (!specimen.recordIncomplete.empty())
        record->incompleteBecause = specimen.recordIncomplete;
    record->events.insert(record->events.end(), specimen.recordEvents.begin(), specimen.recordEvents.end());
    return std::make_shared<const Record>(std::move(*record));
}

namespace {

/// What the rules say that the job cites: each stands in the verdict, and is told beside the curve.
void judgeByRules(const Job& job, const SpecimenInput& input, Outcome& outcome, std::vector<Check>& checks)
{
    if (job.rules.empty() || outcome.apart)
        return;
    ToldGroup told{.heading = "rules", .rows = {}, .note = "No rule is law by itself; local law decides."};
    for (const AcceptanceRule& rule : job.rules) {
        const RuleVerdict& verdict = outcome.rules.emplace_back(job.method->judgeRule(rule, outcome, input));
        using Says = RuleVerdict::Says;
        Check check;
        check.verdict = verdict.says == Says::Met ? Verdict::Pass
            : verdict.says == Says::Failed        ? Verdict::Fail
                                                  : Verdict::Open;
        checks.push_back(check);
        told.rows.push_back({.label = rule.name,
                             .words = std::string(saysName(verdict.says)) + ": " + verdict.text,
                             .state = verdict.says == Says::Met ? ToldRow::State::Good
                                 : verdict.says == Says::Failed ? ToldRow::State::Bad
                                                                : ToldRow::State::Open,
                             .more = sourceWords(rule)});
    }
    if (const std::string strictest = job.method->strictestRule ? job.method->strictestRule(job.rules, input) : "";
        !strictest.empty())
        told.note = strictest + " " + told.note;
    outcome.told.push_back(std::move(told));
}

} // namespace

SpecimenOutcome analyseSpecimen(const Specimen& specimen, const Job& job, std::shared_ptr<const Record> record)
{
    SpecimenOutcome out;
    out.label = specimen.label;
    out.excludedBecause = specimen.excludedBecause;
    SpecimenInput input = specimen.input;
    if (auto impossible = impossibleSize(*job.method, input)) {
        out.problem = std::move(impossible);
        return out;
    }
    CheckedRecord checked = checkRecord(*job.method, std::move(record), specimen.readings.has_value());
    input.record = checked.record;
    auto outcome = job.method->evaluate(input);
    if (!outcome) {
        out.problem = outcome.problem();
        return out;
    }
    for (Result& r : outcome->results)
        if (std::ranges::find(checked.withheld, r.symbol) != checked.withheld.end())
            r = {.symbol = r.symbol, .unit = r.unit};
    if (!checked.remarks.empty() && !checked.record) // not missing: of no use
        std::erase_if(outcome->remarks, [](const Remark& r) { return r.code == "no-record"; });
    outcome->remarks.insert(outcome->remarks.end(), checked.remarks.begin(), checked.remarks.end());
    if (input.record)
        for (Remark& r : remarksOfRecord(*input.record))
            outcome->remarks.push_back(std::move(r));
    out.outcome = std::move(*outcome);
    // What the method itself throws out leaves the set with its reason, unless a person settled it.
    if (out.excludedBecause.empty())
        for (const Remark& r : openRemarks(specimen, out.outcome->remarks))
            if (r.severity == Severity::Reject
                && std::ranges::find(job.method->leavesSet, r.code) != job.method->leavesSet.end())
                out.excludedBecause = r.text;
    for (const Requirement& requirement : job.requirements)
        if (requirement.ofSpecimen() && !ofSet(*job.method, requirement.symbol) && !out.outcome->apart)
            out.checks.push_back(checkResult(requirement, out.outcome->find(requirement.symbol)));
    std::vector<Check> all = out.checks;
    if (job.method->judgeRule)
        judgeByRules(job, input, *out.outcome, all);
    out.verdict = verdictOf(all, openRemarks(specimen, out.outcome->remarks));
    return out;
}

std::vector<Alternative> alternatives(const Specimen& specimen, const Job& job,
                                      const std::shared_ptr<const Record>& record, const std::string& symbol)
{
    std::vector<Alternative> found;
    SpecimenInput input = specimen.input;
    input.record = record;
    const auto valueOf = [&](const SpecimenInput& in) -> std::optional<double> {
        const auto outcome = job.method->evaluate(in);
        const Result* r = outcome ? outcome->find(symbol) : nullptr;
        return r ? r->value : std::nullopt;
    };
    const auto now = valueOf(input);
    if (!now)
        return found;
    for (const OptionSpec& spec : job.method->options) {
        const auto set = input.options.find(spec.key);
        const std::string current = set == input.options.end() || set->second.empty() ? spec.fallback : set->second;
        for (const std::string& choice : spec.choices) {
            if (choice == current)
                continue;
            SpecimenInput other = input;
            other.options[spec.key] = choice;
            const auto value = valueOf(other);
            const bool seen = std::ranges::any_of(found, [&](const Alternative& a) {
                return a.option == spec.key && value && std::abs(a.value - *value) <= 1e-9 * std::abs(*value);
            });
            if (value && !seen && std::abs(*value - *now) > 1e-4 * std::abs(*now))
                found.push_back({spec.key, choice, spec.label + ": " + spec.shown(choice), *value});
        }
    }
    return found;
}

namespace {

/// Files that a specimen is worked out from beside its record, by where they are named.
std::vector<std::pair<std::string, std::string*>> filesOf(Specimen& specimen, const Job& job)
{
    std::vector<std::pair<std::string, std::string*>> files;
    if (specimen.input.history)
        for (std::string& path : specimen.input.history->files)
            files.emplace_back(specimen.label + ", history.files", &path);
    for (const OptionSpec& option : job.method->options)
        if (const auto it = specimen.input.options.find(option.key);
            option.role == OptionSpec::Role::File && it != specimen.input.options.end() && !it->second.empty())
            files.emplace_back("options." + option.key, &it->second);
    return files;
}

SpecimenOutcome readAndAnalyse(const Specimen& specimen, const Job& job, const std::string& folder, bool allowOutside)
{
    SpecimenOutcome failed;
    failed.label = specimen.label;
    failed.excludedBecause = specimen.excludedBecause;
    auto record = loadRecord(specimen, *job.method, folder, allowOutside);
    if (!record) {
        failed.problem = record.problem();
        return failed;
    }
    if (!specimen.input.history && !job.method->optionOf(OptionSpec::Role::File))
        return analyseSpecimen(specimen, job, *record);
    // A job file names them as it names records: from its own folder on.
    Specimen placed = specimen;
    for (const auto& [place, path] : filesOf(placed, job)) {
        auto file = insideJob(place, *path, folder, allowOutside);
        if (!file) {
            failed.problem = file.problem();
            return failed;
        }
        *path = std::move(*file);
    }
    return analyseSpecimen(placed, job, *record);
}

} // namespace

JobOutcome analyseJob(const Job& job, const std::string& folder, bool allowOutside,
                      const std::function<void(size_t, SpecimenOutcome&)>& each)
{
    // The specimens know nothing of each other: each core takes the next one. Their order stays that of the job.
    JobOutcome out;
    out.specimens.resize(job.specimens.size());
    std::atomic<size_t> next = 0;
    std::mutex mutex;
    std::exception_ptr thrown;
    const auto work = [&] {
        try {
            for (size_t i = next++; i < job.specimens.size(); i = next++) {
                SpecimenOutcome one = readAndAnalyse(job.specimens[i], job, folder, allowOutside);
                if (each)
                    each(i, one);
                out.specimens[i] = std::move(one);
            }
        } catch (...) {
            const std::lock_guard lock(mutex);
            thrown = std::current_exception();
        }
    };
    const size_t cores = std::max(1u, std::thread::hardware_concurrency());
    std::vector<std::thread> others;
    for (size_t i = 1; i < std::min(cores, job.specimens.size()); ++i)
        others.emplace_back(work);
    work();
    for (std::thread& one : others)
        one.join();
    if (thrown)
        std::rethrow_exception(thrown);
    analyseSet(job, out);
    return out;
}

} // namespace fortitor
