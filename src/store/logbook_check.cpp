// SPDX-License-Identifier: GPL-3.0-or-later
// The check of the whole: what the journal says is held against what the logbook holds.
#include "store/logbook.h"

#include "jobs/json_at.h"
#include "jobs/json_text.h"
#include "jobs/overview.h"
#include "store/person_key.h"
#include "store/schema.h"
#include "units/json_bounds.h"

#include <QDateTime>
#include <QSqlQuery>
#include <QUuid>

#include <algorithm>
#include <set>

namespace fortitor {
namespace {

const char* const journalColumns =
    "SELECT seq, at, who, job, what, why, changes, previous, hash FROM journal ORDER BY seq";

JournalEntry entryOf(const QSqlQuery& q)
{
    return {q.value(0).toLongLong(), q.value(1).toString(), q.value(2).toString(),
            q.value(3).toLongLong(), q.value(4).toString(), q.value(5).toString(),
            q.value(6).toString(),   q.value(7).toString(), q.value(8).toString()};
}

/// Names, kinds and texts of all that a database holds besides rows.
std::map<QString, QString> schemaOf(const QSqlDatabase& db)
{
    std::map<QString, QString> all;
    QSqlQuery query("SELECT type, name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite_%'", db);
    while (query.next())
        all[query.value(0).toString() + " " + query.value(1).toString()] = query.value(2).toString();
    return all;
}

/// The ids of records that stand anywhere in a value: under "record", at "id".
void gatherRecords(const Json& value, std::set<std::string>& ids)
{
    if (value.is_object()) {
        for (const auto& [key, inner] : value.items()) {
            if (key == "id" && inner.is_string())
                ids.insert(inner.get<std::string>());
            gatherRecords(inner, ids);
        }
    } else if (value.is_array()) {
        for (const Json& inner : value)
            gatherRecords(inner, ids);
    }
}

} // namespace

/// The chain, and that time runs forward along it.
void Logbook::checkJournal(std::vector<LogbookFinding>& findings) const
{
    constexpr qint64 clockStep = 5; // s that a clock may be set back without a word
    QString previous = "";
    QDateTime before;
    std::int64_t expected = 1;
    QSqlQuery query(journalColumns, db_);
    while (query.next()) {
        const JournalEntry e = entryOf(query);
        const QString place = QString("journal line %1").arg(e.seq);
        if (e.seq != expected)
            findings.push_back({place, QString("line %1 is missing before it").arg(expected)});
        if (e.previous != previous)
            findings.push_back({place, "does not follow on the line before it: one was changed or taken out"});
        if (journalHash(e) != e.hash)
            findings.push_back({place, "was changed after it was written"});
        const QDateTime at = QDateTime::fromString(e.at, Qt::ISODateWithMs);
        if (!at.isValid())
            findings.push_back({place, "has no time"});
        else if (before.isValid() && at.secsTo(before) > clockStep)
            findings.push_back(
                {place,
                 "was written before the line that it follows, by its time: the clock was set back, or the line was"});
        before = at.isValid() ? at : before;
        previous = e.hash;
        expected = e.seq + 1;
    }
}

/// Every signature is that of the key which its person had then, and whoever has a key has signed what was judged.
void Logbook::checkSignatures(std::vector<LogbookFinding>& findings) const
{
    std::map<QString, QString> keys; // of each person, as of the line
    const auto missing = [&](std::int64_t line, const QString& who) {
        findings.push_back(
            {QString("journal line %1").arg(line), "is a judgement of " + who + ", who has a key, and is not signed"});
    };
    JournalEntry before;
    std::optional<QString> owed; // by whom the line before has to be signed
    QSqlQuery query(journalColumns, db_);
    while (query.next()) {
        const JournalEntry e = entryOf(query);
        const auto changes = parseJsonTo(deepestJson + 8, e.changes.toStdString(), "changes");
        bool signs = false;
        std::optional<QString> owes;
        for (const Json& change : changes && changes->is_array() ? *changes : Json::array()) {
            const QString path = QString::fromStdString(textAt(change, "path"));
            const Json after = objectAt(change, "after");
            if (path.startsWith("people/")) {
                keys[path.mid(7)] = QString::fromStdString(textAt(after, "ed25519"));
            } else if (path.startsWith("signatures/")) {
                signs = true;
                const QString key = keys.contains(e.who) ? keys[e.who] : QString();
                if (path.mid(11).toLongLong() != before.seq || textAt(after, "hash") != before.hash.toStdString()
                    || !signatureHolds(key, signedText(before.seq, before.hash, e.who),
                                       QString::fromStdString(textAt(after, "signature"))))
                    findings.push_back({QString("journal line %1").arg(e.seq),
                                        "is no signature of " + e.who + " under the line before it"});
            } else if (path == "/judged" && change.contains("after")) {
                if (const QString who = QString::fromStdString(textAt(after, "who")); keys.contains(who))
                    owes = who;
            }
        }
        if (owed && (!signs || e.who != *owed))
            missing(before.seq, *owed);
        owed = owes;
        before = e;
    }
    if (owed)
        missing(before.seq, *owed);
    std::map<QString, QString> stored;
    query.exec("SELECT name, ed25519 FROM people");
    while (query.next())
        stored[query.value(0).toString()] = query.value(1).toString();
    for (const auto& [who, key] : stored)
        if (const auto it = keys.find(who); it == keys.end() || it->second != key)
            findings.push_back({"key of " + who, "is not the one that the journal tells of"});
    for (const auto& [who, key] : keys)
        if (!stored.contains(who))
            findings.push_back({"key of " + who, "the journal tells of it, and it is not there"});
}

/// What the list shows of a job's specimens is what the job and its records give.
void Logbook::checkOverview(std::int64_t id, const Job& job, const QString& place,
                            std::vector<LogbookFinding>& findings) const
{
    std::vector<SpecimenRow> rows;
    QSqlQuery query(db_);
    query.prepare("SELECT label, verdict, figures FROM specimens WHERE job = ? ORDER BY position");
    query.addBindValue(qlonglong(id));
    query.exec();
    while (query.next())
        rows.push_back(
            {id, 0, {}, {}, query.value(0).toString(), query.value(1).toString(), query.value(2).toString(), 0});
    const bool same = std::ranges::equal(rows, job.specimens, [](const SpecimenRow& row, const Specimen& one) {
        return row.label.toStdString() == one.label;
    });
    if (!rows.empty() && !same)
        findings.push_back({place, "the list of specimens is not that of the job"});
    if (rows.empty() || !same)
        return; // never worked out, or nothing to compare
    for (size_t i = 0; i < rows.size(); ++i) {
        if (rows[i].figures.isEmpty() && rows[i].verdict == "open")
            continue; // tells nothing; it may have been stopped before it was brought up to date
        const Specimen& one = job.specimens[i];
        std::shared_ptr<const Record> record = one.readings ? std::make_shared<const Record>(*one.readings) : nullptr;
        std::optional<Problem> missing;
        if (!record && !one.recordId.empty()) {
            auto loaded = loadRecord(QString::fromStdString(one.recordId));
            if (loaded)
                record = *loaded;
            else
                missing = loaded.problem();
        }
        JobOutcome outcome;
        outcome.specimens.push_back(analyseKept(one, job, record, missing ? &*missing : nullptr));
        Job alone = job;
        alone.specimens = {one};
        const OverviewRow wanted = overviewOf(alone, outcome, [&](size_t) { return record != nullptr; }).front();
        const auto differs = [&](const QString& found, const std::string& worked) {
            if (found.toStdString() != worked)
                findings.push_back({place + ", " + rows[i].label,
                                    QString("the list shows \"%1\"; worked out anew it is \"%2\"")
                                        .arg(found, QString::fromStdString(worked))});
        };
        differs(rows[i].figures, wanted.figures);
        differs(rows[i].verdict, wanted.verdict);
    }
}

/// Every job is what its lines of the journal make of it, and no job is gone without one.
void Logbook::checkJobs(std::vector<LogbookFinding>& findings, const Progress& progress) const
{
    std::map<std::int64_t, Json> bodies;
    std::set<std::int64_t> broken;
    QSqlQuery query(journalColumns, db_);
    while (query.next()) {
        const JournalEntry e = entryOf(query);
        if (e.job == 0 || broken.contains(e.job))
            continue;
        const auto changes = parseJsonTo(deepestJson + 8, e.changes.toStdString(), "changes");
        try {
            if (!changes || !changes->is_array())
                throw std::runtime_error("no list of changes");
            for (const Json& change : *changes) {
                const std::string path = textAt(change, "path");
                if (!path.empty() && path[0] != '/')
                    continue; // of a record, an instrument, a person
                putAt(bodies[e.job], path, change.contains("after") ? std::optional(change["after"]) : std::nullopt);
            }
        } catch (const std::exception&) {
            findings.push_back(
                {QString("journal line %1").arg(e.seq),
                 QString("its changes can't be carried out on job %1 as the lines before it left it").arg(e.job)});
            broken.insert(e.job);
        }
    }
    std::set<std::int64_t> stored;
    double done = 0;
    query.exec("SELECT id, number, title, method, material FROM jobs");
    while (query.next()) {
        if (progress && !progress(0.5 + 0.5 * done++ / static_cast<double>(std::max<size_t>(1, bodies.size()))))
            return;
        const std::int64_t id = query.value(0).toLongLong();
        const QString place = "job " + query.value(1).toString();
        stored.insert(id);
        const auto body = loadJob(id);
        const auto job = body ? readJob(*body) : Expected<Job>(body.problem());
        if (!job) {
            findings.push_back({place, QString::fromStdString(job.problem().text())});
            continue;
        }
        if (const auto it = bodies.find(id); it == bodies.end())
            findings.push_back({place, "no line of the journal tells of it"});
        else if (!broken.contains(id) && it->second != *body)
            findings.push_back({place, "is not what the journal makes of it: it was changed without a line"});
        const auto column = [&](int c, const std::string& wanted, const char* name) {
            if (query.value(c).toString().toStdString() != wanted)
                findings.push_back({place,
                                    QString("the list says %1 \"%2\", the job says \"%3\"")
                                        .arg(name, query.value(c).toString(), QString::fromStdString(wanted))});
        };
        column(1, textAt(objectAt(*body, "job"), "number"), "number");
        column(2, textAt(objectAt(*body, "job"), "title"), "title");
        column(4, textAt(objectAt(*body, "material"), "name"), "material");
        checkOverview(id, *job, place, findings);
    }
    for (const auto& [id, body] : bodies)
        if (!stored.contains(id))
            findings.push_back({"job " + QString::fromStdString(textAt(objectAt(body, "job"), "number")),
                                "the journal tells of it, and it is not there"});
}

/// Every record that is named is there and as it was closed, and no other.
void Logbook::checkRecords(std::vector<LogbookFinding>& findings, const Progress& progress) const
{
    std::map<QString, QString> digests; // the last one told
    std::set<std::string> named;
    QSqlQuery query(journalColumns, db_);
    while (query.next()) {
        const JournalEntry e = entryOf(query);
        const auto changes = parseJsonTo(deepestJson + 8, e.changes.toStdString(), "changes");
        if (!changes || !changes->is_array())
            continue;
        for (const Json& change : *changes) {
            const QString path = QString::fromStdString(textAt(change, "path"));
            if (path.startsWith("records/")) {
                if (const std::string sha = textAt(objectAt(change, "after"), "sha256"); !sha.empty())
                    digests[path.mid(8)] = QString::fromStdString(sha);
                named.insert(path.mid(8).toStdString());
            } else if (path.isEmpty() || path.startsWith('/')) {
                for (const char* side : {"before", "after"})
                    if (change.contains(side))
                        gatherRecords(change[side], named);
            }
        }
    }
    struct Row {
        QString id, label;
        bool closed;
    };
    std::vector<Row> rows;
    query.exec("SELECT id, label, closed FROM records");
    while (query.next())
        rows.push_back({query.value(0).toString(), query.value(1).toString(), query.value(2).toInt() == 1});
    double done = 0;
    std::set<std::string> there;
    for (const Row& row : rows) {
        if (progress && !progress(0.5 * done++ / static_cast<double>(rows.size())))
            return;
        const QString place = "record of " + row.label;
        there.insert(row.id.toStdString());
        if (auto record = loadRecord(row.id); !record)
            findings.push_back({place, QString::fromStdString(record.problem().text())});
        if (!named.contains(row.id.toStdString()))
            findings.push_back({place, "no line of the journal tells of it"});
        const auto told = digests.find(row.id);
        const auto digest = digestOf(row.id);
        if (told != digests.end() && digest && *digest != told->second)
            findings.push_back({place, "is not what it was when it was closed: its SHA-256 is another"});
        if (told == digests.end() && row.closed)
            findings.push_back({place, "is closed, and no line of the journal has its SHA-256"});
    }
    for (const std::string& id : named)
        if (!there.contains(id))
            findings.push_back({"record " + QString::fromStdString(id), "the journal names it, and it is not there"});
    query.exec("SELECT DISTINCT record FROM chunks");
    while (query.next())
        if (!there.contains(query.value(0).toString().toStdString()))
            findings.push_back({"record " + query.value(0).toString(), "readings of a record that is not there"});
}

/// The tables are those that this program makes, and nothing acts on its own in the file.
void Logbook::checkSchema(std::vector<LogbookFinding>& findings) const
{
    const QString connection = QUuid::createUuid().toString();
    {
        QSqlDatabase made = QSqlDatabase::addDatabase("QSQLITE", connection);
        made.setDatabaseName(":memory:");
        if (made.open() && migrate(made, ":memory:")) {
            const auto wanted = schemaOf(made);
            const auto found = schemaOf(db_);
            for (const auto& [name, sql] : found)
                if (const auto it = wanted.find(name); it == wanted.end())
                    findings.push_back({name, "is none of the logbook's own"});
                else if (it->second != sql)
                    findings.push_back({name, "is not as the logbook makes it"});
            for (const auto& [name, sql] : wanted)
                if (!found.contains(name))
                    findings.push_back({name, "is missing"});
        }
        made.close();
    }
    QSqlDatabase::removeDatabase(connection);
}

std::vector<LogbookFinding> Logbook::checkAgainst(const JournalHead& kept) const
{
    QSqlQuery query(db_);
    query.prepare("SELECT hash FROM journal WHERE seq = ?");
    query.addBindValue(qlonglong(kept.line));
    if (!query.exec() || !query.next())
        return {{QString("journal line %1").arg(kept.line),
                 QString("was there on %1, by a head that was kept outside, and is gone: lines were cut off the end")
                     .arg(kept.at)}};
    if (query.value(0).toString() != kept.hash)
        return {{QString("journal line %1").arg(kept.line),
                 QString("is another than on %1, by a head that was kept outside: the chain was worked out anew")
                     .arg(kept.at)}};
    if (kept.signature.isEmpty())
        return {};
    if (!signatureHolds(kept.key, signedText(kept.line, kept.hash, kept.who), kept.signature))
        return {{"head", "its signature is not that of the key it names: the head was changed after it was signed"}};
    query.prepare("SELECT count(*) FROM journal WHERE seq <= ? AND who = ? AND changes LIKE ?");
    query.addBindValue(qlonglong(kept.line));
    query.addBindValue(kept.who);
    query.addBindValue("%\"ed25519\":\"" + kept.key + "\"%");
    if (!query.exec() || !query.next() || query.value(0).toInt() == 0)
        return {{"head", "is signed with a key that the journal does not have for " + kept.who}};
    return {};
}

std::vector<LogbookFinding> Logbook::check(const Progress& progress) const
{
    std::vector<LogbookFinding> findings;
    if (newestUnread_)
        findings.push_back(
            {"file",
             "a write-ahead log lies beside it that can't be read here: the newest lines are missing from what was "
             "looked at"});
    QSqlQuery query("PRAGMA integrity_check", db_);
    while (query.next())
        if (query.value(0).toString() != "ok")
            findings.push_back({"file", query.value(0).toString()});
    checkSchema(findings);
    checkJournal(findings);
    checkSignatures(findings);
    checkRecords(findings, progress);
    checkPictures(findings);
    checkJobs(findings, progress);
    return findings;
}

} // namespace fortitor
