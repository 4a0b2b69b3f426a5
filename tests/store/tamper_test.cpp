// SPDX-License-Identifier: GPL-3.0-or-later
// Edits made to a logbook with other tools: each is found by the check. And a logbook that is deleted,
// replaced, linked or copied while it is open.
#include "store/logbook.h"

#include "jobs/edits.h"
#include "jobs/overview.h"
#include "jobs/pad.h"
#include "sim/catalogue.h"
#include "store/chunk_codec.h"

#include <gtest/gtest.h>

#include <QDir>
#include <QFile>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QTemporaryDir>

#include <unistd.h>

namespace fortitor {
namespace {

class Tamper : public testing::Test {
protected:
    void SetUp() override
    {
        auto book = Logbook::open(file());
        ASSERT_TRUE(book);
        for (const char* number : {"J-1", "J-2"}) {
            auto id = (*book)->addJob(edits::newJob(number, "a lot", *findMethod("tension-metal"), 2), "operator A",
                                      "new job");
            ASSERT_TRUE(id);
            auto document = JobDocument::fromJson(*(*book)->loadJob(*id));
            const auto does = [&](const Command& command) {
                ASSERT_TRUE(document->apply(command));
                ASSERT_TRUE((*book)->keep(*id, document->json(), command, "operator A"));
            };
            does(edits::head(*document, "title", "a better title"));
            does(CommandBuilder(*document, "diameter")
                     .set("/specimens/0/dimensions/diameter", Json::array({"10.02 mm", "10.01 mm"}))
                     .take());
            const auto run = simulateRun(*findCatalogueEntry("rigger-tube"), 3, 500);
            auto record = (*book)->addRecord(*id, "A1", run.record, "operator A");
            ASSERT_TRUE(record);
            does(edits::attachRecord(*document, 0, record->toStdString(), "simulated", {}));
            const auto back = document->undo();
            ASSERT_TRUE((*book)->keep(*id, document->json(), *back, "operator A"));
            const auto again = document->redo();
            ASSERT_TRUE((*book)->keep(*id, document->json(), *again, "operator A"));
            JobOutcome outcome;
            for (const Specimen& one : document->job().specimens)
                outcome.specimens.push_back(analyseSpecimen(
                    one, document->job(), one.recordId.empty() ? nullptr : std::make_shared<const Record>(run.record)));
            std::vector<SpecimenRow> rows;
            for (const OverviewRow& row : overviewOf(document->job(), outcome, [](size_t i) { return i == 0; }))
                rows.push_back({*id,
                                static_cast<int>(rows.size()),
                                {},
                                {},
                                QString::fromStdString(row.label),
                                QString::fromStdString(row.verdict),
                                QString::fromStdString(row.figures),
                                row.stage});
            ASSERT_TRUE(rows[0].figures.contains("Rm 305 MPa")) << rows[0].figures.toStdString();
            ASSERT_TRUE((*book)->keepOverview(*id, rows));
        }
        ASSERT_TRUE(
            (*book)->keepInstrument({"cell K-50", "cell", Json{{"capacity", "50 kN"}}, "2027-06-01"}, "operator A"));
        ASSERT_TRUE((*book)->check().empty()) << (*book)->check().front().words.toStdString();
    }
    [[nodiscard]] QString file(const char* name = "book.sqlite") const { return folder.filePath(name); }
    /// Runs statements on a copy and gives what the check finds.
    QStringList found(const QStringList& statements)
    {
        const QString copy = file("copy.sqlite");
        for (const char* end : {"", "-wal", "-shm", ".lock"})
            QFile::remove(copy + end);
        EXPECT_TRUE(QFile::copy(file(), copy));
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "tamper");
            db.setDatabaseName(copy);
            EXPECT_TRUE(db.open());
            QSqlQuery query(db);
            for (const QString& sql : statements)
                EXPECT_TRUE(query.exec(sql)) << sql.toStdString();
            if (statements.isEmpty())
                repack(db);
            query.finish();
            db.close();
        }
        QSqlDatabase::removeDatabase("tamper");
        auto book = Logbook::open(copy);
        EXPECT_TRUE(book);
        QStringList words;
        if (book)
            for (const LogbookFinding& f : (*book)->check())
                words << f.place + ": " + f.words;
        return words;
    }
    /// Force times 1.1, packed as the program packs it.
    static void repack(QSqlDatabase& db)
    {
        QSqlQuery query("SELECT record, seq, row_count, bytes FROM chunks WHERE channel = 1 LIMIT 1", db);
        ASSERT_TRUE(query.next());
        auto values = unpackChunk(query.value(3).toByteArray(), query.value(2).toULongLong());
        ASSERT_TRUE(values);
        for (double& v : *values)
            v *= 1.1;
        QSqlQuery put(db);
        put.prepare("UPDATE chunks SET bytes = ? WHERE record = ? AND seq = ? AND channel = 1");
        put.addBindValue(packChunk(*values));
        put.addBindValue(query.value(0));
        put.addBindValue(query.value(1));
        query.finish();
        ASSERT_TRUE(put.exec());
    }
    QTemporaryDir folder;
};

