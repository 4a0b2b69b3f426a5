// SPDX-License-Identifier: GPL-3.0-or-later
// What breaks a logbook, and that it does not.
#include "store/chunk_codec.h"
#include "store/logbook.h"
#include "store/schema.h"

#include "jobs/edits.h"
#include "sim/catalogue.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <QCoreApplication>
#include <QFile>
#include <QProcess>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QThread>

#include <sys/resource.h>
#include <unistd.h>

#include <cmath>
#include <csignal>
#include <limits>

namespace fortitor {
namespace {

Json someJob(const char* number = "J-1")
{
    return edits::newJob(number, "a job", *findMethod("tension-metal"), 3);
}

std::unique_ptr<Logbook> opened(const QString& file)
{
    auto book = Logbook::open(file);
    EXPECT_TRUE(book) << (book ? "" : book.problem().text());
    return book ? std::move(*book) : nullptr;
}

std::string whyNot(const QString& file)
{
    auto book = Logbook::open(file);
    EXPECT_FALSE(book);
    return book ? "" : book.problem().text();
}

class LogbookTest : public testing::Test {
protected:
    QTemporaryDir folder;
    [[nodiscard]] QString file(const char* name = "book.sqlite") const { return folder.filePath(name); }
    void asNobody();
};

TEST(ChunkCodec, EveryBitComesBack)
{
    Random random(3);
    for (const size_t n : {size_t{0}, size_t{1}, size_t{7}, size_t{1000}, size_t{65536}}) {
        std::vector<double> values;
        for (size_t i = 0; i < n; ++i)
            values.push_back(i % 13 == 5       ? std::numeric_limits<double>::quiet_NaN()
                                 : i % 17 == 3 ? -0.0
                                               : random.normal() * std::pow(10, random.between(-300, 300)));
        const auto back = unpackChunk(packChunk(values), n);
        ASSERT_TRUE(back);
        ASSERT_EQ(back->size(), n);
        EXPECT_TRUE(n == 0 || std::memcmp(back->data(), values.data(), n * sizeof(double)) == 0);
    }
}

TEST(ChunkCodec, SmoothRecordsShrink)
{
    std::vector<double> values;
    for (int i = 0; i < 65536; ++i)
        values.push_back(std::round(1000 * std::sin(i * 1e-3)) / 10);
    EXPECT_LT(packChunk(values).size(), static_cast<qsizetype>(values.size() * sizeof(double) / 2));
}

TEST(ChunkCodec, DamageIsNoticed)
{
    std::vector<double> values(500, 1.25);
    for (size_t i = 0; i < values.size(); ++i)
        values[i] += static_cast<double>(i * i);
    const QByteArray good = packChunk(values);
    Random random(6);
    for (int round = 0; round < 400; ++round) {
        QByteArray bad = good;
        const auto at = static_cast<qsizetype>(random.between(0, static_cast<double>(bad.size())));
        bad[at] = static_cast<char>(bad[at] ^ static_cast<char>(1 << static_cast<int>(random.between(0, 8))));
        const auto back = unpackChunk(bad, values.size());
        EXPECT_TRUE(!back || *back == values) << at; // a flipped spare bit of the frame may do no harm
    }
    EXPECT_FALSE(unpackChunk(good.left(good.size() / 2), 500));
    EXPECT_FALSE(unpackChunk(good, 499));
    EXPECT_FALSE(unpackChunk({}, 500));
}

TEST_F(LogbookTest, JobsComeBackAfterClosing)
{
    std::int64_t id = 0;
    {
        auto book = opened(file());
        const auto added = book->addJob(someJob(), "operator A", "new job");
        ASSERT_TRUE(added);
        id = *added;
        auto document = JobDocument::fromJson(*book->loadJob(id));
        const Command command = edits::head(*document, "title", "Another title");
        ASSERT_TRUE(document->apply(command));
        ASSERT_TRUE(book->keep(id, document->json(), command, "operator B"));
    }
    auto book = opened(file());
    const auto body = book->loadJob(id);
    ASSERT_TRUE(body);
    EXPECT_EQ((*body)["job"]["title"], "Another title");
    const auto journal = book->journal(id, 10);
    ASSERT_EQ(journal.size(), 2u);
    EXPECT_EQ(journal[0].who, "operator B");
    EXPECT_NE(journal[0].changes.indexOf("a job"), -1);
    EXPECT_NE(journal[0].changes.indexOf("Another title"), -1);
    EXPECT_FALSE(book->loadJob(999));
    EXPECT_TRUE(book->check().empty()) << (book->check().empty() ? ""
                                                                 : book->check().front().place.toStdString() + ": "
                                                   + book->check().front().words.toStdString());
}

TEST_F(LogbookTest, RecordsComeBackToTheBit)
{
    auto book = opened(file());
    auto run = simulateRun(*findCatalogueEntry("mild-bar"), 3, 5000);
    run.record.notes = {"a note"};
    const auto id = book->addRecord(1, "A1", run.record, "operator A");
    ASSERT_TRUE(id);
    const auto back = book->loadRecord(*id);
    ASSERT_TRUE(back) << back.problem().text();
    ASSERT_EQ((*back)->channels.size(), run.record.channels.size());
    for (size_t c = 0; c < run.record.channels.size(); ++c) {
        EXPECT_EQ((*back)->channels[c].name, run.record.channels[c].name);
        EXPECT_EQ((*back)->channels[c].values.gather(), run.record.channels[c].values.gather());
    }
    // In stretches the same, and no further than is asked for.
    const auto head = book->loadHead(*id);
    ASSERT_TRUE(head);
    std::vector<double> force;
    ASSERT_TRUE(book->forEachChunk(*id, *head, [&](const RowsChunk& chunk) {
        EXPECT_EQ(chunk.first, force.size());
        force.insert(force.end(), chunk.channels[1].begin(), chunk.channels[1].end());
        return true;
    }));
    EXPECT_EQ(force, run.record.channels[1].values.gather());
    EXPECT_EQ((*back)->notes, run.record.notes);
    EXPECT_EQ((*back)->events.size(), run.record.events.size());
    EXPECT_TRUE((*back)->incompleteBecause.empty());
    EXPECT_FALSE(book->loadRecord("no such id"));
}

TEST_F(LogbookTest, AnUnclosedRecordSaysSo)
{
    QString id;
    {
        auto book = opened(file());
        auto run = simulateRun(*findCatalogueEntry("rigger-tube"), 3, 2000);
        id = *book->beginRecord(1, "A1", run.record, "operator A");
        ASSERT_TRUE(book->appendChunk(id, 0, run.record, 0, 700));
    }
    auto book = opened(file());
    const auto back = book->loadRecord(id);
    ASSERT_TRUE(back);
    EXPECT_EQ((*back)->rows(), 700u);
    EXPECT_FALSE((*back)->incompleteBecause.empty());
    EXPECT_TRUE(book->check().empty()) << (book->check().empty() ? ""
                                                                 : book->check().front().place.toStdString() + ": "
                                                   + book->check().front().words.toStdString());
}

TEST_F(LogbookTest, AMissingOrDamagedChunkIsFound)
{
    auto run = simulateRun(*findCatalogueEntry("rigger-tube"), 3, 2000);
    QString id;
    {
        auto book = opened(file());
        id = *book->beginRecord(1, "A1", run.record, "operator A");
        for (int i = 0; i < 3; ++i)
            ASSERT_TRUE(
                book->appendChunk(id, i, run.record, static_cast<size_t>(i) * 500, static_cast<size_t>(i + 1) * 500));
        ASSERT_TRUE(book->closeRecord(id, run.record, "operator A"));
    }
    const auto tamper = [&](const QString& sql) {
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "tamper");
            db.setDatabaseName(file());
            ASSERT_TRUE(db.open());
            QSqlQuery query(db);
            EXPECT_TRUE(query.exec(sql));
        }
        QSqlDatabase::removeDatabase("tamper");
    };
    tamper("DELETE FROM chunks WHERE seq = 1");
    auto book = opened(file());
    const auto back = book->loadRecord(id);
    ASSERT_FALSE(back);
    EXPECT_NE(back.problem().text().find("chunk"), std::string::npos);
    EXPECT_GE(book->check().size(), 1u);
}

