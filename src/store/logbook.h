// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/document.h"
#include "record/text_import.h"
#include "store/journal.h"

#include <QSqlDatabase>
#include <QString>
#include <QStringList>

#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <vector>

class QSqlQuery;

namespace fortitor {

struct JobRow {
    std::int64_t id = 0;
    QString number, title, method, material, created, changed;
    int specimens = 0;
    int judged = 0; ///< with a verdict
    int failed = 0;
};

struct SpecimenRow {
    std::int64_t job = 0;
    int position = 0;
    QString number, title; ///< of its job
    QString label, verdict, figures;
    int stage = 0;
};

struct InstrumentRow {
    QString name, kind;
    Json body;
    QString due; ///< yyyy-MM-dd, empty: none
};

/// A judgement that its person has signed.
struct Signature {
    std::int64_t line = 0; ///< of the journal, signed with all lines before it
    QString who, key; ///< the public key, hex
};

/// A finding of the check, in words. Empty place: the logbook as a whole.
struct LogbookFinding {
    QString place;
    QString words;
};

/// The logbook: one SQLite file with jobs, records and the journal of changes. Everything is
/// committed before a call returns. A logbook that another program holds, or that can't be written,
/// is opened read-only and says why. One object belongs to the thread that opened it.
class Logbook {
public:
    /// Opens or makes one. Refuses foreign, truncated and newer files; none of them is touched.
    static Expected<std::unique_ptr<Logbook>> open(const QString& file, bool readOnly = false);
    /// The same logbook for another thread, to be called there: a connection of its own under the same lock.
    [[nodiscard]] Expected<std::unique_ptr<Logbook>> twin() const;
    ~Logbook();
    Logbook(const Logbook&) = delete;
    Logbook& operator=(const Logbook&) = delete;

    [[nodiscard]] const QString& file() const { return file_; }
    /// Empty when it can be written.
    [[nodiscard]] QString readOnlyBecause() const;

    /// Jobs, newest change first, whose number, title, material or a specimen's label holds the words.
    [[nodiscard]] std::vector<JobRow> jobs(const QString& words = {}) const;
    [[nodiscard]] std::vector<SpecimenRow> specimens(const QString& words, int most = 100) const;
    [[nodiscard]] Expected<Json> loadJob(std::int64_t id) const;
    Expected<std::int64_t> addJob(const Json& body, const QString& who, const QString& what);
    /// Keeps a job after a command, with its line in the journal, in one transaction.
    Expected<Done> keep(std::int64_t id, const Json& body, const Command& command, const QString& who);
    /// What the lists show of a job's specimens.
    Expected<Done> keepOverview(std::int64_t id, const std::vector<SpecimenRow>& rows);

    static QString newRecordId();
    /// Keeps a whole record; gives its id, the one that was asked for if any.
    Expected<QString> addRecord(std::int64_t job, const QString& label, const Record& record, const QString& who,
                                const Progress& progress = {}, const QString& id = {});
    [[nodiscard]] Expected<std::shared_ptr<const Record>> loadRecord(const QString& id) const;
    /// What is known of a record, its channels without their values.
    [[nodiscard]] Expected<Record> loadHead(const QString& id) const;
    /// Hands out a record's rows in the stretches in which they are kept: one of any length needs little memory.
    Expected<Done> forEachChunk(const QString& id, const Record& head, const TakeRows& take) const;

    /// Of all records there are.
    [[nodiscard]] std::vector<QString> recordIds() const;

    /// A record that is still being taken: begun, appended to chunk by chunk, closed.
    Expected<QString> beginRecord(std::int64_t job, const QString& label, const Record& head, const QString& who,
                                  const QString& id = {});
    /// Rows [from, to) of the record as chunk number `seq`, committed before it returns.
    Expected<Done> appendChunk(const QString& id, int seq, const Record& record, size_t from, size_t to);
    /// What happened so far, while the record is still open.
    Expected<Done> keepEvents(const QString& id, const Record& record);
    /// With a line in the journal that holds the SHA-256 of all that is kept of it.
    Expected<Done> closeRecord(const QString& id, const Record& record, const QString& who,
                               const QString& openBecause = {});

    /// The file of a picture as it came, with a line in the journal; one that is there already is not kept twice.
    Expected<Done> keepPicture(std::int64_t job, const QString& name, const QByteArray& bytes, const QString& who);
    /// Refused where it is not there, or not what it was.
    [[nodiscard]] Expected<QByteArray> loadPicture(const QString& sha256) const;
    static QString pictureDigest(const QByteArray& bytes);

