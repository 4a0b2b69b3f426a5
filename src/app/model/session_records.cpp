// SPDX-License-Identifier: GPL-3.0-or-later
// How records come into the logbook, and what a handle on its way reads of them.
#include "app/model/session.h"

#include "app/model/tester_work.h"
#include "jobs/edits.h"
#include "jobs/json_at.h"

#include <algorithm>
#include <utility>

namespace fortitor {
namespace {

constexpr size_t longRecord = 20000; // rows that take a while to be kept

Expected<Done> doneOf(const Expected<QString>& id)
{
    return id ? Expected<Done>(Done{}) : Expected<Done>(id.problem());
}

} // namespace

const std::vector<TesterRow>& Session::testerRows(size_t most)
{
    if (!testers_)
        testers_ = std::make_shared<TesterWorks>();
    return testers_->gather(logbook_, most);
}

/// A command with something that has to be in the logbook before it, as one step that is waited for.
Expected<Done> Session::putNow(const LogbookWriter::Work& before, const Expected<Command>& command,
                               const std::function<void()>& turn)
{
    if (!command)
        return command.problem();
    if (auto ok = document_->apply(*command); !ok)
        return ok;
    evaluate();
    const auto done = writer_.now(
        [&, rows = overview()](Logbook& book) {
            return book.together([&]() -> Expected<Done> {
                auto ok = before(book);
                if (ok)
                    ok = book.keep(jobId_, document_->json(), *command, who_);
                return ok ? book.keepOverview(jobId_, rows) : ok;
            });
        },
        turn);
    if (!done) {
        saveBeside();
        document_->undo(); // the step as a whole was not kept
    }
    return done;
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
        edits::attachRecord(*document_, index, id.toStdString(), record.source, columns),
        record.rows() > longRecord ? eventTurn_ : nullptr);
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
    for (size_t i = 0; i < job().specimens.size() && i < evaluated_.size(); ++i)
        if (job().specimens[i].recordId == id.toStdString())
            evaluated_[i].clear();
    evaluate();
    keepOverview();
    emit changed();
}

std::function<std::optional<Outcome>()> Session::previewOf(size_t index, const std::string& option,
                                                           const std::string& value) const
{
    SpecimenInput input = job().specimens[index].input;
    input.record = record(index);
    input.options[option] = value;
    return [input = std::move(input), evaluate = job().method->evaluate] {
        auto outcome = evaluate(input);
        return outcome ? std::optional(std::move(*outcome)) : std::nullopt;
    };
}

} // namespace fortitor
