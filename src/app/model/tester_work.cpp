// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/tester_work.h"

#include "jobs/analysis.h"
#include "methods/hardness/block.h"

#include <algorithm>
#include <iterator>
#include <tuple>

namespace fortitor {
namespace {

std::vector<TesterRow> rowsOf(const Logbook& book, const JobRow& row)
{
    std::vector<TesterRow> rows;
    const auto body = book.loadJob(row.id);
    const auto job = body ? readJob(*body) : Expected<Job>(body.problem());
    if (!job)
        return rows;
    for (size_t i = 0; i < job->specimens.size(); ++i) {
        const Specimen& one = job->specimens[i];
        const bool block = isBlock(one.input);
        const SpecimenOutcome outcome = block ? analyseSpecimen(one, *job, nullptr) : SpecimenOutcome{};
        if (auto work = testerWorkOf(one.input, block && outcome.outcome ? &*outcome.outcome : nullptr))
            rows.push_back(
                {row.id, row.number, QString::fromStdString(one.label), static_cast<int>(i), std::move(*work)});
    }
    return rows;
}

} // namespace

std::vector<TesterWork> worksOf(const std::vector<TesterRow>& rows)
{
    std::vector<TesterWork> works;
    for (const TesterRow& row : rows)
        works.push_back(row.work);
    return works;
}

bool fittedOtherwise(const std::vector<TesterRow>& rows, const std::string& tester, const HardnessSetting& setting,
                     const std::string& anvil, std::int64_t job, int specimen)
{
    if (tester.empty() || setting.seating == 0)
        return false;
    for (auto it = rows.rbegin(); it != rows.rend(); ++it)
        if (it->work.tester == tester && !it->work.when.empty() && !(it->job == job && it->specimen == specimen))
            return it->work.fitted != fittedOn(setting)
                || (!anvil.empty() && !it->work.anvil.empty() && anvil != it->work.anvil);
    return false;
}

const TesterRow* lastCheck(const std::vector<TesterRow>& rows, const std::string& tester, const std::string& scale,
                           const std::string& upTo)
{
    for (auto it = rows.rbegin(); it != rows.rend(); ++it)
        if (it->work.check && it->work.tester == tester && it->work.scale == scale
            && (upTo.empty() || it->work.when <= upTo))
            return &*it;
    return nullptr;
}

const std::vector<TesterRow>& TesterWorks::gather(const Logbook& book, size_t most)
{
    rows_.clear();
    size_t taken = 0;
    for (const JobRow& row : book.jobs()) {
        const Method* method = findMethod(row.method.toStdString());
        if (!method || method->checks.empty())
            continue;
        if (taken++ == most)
            break;
        Kept& kept = jobs_[row.id];
        if (kept.changed != row.changed)
            kept = {row.changed, rowsOf(book, row)};
        rows_.insert(rows_.end(), kept.rows.begin(), kept.rows.end());
    }
    std::ranges::stable_sort(rows_, [](const TesterRow& a, const TesterRow& b) {
        return std::tie(a.work.when, a.job, a.specimen) < std::tie(b.work.when, b.job, b.specimen);
    });
    return rows_;
}

std::vector<TesterRow> workOf(const std::vector<TesterRow>& rows, const std::string& tester, const std::string& scale)
{
    std::vector<TesterRow> own;
    for (const TesterRow& row : rows)
        if (row.work.tester == tester && row.work.scale == scale)
            own.push_back(row);
    return own;
}

std::vector<std::pair<std::string, std::string>> checkedTesters(const std::vector<TesterRow>& rows)
{
    std::vector<std::pair<std::string, std::string>> all;
    for (const TesterRow& row : rows)
        if (row.work.check)
            all.emplace_back(row.work.tester, row.work.scale);
    std::ranges::sort(all);
    const auto rest = std::ranges::unique(all);
    all.erase(rest.begin(), rest.end());
    return all;
}

std::vector<TesterRow> rowsInDoubt(const std::vector<TesterRow>& ofOne)
{
    std::vector<TesterRow> doubted;
    for (const size_t i : readInDoubt(worksOf(ofOne)))
        doubted.push_back(ofOne[i]);
    return doubted;
}

std::optional<Remark> doubtOf(const std::vector<TesterRow>& rows, std::int64_t job, int specimen)
{
    const auto isIt = [&](const TesterRow& row) { return row.job == job && row.specimen == specimen; };
    const auto it = std::ranges::find_if(rows, isIt);
    if (it == rows.end())
        return std::nullopt;
    const auto own = workOf(rows, it->work.tester, it->work.scale);
    if (std::ranges::none_of(rowsInDoubt(own), isIt))
        return std::nullopt;
    const auto bad =
        std::find_if(std::ranges::find_if(own, isIt), own.end(), [](const TesterRow& r) { return r.work.check; });
    return Remark{"block-out-of-limits",
                  Severity::Reject,
                  {},
                  "Read since the last good check of its tester: " + bad->label.toStdString() + " in "
                      + bad->number.toStdString() + " was out of its limits.",
                  "Put the tester right, check it, and read the piece again. Checks… on Indent shows them all.",
                  {}};
}

std::vector<IndentPlace> usedPlaces(const std::vector<TesterRow>& rows, const SpecimenInput& input, std::int64_t job,
                                    int specimen)
{
    std::vector<IndentPlace> used;
    const auto setting = settingOf(input);
    const auto stamped =
        setting ? parseQuantity(stampedOn(input), Kind::Hardness, setting->unit) : Expected<Quantity>(Problem{});
    if (!isBlock(input) || !stamped)
        return used;
    for (const TesterRow& row : rows)
        if (row.work.check && row.work.block == stamped->base && row.work.scale == testedScale(*setting)
            && !(row.job == job && row.specimen == specimen))
            used.insert(used.end(), row.work.places.begin(), row.work.places.end());
    return used;
}

std::vector<TesterRow> checksAmong(const std::vector<TesterRow>& ofOne)
{
    std::vector<TesterRow> checks;
    std::ranges::copy_if(ofOne, std::back_inserter(checks), [](const TesterRow& row) { return row.work.check; });
    return checks;
}

} // namespace fortitor
