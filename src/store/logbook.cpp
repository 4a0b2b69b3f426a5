// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/logbook.h"

#include "jobs/json_at.h"
#include "store/held.h"
#include "store/schema.h"
#include "units/json_bounds.h"
#include "store/words.h"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QUrl>
#include <QSqlQuery>
#include <QUuid>

#include <cerrno>
#include <cstring>
#include <exception>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>

namespace fortitor {
namespace {

/// Whether the file is a logbook, before SQLite gets to touch it.
Expected<Done> looksLikeLogbook(const QString& file)
{
    QFile in(file);
    if (!in.exists() || in.size() == 0)
        return Done{};
    const auto wrong = [&](const std::string& found) {
        return Problem{file.toStdString(), found, "a Fortitor logbook (SQLite)",
                       "Choose another file; this one was left as it is."};
    };
    if (QFileInfo(file).isDir())
        return wrong("a folder");
    if (!in.open(QIODevice::ReadOnly))
        return wrong(in.errorString().toStdString());
    const QByteArray head = in.read(100);
    if (head.size() < 100 || !head.startsWith(QByteArray("SQLite format 3\0", 16)))
        return wrong(head.size() < 100 ? "a file cut short" : "a file of another kind");
    const auto byte = [&](int i) { return static_cast<std::uint32_t>(static_cast<unsigned char>(head[i])); };
    const std::uint32_t application = byte(68) << 24 | byte(69) << 16 | byte(70) << 8 | byte(71);
    if (application != static_cast<std::uint32_t>(logbookApplicationId))
        return wrong("a database of another program");
    const std::uint32_t pageSize = byte(16) << 8 | byte(17);
    const std::uint64_t pages = byte(28) << 24 | byte(29) << 16 | byte(30) << 8 | byte(31);
    if (static_cast<std::uint64_t>(in.size()) < pages * (pageSize == 1 ? 65536 : pageSize)
        && !QFile::exists(file + "-wal"))
        return wrong("a logbook cut short: " + std::to_string(in.size()) + " of " + std::to_string(pages * pageSize)
                     + " bytes");
    return Done{};
}

} // namespace

Logbook::Logbook() : held_(std::make_shared<Held>()) { }

Expected<std::unique_ptr<Logbook>> Logbook::open(const QString& file, bool readOnly)
{
    if (auto ok = looksLikeLogbook(file); !ok)
        return ok.problem();
    std::unique_ptr<Logbook> book(new Logbook);
    Held& held = *book->held_;
    book->file_ = QFileInfo(file).absoluteFilePath();
    const QFileInfo folder(QFileInfo(book->file_).absolutePath());
    const bool exists = QFile::exists(book->file_);
    if (!exists && !readOnly && !QDir().mkpath(folder.filePath()))
        return Problem{folder.filePath().toStdString(), "the folder could not be made", "a folder that can be written",
                       "Choose another place with --logbook."};
    if (readOnly)
        held.readOnlyBecause = "opened for reading only";
    else if (!QFileInfo(folder.filePath()).isWritable() || (exists && !QFileInfo(book->file_).isWritable()))
        held.readOnlyBecause = "the folder or the file can't be written";
    else if (auto locked = book->takeLocks(!exists); !locked)
        return locked.problem();
    const bool writes = held.readOnlyBecause.isEmpty();
    if (!exists && !writes)
        return Problem{book->file_.toStdString(), held.readOnlyBecause.toStdString(),
                       "a logbook, or a folder to make one in", "Choose another place with --logbook."};

    // In a folder that can't be written SQLite may not be able to make its shared memory; read as a file
    // that does not change it leaves out a write-ahead log beside it, and that has to be said.
    held.immutable = !writes && !QFileInfo(folder.filePath()).isWritable();
    book->newestUnread_ = held.immutable && QFileInfo(book->file_ + "-wal").size() > 0;
    if (book->newestUnread_)
        held.readOnlyBecause +=
            "; a write-ahead log (-wal) lies beside it that can't be read here, so the newest lines are missing: "
            "copy both files to a folder that can be written";
    if (auto ok = book->connect(); !ok)
        return ok.problem();
    const auto broken = [&](const QString& found) {
        return Problem{book->file_.toStdString(), found.toStdString(), "a Fortitor logbook",
                       "It was left as it is; restore a backup copy beside it."};
    };
    if (!writes && schemaVersion(book->db_) != newestSchema())
        return broken("schema " + QString::number(schemaVersion(book->db_))
                      + " in a logbook that can't be brought up to date while it is read-only");
    if (writes) {
        // The schema comes before the write-ahead log, so that the file itself says what it is from its
        // first moment on.
        const int before = schemaVersion(book->db_);
        if (auto ok = migrate(book->db_, book->file_); !ok)
            return ok.problem();
        if (before > 0 && before < 3)
            if (auto ok = book->digestOldRecords(); !ok)
                return ok.problem();
        QSqlQuery query(book->db_);
        if (!query.exec("PRAGMA journal_mode = WAL") || !query.exec("PRAGMA synchronous = FULL"))
            return broken(query.lastError().text());
    }
    return book;
}

Expected<std::unique_ptr<Logbook>> Logbook::twin() const
{
    std::unique_ptr<Logbook> book(new Logbook);
    book->file_ = file_;
    book->held_ = held_;
    book->newestUnread_ = newestUnread_;
    if (auto ok = book->connect(); !ok)
        return ok.problem();
    QSqlQuery query(book->db_);
    if (readOnlyBecause().isEmpty() && !query.exec("PRAGMA synchronous = FULL"))
        return problemOf(query);
    return book;
}

/// A connection to the file, for the thread that calls.
Expected<Done> Logbook::connect()
{
    connection_ = QUuid::createUuid().toString();
    db_ = QSqlDatabase::addDatabase("QSQLITE", connection_);
    if (!readOnlyBecause().isEmpty()) {
        db_.setConnectOptions("QSQLITE_OPEN_READONLY;QSQLITE_OPEN_URI");
        db_.setDatabaseName("file:" + QString::fromLatin1(QUrl::toPercentEncoding(file_, "/"))
                            + (held_->immutable ? "?immutable=1" : ""));
    } else {
        db_.setDatabaseName(file_);
    }
    const auto broken = [&](const QString& found) {
        return Problem{file_.toStdString(), found.toStdString(), "a Fortitor logbook",
                       "It was left as it is; restore a backup copy beside it."};
    };
    if (!db_.open())
        return broken(db_.lastError().text());
    QSqlQuery query(db_);
    query.exec("PRAGMA busy_timeout = 2000");
    if (!query.exec("SELECT count(*) FROM sqlite_master"))
        return broken(query.lastError().text());
    return Done{};
}

QString Logbook::readOnlyBecause() const
{
    const std::lock_guard lock(held_->mutex);
    return held_->readOnlyBecause;
}

QString Logbook::rescued() const
{
    const std::lock_guard lock(held_->mutex);
    return held_->rescued;
}

bool Logbook::wantsCheckpoint() const
{
    return held_->written;
}

/// Records from before their SHA-256 was kept get it now, in one line of the journal.
Expected<Done> Logbook::digestOldRecords()
{
    return inTransaction([&]() -> Expected<Done> {
        Json changes = Json::array();
        for (const QString& id : recordIds()) {
            const auto digest = digestOf(id);
            if (!digest)
                return digest.problem();
            changes.push_back(
                {{"path", "records/" + id.toStdString()}, {"after", {{"sha256", digest->toStdString()}}}});
        }
        return changes.empty() ? Expected<Done>(Done{})
                               : write("", 0, "SHA-256 of the records that were here before",
                                       "the logbook was brought up to date", dumped(changes));
    });
}

/// Locks the file, by what its name leads to and by itself: a link is no second logbook. Another one that has
/// it makes this one read-only.
Expected<Done> Logbook::takeLocks(bool fresh)
{
    const QString real = QFileInfo(file_).canonicalFilePath();
    auto lock = std::make_unique<QLockFile>((real.isEmpty() ? file_ : real) + ".lock");
    lock->setStaleLockTime(0);
    if (!lock->tryLock(0)) {
        qint64 pid = 0;
        QString host;
        QString program;
        lock->getLockInfo(&pid, &host, &program);
        held_->readOnlyBecause = QString("another Fortitor has it open (process %1)").arg(pid);
        return Done{};
    }
    const int handle = ::open(QFile::encodeName(file_).constData(), O_RDWR | O_CLOEXEC | (fresh ? O_CREAT : 0), 0644);
    if (handle < 0)
        return Problem{file_.toStdString(), std::strerror(errno), "a logbook that can be written", {}};
    if (::flock(handle, LOCK_EX | LOCK_NB) != 0) {
        ::close(handle);
        held_->readOnlyBecause = "another Fortitor has it open, by another name of the same file";
        return Done{};
    }
    held_->handle = handle;
    held_->lock = std::move(lock);
    return Done{};
}

/// Looked at before each step: the file that is open has to be the one that its name leads to.
Expected<Done> Logbook::stillThere()
{
    struct stat open { };
    struct stat named { };
    const bool held = held_->handle >= 0 && ::fstat(held_->handle, &open) == 0;
    const bool there = ::stat(QFile::encodeName(file_).constData(), &named) == 0;
    if (!held || (there && open.st_nlink > 0 && open.st_ino == named.st_ino && open.st_dev == named.st_dev))
        return Done{};
    // It is reached through the open file for as long as the program runs: everything goes into a new one.
    const QString to =
        QString("%1.rescued-%2.sqlite").arg(file_, QDateTime::currentDateTime().toString("yyyyMMdd-HHmmss"));
    QDir().mkpath(QFileInfo(file_).absolutePath());
    const auto saved = backup(to);
    {
        const std::lock_guard lock(held_->mutex);
        held_->rescued = saved ? to : QString();
        held_->readOnlyBecause = QString("the file was %1 while it was open").arg(there ? "replaced" : "deleted");
    }
    return Problem{file_.toStdString(), there ? "another file in its place" : "no file any more",
                   "the logbook that was opened",
                   saved ? "Nothing more is written. All that was in it is saved in " + to.toStdString()
                           + ": close the program, look at both files, and open the one that is right."
                         : "Nothing more is written, and a copy could not be made: " + saved.problem().text()};
}

void Logbook::checkpoint()
{
    if (!readOnlyBecause().isEmpty() || inside_ || !held_->written)
        return;
    QSqlQuery query(db_);
    if (query.exec("PRAGMA wal_checkpoint(TRUNCATE)") && query.next() && query.value(0).toInt() == 0)
        held_->written = false;
    writeHead();
}

Logbook::~Logbook()
{
    checkpoint();
    db_.close();
    db_ = QSqlDatabase();
    if (!connection_.isEmpty())
        QSqlDatabase::removeDatabase(connection_);
    // `held_` goes after the last connection: closing any handle of a file gives up SQLite's locks on it.
}

Problem Logbook::problemOf(const QSqlQuery& query) const
{
    const QString words = query.lastError().text();
    const bool full = words.contains("full", Qt::CaseInsensitive) || words.contains("disk I/O", Qt::CaseInsensitive);
    return Problem{file_.toStdString(), words.toStdString(), "room and rights to write",
                   full ? "The disk is full or failing: free some space. What was kept before is unchanged."
                        : "What was kept before is unchanged."};
}

Expected<Done> Logbook::refuseWriting() const
{
    const QString because = readOnlyBecause();
    if (because.isEmpty())
        return Done{};
    return Problem{file_.toStdString(), because.toStdString(), "a logbook that can be written",
                   "Close the other program, or work on another logbook."};
}

Expected<Done> Logbook::inTransaction(const std::function<Expected<Done>()>& work)
{
    if (auto ok = refuseWriting(); !ok)
        return ok;
    if (inside_)
        return work(); // a part of a larger step
    if (auto there = stillThere(); !there)
        return there;
    held_->written = true;
    const auto bodies = bodies_;
    QSqlQuery query(db_);
    if (!query.exec("BEGIN IMMEDIATE"))
        return problemOf(query);
    inside_ = true;
    Expected<Done> done = Done{};
    try {
        done = work();
    } catch (const std::exception& thrown) { // a step left open would swallow all that follow
        done = Problem{file_.toStdString(), thrown.what(), "a step that can be kept", "Nothing of it was kept."};
    }
    inside_ = false;
    if (done && !query.exec("COMMIT"))
        done = problemOf(query);
    if (!done) {
        query.exec("ROLLBACK");
        bodies_ = bodies; // what was noted of them on the way is not so
    }
    return done;
}

Expected<Done> Logbook::write(const QString& who, std::int64_t job, const QString& what, const QString& why,
                              const QString& changes)
{
    JournalEntry entry;
    QSqlQuery last("SELECT seq, hash FROM journal ORDER BY seq DESC LIMIT 1", db_);
    if (last.next()) {
        entry.seq = last.value(0).toLongLong();
        entry.previous = last.value(1).toString();
    }
    last.finish();
    ++entry.seq;
    // Null texts are kept as empty ones: the columns ask for a text.
    const auto solid = [](const QString& s) { return s.isNull() ? QString("") : s; };
    entry.at = writtenNow();
    entry.who = solid(who);
    entry.job = job;
    entry.what = solid(what);
    entry.why = solid(why);
    entry.changes = solid(changes);
    entry.previous = solid(entry.previous);
    entry.hash = journalHash(entry);
    QSqlQuery query(db_);
    query.prepare(
        "INSERT INTO journal (seq, at, who, job, what, why, changes, previous, hash) VALUES (?,?,?,?,?,?,?,?,?)");
    for (const QVariant& v : {QVariant(qlonglong(entry.seq)), QVariant(entry.at), QVariant(entry.who),
                              QVariant(qlonglong(job)), QVariant(entry.what), QVariant(entry.why),
                              QVariant(entry.changes), QVariant(entry.previous), QVariant(entry.hash)})
        query.addBindValue(v);
    if (!query.exec())
        return problemOf(query);
    return Done{};
}

Expected<Done> Logbook::note(std::int64_t job, const QString& who, const QString& what, const QString& why)
{
    return inTransaction([&] { return write(who, job, what, why, "[]"); });
}

std::vector<JournalEntry> Logbook::journal(std::int64_t job, int most, const QString& words) const
{
    QSqlQuery query(db_);
    query.prepare(
        "SELECT seq, at, who, job, what, why, changes, previous, hash FROM journal WHERE (:j = 0 OR job = :j) AND "
        "(what LIKE :w OR why LIKE :w OR who LIKE :w) ORDER BY seq DESC LIMIT :n");
    query.bindValue(":j", qlonglong(job));
    query.bindValue(":w", "%" + words + "%");
    query.bindValue(":n", most);
    std::vector<JournalEntry> entries;
    if (!query.exec())
        return entries;
    while (query.next())
        entries.push_back({query.value(0).toLongLong(), query.value(1).toString(), query.value(2).toString(),
                           query.value(3).toLongLong(), query.value(4).toString(), query.value(5).toString(),
                           query.value(6).toString(), query.value(7).toString(), query.value(8).toString()});
    return entries;
}

Expected<Done> Logbook::backup(const QString& to) const
{
    if (QFile::exists(to))
        return Problem{to.toStdString(), "a file of that name", "a name that is free", "Nothing is written over."};
    QSqlQuery query(db_);
    query.prepare("VACUUM INTO ?");
    query.addBindValue(to);
    if (!query.exec())
        return problemOf(query);
    return Done{};
}

} // namespace fortitor