TEST_F(LogbookTest, TheJournalShowsEveryTampering)
{
    {
        auto book = opened(file());
        for (int i = 0; i < 6; ++i)
            ASSERT_TRUE(book->addJob(someJob(), "operator A", QString("job %1").arg(i)));
        EXPECT_TRUE(book->check().empty()) << (book->check().empty() ? ""
                                                                     : book->check().front().place.toStdString() + ": "
                                                       + book->check().front().words.toStdString());
    }
    const QString clean = folder.filePath("clean.sqlite");
    ASSERT_TRUE(QFile::copy(file(), clean));
    for (const char* sql :
         {"UPDATE journal SET who = 'somebody' WHERE seq = 3", "UPDATE journal SET why = 'x' WHERE seq = 1",
          "DELETE FROM journal WHERE seq = 4", "UPDATE journal SET changes = '[]' WHERE seq = 6",
          "UPDATE journal SET at = '2020-01-01T00:00:00.000Z' WHERE seq = 2",
          "UPDATE journal SET what = 'job', why = '2' WHERE seq = 3"}) {
        QFile::remove(file());
        ASSERT_TRUE(QFile::copy(clean, file()));
        {
            QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "tamper");
            db.setDatabaseName(file());
            ASSERT_TRUE(db.open());
            QSqlQuery query(db);
            EXPECT_TRUE(query.exec(sql));
        }
        QSqlDatabase::removeDatabase("tamper");
        auto book = opened(file());
        EXPECT_FALSE(book->check().empty()) << sql;
    }
}

