// SPDX-License-Identifier: GPL-3.0-or-later
// Figures are worked out, at once or beside the interface.
#include "app/model/session.h"

#include "app/model/memory.h"
#include "jobs/edits.h"
#include "jobs/json_at.h"

#include <QElapsedTimer>

#include <algorithm>
#include <utility>

namespace fortitor {
namespace {

int patience = 8; // ms
constexpr size_t quickRows = 20000; // a reading of so many takes a few ms

} // namespace

void Session::setPatience(int milliseconds)
{
    patience = milliseconds;
}

std::shared_ptr<const Record> Session::record(size_t index) const
{
    const Specimen& s = job().specimens[index];
    if (s.readings)
        return index < keyed_.size() && keyed_[index] ? keyed_[index] : std::make_shared<const Record>(*s.readings);
    const auto it = records_.find(s.recordId);
    return it == records_.end() ? nullptr : it->second;
}

bool Session::hasRecord(size_t index) const
{
    const Specimen& s = job().specimens[index];
    return s.keyed() || (!s.recordId.empty() && s.recordId != growing_ && !missing_.contains(s.recordId));
}

Beside::Task Session::taskFor(size_t index, const std::shared_ptr<const Job>& job) const
{
    Beside::Task task{.index = index, .stamp = stamps_[index], .job = job, .record = record(index)};
    const Specimen& s = job->specimens[index];
    if (const auto missing = missing_.find(s.recordId); missing != missing_.end())
        task.missing = missing->second;
    else if (!task.record && !s.recordId.empty() && s.recordId != growing_)
        task.recordId = s.recordId;
    return task;
}

/// What is read in already and short is worked out before anybody sees a wait.
bool Session::quick(size_t index) const
{
    if (job().specimens[index].input.history)
        return false;
    const auto known = record(index);
    return known ? known->rows() <= quickRows : !hasRecord(index);
}

void Session::workOutNow(size_t index)
{
    const Specimen& s = job().specimens[index];
    if (!s.recordId.empty() && s.recordId != growing_ && !records_.contains(s.recordId)
        && !missing_.contains(s.recordId)) {
        auto loaded = logbook_.loadRecord(QString::fromStdString(s.recordId));
        if (loaded)
            records_[s.recordId] = *loaded;
        else
            missing_.emplace(s.recordId, loaded.problem());
    }
    const auto missing = missing_.find(s.recordId);
    outcome_.specimens[index] =
        analyseKept(s, job(), record(index), missing == missing_.end() ? nullptr : &missing->second);
}

/// Works out what changed, the specimen at hand first: at once as far as that does not keep the hand waiting, the rest
/// beside.
void Session::evaluate()
{
    const Json& json = document_->json();
    // What all specimens share; when it stands unchanged only those that changed are worked out anew.
    Json shared = json;
    shared.erase("specimens");
    const std::string sharedText = shared.dump(-1, ' ', false, Json::error_handler_t::replace);
    if (sharedText != evaluatedJob_) {
        evaluated_.clear();
        beside_.drop();
        arrived_.clear();
    }
    evaluatedJob_ = sharedText;
    const size_t n = job().specimens.size();
    current_ = n == 0 ? 0 : std::min(current_, n - 1);
    evaluated_.resize(n);
    outcome_.specimens.resize(n);
    keyed_.resize(n);
    stamps_.resize(n);
    pending_.resize(n);
    std::vector<size_t> order;
    for (size_t i = 0; i < n; ++i) {
        std::string text = json["specimens"][i].dump(-1, ' ', false, Json::error_handler_t::replace);
        if (text == evaluated_[i])
            continue;
        evaluated_[i] = std::move(text);
        stamps_[i] = ++stamp_;
        keyed_[i] =
            job().specimens[i].readings ? std::make_shared<const Record>(*job().specimens[i].readings) : nullptr;
        order.push_back(i);
    }
    std::ranges::stable_partition(order, [this](size_t i) { return i == current_; });
    QElapsedTimer clock;
    clock.start();
    std::vector<Beside::Task> later;
    std::shared_ptr<const Job> copy;
    for (const size_t i : order) {
        if (patience < 0 || (clock.elapsed() < patience && quick(i))) {
            pending_[i] = false;
            workOutNow(i);
            continue;
        }
        if (!copy)
            copy = std::make_shared<const Job>(job());
        pending_[i] = true;
        // What is known of it stands until the new figures come; of another specimen nothing does.
        if (outcome_.specimens[i].label != job().specimens[i].label) {
            outcome_.specimens[i] = {};
            outcome_.specimens[i].label = job().specimens[i].label;
        }
        later.push_back(taskFor(i, copy));
    }
    analyseSet(job(), outcome_);
    if (!later.empty()) {
        overviewDue_ = true;
        beside_.ask(std::move(later));
    }
}

void Session::workAgain(size_t index)
{
    if (!isOpen() || index >= evaluated_.size())
        return;
    evaluated_[index].clear();
    evaluate();
    emit changed();
}

/// Else it is of a state that is gone.
bool Session::counts(const Beside::Answer& one) const
{
    return isOpen() && one.index < stamps_.size() && one.stamp == stamps_[one.index];
}

void Session::takeAnswers()
{
    bool mine = false; // the specimen at hand
    for (Beside::Answer& one : beside_.take()) {
        mine = mine || (counts(one) && one.index == current_);
        arrived_.push_back(std::move(one));
    }
    // Pages are laid out and painted anew for what is looked at and at the end; else a few times a second.
    constexpr int seldom = 250; // ms
    if (isOpen() && !mine && beside_.waiting() > 0 && shown_.isValid() && shown_.elapsed() < seldom)
        return;
    if (showArrived())
        emit changed();
}

/// Puts in what has arrived; whether anything of it counts.
bool Session::showArrived()
{
    bool any = false;
    for (Beside::Answer& one : std::exchange(arrived_, {})) {
        if (one.record && !one.recordId.empty() && isOpen())
            records_.try_emplace(one.recordId, one.record);
        if (!counts(one))
            continue;
        if (one.missing && !one.recordId.empty())
            missing_.try_emplace(one.recordId, *one.missing);
        giveMemoryBack(one.record ? one.record->rows() : 0);
        outcome_.specimens[one.index] = std::move(one.outcome);
        pending_[one.index] = false;
        any = true;
    }
    if (any)
        analyseSet(job(), outcome_);
    if (isOpen() && working() == 0 && std::exchange(overviewDue_, false))
        keepOverview();
    shown_.start();
    return any;
}

void Session::settleWork()
{
    while (working() > 0)
        eventTurn_ ? eventTurn_() : beside_.finish();
}

/// What the lists show. Of a specimen that is still being worked out they show no figures, until it is.
std::vector<SpecimenRow> Session::overview() const
{
    std::vector<SpecimenRow> rows;
    for (OverviewRow& row : overviewOf(job(), outcome_, [this](size_t i) { return hasRecord(i); })) {
        if (worksOn(rows.size())) {
            row.verdict = verdictName(Verdict::Open);
            row.figures.clear();
        }
        rows.push_back({jobId_,
                        static_cast<int>(rows.size()),
                        {},
                        {},
                        QString::fromStdString(row.label),
                        QString::fromStdString(row.verdict),
                        QString::fromStdString(row.figures),
                        row.stage});
    }
    return rows;
}

void Session::keepOverview()
{
    if (!logbook_.readOnlyBecause().isEmpty())
        return;
    writer_.post([id = jobId_, rows = overview(), broken = broken_](
                     Logbook& book) { return *broken ? Expected<Done>(Done{}) : book.keepOverview(id, rows); },
                 [this](const Expected<Done>& done) {
                     // Where it could not be kept the list is brought up to date when the job is opened next.
                     if (done && underway_.empty())
                         emit kept();
                 });
}

} // namespace fortitor