TEST_F(Tamper, EveryEditIsFound)
{
    const std::vector<std::pair<const char*, QStringList>> edits{
        {"force repacked", {}},
        {"a line of the journal changed", {"UPDATE journal SET why = 'x' WHERE seq = 3"}},
        {"a line's time changed", {"UPDATE journal SET at = '2020-01-01T00:00:00.000Z' WHERE seq = 3"}},
        {"a line's name changed", {"UPDATE journal SET who = 'operator B' WHERE seq = 2"}},
        {"a line's hash changed", {"UPDATE journal SET hash = 'ab' WHERE seq = 2"}},
        {"a line taken out", {"DELETE FROM journal WHERE seq = 4"}},
        {"the first line taken out", {"DELETE FROM journal WHERE seq = 1"}},
        {"two lines exchanged",
         {"UPDATE journal SET seq = -1 WHERE seq = 3", "UPDATE journal SET seq = 3 WHERE seq = 4",
          "UPDATE journal SET seq = 4 WHERE seq = -1"}},
        {"a diameter changed in a body", {"UPDATE jobs SET body = replace(body, '10.02 mm', '10.20 mm') WHERE id = 1"}},
        {"a title changed in body and list",
         {"UPDATE jobs SET title = 'other', body = replace(body, 'a better title', 'other') WHERE id = 1"}},
        {"a title changed in the list", {"UPDATE jobs SET title = 'other' WHERE id = 1"}},
        {"a number changed in the list", {"UPDATE jobs SET number = 'J-9' WHERE id = 1"}},
        {"a material changed in the list", {"UPDATE jobs SET material = 'gold' WHERE id = 1"}},
        {"a key added to a body",
         {"UPDATE jobs SET body = replace(body, '\"fortitor_job\":1', '\"fortitor_job\":1,\"x\":1') WHERE id = 2"}},
        {"a job deleted", {"DELETE FROM jobs WHERE id = 2"}},
        {"a job deleted with all that is its own",
         {"DELETE FROM chunks WHERE record IN (SELECT id FROM records WHERE job = 2)",
          "DELETE FROM records WHERE job = 2", "DELETE FROM specimens WHERE job = 2", "DELETE FROM jobs WHERE id = 2"}},
        {"a job put in",
         {"INSERT INTO jobs SELECT 77, 'J-77', title, method, material, created, changed, body FROM jobs WHERE id = "
          "1"}},
        {"a record deleted", {"DELETE FROM records WHERE job = 1"}},
        {"a record deleted with its chunks",
         {"DELETE FROM chunks WHERE record IN (SELECT id FROM records WHERE job = 1)",
          "DELETE FROM records WHERE job = 1"}},
        {"a chunk deleted", {"DELETE FROM chunks WHERE rowid IN (SELECT rowid FROM chunks LIMIT 1)"}},
        {"a channel deleted", {"DELETE FROM chunks WHERE channel = 2"}},
        {"all chunks of a record deleted",
         {"DELETE FROM chunks WHERE record IN (SELECT id FROM records WHERE job = 1)"}},
        {"channels exchanged",
         {"UPDATE chunks SET channel = 91 WHERE channel = 1", "UPDATE chunks SET channel = 1 WHERE channel = 2",
          "UPDATE chunks SET channel = 2 WHERE channel = 91"}},
        {"names of channels exchanged",
         {"UPDATE records SET channels = replace(replace(replace(channels, 'force', '@@'), 'displacement', "
          "'force'), '@@', 'displacement') WHERE job = 1"}},
        {"records exchanged between jobs", {"UPDATE records SET job = 3 - job"}},
        {"a record's label changed", {"UPDATE records SET label = 'A2' WHERE job = 1"}},
        {"a record's source changed", {"UPDATE records SET source = 'frame' WHERE job = 1"}},
        {"events taken out", {"UPDATE records SET events = '[]' WHERE job = 1"}},
        {"notes put in", {"UPDATE records SET notes = '[\"x\"]' WHERE job = 1"}},
        {"an incomplete record made whole", {"UPDATE records SET closed = 1 - closed WHERE job = 1"}},
        {"a record put in",
         {"INSERT INTO records SELECT 'x', 1, 'A2', source, created, channels, events, notes, closed, open_because "
          "FROM records WHERE job = 1"}},
        {"chunks of no record", {"INSERT INTO chunks SELECT 'x', seq, channel, row_count, bytes FROM chunks LIMIT 1"}},
        {"a trigger", {"CREATE TRIGGER t AFTER INSERT ON journal BEGIN DELETE FROM records; END"}},
        {"a view", {"CREATE VIEW v AS SELECT * FROM jobs"}},
        {"another table", {"CREATE TABLE more (x)"}},
        {"an index gone", {"DROP INDEX specimens_by_label"}},
        {"a column more", {"ALTER TABLE jobs ADD COLUMN x TEXT"}},
        {"a label changed in the list", {"UPDATE specimens SET label = 'Z9' WHERE job = 1 AND position = 0"}},
        {"a figure changed in the list",
         {"UPDATE specimens SET figures = replace(figures, 'Rm 305', 'Rm 340') WHERE job = 1"}},
        {"a verdict changed in the list", {"UPDATE specimens SET verdict = 'pass' WHERE job = 2 AND position = 0"}},
        {"a key put in", {"INSERT INTO people VALUES ('operator A', 'ab', '2026-01-01')"}},
        {"a specimen taken out of the list", {"DELETE FROM specimens WHERE job = 1 AND position = 1"}},
    };
    for (const auto& [name, statements] : edits)
        EXPECT_FALSE(found(statements).isEmpty()) << name;
    EXPECT_TRUE(found({"SELECT 1"}).isEmpty()) << found({"SELECT 1"}).join("; ").toStdString();
}