TEST_F(LogbookTest, ForeignTruncatedAndNewerFilesAreRefusedAndLeftAlone)
{
    const auto put = [&](const char* name, const QByteArray& bytes) {
        QFile out(file(name));
        EXPECT_TRUE(out.open(QIODevice::WriteOnly));
        out.write(bytes);
        return file(name);
    };
    const QByteArray words = QByteArray("hello ").repeated(100);
    const QString foreign = put("text.sqlite", words);
    EXPECT_NE(whyNot(foreign).find("text.sqlite"), std::string::npos);
    QFile check(foreign);
    ASSERT_TRUE(check.open(QIODevice::ReadOnly));
    EXPECT_EQ(check.readAll(), words);

    // Another program's database.
    const QString other = file("other.sqlite");
    {
        QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "other");
        db.setDatabaseName(other);
        ASSERT_TRUE(db.open());
        QSqlQuery(db).exec("CREATE TABLE recipes (id INTEGER)");
    }
    QSqlDatabase::removeDatabase("other");
    EXPECT_NE(whyNot(other).find("another program"), std::string::npos);

    // A logbook cut in half.
    {
        auto book = opened(file());
        auto run = simulateRun(*findCatalogueEntry("rigger-tube"), 3, 8000);
        ASSERT_TRUE(book->addRecord(1, "A1", run.record, "operator A"));
    }
    QFile whole(file());
    ASSERT_TRUE(whole.open(QIODevice::ReadOnly));
    const QByteArray bytes = whole.readAll();
    EXPECT_NE(whyNot(put("half.sqlite", bytes.left(bytes.size() / 2))).find("cut short"), std::string::npos);
    EXPECT_FALSE(whyNot(put("stub.sqlite", bytes.left(40))).empty());

    // One of a newer program.
    {
        QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "newer");
        db.setDatabaseName(file());
        ASSERT_TRUE(db.open());
        QSqlQuery(db).exec("PRAGMA user_version = 99");
    }
    QSqlDatabase::removeDatabase("newer");
    EXPECT_NE(whyNot(file()).find("newer"), std::string::npos);
    EXPECT_FALSE(whyNot(folder.path()).empty());
}

