// SPDX-License-Identifier: GPL-3.0-or-later
// What people keep is not mixed up, not cut short in silence, and not read as something else.
#include "support.h"

#include "app/shell/application.h"
#include "jobs/edits.h"
#include "jobs/exchange.h"
#include "report/report.h"
#include "sim/catalogue.h"

#include <QDir>
#include <QFile>
#include <QLabel>
#include <QTableWidget>

namespace fortitor {
namespace {

class Evidence : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    QString read(const QString& name)
    {
        QFile in(folder.filePath(name));
        EXPECT_TRUE(in.open(QIODevice::ReadOnly)) << name.toStdString();
        return QString::fromUtf8(in.readAll());
    }
};

TEST(RecordFileNames, NoTwoLabelsGiveOneName)
{
    std::set<std::string> taken;
    std::set<std::string> names;
    const std::vector<std::string> labels{"A 1",
                                          "A_1",
                                          "A-1",
                                          "A_20_1",
                                          "ä",
                                          "ö",
                                          "a 1",
                                          "A/1",
                                          "A\\1",
                                          "..",
                                          "",
                                          std::string(300, 'x'),
                                          std::string(300, 'x') + "y",
                                          "A1",
                                          "a1",
                                          "\xff\xfe"};
    for (size_t i = 0; i < labels.size(); ++i) {
        const std::string name = recordFileName("J-1", labels[i], i, taken);
        std::string lowered = name;
        std::ranges::transform(lowered, lowered.begin(),
                               [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
        EXPECT_TRUE(names.insert(lowered).second) << labels[i] << " " << name;
        EXPECT_EQ(name.find('/'), std::string::npos);
        EXPECT_NE(name.front(), '.');
        EXPECT_LT(name.size(), 160u);
    }
    std::set<std::string> plain;
    EXPECT_EQ(recordFileName("J-0101", "A1", 0, plain), "J-0101-A1.csv");
}

TEST_F(Evidence, TwoLabelsThatLookAlikeKeepTheirRecords)
{
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 0, 4));
    ASSERT_TRUE(session().apply(edits::relabel(session().document(), 0, "A 1")));
    ASSERT_TRUE(session().apply(edits::relabel(session().document(), 1, "A_1")));
    std::vector<double> before;
    for (size_t i = 0; i < 3; ++i)
        before.push_back(*session().specimenOutcome().outcome->find("Rm")->value), session().setCurrent(i + 1);
    window->exportJob(folder.filePath("out.json"));
    session().close();
    ASSERT_TRUE(window->takeIn(folder.filePath("out.json")));
    for (size_t i = 0; i < 3; ++i) {
        session().setCurrent(i);
        ASSERT_TRUE(session().record(i));
        EXPECT_NEAR(*session().specimenOutcome().outcome->find("Rm")->value, before[i], 1e-6)
            << session().specimen().label;
    }
    EXPECT_FALSE(session().document().json().contains("importing")) << "it is whole";
}

TEST_F(Evidence, PicturesGoOutWithTheirJobAndComeBack)
{
    ASSERT_TRUE(window->openJob(jobCalled("J-0114"), 0, 4));
    std::map<std::string, std::string> before; // of each picture, where it belongs
    const auto named = [&] {
        std::map<std::string, std::string> all;
        for (const Specimen& one : session().job().specimens)
            for (const ReadingPicture& picture : one.pictures)
                all[picture.sha256] = one.label + " " + std::to_string(picture.reading);
        return all;
    };
    before = named();
    ASSERT_FALSE(before.empty());
    QByteArray bytes;
    for (const auto& [sha, place] : before)
        bytes = *session().logbook().loadPicture(QString::fromStdString(sha));
    window->exportJob(folder.filePath("out.json"));
    session().close();
    // Into a logbook that never saw them.
    const QString other = folder.filePath("other.sqlite");
    QStringList written = QDir(folder.path()).entryList({"J-0114-*"}, QDir::Files);
    written.removeIf([](const QString& name) { return name.endsWith(".csv"); });
    ASSERT_EQ(written.size(), static_cast<qsizetype>(before.size()));
    auto emptyBook = Logbook::open(other);
    ASSERT_TRUE(emptyBook) << emptyBook.problem().text();
    MainWindow fresh(**emptyBook);
    Session& elsewhere = fresh.session();
    // One was spoilt on the way, one is lost.
    ASSERT_GE(written.size(), 3);
    QFile spoilt(folder.filePath(written[0]));
    ASSERT_TRUE(spoilt.open(QIODevice::Append));
    spoilt.write("x");
    spoilt.close();
    ASSERT_TRUE(QFile::remove(folder.filePath(written[1])));
    ASSERT_TRUE(fresh.takeIn(folder.filePath("out.json")));
    EXPECT_TRUE(fresh.told().contains("is another one than the reading was taken from")) << fresh.told().toStdString();
    EXPECT_TRUE(fresh.told().contains("is not in the folder"));
    size_t there = 0;
    for (const auto& [sha, place] : before)
        there += static_cast<bool>(elsewhere.logbook().loadPicture(QString::fromStdString(sha)));
    EXPECT_EQ(there, before.size() - 2);
    std::map<std::string, std::string> after;
    for (const Specimen& one : elsewhere.job().specimens)
        for (const ReadingPicture& picture : one.pictures)
            after[picture.sha256] = one.label + " " + std::to_string(picture.reading);
    EXPECT_EQ(after, before);
}

TEST_F(Evidence, AnIncompleteRecordStaysOneThroughAnExport)
{
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 0, 4));
    Record part = *session().record(0);
    part.incompleteBecause = "stopped by hand";
    const size_t events = part.events.size();
    ASSERT_TRUE(session().attach(0, part));
    ASSERT_TRUE(session().specimenOutcome().outcome->remarked("record-incomplete"));
    window->exportJob(folder.filePath("part.json"));
    session().close();
    ASSERT_TRUE(window->takeIn(folder.filePath("part.json")));
    session().setCurrent(0);
    ASSERT_TRUE(session().record(0));
    EXPECT_EQ(session().record(0)->incompleteBecause, "stopped by hand");
    EXPECT_EQ(session().record(0)->events.size(), events);
    EXPECT_TRUE(session().specimenOutcome().outcome->remarked("record-incomplete"));
}

