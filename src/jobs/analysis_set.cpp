// SPDX-License-Identifier: GPL-3.0-or-later
// What the set of a job shows: statistics, requirements, the verdict.
#include "jobs/analysis.h"

#include "jobs/analysis_parts.h"
#include "jobs/record_check.h"
#include "judge/censored.h"
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

/// What the method gives of the set as a whole, held against what is wanted of it.
void evaluateSet(const Job& job, SetInput set, JobOutcome& outcome)
{
    outcome.set.reset();
    outcome.setChecks.clear();
    outcome.setVerdict = Verdict::Open;
    if (!job.method->evaluateSet)
        return;
    set.requirements = job.requirements;
    auto worked = job.method->evaluateSet(set);
    if (!worked) {
        outcome.remarks.push_back(
            {"set-not-read", Severity::Reject, {}, worked.problem().text(), worked.problem().advice, {}});
        return;
    }
    if (std::ranges::none_of(job.method->results,
                             [](const ResultSpec& spec) { return spec.of == ResultSpec::Of::Set; })) {
        outcome.remarks.insert(outcome.remarks.end(), worked->remarks.begin(), worked->remarks.end());
        worked->remarks.clear();
        if (!worked->views.empty() || !worked->told.empty()) // nothing but a picture, or words
            outcome.set = std::move(*worked);
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
                check.why = outcome.lots.empty() ? "no specimen has a figure"
                                                 : "the set is of several lots, such as temperatures";
            else if (!bound)
                check.value = figure->unit->toBase(figure->statistics.mean);
            else if (!figure->bounds && figure->statistics.atLeast > 0)
                check.why = "some of the figures are lower bounds";
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

Check checkResult(const Requirement& requirement, const Result* r)
{
    const bool otherScale = r && requirement.unit && r->unit->kind == Kind::Hardness && r->unit != requirement.unit;
    Check check = checkRequirement(requirement, r && !otherScale ? r->value : std::nullopt);
    if (r && r->bound == Result::Bound::AtLeast && check.verdict != Verdict::Open) {
        const bool aboveMost = requirement.max && *r->value > *requirement.max;
        const bool aboveLeast = !requirement.min || *r->value >= *requirement.min;
        check.verdict = aboveMost ? Verdict::Fail : !requirement.max && aboveLeast ? Verdict::Pass : Verdict::Open;
    }
    return check;
}

bool ofSet(const Method& method, const std::string& symbol)
{
    if (const ResultSpec* spec = method.findResult(symbol))
        return spec->of == ResultSpec::Of::Set;
    const auto alike = method.specLike ? method.specLike(symbol) : std::nullopt;
    return alike && alike->of == ResultSpec::Of::Set;
}

namespace {

/// The values of each figure, gathered from the specimens that count.
struct Gathered {
    SetInput set;
    std::vector<SetFigure> batch; ///< with their values, nothing worked out yet
    std::vector<std::vector<size_t>> members; ///< specimens behind the values of each figure
    size_t counted = 0;
    std::vector<size_t> lotOf; ///< of each specimen that is counted, by its place in the job
    std::vector<std::string> lots;
    std::vector<std::string> otherScale; ///< specimens whose numbers are of another scale than the first's
};

Gathered gathered(const Job& job, const JobOutcome& outcome)
{
    Gathered g;
    std::map<std::string, size_t, std::less<>> at;
    for (size_t i = 0; i < outcome.specimens.size(); ++i) {
        const SpecimenOutcome& s = outcome.specimens[i];
        if (!s.excludedBecause.empty())
            continue;
        if (i < job.specimens.size()) {
            g.set.inputs.push_back(&job.specimens[i].input);
            g.set.outcomes.push_back(s.outcome ? &*s.outcome : nullptr);
        }
        if (!s.outcome || s.outcome->apart)
            continue;
        if (job.method->lotOf
            && std::ranges::any_of(s.outcome->results, [](const Result& r) { return r.value.has_value(); })) {
            const std::string name = job.method->lotOf(job.specimens[i].input);
            const auto it = std::ranges::find(g.lots, name);
            g.lotOf.resize(outcome.specimens.size(), SIZE_MAX);
            g.lotOf[i] = static_cast<size_t>(it - g.lots.begin());
            if (it == g.lots.end())
                g.lots.push_back(name);
        }
        ++g.counted;
        for (size_t place = 0; place < s.outcome->results.size(); ++place) {
            const Result& r = s.outcome->results[place];
            size_t k = place; // the results of a method stand in the same order, so that a look-up is rarely needed
            if (k >= g.batch.size() || g.batch[k].symbol != r.symbol) {
                const auto [it, fresh] = at.try_emplace(r.symbol, g.batch.size());
                k = it->second;
                if (fresh) {
                    g.batch.emplace_back();
                    g.batch.back().symbol = r.symbol;
                    g.batch.back().unit = r.unit;
                    g.members.emplace_back();
                }
            }
            if (!r.value)
                continue;
            if (r.unit->kind == Kind::Hardness
                && r.unit != g.batch[k].unit) { // no factor leads from one scale to another
                if (!g.batch[k].values.empty()) {
                    g.otherScale.push_back(s.label + " (" + std::string(r.unit->symbol) + ")");
                    continue;
                }
                g.batch[k].unit = r.unit;
            }
            g.batch[k].values.push_back(g.batch[k].unit->fromBase(*r.value));
            g.batch[k].labels.push_back(s.label);
            if (r.bound == Result::Bound::AtLeast)
                g.batch[k].open.resize(g.batch[k].values.size() - 1);
            if (r.bound == Result::Bound::AtLeast || !g.batch[k].open.empty())
                g.batch[k].open.push_back(r.bound == Result::Bound::AtLeast);
            g.members[k].push_back(i);
        }
    }
    return g;
}

using Groups = std::vector<std::pair<std::string, std::vector<size_t>>>;

/// How much of a figure's scatter lies between the groups of each source. A source that not every specimen notes is
/// named in `unnoted`: a specimen without the note belongs to no group.
void shareOut(SetFigure& figure, const std::vector<size_t>& members, const Groups& sources,
              std::set<std::string>& unnoted)
{
    for (const auto& [source, groups] : sources) {
        std::vector<size_t> own;
        for (const size_t i : members)
            own.push_back(i < groups.size() ? groups[i] : SIZE_MAX);
        const auto without = static_cast<size_t>(std::ranges::count(own, SIZE_MAX));
        if (without > 0 && without < own.size())
            unnoted.insert(source);
        if (without > 0)
            continue;
        if (const auto shares = varianceShares(figure.values, own))
            figure.sources.emplace_back(source, *shares);
    }
}

/// Mean and scatter; where some values are only lower bounds, those of the law that makes them likely. False where
/// too few are more than that.
bool workOutStatistics(SetFigure& figure)
{
    const auto bounds = static_cast<size_t>(std::ranges::count(figure.open, char(1)));
    figure.statistics = setStatistics(figure.values);
    if (bounds == 0)
        return true;
    const auto fit = fitCensored(figure.values, figure.open);
    if (!fit)
        return false;
    SetStatistics& s = figure.statistics;
    s.atLeast = bounds;
    s.law = lawName(fit->law);
    s.mean = fit->mean;
    s.sd = fit->sd;
    s.cvPercent = s.mean != 0 ? 100 * s.sd / std::abs(s.mean) : 0;
    s.ciHalfWidth = 0;
    return true;
}

/// What is said of figures of which some, or nearly all, are lower bounds.
void remarkOpen(const std::vector<std::string>& withLaw, const std::vector<std::string>& without,
                std::vector<Remark>& remarks)
{
    if (!withLaw.empty())
        remarks.push_back({"bounds-in-mean",
                           Severity::Note,
                           withLaw,
                           "Some values are lower bounds (\"at least\"): mean and scatter are those of a law fitted by "
                           "likelihood, in which they count as such.",
                           "",
                           {}});
    if (!without.empty())
        remarks.push_back(
            {"bounds-only",
             Severity::Note,
             without,
             "Fewer than two values of the set or of a lot of it are more than lower bounds (\"at least\"): it has no "
             "mean.",
             "Test more of them to their break.",
             {}});
}

/// Each lot's own statistics: a mean over different lots would be of nothing.
std::vector<LotFigures> lotFigures(const Gathered& g, std::vector<std::string>& withLaw,
                                   std::vector<std::string>& without)
{
    std::vector<LotFigures> lots;
    for (size_t lot = 0; lot < g.lots.size(); ++lot) {
        LotFigures& one = lots.emplace_back(LotFigures{g.lots[lot], {}});
        for (size_t k = 0; k < g.batch.size(); ++k) {
            SetFigure figure;
            figure.symbol = g.batch[k].symbol;
            figure.unit = g.batch[k].unit;
            for (size_t i = 0; i < g.members[k].size(); ++i)
                if (g.lotOf[g.members[k][i]] == lot) {
                    figure.values.push_back(g.batch[k].values[i]);
                    figure.labels.push_back(g.batch[k].labels[i]);
                    if (!g.batch[k].open.empty())
                        figure.open.push_back(g.batch[k].open[i]);
                }
            if (figure.values.empty())
                continue;
            const bool known = workOutStatistics(figure);
            auto& told = known ? withLaw : without;
            if ((!known || figure.statistics.atLeast > 0) && std::ranges::find(told, figure.symbol) == told.end())
                told.push_back(figure.symbol);
            if (!known)
                continue;
            one.figures.push_back(std::move(figure));
        }
    }
    return lots;
}

void remarkOutlier(const SetFigure& figure, std::vector<Remark>& remarks)
{
    if (figure.grubbs && figure.grubbs->outlier())
        remarks.push_back(
            {"outlier",
             Severity::Caution,
             {figure.symbol},
             fmt::format("{} of {} stands apart from the set (Grubbs {:.2f}, limit {:.2f}).", symbolText(figure.symbol),
                         figure.labels[figure.grubbs->index], figure.grubbs->statistic, figure.grubbs->critical),
             "It stays in unless a person excludes it with a reason.",
             {}});
}

/// Of many figures one in twenty looks odd by chance: the level is shared among them (Bonferroni).
void remarkBounds(const std::vector<SetFigure>& batch, std::vector<Remark>& remarks)
{
    const auto bounded = [](const SetFigure& f) { return f.bounds && f.normality; };
    const auto tests = static_cast<double>(std::ranges::count_if(batch, bounded));
    std::vector<std::string> doubted;
    for (const SetFigure& f : batch)
        if (bounded(f) && f.normality->p < 0.05 / tests)
            doubted.push_back(f.symbol);
    if (!doubted.empty())
        remarks.push_back(
            {"bounds-doubted",
             Severity::Caution,
             doubted,
             "The A and B bounds stand on a normal spread, which these figures do not show (Anderson-Darling).",
             "Look for a second kind of piece in the set; more specimens tell.",
             {}});
}

void remarkUnnoted(const std::set<std::string>& unnoted, std::vector<Remark>& remarks)
{
    for (const std::string& source : unnoted)
        remarks.push_back(
            {"note-missing",
             Severity::Note,
             {},
             fmt::format("Not every specimen says its {0}: how much of the scatter lies between {0}s is not given.",
                         source),
             "Note it on Measure.",
             {}});
}

} // namespace

void analyseSet(const Job& job, JobOutcome& outcome)
{
    outcome.remarks = job.notes;
    Gathered g = gathered(job, outcome);
    Groups sources;
    for (const char* source : groupedBy)
        sources.emplace_back(source, notedGroups(job, source));
    std::set<std::string> unnoted;
    std::vector<std::string> withLaw, without;
    outcome.lots =
        job.method->averaged && g.lots.size() > 1 ? lotFigures(g, withLaw, without) : std::vector<LotFigures>();
    if (!outcome.lots.empty() || !job.method->averaged)
        g.batch.clear();
    for (size_t k = 0; k < g.batch.size(); ++k) {
        SetFigure& figure = g.batch[k];
        if (figure.values.empty())
            continue;
        if (std::ranges::count(figure.open, char(1)) > 0) {
            const bool known = workOutStatistics(figure);
            (known ? withLaw : without).push_back(figure.symbol);
            if (!known)
                figure.values.clear();
            continue;
        }
        figure.statistics = setStatistics(figure.values);
        figure.grubbs = grubbsTest(figure.values);
        figure.normality = andersonDarling(figure.values);
        figure.bounds = toleranceBounds(figure.values);
        shareOut(figure, g.members[k], sources, unnoted);
        remarkOutlier(figure, outcome.remarks);
    }
    outcome.batch = std::move(g.batch);
    std::erase_if(outcome.batch, [](const SetFigure& f) { return f.values.empty(); });
    remarkOpen(withLaw, without, outcome.remarks);
    remarkBounds(outcome.batch, outcome.remarks);
    remarkUnnoted(unnoted, outcome.remarks);
    evaluateSet(job, std::move(g.set), outcome);
    g.otherScale.erase(std::unique(g.otherScale.begin(), g.otherScale.end()), g.otherScale.end());
    if (!g.otherScale.empty())
        outcome.remarks.push_back({"scales-mixed",
                                   Severity::Caution,
                                   {},
                                   fmt::format("Left out of the statistics, for they are on another scale: {}.",
                                               fmt::join(g.otherScale, ", ")),
                                   "Numbers of two scales are not averaged. Judge each scale by itself, or convert.",
                                   {}});
    if (g.counted > 0 && g.counted < static_cast<size_t>(job.method->leastSpecimens))
        outcome.remarks.push_back(
            {"few-specimens",
             Severity::Caution,
             {},
             fmt::format("{} specimens; the method asks for at least {}.", g.counted, job.method->leastSpecimens),
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

} // namespace fortitor