TEST_F(Tamper, AKeyedReadingIsOneSmallLine)
{
    auto book = Logbook::open(file());
    ASSERT_TRUE(book);
    Json body = edits::newJob("J-3", "readings", *findMethod("flexure"), 1);
    auto id = (*book)->addJob(body, "operator A", "new job");
    auto document = JobDocument::fromJson(*(*book)->loadJob(*id));
    qsizetype first = 0;
    qsizetype last = 0;
    for (size_t row = 0; row < 200; ++row)
        for (size_t channel = 0; channel < 2; ++channel) {
            const PadTable table = padTable(*document, 0);
            const auto command =
                edits::padReading(*document, 0, table, channel, row,
                                  channel == 0 ? std::to_string(100 * row) + " N" : std::to_string(row) + ".00 mm",
                                  "operator A", "2027-01-01", "");
            ASSERT_TRUE(command) << command.problem().text();
            ASSERT_TRUE(document->apply(*command));
            ASSERT_TRUE((*book)->keep(*id, document->json(), *command, "operator A"));
            const qsizetype size = (*book)->journal(*id, 1).front().changes.size();
            (row == 3 && channel == 0 ? first : last) = size;
        }
    EXPECT_LT(last, first + 40) << "the journal may not grow with what stands there already";
    for (int i = 0; i < 7; ++i)
        ASSERT_TRUE((*book)->keep(*id, document->json(), *document->undo(), "operator A"));
    EXPECT_TRUE((*book)->check().empty()) << (*book)->check().front().words.toStdString();
}

