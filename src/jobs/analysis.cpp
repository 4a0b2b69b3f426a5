// SPDX-License-Identifier: GPL-3.0-or-later
#include "jobs/analysis.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

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

Json remarkJson(const Remark& r)
{
    Json j;
    j["code"] = r.code;
    j["severity"] = severityName(r.severity);
    if (!r.symbols.empty())
        j["symbols"] = r.symbols;
    j["text"] = r.text;
    if (!r.advice.empty())
        j["advice"] = r.advice;
    return j;
}

Json specimenJson(const SpecimenOutcome& s, const Job& job)
{
    Json j;
    j["label"] = s.label;
    if (s.problem) {
        j["problem"] = s.problem->text();
        j["results"] = Json::object();
        for (const ResultSpec& spec : job.method->results)
            j["results"][spec.symbol] = nullptr;
        j["remarks"] = Json::array({remarkJson({"not-read", Severity::Reject, {}, s.problem->text(), s.problem->advice, {}})});
        j["verdict"] = "open";
        return j;
    }
    j["results"] = Json::object();
    for (const Result& r : s.outcome->results) {
        if (!r.value) {
            j["results"][r.symbol] = nullptr;
            continue;
        }
        Json& out = j["results"][r.symbol];
        out["value"] = r.unit->fromBase(*r.value);
        out["unit"] = r.unit->symbol;
        if (r.budget.expanded > 0)
            out["uncertainty"] = r.budget.expanded / r.unit->factor;
        if (r.derivation) {
            out["formula"] = formulaText(*r.derivation);
            out["working"] = workingText(*r.derivation);
        }
    }
    j["remarks"] = Json::array();
    for (const Remark& r : s.outcome->remarks)
        j["remarks"].push_back(remarkJson(r));
    j["verdict"] = verdictName(s.verdict);
    if (!s.excludedBecause.empty())
        j["excluded"] = s.excludedBecause;
    return j;
}

} // namespace

Expected<std::shared_ptr<const Record>> loadRecord(const Specimen& specimen, const Method& method, const std::string& folder, bool allowOutside, const Progress& progress)
{
    if (specimen.readings)
        return std::make_shared<const Record>(*specimen.readings);
    if (specimen.recordFile.empty())
        return std::shared_ptr<const Record>();
    namespace fs = std::filesystem;
    std::error_code error;
    const fs::path base = fs::weakly_canonical(folder.empty() ? "." : folder, error);
    const fs::path file = fs::weakly_canonical(base / specimen.recordFile, error);
    if (!allowOutside && (fs::path(specimen.recordFile).is_absolute() || !insideFolder(file, base)))
        return Problem{specimen.label + ", record.file", '"' + specimen.recordFile + '"', "a path inside the job's folder", "Move the record there, or allow it with --allow-outside."};
    ImportRequest request;
    request.choices = specimen.columns;
    request.needed = method.channels;
    request.progress = progress;
    auto record = importText(file.string(), request);
    if (!record) {
        Problem p = record.problem();
        p.place = specimen.label + ", " + p.place;
        return p;
    }
    return std::make_shared<const Record>(std::move(*record));
}

SpecimenOutcome analyseSpecimen(const Specimen& specimen, const Job& job, std::shared_ptr<const Record> record)
{
    SpecimenOutcome out;
    out.label = specimen.label;
    out.excludedBecause = specimen.excludedBecause;
    SpecimenInput input = specimen.input;
    input.record = std::move(record);
    auto outcome = job.method->evaluate(input);
    if (!outcome) {
        out.problem = outcome.problem();
        return out;
    }
    if (input.record) {
        for (const std::string& note : input.record->notes)
            outcome->remarks.push_back({"import", Severity::Note, {}, note, "", {}});
        if (!input.record->incompleteBecause.empty())
            outcome->remarks.push_back({"record-incomplete", Severity::Caution, {}, "The record is incomplete: " + input.record->incompleteBecause, "What was kept is read; what came after is not known.", {}});
    }
    out.outcome = std::move(*outcome);
    for (const Requirement& requirement : job.requirements) {
        const Result* r = out.outcome->find(requirement.symbol);
        out.checks.push_back(checkRequirement(requirement, r ? r->value : std::nullopt));
    }
    out.verdict = verdictOf(out.checks, openRemarks(specimen, out.outcome->remarks));
    return out;
}

