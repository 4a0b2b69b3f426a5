// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/session.h"

#include "jobs/edits.h"
#include "jobs/json_at.h"

#include <algorithm>
#include <memory>
#include <utility>

namespace fortitor {

Session::Session(Logbook& logbook, QObject* parent)
    : QObject(parent), logbook_(logbook), writer_(logbook), beside_(logbook)
{
    connect(&beside_, &Beside::answered, this, &Session::takeAnswers);
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
    arrived_.clear();
    using Old = std::pair<JobOutcome, decltype(records_)>;
    beside_.dispose(std::make_shared<const Old>(std::move(outcome_), std::move(records_)));
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

/// Hands over to the writer what the document holds already, with what the lists show of it, as one step.
void Session::take(const Command& command, Underway underway, const Signer& signer, LogbookWriter::Work before)
{
    evaluate();
    underway_.push_back(std::move(underway));
    writer_.post(
        [id = jobId_, body = document_->shared(), command, rows = overview(), who = who_, signer,
         before = std::move(before), broken = broken_](Logbook& book) -> Expected<Done> {
            if (*broken)
                return Problem{command.words, "the change before it was not kept", {}, {}};
            auto done = book.together([&]() -> Expected<Done> {
                auto ok = before ? before(book) : Expected<Done>(Done{});
                if (ok)
                    ok = book.keep(id, *body, command, who);
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

bool Session::apply(const Command& command, Answered answered, LogbookWriter::Work before)
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
    take(command, {Underway::Applied, command.words, std::move(answered)}, {}, std::move(before));
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

Expected<std::int64_t> Session::addJob(const Json& body, const QString& what)
{
    Expected<std::int64_t> id = std::int64_t{0};
    const auto done = writer_.now([&](Logbook& book) -> Expected<Done> {
        id = book.addJob(body, who_, what);
        return id ? Expected<Done>(Done{}) : Expected<Done>(id.problem());
    });
    return done ? id : Expected<std::int64_t>(done.problem());
}

Expected<Done> Session::addPicture(const QString& name, const QByteArray& bytes)
{
    return writer_.now([&](Logbook& book) { return book.keepPicture(0, name, bytes, who_); });
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