TEST_F(LogbookTest, MigrationKeepsABackupAndEveryLine)
{
    // A logbook as the first version wrote it.
    {
        QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "old");
        db.setDatabaseName(file());
        ASSERT_TRUE(db.open());
        ASSERT_TRUE(migrate(db, file(), 1));
        EXPECT_EQ(schemaVersion(db), 1);
        QSqlQuery query(db);
        query.prepare("INSERT INTO jobs (number, title, method, material, created, changed, body) VALUES ('J-9','old "
                      "job','tension-metal','','','',?)");
        query.addBindValue(QString::fromStdString(someJob("J-9").dump()));
        ASSERT_TRUE(query.exec());
    }
    QSqlDatabase::removeDatabase("old");
    auto book = opened(file());
    ASSERT_EQ(book->jobs().size(), 1u);
    EXPECT_EQ(book->jobs()[0].number, "J-9");
    EXPECT_TRUE(book->instruments().empty());
    const QString copy = file() + ".before-schema-5";
    ASSERT_TRUE(QFile::exists(copy));
    {
        QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "copy");
        db.setDatabaseName(copy);
        ASSERT_TRUE(db.open());
        EXPECT_EQ(schemaVersion(db), 1);
        QSqlQuery query("SELECT number FROM jobs", db);
        ASSERT_TRUE(query.next());
        EXPECT_EQ(query.value(0).toString(), "J-9");
    }
    QSqlDatabase::removeDatabase("copy");
}

TEST_F(LogbookTest, APictureIsKeptAsItCameAndOnce)
{
    auto book = opened(file());
    const auto id = book->addJob(someJob(), "operator A", "new");
    ASSERT_TRUE(id);
    const QByteArray bytes("\x89PNG not really, \0 and a zero", 31);
    ASSERT_TRUE(book->keepPicture(*id, "pin-07.png", bytes, "operator A"));
    const auto lines = book->journal(0, 100).size();
    ASSERT_TRUE(book->keepPicture(*id, "the same.png", bytes, "operator A"));
    EXPECT_EQ(book->journal(0, 100).size(), lines) << "the same file once more";
    const QString sha = Logbook::pictureDigest(bytes);
    EXPECT_EQ(*book->loadPicture(sha), bytes);
    EXPECT_FALSE(book->loadPicture("0000"));
    EXPECT_TRUE(book->check().empty());
    // Another file in its place, one taken out, one that nobody kept: each is told.
    QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "meddler");
    db.setDatabaseName(file());
    ASSERT_TRUE(db.open());
    ASSERT_TRUE(QSqlQuery(db).exec("UPDATE pictures SET bytes = 'other'"));
    EXPECT_FALSE(book->loadPicture(sha));
    EXPECT_EQ(book->check().size(), 1u);
    ASSERT_TRUE(QSqlQuery(db).exec("DELETE FROM pictures"));
    EXPECT_EQ(book->check().size(), 1u);
    ASSERT_TRUE(QSqlQuery(db).exec("INSERT INTO pictures VALUES ('abc', 'x', '', 'x')"));
    EXPECT_EQ(book->check().size(), 3u) << "not as it came, without a line, and one missing";
    db.close();
    db = {};
    QSqlDatabase::removeDatabase("meddler");
}

TEST_F(LogbookTest, ASecondProgramReadsOnly)
{
    auto first = opened(file());
    ASSERT_TRUE(first->addJob(someJob(), "operator A", "new"));
    auto second = opened(file());
    EXPECT_FALSE(second->readOnlyBecause().isEmpty());
    EXPECT_EQ(second->jobs().size(), 1u);
    const auto refused = second->addJob(someJob("J-2"), "operator B", "new");
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.problem().text().find("has it open"), std::string::npos);
    // What the first keeps the second sees.
    ASSERT_TRUE(first->addJob(someJob("J-3"), "operator A", "new"));
    EXPECT_EQ(second->jobs().size(), 2u);
    first.reset();
    second.reset();
    EXPECT_TRUE(opened(file())->readOnlyBecause().isEmpty());
}

