// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/session.h"

#include "jobs/edits.h"
#include "methods/display.h"

#include <algorithm>

namespace fortitor {

Session::Session(Logbook& logbook, QObject* parent) : QObject(parent), logbook_(logbook) {}

void Session::setWho(const QString& who)
{
    who_ = who;
    emit changed();
}

Expected<Done> Session::open(std::int64_t id)
{
    auto body = logbook_.loadJob(id);
    if (!body)
        return body.problem();
    auto document = JobDocument::fromJson(std::move(*body));
    if (!document)
        return document.problem();
    if (isOpen())
        emit leaving();
    document_ = std::move(*document);
    jobId_ = id;
    current_ = 0;
    records_.clear();
    missing_.clear();
    evaluated_.clear();
    keyed_.clear();
    outcome_ = {};
    evaluate();
    // Readings that came with the job were never told to the lists.
    if (std::ranges::any_of(job().specimens, [](const Specimen& s) { return s.readings.has_value(); }))
        keepOverview();
    emit opened();
    emit changed();
    return Done{};
}

void Session::close()
{
    if (isOpen())
        emit leaving();
    document_.reset();
    jobId_ = 0;
    outcome_ = {};
    evaluated_.clear();
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

void Session::evaluate()
{
    const Json& json = document_->json();
    // What all specimens share; when it stands unchanged only those that changed are worked out anew.
    Json shared = json;
    shared.erase("specimens");
    const std::string sharedText = shared.dump(-1, ' ', false, Json::error_handler_t::replace);
    if (sharedText != evaluatedJob_)
        evaluated_.clear();
    evaluatedJob_ = sharedText;
    const size_t n = job().specimens.size();
    evaluated_.resize(n);
    outcome_.specimens.resize(n);
    keyed_.resize(n);
    for (size_t i = 0; i < n; ++i) {
        const std::string text = json["specimens"][i].dump(-1, ' ', false, Json::error_handler_t::replace);
        if (text == evaluated_[i])
            continue;
        evaluated_[i] = text;
        const Specimen& s = job().specimens[i];
        if (!s.recordId.empty() && s.recordId != growing_ && !records_.contains(s.recordId) && !missing_.contains(s.recordId)) {
            auto loaded = logbook_.loadRecord(QString::fromStdString(s.recordId));
            if (loaded)
                records_[s.recordId] = *loaded;
            else
                missing_.emplace(s.recordId, loaded.problem());
        }
        keyed_[i] = s.readings ? std::make_shared<const Record>(*s.readings) : nullptr;
        outcome_.specimens[i] = analyseSpecimen(s, job(), record(i));
        if (const auto it = missing_.find(s.recordId); it != missing_.end() && outcome_.specimens[i].outcome) {
            outcome_.specimens[i].outcome->remarks.insert(outcome_.specimens[i].outcome->remarks.begin(), Remark{"record-missing", Severity::Reject, {}, "The record can't be had: " + it->second.text(), it->second.advice, {}});
            outcome_.specimens[i].verdict = Verdict::Open;
        }
    }
    analyseSet(job(), outcome_);
    current_ = n == 0 ? 0 : std::min(current_, n - 1);
}

void Session::keepOverview()
{
    if (!logbook_.readOnlyBecause().isEmpty())
        return;
    std::vector<SpecimenRow> rows;
    for (size_t i = 0; i < outcome_.specimens.size(); ++i) {
        const SpecimenOutcome& s = outcome_.specimens[i];
        QString figures;
        if (s.outcome)
            for (const ResultSpec& spec : job().method->results)
                if (const Result* r = spec.headline ? s.outcome->find(spec.symbol) : nullptr; r && r->value) {
                    const auto shown = showFigure(spec, *r);
                    figures += (figures.isEmpty() ? "" : " · ") + QString::fromStdString(spec.symbol + " " + shown.text + " " + shown.unit);
                }
        rows.push_back({jobId_, static_cast<int>(i), {}, {}, QString::fromStdString(s.label), QString::fromUtf8(verdictName(s.verdict).data(), static_cast<qsizetype>(verdictName(s.verdict).size())), figures, steps(i)});
    }
    if (auto ok = logbook_.keepOverview(jobId_, rows); !ok)
        emit failed(QString::fromStdString(ok.problem().text()));
}

/// Writes a command that the document holds already.
bool Session::take(const Command& command)
{
    if (auto kept = logbook_.keep(jobId_, *document_, command, who_); !kept) {
        emit failed(QString::fromStdString(kept.problem().text()));
        return false;
    }
    told();
    return true;
}

/// Works out and shows what was kept.
void Session::told()
{
    evaluate();
    keepOverview();
    emit changed();
}

/// A command into document and logbook; into neither when one refuses.
Expected<Done> Session::put(const Command& command)
{
    if (auto ok = document_->apply(command); !ok)
        return ok;
    auto kept = logbook_.keep(jobId_, *document_, command, who_);
    if (kept)
        return kept;
    // The logbook is gone under it: the job with its last change is saved beside what was rescued.
    if (!logbook_.rescued().isEmpty())
        (void)writeFileWhole(logbook_.rescued().toStdString() + "-" + std::to_string(jobId_) + ".json", document_->json().dump(2, ' ', false, Json::error_handler_t::replace) + "\n");
    document_->undo(); // what could not be kept does not show
    return kept;
}

bool Session::apply(const Command& command)
{
    if (!isOpen() || command.changes.empty())
        return false;
    if (std::ranges::all_of(command.changes, [](const Change& c) { return c.before == c.after; }))
        return true; // what stands already is no change, and no line of the journal
    if (auto ok = put(command); !ok) {
        emit failed(QString::fromStdString(ok.problem().text()));
        return false;
    }
    told();
    return true;
}

bool Session::apply(const Expected<Command>& command)
{
    if (command)
        return apply(*command);
    emit failed(QString::fromStdString(command.problem().text()));
    return false;
}

void Session::undo()
{
    if (!isOpen())
        return;
    if (auto back = document_->undo()) {
        back->words = "taken back: " + back->words;
        if (!take(*back))
            document_->redo();
    }
}

void Session::redo()
{
    if (!isOpen())
        return;
    if (auto again = document_->redo()) {
        again->words = "done again: " + again->words;
        if (!take(*again))
            document_->undo();
    }
}

bool Session::attach(size_t index, const Record& record, const ColumnChoices& columns)
{
    // The record and what hangs it on its specimen are one step: neither is ever there alone.
    std::string id;
    bool hung = false;
    const auto kept = logbook_.together([&]() -> Expected<Done> {
        auto added = logbook_.addRecord(jobId_, QString::fromStdString(job().specimens[index].label), record, who_);
        if (!added)
            return added.problem();
        id = added->toStdString();
        records_[id] = std::make_shared<const Record>(record);
        auto ok = put(edits::attachRecord(*document_, index, id, record.source, columns));
        hung = static_cast<bool>(ok);
        return ok;
    });
    if (kept) {
        told();
        return true;
    }
    if (hung)
        document_->undo(); // the step as a whole was not kept
    records_.erase(id);
    emit failed(QString::fromStdString(kept.problem().text()));
    return false;
}

Expected<QString> Session::beginGrowing(size_t index, const Record& head)
{
    QString id;
    bool hung = false;
    const auto begun = logbook_.together([&]() -> Expected<Done> {
        auto made = logbook_.beginRecord(jobId_, QString::fromStdString(job().specimens[index].label), head, who_);
        if (!made)
            return made.problem();
        id = *made;
        growing_ = id.toStdString();
        auto ok = put(edits::attachRecord(*document_, index, growing_, head.source, {}));
        hung = static_cast<bool>(ok);
        return ok;
    });
    if (!begun) {
        if (hung)
            document_->undo();
        growing_.clear();
        return begun.problem();
    }
    told();
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

std::optional<Outcome> Session::preview(size_t index, const std::string& option, const std::string& value, bool whole) const
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
    const SpecimenOutcome& s = outcome_.specimens[index];
    if (!s.outcome)
        return record(index) ? 2 : 0;
    const bool measured = !s.outcome->remarked("missing-dimension") || std::ranges::none_of(s.outcome->remarks, [](const Remark& r) { return r.code == "missing-dimension" && r.severity == Severity::Reject; });
    int done = measured ? 1 : 0;
    done += record(index) ? 1 : 0;
    done += record(index) && s.outcome->curve && openRemarks(index).empty() ? 1 : 0;
    done += s.verdict != Verdict::Open ? 1 : 0;
    return done;
}

std::vector<Remark> Session::openRemarks(size_t index) const
{
    std::vector<Remark> open;
    const SpecimenOutcome& s = outcome_.specimens[index];
    if (s.outcome)
        for (const Remark& r : s.outcome->remarks)
            // What is only not there yet is no remark: it shows as a ring that is not full.
            if (r.severity != Severity::Note && !settlement(index, r.code) && (record(index) || (r.code != "no-record" && r.code != "missing-dimension")))
                open.push_back(r);
    return open;
}

const Settlement* Session::settlement(size_t index, const std::string& code) const
{
    const auto& list = job().specimens[index].settled;
    const auto it = std::ranges::find(list, code, &Settlement::code);
    return it == list.end() ? nullptr : &*it;
}

} // namespace fortitor
