// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/schema.h"

#include <QFile>
#include <QSqlError>
#include <QSqlQuery>
#include <QStringList>

#include <vector>

namespace fortitor {
namespace {

/// One list of statements a version. Portable SQL; a version once shipped never changes.
const std::vector<QStringList>& steps()
{
    static const std::vector<QStringList> list{
        // 1: jobs, records, journal
        {"CREATE TABLE jobs (id INTEGER PRIMARY KEY, number TEXT NOT NULL, title TEXT NOT NULL, method TEXT NOT "
         "NULL, material TEXT NOT NULL, created TEXT NOT NULL, changed TEXT NOT NULL, body TEXT NOT NULL)",
         "CREATE TABLE records (id TEXT PRIMARY KEY, job INTEGER NOT NULL, label TEXT NOT NULL, source TEXT NOT "
         "NULL, created TEXT NOT NULL, channels TEXT NOT NULL, events TEXT NOT NULL, notes TEXT NOT NULL, closed "
         "INTEGER NOT NULL, open_because TEXT NOT NULL)",
         "CREATE TABLE chunks (record TEXT NOT NULL, seq INTEGER NOT NULL, channel INTEGER NOT NULL, row_count "
         "INTEGER NOT NULL, bytes BLOB NOT NULL, PRIMARY KEY (record, seq, channel))",
         "CREATE TABLE journal (seq INTEGER PRIMARY KEY, at TEXT NOT NULL, who TEXT NOT NULL, job INTEGER NOT NULL, "
         "what TEXT NOT NULL, why TEXT NOT NULL, changes TEXT NOT NULL, previous TEXT NOT NULL, hash TEXT NOT NULL)"},
        // 2: specimens to list and search by, instruments
        {"CREATE TABLE specimens (job INTEGER NOT NULL, position INTEGER NOT NULL, label TEXT NOT NULL, stage "
         "INTEGER NOT NULL, verdict TEXT NOT NULL, figures TEXT NOT NULL, PRIMARY KEY (job, position))",
         "CREATE INDEX specimens_by_label ON specimens (label)",
         "CREATE TABLE instruments (name TEXT PRIMARY KEY, kind TEXT NOT NULL, body TEXT NOT NULL, due TEXT NOT NULL)"},
        // 3: records have their SHA-256 in the journal; no table changes
        {},
        // 4: public keys of those who sign
        {"CREATE TABLE people (name TEXT PRIMARY KEY, ed25519 TEXT NOT NULL, since TEXT NOT NULL)"},
        // 5: pictures that readings were taken from
        {"CREATE TABLE pictures (sha256 TEXT PRIMARY KEY, name TEXT NOT NULL, added TEXT NOT NULL, bytes BLOB NOT "
         "NULL)"},
    };
    return list;
}

Problem sqlProblem(const QSqlQuery& query, const QString& file)
{
    return Problem{file.toStdString(), query.lastError().text().toStdString(), "a logbook that can be written",
                   "What was there before is unchanged."};
}

} // namespace

int newestSchema()
{
    return static_cast<int>(steps().size());
}

int schemaVersion(const QSqlDatabase& db)
{
    QSqlQuery query("PRAGMA user_version", db);
    return query.next() ? query.value(0).toInt() : 0;
}

Expected<Done> migrate(QSqlDatabase& db, const QString& file, int upTo)
{
    const int now = schemaVersion(db);
    if (now > newestSchema())
        return Problem{file.toStdString(), "schema " + std::to_string(now),
                       "schema " + std::to_string(newestSchema()) + " or older",
                       "It was written by a newer Fortitor; open it with that one."};
    if (now >= upTo)
        return Done{};
    if (now > 0) {
        // Everything out of the write-ahead log first, so that the copy is whole.
        QSqlQuery("PRAGMA wal_checkpoint(TRUNCATE)", db);
        const QString copy = QString("%1.before-schema-%2").arg(file).arg(upTo);
        if (!QFile::exists(copy) && !QFile::copy(file, copy))
            return Problem{copy.toStdString(), "the backup copy could not be made",
                           "room and rights beside the logbook", "The logbook was left as it was."};
    }
    for (int version = now; version < upTo; ++version) {
        db.transaction();
        QSqlQuery query(db);
        QStringList statements = steps()[static_cast<size_t>(version)];
        statements << QString("PRAGMA user_version = %1").arg(version + 1)
                   << QString("PRAGMA application_id = %1").arg(logbookApplicationId);
        for (const QString& sql : statements)
            if (!query.exec(sql)) {
                const Problem problem = sqlProblem(query, file);
                db.rollback();
                return problem;
            }
        if (!db.commit())
            return Problem{file.toStdString(), db.lastError().text().toStdString(), "room to write",
                           "What was there before is unchanged."};
    }
    return Done{};
}

} // namespace fortitor