/// The same as a user who may not write there, when the tests run as root.
void LogbookTest::asNobody()
{
    {
        auto book = opened(file());
        ASSERT_TRUE(book->addJob(someJob(), "operator A", "new"));
    }
    QFile::setPermissions(folder.path(),
                          QFileDevice::ReadOwner | QFileDevice::WriteOwner | QFileDevice::ExeOwner
                              | QFileDevice::ReadOther | QFileDevice::ExeOther);
    const auto run = [&](const QString& program, const QStringList& arguments) {
        QProcess child;
        child.setChildProcessModifier([] {
            if (::setgid(65534) != 0 || ::setuid(65534) != 0)
                ::_exit(99);
        });
        child.start(program, arguments);
        child.waitForFinished();
        return std::pair{child.exitCode(), child.readAllStandardOutput() + child.readAllStandardError()};
    };
    EXPECT_EQ(run(APPEND_CHILD, {file()}).first, 3) << "opened read-only";
    const auto check = run(CLI_PROGRAM, {"logbook", "check", file()});
    EXPECT_EQ(check.first, 0) << check.second.toStdString();
    EXPECT_TRUE(check.second.contains("whole")) << check.second.toStdString();
    EXPECT_EQ(run(APPEND_CHILD, {file("new.sqlite")}).first, 3) << "none can be made";
    EXPECT_FALSE(QFile::exists(file("new.sqlite")));
}

TEST_F(LogbookTest, AReadOnlyFolder)
{
    if (::geteuid() == 0)
        return asNobody();
    {
        auto book = opened(file());
        ASSERT_TRUE(book->addJob(someJob(), "operator A", "new"));
    }
    QFile::setPermissions(folder.path(), QFileDevice::ReadOwner | QFileDevice::ExeOwner);
    auto book = opened(file());
    EXPECT_FALSE(book->readOnlyBecause().isEmpty());
    EXPECT_EQ(book->jobs().size(), 1u);
    EXPECT_FALSE(whyNot(file("new.sqlite")).empty());
    book.reset();
    QFile::setPermissions(folder.path(), QFileDevice::ReadOwner | QFileDevice::WriteOwner | QFileDevice::ExeOwner);
}

TEST_F(LogbookTest, AFullDiskLosesNothingThatWasThere)
{
    auto book = opened(file());
    ASSERT_TRUE(book->addJob(someJob("J-1"), "operator A", "kept"));
    auto run = simulateRun(*findCatalogueEntry("rigger-tube"), 3, 60000);
    std::signal(SIGXFSZ, SIG_IGN);
    rlimit before{};
    getrlimit(RLIMIT_FSIZE, &before);
    rlimit small = before;
    small.rlim_cur = 120000;
    setrlimit(RLIMIT_FSIZE, &small);
    const auto full = book->addRecord(1, "A1", run.record, "operator A");
    setrlimit(RLIMIT_FSIZE, &before);
    ASSERT_FALSE(full);
    EXPECT_NE(full.problem().text().find("unchanged"), std::string::npos) << full.problem().text();
    EXPECT_EQ(book->jobs().size(), 1u);
    EXPECT_TRUE(book->addRecord(1, "A1", run.record, "operator A")); // with room again it goes on
    // So does a job whose change was refused on the way.
    auto document = JobDocument::fromJson(*book->loadJob(1));
    const Command command = edits::head(*document, "title", "with room again");
    ASSERT_TRUE(document->apply(command));
    EXPECT_FALSE(book->together([&]() -> Expected<Done> {
        if (auto ok = book->keep(1, document->json(), command, "operator A"); !ok)
            return ok;
        return Problem{"the rest", "refused", "kept", {}};
    }));
    EXPECT_EQ((*book->loadJob(1))["job"]["title"], "a job");
    EXPECT_TRUE(book->keep(1, document->json(), command, "operator A"));
    EXPECT_TRUE(book->check().empty()) << (book->check().empty() ? ""
                                                                 : book->check().front().place.toStdString() + ": "
                                                   + book->check().front().words.toStdString());
}

TEST_F(LogbookTest, BackupIsALogbookOfItsOwn)
{
    auto book = opened(file());
    ASSERT_TRUE(book->addJob(someJob(), "operator A", "new"));
    ASSERT_TRUE(book->backup(file("copy.sqlite")));
    EXPECT_FALSE(book->backup(file("copy.sqlite"))); // never over a file
    auto copy = opened(file("copy.sqlite"));
    EXPECT_EQ(copy->jobs().size(), 1u);
    EXPECT_TRUE(copy->check().empty());
}