std::vector<Alternative> alternatives(const Specimen& specimen, const Job& job, const std::shared_ptr<const Record>& record, const std::string& symbol)
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
            const bool seen = std::ranges::any_of(found, [&](const Alternative& a) { return a.option == spec.key && value && std::abs(a.value - *value) <= 1e-9 * std::abs(*value); });
            if (value && !seen && std::abs(*value - *now) > 1e-4 * std::abs(*now))
                found.push_back({spec.key, choice, spec.label + ": " + choice, *value});
        }
    }
    return found;
}

void analyseSet(const Job& job, JobOutcome& outcome)
{
    outcome.batch.clear();
    outcome.remarks = job.notes;
    std::vector<std::pair<std::string, const Unit*>> symbols;
    size_t counted = 0;
    for (const SpecimenOutcome& s : outcome.specimens) {
        if (!s.outcome || !s.excludedBecause.empty())
            continue;
        ++counted;
        for (const Result& r : s.outcome->results)
            if (std::ranges::find(symbols, r.symbol, &std::pair<std::string, const Unit*>::first) == symbols.end())
                symbols.emplace_back(r.symbol, r.unit);
    }
    for (const auto& [symbol, unit] : symbols) {
        std::vector<double> values;
        SetFigure figure{symbol, unit, {}, {}, {}};
        for (const SpecimenOutcome& s : outcome.specimens) {
            const Result* r = s.outcome && s.excludedBecause.empty() ? s.outcome->find(symbol) : nullptr;
            if (!r || !r->value)
                continue;
            values.push_back(unit->fromBase(*r->value));
            figure.labels.push_back(s.label);
        }
        if (values.empty())
            continue;
        figure.statistics = setStatistics(values);
        figure.grubbs = grubbsTest(values);
        if (figure.grubbs && figure.grubbs->outlier())
            outcome.remarks.push_back({"outlier", Severity::Caution, {symbol}, fmt::format("{} of {} stands apart from the set (Grubbs {:.2f}, limit {:.2f}).", symbol, figure.labels[figure.grubbs->index], figure.grubbs->statistic, figure.grubbs->critical),
                                       "It stays in unless a person excludes it with a reason.", {}});
        outcome.batch.push_back(std::move(figure));
    }
    if (counted > 0 && counted < static_cast<size_t>(job.method->leastSpecimens))
        outcome.remarks.push_back({"few-specimens", Severity::Caution, {}, fmt::format("{} specimens; the method asks for at least {}.", counted, job.method->leastSpecimens), "", {}});
}

JobOutcome analyseJob(const Job& job, const std::string& folder, bool allowOutside)
{
    JobOutcome out;
    for (const Specimen& specimen : job.specimens) {
        auto record = loadRecord(specimen, *job.method, folder, allowOutside);
        if (record) {
            out.specimens.push_back(analyseSpecimen(specimen, job, *record));
        } else {
            SpecimenOutcome failed;
            failed.label = specimen.label;
            failed.problem = record.problem();
            failed.excludedBecause = specimen.excludedBecause;
            out.specimens.push_back(std::move(failed));
        }
    }
    analyseSet(job, out);
    return out;
}

Json resultsJson(const Job& job, const JobOutcome& outcome)
{
    Json j;
    j["fortitor_results"] = 1;
    j["job"] = job.number;
    j["method"] = job.method->id;
    j["program"] = "fortitor " FORTITOR_VERSION;
    j["specimens"] = Json::array();
    for (const SpecimenOutcome& s : outcome.specimens)
        j["specimens"].push_back(specimenJson(s, job));
    j["batch"] = Json::object();
    for (const SetFigure& f : outcome.batch) {
        const SetStatistics& s = f.statistics;
        Json& b = j["batch"][f.symbol];
        b["n"] = s.n;
        b["mean"] = s.mean;
        b["sd"] = s.n > 1 ? Json(s.sd) : Json(nullptr);
        b["cv_percent"] = s.n > 1 ? Json(s.cvPercent) : Json(nullptr);
        b["min"] = s.min;
        b["max"] = s.max;
        if (s.n > 1)
            b["ci95_half_width"] = s.ciHalfWidth;
        b["unit"] = f.unit->symbol;
    }
    if (!outcome.remarks.empty()) {
        j["remarks"] = Json::array();
        for (const Remark& r : outcome.remarks)
            j["remarks"].push_back(remarkJson(r));
    }
    return j;
}

} // namespace fortitor
