// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/analysis.h"
#include "jobs/document.h"
#include "store/logbook.h"

#include <QObject>

#include <map>
#include <memory>
#include <optional>

namespace fortitor {

/// The job on the bench: its document, records and outcomes, kept in step with the logbook. Every
/// change goes through `apply`, is written to the logbook before it shows, and can be undone.
class Session : public QObject {
    Q_OBJECT
public:
    Session(Logbook& logbook, QObject* parent = nullptr);

    [[nodiscard]] Logbook& logbook() const { return logbook_; }
    [[nodiscard]] QString who() const { return who_; }
    void setWho(const QString& who);

    [[nodiscard]] bool isOpen() const { return document_.has_value(); }
    Expected<Done> open(std::int64_t id);
    void close();
    [[nodiscard]] std::int64_t jobId() const { return jobId_; }
    [[nodiscard]] const JobDocument& document() const { return *document_; }
    [[nodiscard]] const Job& job() const { return document_->job(); }
    [[nodiscard]] const JobOutcome& outcome() const { return outcome_; }

    [[nodiscard]] size_t current() const { return current_; }
    [[nodiscard]] bool hasSpecimen() const { return isOpen() && current_ < job().specimens.size(); }
    [[nodiscard]] const Specimen& specimen() const { return job().specimens[current_]; }
    [[nodiscard]] const SpecimenOutcome& specimenOutcome() const { return outcome_.specimens[current_]; }
    [[nodiscard]] std::shared_ptr<const Record> record(size_t index) const;
    void setCurrent(size_t index);
    [[nodiscard]] int stage() const { return stage_; }
    void setStage(int stage);

    /// False, with `failed` told, when the command or the logbook refused.
    bool apply(const Command& command);
    bool apply(const Expected<Command>& command);
    void undo();
    void redo();

    /// Keeps a record in the logbook and hangs it on a specimen, in one step.
    bool attach(size_t index, const Record& record, const ColumnChoices& columns = {});
    /// The same for one that is in the logbook already.
    bool attachKept(size_t index, const QString& id, const QString& source);
    /// Begins a record that grows, and hangs it on its specimen, in one step; gives its id.
    Expected<QString> beginGrowing(size_t index, const Record& head);

    /// A record that was still growing, and not looked at meanwhile, is read, with all that hangs on it.
    void reread(const QString& id);

    /// Works a specimen out with one option changed, without keeping anything. Of a long record every
    /// n-th row is read unless `whole`, so that the figures keep up with a hand; what is kept is read whole.
    [[nodiscard]] std::optional<Outcome> preview(size_t index, const std::string& option, const std::string& value, bool whole = false) const;
    /// Whether a person stands behind the verdict of the set.
    [[nodiscard]] bool judged() const { return isOpen() && document().json().contains("judged"); }

    /// How far a specimen has come: measured, loaded, read, judged.
    [[nodiscard]] int steps(size_t index) const;
    static constexpr int allSteps = 4;
    /// The remarks on a specimen that wait for a person.
    [[nodiscard]] std::vector<Remark> openRemarks(size_t index) const;
    [[nodiscard]] const Settlement* settlement(size_t index, const std::string& code) const;

signals:
    void leaving();          ///< another specimen, stage or job is about to come: what is half typed is handed over now
    void changed();          ///< the job or its figures
    void currentChanged();   ///< another specimen
    void stageChanged(int stage);
    void opened();
    void failed(const QString& words);

private:
    void evaluate();
    void keepOverview();
    bool take(const Command& command);
    Expected<Done> put(const Command& command);
    void told();

    Logbook& logbook_;
    QString who_ = "operator A";
    std::optional<JobDocument> document_;
    std::int64_t jobId_ = 0;
    JobOutcome outcome_;
    std::map<std::string, std::shared_ptr<const Record>> records_; ///< by record id
    std::vector<std::shared_ptr<const Record>> keyed_; ///< readings of each specimen, as its outcome was worked out from
    std::map<std::string, Problem> missing_;
    std::string evaluatedJob_;                                      ///< what the outcomes were worked out from
    std::vector<std::string> evaluated_;
    mutable std::pair<std::string, std::shared_ptr<const Record>> thin_; ///< of the record last previewed
    std::string growing_; ///< the record that is being taken
    size_t current_ = 0;
    int stage_ = 0;
};

} // namespace fortitor