TEST_F(LogbookTest, SearchFindsJobsAndSpecimens)
{
    auto book = opened(file());
    const auto a =
        *book->addJob(edits::newJob("J-7", "Rigger tube", *findMethod("tension-metal"), 2), "operator A", "new");
    ASSERT_TRUE(book->addJob(edits::newJob("J-8", "Backstay", *findMethod("tension-metal"), 2), "operator A", "new"));
    ASSERT_TRUE(
        book->keepOverview(a, {{a, 0, {}, {}, "R%1", "pass", "Rm 312", 4}, {a, 1, {}, {}, "R2", "fail", "", 4}}));
    EXPECT_EQ(book->jobs("rigger").size(), 1u);
    EXPECT_EQ(book->jobs("R2").size(), 1u);
    EXPECT_EQ(book->jobs("nothing like it").size(), 0u);
    EXPECT_EQ(book->jobs().size(), 2u);
    const auto found = book->specimens("R2");
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].verdict, "fail");
    EXPECT_EQ(book->jobs("J-7")[0].failed, 1);
    EXPECT_EQ(book->jobs("'; DROP TABLE jobs; --").size(), 0u);
    EXPECT_EQ(book->jobs().size(), 2u);
}

TEST_F(LogbookTest, Instruments)
{
    auto book = opened(file());
    ASSERT_TRUE(book->keepInstrument(
        {"cell K-50", "cell", Json{{"name", "cell K-50"}, {"capacity", "50 kN"}}, "2027-03-01"}, "operator A"));
    ASSERT_TRUE(book->keepInstrument(
        {"cell K-50", "cell", Json{{"name", "cell K-50"}, {"capacity", "100 kN"}}, "2027-03-01"}, "operator A"));
    ASSERT_EQ(book->instruments().size(), 1u);
    EXPECT_EQ(book->instruments()[0].body["capacity"], "100 kN");
    ASSERT_TRUE(book->removeInstrument("cell K-50", "operator A"));
    EXPECT_TRUE(book->instruments().empty());
    EXPECT_EQ(book->journal(0, 10).size(), 3u);
}

/// The process is killed fifty times in the middle of appends; each time the logbook opens, is whole,
/// and holds every row that was said to be committed.
TEST_F(LogbookTest, FiftyKillsLoseNothingCommitted)
{
    {
        auto book = opened(file());
        ASSERT_TRUE(book->addJob(someJob(), "operator A", "new"));
    }
    Random random(50);
    for (int kill = 0; kill < 50; ++kill) {
        QProcess child;
        child.start(APPEND_CHILD, {file()});
        ASSERT_TRUE(child.waitForStarted());
        ASSERT_TRUE(child.waitForReadyRead(10000));
        QThread::usleep(static_cast<unsigned long>(random.between(1000, 60000)));
        child.kill();
        child.waitForFinished();
        const QList<QByteArray> lines = child.readAllStandardOutput().split('\n');
        ASSERT_TRUE(lines[0].startsWith("begun ")) << lines[0].constData();
        const QString id = QString::fromLatin1(lines[0].mid(6));
        size_t promised = 0;
        for (qsizetype i = 1; i + 1 < lines.size(); ++i) // the last piece may be half a line
            promised = std::max(promised, static_cast<size_t>(lines[i].toULongLong()));
        auto book = opened(file());
        ASSERT_TRUE(book->readOnlyBecause().isEmpty()) << book->readOnlyBecause().toStdString();
        const auto record = book->loadRecord(id);
        ASSERT_TRUE(record) << record.problem().text();
        EXPECT_GE((*record)->rows(), promised);
        EXPECT_FALSE((*record)->incompleteBecause.empty());
        for (size_t i = 0; i < (*record)->rows(); i += 97) {
            const double t = 0.02 * static_cast<double>(i);
            ASSERT_DOUBLE_EQ((*record)->channels[1].values[i], 1000 * std::sin(t) + t);
        }
    }
    auto book = opened(file());
    EXPECT_TRUE(book->check().empty()) << (book->check().empty() ? ""
                                                                 : book->check().front().place.toStdString() + ": "
                                                   + book->check().front().words.toStdString());
}

} // namespace
} // namespace fortitor

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    testing::InitGoogleTest(&argc, argv);
    return RUN_ALL_TESTS();
}