TEST_F(Tamper, TheOldFormOfReadingsIsReplayedToo)
{
    auto book = Logbook::open(file());
    auto id = (*book)->addJob(edits::newJob("J-4", "readings", *findMethod("flexure"), 1), "operator A", "new job");
    auto document = JobDocument::fromJson(*(*book)->loadJob(*id));
    for (int rows = 1; rows < 5; ++rows) {
        Json list = Json::array();
        for (int i = 0; i < rows; ++i)
            list.push_back(std::to_string(100 * i) + " N");
        const Command command =
            CommandBuilder(*document, "readings").set("/specimens/0/readings", Json{{"force", list}}).take();
        ASSERT_TRUE(document->apply(command));
        ASSERT_TRUE((*book)->keep(*id, document->json(), command, "operator A"));
    }
    EXPECT_TRUE((*book)->check().empty());
}

TEST_F(Tamper, WhatTheFileAloneHidesShowsAgainstAHeadKeptOutside)
{
    const QString headPath = file("kept.head");
    QDir().mkdir(file("outside"));
    {
        auto book = Logbook::open(file());
        (*book)->setHeadFolder(file("outside"));
        (*book)->writeHead();
        EXPECT_EQ((*book)->headFiles().size(), 2);
        ASSERT_TRUE(QFile::copy(file("outside") + "/book.sqlite.head", headPath));
    }
    const auto head = headFromFile(headPath);
    ASSERT_TRUE(head) << head.problem().text();
    const auto against = [&] {
        auto book = Logbook::open(file("copy.sqlite"), true);
        return book ? (*book)->checkAgainst(*head).size() : 0;
    };
    // The instrument's line is the last: cut off together with the instrument.
    EXPECT_TRUE(
        found({"DELETE FROM journal WHERE seq = (SELECT MAX(seq) FROM journal)", "DELETE FROM instruments"}).isEmpty())
        << "the file alone can't show it";
    EXPECT_EQ(against(), 1u);
    // A chain worked out anew from its last line on.
    JournalEntry last;
    {
        auto book = Logbook::open(file(), true);
        last = (*book)->journal(0, 1).front();
    }
    last.who = "operator B";
    const QString hash = journalHash(last);
    EXPECT_TRUE(
        found({QString("UPDATE journal SET who = 'operator B', hash = '%1' WHERE seq = %2").arg(hash).arg(last.seq)})
            .isEmpty());
    EXPECT_EQ(against(), 1u);
    EXPECT_TRUE(found({"SELECT 1"}).isEmpty());
    EXPECT_EQ(against(), 0u);
    QFile bad(file("bad.head"));
    ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
    bad.write("{\"fortitor_head\": 1}");
    bad.close();
    EXPECT_FALSE(headFromFile(file("bad.head")));
}

TEST_F(Tamper, ALinkIsNoSecondLogbook)
{
    auto book = Logbook::open(file());
    ASSERT_TRUE(book && (*book)->readOnlyBecause().isEmpty());
    ASSERT_TRUE(QFile::link(file(), file("link.sqlite")));
    ASSERT_EQ(::link(QFile::encodeName(file()).constData(), QFile::encodeName(file("hard.sqlite")).constData()), 0);
    for (const char* name : {"link.sqlite", "hard.sqlite"}) {
        auto second = Logbook::open(file(name));
        ASSERT_TRUE(second) << second.problem().text();
        EXPECT_TRUE((*second)->readOnlyBecause().contains("another Fortitor")) << name;
        EXPECT_FALSE((*second)->addJob(edits::newJob("J-5", "x", *findMethod("crush"), 1), "operator B", "new job"));
    }
}

