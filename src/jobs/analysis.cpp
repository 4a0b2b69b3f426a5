// SPDX-License-Identifier: GPL-3.0-or-later
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
    j["verdict"] = verdictName(s.verdict);
    if (!s.excludedBecause.empty())
        j["excluded"] = s.excludedBecause;
    return j;
}

/// A figure that is only a bound meets a lower limit that it lies above, breaks an upper one that it lies above, and
/// leaves the rest open.
Check checkResult(const Requirement& requirement, const Result* r)
{
    Check check = checkRequirement(requirement, r ? r->value : std::nullopt);
    if (r && r->bound == Result::Bound::AtLeast && check.verdict != Verdict::Open) {
        const bool aboveMost = requirement.max && *r->value > *requirement.max;
        const bool aboveLeast = !requirement.min || *r->value >= *requirement.min;
        check.verdict = aboveMost ? Verdict::Fail : !requirement.max && aboveLeast ? Verdict::Pass : Verdict::Open;
    }
    return check;
}

bool ofSet(const Method& method, const std::string& symbol)
{
    const ResultSpec* spec = method.findResult(symbol);
    return spec && spec->of == ResultSpec::Of::Set;
}

constexpr const char* groupedBy[] = {"operator", "batch"};

/// Each specimen's group by a note, numbered from 0; SIZE_MAX where it is not noted.
std::vector<size_t> notedGroups(const Job& job, const std::string& source)
{
    std::map<std::string, size_t> numbers;
    std::vector<size_t> groups;
    for (const Specimen& s : job.specimens) {
        const auto it = s.input.notes.find(source);
        groups.push_back(it == s.input.notes.end() || it->second.empty()
                             ? SIZE_MAX
                             : numbers.try_emplace(it->second, numbers.size()).first->second);
    }
    return groups;
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
    namespace fs = std::filesystem;
    std::error_code error;
    const fs::path base = fs::weakly_canonical(folder.empty() ? "." : folder, error);
    const fs::path file = fs::weakly_canonical(base / specimen.recordFile, error);
    if (!allowOutside && (fs::path(specimen.recordFile).is_absolute() || !insideFolder(file, base)))
        return Problem{specimen.label + ", record.file", '"' + specimen.recordFile + '"',
                       "a path inside the job's folder", "Move the record there, or allow it with --allow-outside."};
    ImportRequest request;
    request.choices = specimen.columns;
    request.part = specimen.recordPart;
    request.decimal = specimen.recordDecimal;
    request.needed = method.channels;
    request.progress = progress;
    auto record = importText(file.string(), request);
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
    if (input.record) {
        for (const std::string& note : input.record->notes)
            outcome->remarks.push_back({"import", Severity::Note, {}, note, "", {}});
        if (!input.record->incompleteBecause.empty())
            outcome->remarks.push_back({"record-incomplete",
                                        Severity::Caution,
                                        {},
                                        "The record is incomplete: " + input.record->incompleteBecause,
                                        "What was kept is read; what came after is not known.",
                                        {}});
    }
    if (input.record)
        for (const Event& e : input.record->events) {
            // What stood against an instrument when the test began stays with the result.
            if (e.code == "calibration-overdue")
                outcome->remarks.push_back(
                    {e.code,
                     Severity::Caution,
                     {},
                     "Taken with an instrument that had run out: " + e.text + ".",
                     "Have it calibrated; settle this once the calibration shows that it was still right.",
                     {}});
            else if (e.code == "calibration-failed")
                outcome->remarks.push_back({e.code,
                                            Severity::Reject,
                                            {},
                                            "Taken with an instrument that had failed: " + e.text,
                                            "Repeat the test with a sound instrument.",
                                            {}});
            else if (e.code == "overload")
                outcome->remarks.push_back({"cell-overloaded",
                                            Severity::Caution,
                                            {},
                                            "The load cell was overloaded in this run: " + e.text + ".",
                                            "Check the cell before it measures again.",
                                            {}});
            else if (e.code == "gap")
                outcome->remarks.push_back({"record-gap",
                                            Severity::Caution,
                                            {},
                                            "The record has a gap: " + e.text + ".",
                                            "A figure that rests on this stretch is not to be trusted.",
                                            {}});
        }
    out.outcome = std::move(*outcome);
    // What the method itself throws out leaves the set with its reason, unless a person settled it.
    if (out.excludedBecause.empty())
        for (const Remark& r : openRemarks(specimen, out.outcome->remarks))
            if (r.severity == Severity::Reject
                && std::ranges::find(job.method->leavesSet, r.code) != job.method->leavesSet.end())
                out.excludedBecause = r.text;
    for (const Requirement& requirement : job.requirements)
        if (requirement.ofSpecimen() && !ofSet(*job.method, requirement.symbol))
            out.checks.push_back(checkResult(requirement, out.outcome->find(requirement.symbol)));
    out.verdict = verdictOf(out.checks, openRemarks(specimen, out.outcome->remarks));
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

/// What the method gives of the set as a whole, held against what is wanted of it.
void evaluateSet(const Job& job, SetInput set, JobOutcome& outcome)
{
    outcome.set.reset();
    outcome.setChecks.clear();
    outcome.setVerdict = Verdict::Open;
    if (!job.method->evaluateSet)
        return;
    auto worked = job.method->evaluateSet(set);
    if (!worked) {
        outcome.remarks.push_back(
            {"set-not-read", Severity::Reject, {}, worked.problem().text(), worked.problem().advice, {}});
        return;
    }
    if (std::ranges::none_of(job.method->results,
                             [](const ResultSpec& spec) { return spec.of == ResultSpec::Of::Set; })) {
        outcome.remarks.insert(outcome.remarks.end(), worked->remarks.begin(), worked->remarks.end());
        return;
    }
    for (const Requirement& requirement : job.requirements)
        if (requirement.ofSpecimen() && ofSet(*job.method, requirement.symbol))
            outcome.setChecks.push_back(checkResult(requirement, worked->find(requirement.symbol)));
    outcome.setVerdict = verdictOf(outcome.setChecks, worked->remarks);
    outcome.set = std::move(*worked);
}

/// What is wanted of the lot, against the mean and the one-sided tolerance bound of the set.
void checkLot(const Job& job, JobOutcome& outcome)
{
    outcome.lot.clear();
    for (const Requirement& r : job.requirements) {
        const auto figure = std::ranges::find(outcome.batch, r.symbol, &SetFigure::symbol);
        const bool any = figure != outcome.batch.end() && figure->statistics.n > 0;
        for (const auto& [limit, bound] : {std::pair(r.meanMin, false), {r.boundMin, true}}) {
            if (!limit)
                continue;
            LotCheck check{
                .symbol = r.symbol, .bound = bound, .limit = *limit, .value = {}, .verdict = Verdict::Open, .why = {}};
            if (!any)
                check.why = "no specimen has a figure";
            else if (!bound)
                check.value = figure->unit->toBase(figure->statistics.mean);
            else if (!figure->bounds)
                check.why = "too few specimens for a bound";
            else if (figure->normality && figure->normality->doubted())
                check.why = "the figures are not normally spread, so that no bound is given";
            else
                check.value = figure->unit->toBase(figure->bounds->b);
            if (check.value)
                check.verdict = *check.value < *limit ? Verdict::Fail : Verdict::Pass;
            if (check.verdict == Verdict::Fail)
                outcome.remarks.push_back(
                    {bound ? "lot-bound-low" : "lot-mean-low",
                     Severity::Caution,
                     {r.symbol},
                     fmt::format("The {} of {} is {}; at least {} is wanted.", bound ? "lower bound" : "mean", r.symbol,
                                 formatQuantity(*check.value, *figure->unit), formatQuantity(*limit, *figure->unit)),
                     bound ? "More specimens narrow the bound; a wide spread keeps it low." : "",
                     {}});
            outcome.lot.push_back(std::move(check));
        }
    }
}

} // namespace

