// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/session.h"

#include "jobs/edits.h"
#include "jobs/json_at.h"

#include <QElapsedTimer>

#include <algorithm>
#include <utility>

namespace fortitor {
namespace {

Expected<Done> doneOf(const Expected<QString>& id)
{
    return id ? Expected<Done>(Done{}) : Expected<Done>(id.problem());
}

int patience = 8; // ms
constexpr size_t quickRows = 20000; // a reading of so many takes a few ms

} // namespace

Session::Session(Logbook& logbook, QObject* parent)
    : QObject(parent), logbook_(logbook), writer_(logbook), beside_(logbook)
{
    connect(&beside_, &Beside::answered, this, &Session::takeAnswers);
}

void Session::setPatience(int milliseconds)
{
    patience = milliseconds;
}

void Session::setWho(const QString& who)
{
    if (who != who_)
        logbook_.setHeadSigner({}, {}, {});
    who_ = who;
    emit changed();
}

Expected<Done> Session::open(std::int64_t id)
{
    if (isOpen())
        emit leaving();
    // Read by the writer, which has to know from which text on it keeps.
    Json body;
    const auto read = writer_.now([&](Logbook& book) -> Expected<Done> {
        auto loaded = book.loadJob(id);
        if (!loaded)
            return loaded.problem();
        body = std::move(*loaded);
        return Done{};
    });
    if (!read)
        return read.problem();
    auto document = JobDocument::fromJson(std::move(body));
    if (!document)
        return document.problem();
    document_ = std::move(*document);
    jobId_ = id;
    current_ = 0;
    forget();
    evaluate();
    keepOverview(); // what came with the job, or after a stop, was never told to the lists
    emit opened();
    emit changed();
    return Done{};
}

/// Nothing of the job before counts any more.
void Session::forget()
{
    beside_.drop();
    records_.clear();
    missing_.clear();
    evaluated_.clear();
    stamps_.clear();
    pending_.clear();
    keyed_.clear();
    outcome_ = {};
}

void Session::close()
{
    if (isOpen())
        emit leaving();
    finish();
    document_.reset();
    jobId_ = 0;
    forget();
    emit opened();
}

void Session::setCurrent(size_t index)
{
    if (!isOpen() || index >= job().specimens.size() || index == current_)
        return;
    emit leaving();
    if (index >= job().specimens.size())
        return;
    current_ = index;
    emit currentChanged();
}

void Session::setStage(int stage)
{
    if (stage == stage_)
        return;
    emit leaving();
    stage_ = stage;
    emit stageChanged(stage);
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
    return s.readings || (!s.recordId.empty() && s.recordId != growing_ && !missing_.contains(s.recordId));
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

void Session::takeAnswers()
{
    bool any = false;
    for (Beside::Answer& one : beside_.take()) {
        if (one.record && !one.recordId.empty() && isOpen())
            records_.try_emplace(one.recordId, one.record);
        if (!isOpen() || one.index >= stamps_.size() || one.stamp != stamps_[one.index])
            continue; // of a state that is gone
        if (one.missing && !one.recordId.empty())
            missing_.try_emplace(one.recordId, *one.missing);
        outcome_.specimens[one.index] = std::move(one.outcome);
        pending_[one.index] = false;
        any = true;
    }
    if (any)
        analyseSet(job(), outcome_);
    if (isOpen() && working() == 0 && std::exchange(overviewDue_, false))
        keepOverview();
    if (any)
        emit changed();
}

void Session::settleWork()
{
    while (working() > 0)
        beside_.finish();
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

/// Hands over to the writer what the document holds already, with what the lists show of it, as one step.
void Session::take(const Command& command, Underway underway, const Signer& signer)
{
    evaluate();
    underway_.push_back(std::move(underway));
    writer_.post(
        [id = jobId_, body = document_->shared(), command, rows = overview(), who = who_, signer,
         broken = broken_](Logbook& book) -> Expected<Done> {
            if (*broken)
                return Problem{command.words, "the change before it was not kept", {}, {}};
            auto done = book.together([&]() -> Expected<Done> {
                auto ok = book.keep(id, *body, command, who);
                if (ok && signer)
                    ok = book.sign(id, who, signer);
                return ok ? book.keepOverview(id, rows) : ok;
            });
            *broken = !done;
            return done;
        },
        [this, turn = turn_](const Expected<Done>& done) { answer(turn, done); });
    emit keeping();
    emit changed();
}

void Session::answer(int turn, const Expected<Done>& done)
{
    if (turn != turn_)
        return;
    if (!done)
        return takeBack(done.problem());
    const Underway one = std::move(underway_.front());
    underway_.pop_front();
    if (one.answered)
        one.answered(true);
    if (!underway_.empty())
        return;
    emit keeping();
    emit kept();
}

/// The first change that waits was not kept: it goes, with all that were built on it.
void Session::takeBack(const Problem& why)
{
    ++turn_;
    broken_ = std::make_shared<bool>(false);
    saveBeside();
    std::string words;
    auto lost = std::exchange(underway_, {});
    for (auto it = lost.rbegin(); it != lost.rend(); ++it)
        it->kind == Underway::Undone ? document_->redo() : document_->undo();
    // Those who typed it hear first, so that what they typed stays with them.
    for (const Underway& one : lost) {
        words += (words.empty() ? "" : "; ") + one.words;
        if (one.answered)
            one.answered(false);
    }
    evaluate();
    emit keeping();
    emit failed(QString::fromStdString("Not kept: " + words + ". " + why.text()));
    emit changed();
}

/// When the logbook is gone under it, the job with its last change is saved beside what was rescued.
void Session::saveBeside()
{
    if (const QString rescued = logbook_.rescued(); !rescued.isEmpty())
        (void)writeFileWhole(rescued.toStdString() + "-" + std::to_string(jobId_) + ".json",
                             document_->json().dump(2, ' ', false, Json::error_handler_t::replace) + "\n");
}

bool Session::apply(const Command& command, Answered answered)
{
    if (!isOpen() || command.changes.empty())
        return false;
    if (std::ranges::all_of(command.changes, [](const Change& c) { return c.before == c.after; })) {
        if (answered)
            answered(true);
        return true; // what stands already is no change, and no line of the journal
    }
    auto ok = logbook_.readOnlyBecause().isEmpty()
        ? document_->apply(command)
        : Problem{logbook_.file().toStdString(), logbook_.readOnlyBecause().toStdString(),
                  "a logbook that can be written", "Nothing is kept; work on another logbook."};
    if (!ok) {
        emit failed(QString::fromStdString(ok.problem().text()));
        return false;
    }
    take(command, {Underway::Applied, command.words, std::move(answered)});
    return true;
}

bool Session::apply(const Expected<Command>& command, Answered answered)
{
    if (command)
        return apply(*command, std::move(answered));
    emit failed(QString::fromStdString(command.problem().text()));
    return false;
}

bool Session::applySigned(const Expected<Command>& command, const Signer& signer)
{
    settleWork(); // it stands on all figures

    const auto ok = command ? document_->apply(*command) : Expected<Done>(command.problem());
    if (!ok) {
        emit failed(QString::fromStdString(ok.problem().text()));
        return false;
    }
    take(*command, {Underway::Applied, command->words, {}}, signer);
    return true;
}

/// An approval by somebody who has a key is not put back without the phrase.
bool Session::needsPhrase(const Command& command)
{
    for (const Change& c : command.changes)
        if (c.path == "/judged" && c.after
            && !logbook_.publicKey(QString::fromStdString(textAt(*c.after, "who"))).isEmpty()) {
            emit failed(
                "An approval that is signed can't be put back by a key alone: approve the results again on Judge.");
            return true;
        }
    return false;
}

void Session::undo()
{
    if (!isOpen() || !logbook_.readOnlyBecause().isEmpty())
        return;
    if (auto back = document_->undo()) {
        if (needsPhrase(*back)) {
            document_->redo();
            return;
        }
        back->words = "undone: " + back->words;
        take(*back, {Underway::Undone, back->words, {}});
    }
}

void Session::redo()
{
    if (!isOpen() || !logbook_.readOnlyBecause().isEmpty())
        return;
    if (auto again = document_->redo()) {
        if (needsPhrase(*again)) {
            document_->undo();
            return;
        }
        again->words = "redone: " + again->words;
        take(*again, {Underway::Redone, again->words, {}});
    }
}

/// A command with something that has to be in the logbook before it, as one step that is waited for.
Expected<Done> Session::putNow(const LogbookWriter::Work& before, const Expected<Command>& command)
{
    if (!command)
        return command.problem();
    if (auto ok = document_->apply(*command); !ok)
        return ok;
    evaluate();
    const auto done = writer_.now([&, rows = overview()](Logbook& book) {
        return book.together([&]() -> Expected<Done> {
            auto ok = before(book);
            if (ok)
                ok = book.keep(jobId_, document_->json(), *command, who_);
            return ok ? book.keepOverview(jobId_, rows) : ok;
        });
    });
    if (!done) {
        saveBeside();
        document_->undo(); // the step as a whole was not kept
    }
    return done;
}

Expected<std::int64_t> Session::addJob(const Json& body, const QString& what)
{
    Expected<std::int64_t> id = std::int64_t{0};
    const auto done = writer_.now([&](Logbook& book) -> Expected<Done> {
        id = book.addJob(body, who_, what);
        return id ? Expected<Done>(Done{}) : Expected<Done>(id.problem());
    });
    return done ? id : Expected<std::int64_t>(done.problem());
}

bool Session::attach(size_t index, const Record& record, const ColumnChoices& columns)
{
    // The record and what hangs it on its specimen are one step: neither is ever there alone.
    finish();
    const QString id = Logbook::newRecordId();
    records_[id.toStdString()] = std::make_shared<const Record>(record);
    const auto done = putNow(
        [&](Logbook& book) {
            return doneOf(
                book.addRecord(jobId_, QString::fromStdString(job().specimens[index].label), record, who_, {}, id));
        },
        edits::attachRecord(*document_, index, id.toStdString(), record.source, columns));
    if (!done) {
        records_.erase(id.toStdString());
        evaluate();
        emit failed(QString::fromStdString(done.problem().text()));
        return false;
    }
    emit changed();
    emit kept();
    return true;
}

Expected<QString> Session::beginGrowing(size_t index, const Record& head)
{
    finish();
    const QString id = Logbook::newRecordId();
    growing_ = id.toStdString();
    const auto done = putNow(
        [&](Logbook& book) {
            return doneOf(
                book.beginRecord(jobId_, QString::fromStdString(job().specimens[index].label), head, who_, id));
        },
        edits::attachRecord(*document_, index, growing_, head.source, {}));
    if (!done) {
        growing_.clear();
        evaluate();
        return done.problem();
    }
    emit changed();
    emit kept();
    return id;
}

bool Session::attachKept(size_t index, const QString& id, const QString& source)
{
    growing_.clear();
    return apply(edits::attachRecord(*document_, index, id.toStdString(), source.toStdString(), {}));
}

void Session::reread(const QString& id)
{
    if (!isOpen())
        return;
    growing_.clear();
    records_.erase(id.toStdString());
    missing_.erase(id.toStdString());
    thin_ = {};
    for (size_t i = 0; i < job().specimens.size() && i < evaluated_.size(); ++i)
        if (job().specimens[i].recordId == id.toStdString())
            evaluated_[i].clear();
    evaluate();
    keepOverview();
    emit changed();
}

std::optional<Outcome> Session::preview(size_t index, const std::string& option, const std::string& value,
                                        bool whole) const
{
    SpecimenInput input = job().specimens[index].input;
    constexpr size_t mostRows = 25000;
    input.record = record(index);
    if (!whole && input.record && input.record->rows() > 2 * mostRows) {
        const std::string& id = job().specimens[index].recordId;
        if (thin_.first != id || !thin_.second)
            thin_ = {id, std::make_shared<const Record>(thinnedRecord(*input.record, mostRows))};
        input.record = thin_.second;
    }
    input.options[option] = value;
    auto outcome = job().method->evaluate(input);
    return outcome ? std::optional(std::move(*outcome)) : std::nullopt;
}

int Session::steps(size_t index) const
{
    return stepsDone(job().specimens[index], outcome_.specimens[index], hasRecord(index));
}

std::vector<Remark> Session::openRemarks(size_t index) const
{
    return fortitor::openRemarks(job().specimens[index], outcome_.specimens[index], hasRecord(index));
}

const Settlement* Session::settlement(size_t index, const std::string& code) const
{
    return settlementOf(job().specimens[index], code);
}

} // namespace fortitor
