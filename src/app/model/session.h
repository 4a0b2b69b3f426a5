// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "jobs/document.h"
#include "jobs/overview.h"
#include "store/logbook_writer.h"

#include <QElapsedTimer>
#include <QObject>

#include <cstdint>
#include <deque>
#include <functional>
#include <map>
#include <memory>
#include <optional>

namespace fortitor {

struct TesterRow;
class TesterWorks;

/// The job on the bench: its document, records and outcomes, kept in step with the logbook. Every change
/// goes through `apply`, shows at once, is written by the writer's thread, and can be undone. What can't be
/// kept is taken back with all that came after it, and said.
class Session : public QObject {
    Q_OBJECT
public:
    Session(Logbook& logbook, QObject* parent = nullptr);

    /// To read in. What is being kept is not in it yet.
    [[nodiscard]] Logbook& logbook() const { return logbook_; }
    /// To write with.
    [[nodiscard]] LogbookWriter& writer() { return writer_; }
    /// Waits until all that was done is kept, or taken back.
    void finish() { writer_.finish(); }
    /// Changes of the job that are not kept yet.
    [[nodiscard]] size_t beingKept() const { return underway_.size(); }
    /// What the jobs of the logbook tell of their testers; `most`: of so many, those that changed last.
    [[nodiscard]] const std::vector<TesterRow>& testerRows(size_t most = SIZE_MAX);
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
    /// Whether it has readings of its own, read in already or not.
    [[nodiscard]] bool hasRecord(size_t index) const;
    /// Specimens that are being worked out beside the interface; theirs come as they are done.
    [[nodiscard]] size_t working() const { return beside_.waiting() + arrived_.size(); }
    [[nodiscard]] bool worksOn(size_t index) const { return index < pending_.size() && pending_[index]; }
    /// Waits for them: a report, an approval, an export stand on all.
    void settleWork();
    /// How long a change may work specimens out at once before the rest goes beside, ms; below 0: as long as it takes.
    static void setPatience(int milliseconds);
    /// What is done while something long is waited for: a turn of the window's events. Without it the thread waits.
    void setTurn(std::function<void()> turn) { eventTurn_ = std::move(turn); }
    void setCurrent(size_t index);
    [[nodiscard]] int stage() const { return stage_; }
    void setStage(int stage);

    /// Hears whether a change was kept.
    using Answered = std::function<void(bool)>;
    /// False, with `failed` told, when the command is refused; else `answered` hears once it is kept, or not.
    /// `before`: what is written first, in the same step.
    bool apply(const Command& command, Answered answered = {}, LogbookWriter::Work before = {});
    bool apply(const Expected<Command>& command, Answered answered = {});
    /// The same, signed by whoever works, in the same step.
    bool applySigned(const Expected<Command>& command, const Signer& signer);
    void undo();
    void redo();

    /// Adds a job to the logbook; gives its id.
    /// Keeps a picture in the logbook, for a job that names it.
    Expected<Done> addPicture(const QString& name, const QByteArray& bytes);
    Expected<std::int64_t> addJob(const Json& body, const QString& what);
    /// Changes that could not be kept and were taken back, how often.
    [[nodiscard]] int losses() const { return turn_; }

    /// Keeps a record in the logbook and hangs it on a specimen, in one step.
    bool attach(size_t index, const Record& record, const ColumnChoices& columns = {});
    /// The same for one that is in the logbook already.
    bool attachKept(size_t index, const QString& id, const QString& source);
    /// Begins a record that grows, and hangs it on its specimen, in one step; gives its id.
    Expected<QString> beginGrowing(size_t index, const Record& head);

    /// A record that was still growing, and not looked at meanwhile, is read, with all that hangs on it.
    void reread(const QString& id);

    /// Works a specimen out once more though nothing of it changed: what it reads has, or it was stopped.
    void workAgain(size_t index);