TEST_F(Evidence, ARenameOntoAnotherInstrumentIsRefused)
{
    window->go(MainWindow::Instruments);
    auto* table = find<QTableWidget>("instrumentTable");
    int row = 0;
    while (!table->item(row, 0)->text().contains("K-5") || table->item(row, 0)->text().contains("K-50"))
        ++row;
    const QString small = table->item(row, 0)->text();
    const auto large = book->instrument("cell K-50");
    ASSERT_TRUE(large);
    table->item(row, 0)->setText("cell K-50");
    QTest::qWait(100);
    const auto now = book->instrument("cell K-50");
    ASSERT_TRUE(now && book->instrument(small));
    EXPECT_EQ(now->body, large->body);
    EXPECT_TRUE(window->findChild<QWidget*>("instrumentsPage")->findChildren<QLabel*>().size() > 0);
    // To a free name it goes, and the journal has both sides.
    table->item(row, 0)->setText("cell K-5b");
    QTest::qWait(100);
    EXPECT_FALSE(book->instrument(small));
    ASSERT_TRUE(book->instrument("cell K-5b"));
    const auto entry = book->journal(0, 1).front();
    EXPECT_TRUE(entry.changes.contains("before") && entry.changes.contains("after") && entry.changes.contains(small)
                && entry.changes.contains("K-5b"))
        << entry.changes.toStdString();
    EXPECT_TRUE(book->check().empty());
}