    [[nodiscard]] std::vector<InstrumentRow> instruments() const;
    [[nodiscard]] std::optional<InstrumentRow> instrument(const QString& name) const;
    /// With `before`, the name that it had: renamed in one step. Refused where another has the new name.
    Expected<Done> keepInstrument(const InstrumentRow& row, const QString& who, const QString& before = {});
    Expected<Done> removeInstrument(const QString& name, const QString& who);

    /// All that `work` writes becomes one step: the whole of it is kept, or nothing.
    Expected<Done> together(const std::function<Expected<Done>()>& work) { return inTransaction(work); }

    /// The public key of a person, hex; empty: none is set.
    [[nodiscard]] QString publicKey(const QString& who) const;
    Expected<Done> keepPublicKey(const QString& who, const QString& key);
    /// Signs the journal as it stands, in a line of its own, which goes with the line that it signs.
    Expected<Done> sign(std::int64_t job, const QString& who, const Signer& signer);
    /// The last signature under a judgement of the job; nothing when it was not signed, or opened again.
    [[nodiscard]] std::optional<Signature> signatureOf(std::int64_t job) const;
    /// Heads that are written from now on are signed by that person too; no signer: they are not.
    void setHeadSigner(const QString& who, const QString& key, Signer signer);

    /// A line of the journal about something that no job holds.
    Expected<Done> note(std::int64_t job, const QString& who, const QString& what, const QString& why);

    /// Newest first.
    [[nodiscard]] std::vector<JournalEntry> journal(std::int64_t job, int most, const QString& words = {}) const;
    /// Where the journal stands; line 0 in an empty one.
    [[nodiscard]] JournalHead head() const;
    /// A second folder that the head is written to as well, best one that others look after.
    void setHeadFolder(const QString& folder);
    void writeHead() const;
    /// The head files that this logbook writes and that are there.
    [[nodiscard]] QStringList headFiles() const;
    /// What a head that was kept outside says of the journal as it is; nothing when they agree.
    [[nodiscard]] std::vector<LogbookFinding> checkAgainst(const JournalHead& head) const;

    /// Looks at everything: the file, the chain, every chunk of every record, every job.
    [[nodiscard]] std::vector<LogbookFinding> check(const Progress& progress = {}) const;
    /// A whole copy elsewhere, by SQLite itself.
    [[nodiscard]] Expected<Done> backup(const QString& to) const;
    /// Everything out of the write-ahead log into the file itself, so that a plain copy of it is whole.
    void checkpoint();
    /// Something was written since the last checkpoint.
    [[nodiscard]] bool wantsCheckpoint() const;
    /// Lines of a write-ahead log beside it can't be read here: what is shown may not be the newest.
    [[nodiscard]] bool newestUnread() const { return newestUnread_; }
    /// Where what was in it was saved when the file was deleted or replaced under it; empty: it was not.
    [[nodiscard]] QString rescued() const;

private:
    struct Held; // what all connections to one open logbook share
    Logbook();
    Expected<Done> write(const QString& who, std::int64_t job, const QString& what, const QString& why,
                         const QString& changes);
    Expected<Done> inTransaction(const std::function<Expected<Done>()>& work);
    [[nodiscard]] Problem problemOf(const QSqlQuery& query) const;
    Expected<Done> refuseWriting() const;

    Expected<Done> stillThere();
    Expected<Done> takeLocks(bool fresh);
    Expected<Done> connect();
    Expected<Done> digestOldRecords();
    Expected<Done> insertRecord(const QString& id, std::int64_t job, const QString& label, const Record& head);
    Expected<Done> putRecord(const QString& id, std::int64_t job, const QString& label, const Record& record,
                             const QString& who, const Progress& progress);
    [[nodiscard]] Expected<QString> digestOf(const QString& record) const;
    void checkJournal(std::vector<LogbookFinding>& findings) const;
    void checkSignatures(std::vector<LogbookFinding>& findings) const;
    void checkRecords(std::vector<LogbookFinding>& findings, const Progress& progress) const;
    void checkPictures(std::vector<LogbookFinding>& findings) const;
    void checkJobs(std::vector<LogbookFinding>& findings, const Progress& progress) const;
    void checkOverview(std::int64_t id, const Job& job, const QString& place,
                       std::vector<LogbookFinding>& findings) const;
    void checkSchema(std::vector<LogbookFinding>& findings) const;

    QString file_;
    std::shared_ptr<Held> held_;
    bool newestUnread_ = false;
    mutable std::map<std::int64_t, QByteArray> bodies_; ///< hash of each job's body as it was read or written here
    QString connection_;
    QSqlDatabase db_;
    bool inside_ = false; ///< of a transaction
};

} // namespace fortitor