TEST_F(Tamper, AForeignChangeIsNotWrittenOver)
{
    auto book = Logbook::open(file());
    auto document = JobDocument::fromJson(*(*book)->loadJob(1));
    {
        QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "other");
        db.setDatabaseName(file());
        ASSERT_TRUE(db.open());
        QSqlQuery query(db);
        ASSERT_TRUE(query.exec("UPDATE jobs SET body = replace(body, '10.02 mm', '10.05 mm') WHERE id = 1"));
    }
    QSqlDatabase::removeDatabase("other");
    const Command command = edits::head(*document, "title", "mine");
    ASSERT_TRUE(document->apply(command));
    const auto kept = (*book)->keep(1, document->json(), command, "operator A");
    ASSERT_FALSE(kept);
    EXPECT_NE(kept.problem().text().find("changed by another"), std::string::npos);
    EXPECT_NE((*book)->loadJob(1)->dump().find("10.05 mm"), std::string::npos);
}

TEST_F(Tamper, ADeletedOrReplacedLogbookStopsTheWorkAndIsSaved)
{
    for (const bool replaced : {false, true}) {
        const QString at = file(replaced ? "r.sqlite" : "d.sqlite");
        ASSERT_TRUE(QFile::copy(file(), at));
        auto book = Logbook::open(at);
        auto document = JobDocument::fromJson(*(*book)->loadJob(1));
        const Command one = edits::head(*document, "title", "kept before");
        ASSERT_TRUE(document->apply(one));
        ASSERT_TRUE((*book)->keep(1, document->json(), one, "operator A"));
        if (replaced) {
            ASSERT_TRUE(QFile::copy(file(), file("new.sqlite")));
            ASSERT_EQ(::rename(QFile::encodeName(file("new.sqlite")).constData(), QFile::encodeName(at).constData()),
                      0);
        } else {
            ASSERT_TRUE(QFile::remove(at));
        }
        const Command two = edits::head(*document, "title", "too late");
        ASSERT_TRUE(document->apply(two));
        const auto kept = (*book)->keep(1, document->json(), two, "operator A");
        ASSERT_FALSE(kept);
        EXPECT_NE(kept.problem().text().find(replaced ? "another file" : "no file"), std::string::npos)
            << kept.problem().text();
        EXPECT_FALSE((*book)->readOnlyBecause().isEmpty());
        ASSERT_FALSE((*book)->rescued().isEmpty());
        auto saved = Logbook::open((*book)->rescued());
        ASSERT_TRUE(saved) << saved.problem().text();
        EXPECT_EQ((*(*saved)->loadJob(1))["job"]["title"], "kept before");
        EXPECT_TRUE((*saved)->check().empty());
        EXPECT_FALSE((*book)->keep(1, document->json(), two, "operator A")) << "it stays stopped";
    }
}

TEST_F(Tamper, APlainCopyAfterACheckpointIsWhole)
{
    auto book = Logbook::open(file());
    auto document = JobDocument::fromJson(*(*book)->loadJob(1));
    const Command command = edits::head(*document, "title", "the newest line");
    ASSERT_TRUE(document->apply(command));
    ASSERT_TRUE((*book)->keep(1, document->json(), command, "operator A"));
    EXPECT_TRUE((*book)->wantsCheckpoint());
    (*book)->checkpoint();
    EXPECT_FALSE((*book)->wantsCheckpoint());
    ASSERT_TRUE(QFile::copy(file(), file("plain.sqlite")));
    auto copy = Logbook::open(file("plain.sqlite"), true);
    ASSERT_TRUE(copy);
    EXPECT_EQ((*(*copy)->loadJob(1))["job"]["title"], "the newest line");
    EXPECT_TRUE((*copy)->check().empty());
}

} // namespace
} // namespace fortitor