void analyseSet(const Job& job, JobOutcome& outcome)
{
    outcome.batch.clear();
    outcome.remarks = job.notes;
    SetInput set;
    std::vector<SetFigure>& batch = outcome.batch;
    std::vector<std::vector<size_t>> members; // specimens behind the values of each figure
    std::map<std::string, size_t, std::less<>> at;
    size_t counted = 0;
    for (size_t i = 0; i < outcome.specimens.size(); ++i) {
        const SpecimenOutcome& s = outcome.specimens[i];
        if (!s.excludedBecause.empty())
            continue;
        if (i < job.specimens.size()) {
            set.inputs.push_back(&job.specimens[i].input);
            set.outcomes.push_back(s.outcome ? &*s.outcome : nullptr);
        }
        if (!s.outcome)
            continue;
        ++counted;
        for (size_t place = 0; place < s.outcome->results.size(); ++place) {
            const Result& r = s.outcome->results[place];
            size_t k = place; // the results of a method stand in the same order, so that a look-up is rarely needed
            if (k >= batch.size() || batch[k].symbol != r.symbol) {
                const auto [it, fresh] = at.try_emplace(r.symbol, batch.size());
                k = it->second;
                if (fresh) {
                    batch.emplace_back();
                    batch.back().symbol = r.symbol;
                    batch.back().unit = r.unit;
                    members.emplace_back();
                }
            }
            if (!r.value)
                continue;
            SetFigure& figure = batch[k];
            figure.values.push_back(figure.unit->fromBase(*r.value));
            figure.labels.push_back(s.label);
            members[k].push_back(i);
        }
    }
    std::vector<std::pair<std::string, double>> spreads; // how normal each figure with bounds is
    std::set<std::string> unnoted;
    std::vector<std::pair<std::string, std::vector<size_t>>> sources;
    for (const char* source : groupedBy)
        sources.emplace_back(source, notedGroups(job, source));
    for (size_t k = 0; k < batch.size(); ++k) {
        SetFigure& figure = batch[k];
        if (figure.values.empty())
            continue;
        figure.statistics = setStatistics(figure.values);
        figure.grubbs = grubbsTest(figure.values);
        figure.normality = andersonDarling(figure.values);
        figure.bounds = toleranceBounds(figure.values);
        for (const auto& [source, groups] : sources) {
            std::vector<size_t> own;
            for (const size_t i : members[k])
                own.push_back(i < groups.size() ? groups[i] : SIZE_MAX);
            const auto without = static_cast<size_t>(std::ranges::count(own, SIZE_MAX));
            if (without > 0 && without < own.size())
                unnoted.insert(source); // told once: a specimen without the note belongs to no group
            if (without > 0)
                continue;
            if (const auto shares = varianceShares(figure.values, own))
                figure.sources.emplace_back(source, *shares);
        }
        if (figure.bounds && figure.normality)
            spreads.emplace_back(figure.symbol, figure.normality->p);
        if (figure.grubbs && figure.grubbs->outlier())
            outcome.remarks.push_back({"outlier",
                                       Severity::Caution,
                                       {figure.symbol},
                                       fmt::format("{} of {} stands apart from the set (Grubbs {:.2f}, limit {:.2f}).",
                                                   symbolText(figure.symbol), figure.labels[figure.grubbs->index],
                                                   figure.grubbs->statistic, figure.grubbs->critical),
                                       "It stays in unless a person excludes it with a reason.",
                                       {}});
    }
    std::erase_if(batch, [](const SetFigure& f) { return f.values.empty(); });
    // Of many figures one in twenty looks odd by chance: the level is shared among them (Bonferroni).
    std::vector<std::string> doubted;
    for (const auto& [symbol, p] : spreads)
        if (p < 0.05 / static_cast<double>(spreads.size()))
            doubted.push_back(symbol);
    if (!doubted.empty())
        outcome.remarks.push_back(
            {"bounds-doubted",
             Severity::Caution,
             doubted,
             "The A and B bounds stand on a normal spread, which these figures do not show (Anderson-Darling).",
             "Look for a second kind of piece in the set; more specimens tell.",
             {}});
    for (const std::string& source : unnoted)
        outcome.remarks.push_back(
            {"note-missing",
             Severity::Note,
             {},
             fmt::format("Not every specimen says its {0}: how much of the scatter lies between {0}s is not given.",
                         source),
             "Note it on Measure.",
             {}});
    evaluateSet(job, std::move(set), outcome);
    if (counted > 0 && counted < static_cast<size_t>(job.method->leastSpecimens))
        outcome.remarks.push_back(
            {"few-specimens",
             Severity::Caution,
             {},
             fmt::format("{} specimens; the method asks for at least {}.", counted, job.method->leastSpecimens),
             "",
             {}});
    checkLot(job, outcome);
}