    /// Works a specimen out with one option changed, without keeping anything.
    [[nodiscard]] std::optional<Outcome> preview(size_t index, const std::string& option,
                                                 const std::string& value) const
    {
        return previewOf(index, option, value)();
    }
    /// The same as a piece of work that stands on copies, for a thread of its own.
    [[nodiscard]] std::function<std::optional<Outcome>()> previewOf(size_t index, const std::string& option,
                                                                    const std::string& value) const;
    /// Whether a person stands behind the verdict of the set.
    [[nodiscard]] bool judged() const { return isOpen() && document().json().contains("judged"); }

    /// How far a specimen has come: measured, loaded, read, judged.
    [[nodiscard]] int steps(size_t index) const;
    static constexpr int allSteps = overviewSteps;
    /// The remarks on a specimen that wait for a person.
    [[nodiscard]] std::vector<Remark> openRemarks(size_t index) const;
    [[nodiscard]] const Settlement* settlement(size_t index, const std::string& code) const;

signals:
    void leaving(); ///< another specimen, stage or job is about to come: what is half typed is handed over now
    void changed(); ///< the job or its figures
    void currentChanged(); ///< another specimen
    void stageChanged(int stage);
    void opened();
    void keeping(); ///< something is being kept, or is not any more
    void kept(); ///< the logbook holds all that was done
    void failed(const QString& words);

private:
    /// A change that shows and is not in the logbook yet.
    struct Underway {
        enum Kind { Applied, Undone, Redone } kind;
        std::string words;
        Answered answered;
    };
    void evaluate();
    [[nodiscard]] std::vector<SpecimenRow> overview() const;
    void keepOverview();
    Expected<Done> putNow(const LogbookWriter::Work& before, const Expected<Command>& command,
                          const std::function<void()>& turn = {});
    void take(const Command& command, Underway underway, const Signer& signer = {}, LogbookWriter::Work before = {});
    bool needsPhrase(const Command& command);
    void answer(int turn, const Expected<Done>& done);
    void takeBack(const Problem& why);
    void saveBeside();
    [[nodiscard]] Beside::Task taskFor(size_t index, const std::shared_ptr<const Job>& job) const;
    [[nodiscard]] bool quick(size_t index) const;
    void workOutNow(size_t index);
    void takeAnswers();
    bool showArrived();
    [[nodiscard]] bool counts(const Beside::Answer& one) const;
    void forget();

    Logbook& logbook_;
    std::shared_ptr<TesterWorks> testers_;
    LogbookWriter writer_;
    std::function<void()> eventTurn_;
    Beside beside_;
    std::vector<std::uint64_t> stamps_; ///< of each specimen: goes up when it is to be worked out anew
    std::vector<char> pending_;
    std::uint64_t stamp_ = 0;
    bool overviewDue_ = false; ///< the lists wait for figures that are worked out beside
    std::deque<Underway> underway_;
    std::vector<Beside::Answer> arrived_; ///< worked out, not shown yet
    QElapsedTimer shown_; ///< since figures were shown while others are worked out
    int turn_ = 0; ///< goes up when changes were taken back: later answers to those are not heard
    std::shared_ptr<bool> broken_ =
        std::make_shared<bool>(false); ///< of the writer's thread: what follows a failed change is not written
    QString who_ = "operator A";
    std::optional<JobDocument> document_;
    std::int64_t jobId_ = 0;
    JobOutcome outcome_;
    std::map<std::string, std::shared_ptr<const Record>> records_; ///< by record id
    std::vector<std::shared_ptr<const Record>>
        keyed_; ///< readings of each specimen, as its outcome was worked out from
    std::map<std::string, Problem> missing_;
    std::string evaluatedJob_; ///< what the outcomes were worked out from
    std::vector<std::string> evaluated_;
    std::string growing_; ///< the record that is being taken
    size_t current_ = 0;
    int stage_ = 0;
};

} // namespace fortitor
