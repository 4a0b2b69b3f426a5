// SPDX-License-Identifier: GPL-3.0-or-later
// The results as JSON (contract.md, results).
#include "jobs/analysis.h"

#include "jobs/record_check.h"
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

namespace {

Json resultJson(const Result& r)
{
    if (!r.value)
        return nullptr;
    Json out;
    out["value"] = r.unit->fromBase(*r.value);
    out["unit"] = r.unit->symbol;
    if (r.bound == Result::Bound::AtLeast)
        out["bound"] = "at-least";
    if (r.interval) {
        out["interval"] = {r.unit->fromBase(r.interval->first), r.unit->fromBase(r.interval->second)};
        out["level"] = intervalLevel;
    } else if (r.budget.expanded > 0) {
        out["uncertainty"] = r.budget.expanded / r.unit->factor;
    }
    if (r.derivation) {
        out["formula"] = formulaText(*r.derivation);
        out["working"] = workingText(*r.derivation);
    }
    return out;
}

void outcomeJson(const Outcome& outcome, Json& j)
{
    j["results"] = Json::object();
    for (const Result& r : outcome.results)
        j["results"][r.symbol] = resultJson(r);
    j["remarks"] = Json::array();
    for (const Remark& r : outcome.remarks)
        j["remarks"].push_back(remarkJson(r));
}

/// What each reading gave, in their order.
Json readingsJson(const std::vector<SingleReading>& readings)
{
    Json list = Json::array();
    for (const SingleReading& one : readings) {
        Json j;
        j["value"] = one.value ? Json(one.unit->fromBase(*one.value)) : Json(nullptr);
        j["notation"] = one.notation.empty() ? Json(nullptr) : Json(one.notation);
        j["set_aside"] = one.setAside;
        j["remarks"] = Json::array();
        for (const Remark& r : one.remarks)
            j["remarks"].push_back(remarkJson(r));
        list.push_back(std::move(j));
    }
    return list;
}

Json specimenJson(const SpecimenOutcome& s, const Job& job)
{
    Json j;
    j["label"] = s.label;
    if (s.problem) {
        j["problem"] = s.problem->text();
        j["results"] = Json::object();
        for (const ResultSpec& spec : job.method->results)
            if (spec.of == ResultSpec::Of::Specimen)
                j["results"][spec.symbol] = nullptr;
        j["remarks"] =
            Json::array({remarkJson({"not-read", Severity::Reject, {}, s.problem->text(), s.problem->advice, {}})});
        j["verdict"] = "open";
        return j;
    }
    outcomeJson(*s.outcome, j);
    if (!job.method->readingsKey.empty())
        j[job.method->readingsKey] = readingsJson(s.outcome->readings);
    for (const ReadingGroup& group : s.outcome->groups)
        j["zones"][group.name] = {{"n", group.values.size()},
                                  {"mean", group.mean},
                                  {"sd", group.values.size() > 1 ? Json(group.sd) : Json(nullptr)},
                                  {"min", group.least},
                                  {"max", group.greatest},
                                  {"unit", group.unit->symbol}};
    if (!job.rules.empty())
        j["rules"] = Json::array();
    for (const RuleVerdict& rule : s.outcome->rules)
        j["rules"].push_back({{"name", rule.name}, {"verdict", saysName(rule.says)}, {"text", rule.text}});
    j["verdict"] = verdictName(s.verdict);
    if (!s.excludedBecause.empty())
        j["excluded"] = s.excludedBecause;
    return j;
}

std::string dumped(const Json& json, int deeper)
{
    std::string text = json.dump(2, ' ', false, Json::error_handler_t::replace);
    const std::string pad = "\n" + std::string(static_cast<size_t>(deeper), ' ');
    std::string out;
    out.reserve(text.size() + text.size() / 8);
    for (const char c : text)
        c == '\n' ? void(out += pad) : out.push_back(c);
    return out;
}

Json resultsHead(const Job& job)
{
    Json j;
    j["fortitor_results"] = 1;
    j["job"] = job.number;
    j["method"] = job.method->id;
    j["program"] = "fortitor " FORTITOR_VERSION;
    return j;
}

static Json statisticsJson(const SetStatistics& s)
{
    Json b;
    b["n"] = s.n;
    b["mean"] = s.mean;
    b["sd"] = s.n > 1 ? Json(s.sd) : Json(nullptr);
    b["cv_percent"] = s.n > 1 ? Json(s.cvPercent) : Json(nullptr);
    b["min"] = s.min;
    b["max"] = s.max;
    if (s.atLeast > 0) {
        b["at_least"] = s.atLeast;
        b["law"] = s.law;
    } else if (s.n > 1) {
        b["ci95_half_width"] = s.ciHalfWidth;
    }
    return b;
}

Json resultsTail(const JobOutcome& outcome)
{
    Json j;
    j["batch"] = Json::object();
    for (const LotFigures& lot : outcome.lots)
        for (const SetFigure& f : lot.figures) {
            j["lots"][lot.name][f.symbol] = statisticsJson(f.statistics);
            j["lots"][lot.name][f.symbol]["unit"] = f.unit->symbol;
        }
    for (const SetFigure& f : outcome.batch) {
        Json& b = j["batch"][f.symbol];
        b = statisticsJson(f.statistics);
        if (f.bounds) {
            b["a_bound"] = f.bounds->a;
            b["b_bound"] = f.bounds->b;
        }
        if (f.normality)
            b["normality_p"] = f.normality->p;
        for (const auto& [source, shares] : f.sources)
            b["scatter_share_by_" + source] = shares.share();
        b["unit"] = f.unit->symbol;
    }
    if (outcome.set && !outcome.set->results.empty()) {
        outcomeJson(*outcome.set, j["set"]);
        if (!outcome.setChecks.empty())
            j["set"]["verdict"] = verdictName(outcome.setVerdict);
    }
    if (!outcome.remarks.empty()) {
        j["remarks"] = Json::array();
        for (const Remark& r : outcome.remarks)
            j["remarks"].push_back(remarkJson(r));
    }
    return j;
}

} // namespace

Json resultsJson(const Job& job, const JobOutcome& outcome)
{
    Json j = resultsHead(job);
    j["specimens"] = Json::array();
    for (const SpecimenOutcome& s : outcome.specimens)
        j["specimens"].push_back(specimenJson(s, job));
    const Json tail = resultsTail(outcome);
    for (const auto& [key, value] : tail.items())
        j[key] = value;
    return j;
}

std::string specimenText(const SpecimenOutcome& specimen, const Job& job)
{
    return dumped(specimenJson(specimen, job), 4);
}

std::string resultsText(const Job& job, const JobOutcome& outcome, const std::vector<std::string>& specimens)
{
    // Head and tail as two objects, with the list between them.
    std::string text = dumped(resultsHead(job), 0);
    text.resize(text.size() - 2); // "\n}"
    text += ",\n  \"specimens\": [";
    const char* between = "\n    ";
    for (const std::string& s : specimens) {
        text += between + s;
        between = ",\n    ";
    }
    text += specimens.empty() ? "]," : "\n  ],";
    return text + dumped(resultsTail(outcome), 0).substr(1) + "\n";
}

} // namespace fortitor