std::string scatterSentence(const SetFigure& f)
{
    if (f.sources.empty())
        return {};
    std::string most = "pieces";
    double greatest = 0.5;
    std::string rest;
    for (const auto& [source, shares] : f.sources) {
        const std::string name = source == "batch" ? "batches" : source + "s";
        if (shares.share() > greatest) {
            greatest = shares.share();
            most = name;
        } else {
            rest += (rest.empty() ? "" : ", nor between ") + name
                + fmt::format(" ({:.0f} %{})", 100 * shares.share(), shares.p < 0.05 ? "" : ", no more than chance");
        }
    }
    if (most == "pieces")
        return fmt::format("Most of the scatter is between pieces, not between {}.", rest);
    return fmt::format("Most of the scatter ({:.0f} %) is between {}{}.", 100 * greatest, most,
                       rest.empty() ? ", not between pieces" : ", not between " + rest);
}

namespace {

SpecimenOutcome readAndAnalyse(const Specimen& specimen, const Job& job, const std::string& folder, bool allowOutside)
{
    auto record = loadRecord(specimen, *job.method, folder, allowOutside);
    if (record)
        return analyseSpecimen(specimen, job, *record);
    SpecimenOutcome failed;
    failed.label = specimen.label;
    failed.problem = record.problem();
    failed.excludedBecause = specimen.excludedBecause;
    return failed;
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

namespace {

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

Json resultsTail(const JobOutcome& outcome)
{
    Json j;
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
    if (outcome.set) {
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