TEST_F(Evidence, ALabelIsNeverReadAsMarkup)
{
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 0, 5));
    const std::string evil = "<h1>pass</h1><img src='file:///etc/hostname'>";
    ASSERT_TRUE(session().apply(edits::relabel(session().document(), 0, evil)));
    ASSERT_TRUE(session().apply(edits::head(session().document(), "title", evil)));
    for (int stage = 0; stage < 7; ++stage) {
        session().setStage(stage);
        QApplication::processEvents();
        for (const QLabel* l : window->findChildren<QLabel*>()) {
            if (l->text().contains("<img")) {
                EXPECT_EQ(l->textFormat(), Qt::PlainText) << l->objectName().toStdString() << " on stage " << stage;
            }
        }
    }
}

TEST(CsvGuard, FormulasAreTextAndNumbersStayNumbers)
{
    JobOutcome outcome;
    for (const char* label : {"=1+1", "+A1", "-A1", "@sum", "\tx", "\rx", "-12.5", "A,1", "plain"}) {
        SpecimenOutcome s;
        s.label = label;
        s.excludedBecause = "=HYPERLINK(1)";
        outcome.specimens.push_back(s);
    }
    const std::string csv = reportCsv(outcome);
    for (const char* there : {"\n'=1+1,", "\n'+A1,", "\n'-A1,", "\n'@sum,", "\n'\tx,", "\n-12.5,", "\n\"A,1\",",
                              "\nplain,", ",'=HYPERLINK(1)\n"})
        EXPECT_NE(csv.find(there), std::string::npos) << there << "\n" << csv;
}

TEST_F(Evidence, AnImportThatWasCutShortSaysSo)
{
    // As the logbook stands when the program is killed after the first of two records.
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 0, 4));
    Json body = withoutRecordFiles(session().document().json());
    body["importing"] = {{"file", "lot.json"}};
    auto id = book->addJob(body, "operator A", "taken in from lot.json");
    ASSERT_TRUE(id);
    ASSERT_TRUE(window->openJob(*id, 0, 0));
    EXPECT_TRUE(find<QWidget>("remark-import-unfinished"));
    const auto& remarks = session().outcome().remarks;
    EXPECT_TRUE(std::ranges::any_of(remarks, [](const Remark& r) {
        return r.code == "import-unfinished" && r.text.find("lot.json") != std::string::npos;
    }));
}

TEST_F(Evidence, ARecordThatCanNotBeHungIsNotLeftBehind)
{
    ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 4, 4));
    const auto before = book->recordIds().size();
    Record record = *session().record(0);
    // The job is gone under it: neither the record nor the job is changed.
    ASSERT_FALSE(book->together([&]() -> Expected<Done> {
        auto id = book->addRecord(session().jobId(), "A5", record, "operator A");
        if (!id)
            return id.problem();
        return Problem{"the second half", "refused", "kept", {}};
    }));
    EXPECT_EQ(book->recordIds().size(), before);
    EXPECT_TRUE(book->check().empty());
}

TEST(Guard, AnExceptionEndsTheActNotTheProgram)
{
    struct Thrower : QObject {
        bool event(QEvent* event) override
        {
            if (event->type() == QEvent::User)
                throw std::runtime_error("nobody expected it");
            return QObject::event(event);
        }
    } thrower;
    auto* app = qobject_cast<Application*>(qApp);
    ASSERT_TRUE(app);
    QTemporaryDir home;
    qputenv("XDG_DATA_HOME", home.path().toUtf8());
    QString words;
    QString report;
    app->tell = [&](const QString& w, const QString& r) {
        words = w;
        report = r;
    };
    QCoreApplication::postEvent(&thrower, new QEvent(QEvent::User));
    QCoreApplication::processEvents();
    app->tell = {};
    EXPECT_EQ(words, "nobody expected it");
    QFile file(report);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly)) << report.toStdString();
    EXPECT_TRUE(file.readAll().contains("nobody expected it"));
    qunsetenv("XDG_DATA_HOME");
}

} // namespace
} // namespace fortitor
