// SPDX-License-Identifier: GPL-3.0-or-later
// A slow disk, a full one: nobody waits for it, nothing is shown as kept that is not, nothing typed is lost.
#include "app/disk.h"
#include "app/model/trial_run.h"
#include "app/support.h"

#include "jobs/edits.h"
#include "sim/catalogue.h"

#include <QLabel>

namespace fortitor::test {
namespace {

class KeepingTest : public AppTest {
protected:
    void openFlexure()
    {
        Json job = edits::newJob("J-7", "slow disk", *findMethod("flexure"), 3);
        for (Json& specimen : job["specimens"])
            specimen["dimensions"] = {
                {"shape", "rectangular"}, {"width", "20 mm"}, {"depth", "20 mm"}, {"span", "300 mm"}};
        ASSERT_TRUE(window->openJob(*book->addJob(job, "operator A", "new job"), 0, 3));
        settle();
    }
    void openMeasure()
    {
        ASSERT_TRUE(window->openJob(*book->addJob(edits::newJob("J-8", "slow disk", *findMethod("tension-metal"), 3),
                                                  "operator A", "new job"),
                                    0, 1));
        settle();
        field("diameter-1")->setFocus();
    }
    void runUntilSomeIsKept()
    {
        startWithDemo();
        ASSERT_TRUE(window->openJob(jobCalled("J-0101"), 3, 2));
        ASSERT_TRUE(setUpByItself(window->frame()));
        session().setStage(3);
        window->frame().setPace(10);
        window->frame().start();
        ASSERT_TRUE(until([&] { return window->frame().running() && window->frame().keptRows() > 100; }));
    }
    QuantityField* field(const char* name) { return find<QuantityField>(name); }
    static bool beingKept(QWidget* at)
    {
        auto* line = at->findChild<QWidget*>("beingKept");
        return line && line->isVisible();
    }
    /// The event and what it sets off at once, painted; ms.
    double keyed(int key, const QString& text)
    {
        QElapsedTimer clock;
        clock.start();
        QKeyEvent down(QEvent::KeyPress, key, Qt::NoModifier, text);
        QApplication::sendEvent(keyTarget(), &down);
        QApplication::processEvents();
        return static_cast<double>(clock.nsecsElapsed()) / 1e6;
    }
    Disk disk;
};

TEST_F(KeepingTest, NoKeystrokeWaitsForTheDisk)
{
    openFlexure();
    disk.slow(150);
    std::vector<double> took;
    const int before = Disk::syncs();
    const int mine = Disk::syncsOfTheMainThread();
    for (int i = 0; i < 14; ++i)
        for (const QString& text : {QString::number(100 * i), QString::number(0.4 * i, 'f', 2)}) {
            for (const QChar c : text)
                took.push_back(keyed(c.unicode(), c));
            took.push_back(keyed(Qt::Key_Return, "\r"));
        }
    EXPECT_GT(session().beingKept(), 20u) << "the disk is meant to be slow";
    std::ranges::sort(took);
    std::printf("%zu keystrokes with an fsync of 150 ms: median %.1f ms, slowest %.1f ms\n", took.size(),
                took[took.size() / 2], took.back());
    RecordProperty("slowest_ms", std::to_string(took.back()));
    EXPECT_LT(took.back(), 75) << "a keystroke waited for the disk";
    EXPECT_EQ(Disk::syncsOfTheMainThread(), mine);
    session().finish();
    EXPECT_GE(Disk::syncs() - before, 28) << "each reading is one step of its own";
    EXPECT_EQ(Disk::syncsOfTheMainThread(), mine);
    ASSERT_TRUE(session().job().specimens[0].readings);
    EXPECT_EQ(session().job().specimens[0].readings->rows(), 14u);
    EXPECT_EQ(*book->loadJob(session().jobId()), session().document().json());
    EXPECT_TRUE(book->check().empty());
}

TEST_F(KeepingTest, AFieldSaysThatItsValueIsBeingKept)
{
    openMeasure();
    disk.slow(150);
    auto* first = field("diameter-1");
    for (const char* key : {"1", "0", ".", "0", "2"})
        keyed(key[0], key);
    keyed(Qt::Key_Return, "\r");
    EXPECT_TRUE(beingKept(first));
    EXPECT_EQ(session().beingKept(), 1u);
    EXPECT_EQ(book->loadJob(session().jobId())->dump().find("10.02"), std::string::npos);
    // Another specimen's field says nothing of the kind; back again, it does.
    session().setCurrent(1);
    EXPECT_FALSE(beingKept(first));
    session().setCurrent(0);
    EXPECT_TRUE(beingKept(first));
    ASSERT_TRUE(until([&] { return !beingKept(first); }, 3000));
    EXPECT_EQ(session().beingKept(), 0u);
    EXPECT_NE(book->loadJob(session().jobId())->dump().find("10.02"), std::string::npos);
}

TEST_F(KeepingTest, APlainFieldThatGoesOnWhileItIsKeptLosesItsMarkAllTheSame)
{
    openMeasure();
    session().setStage(0);
    QApplication::processEvents();
    auto* title = find<QLineEdit>("jobTitle");
    title->setFocus();
    title->selectAll();
    disk.slow(150);
    for (const char* key : {"a", "b"}) {
        keyed(key[0], key);
        keyed(Qt::Key_Return, "\r");
        EXPECT_TRUE(beingKept(title));
    }
    keyed('c', "c"); // typed on, not handed over
    ASSERT_TRUE(until([&] { return session().beingKept() == 0; }, 3000));
    EXPECT_FALSE(beingKept(title));
    EXPECT_EQ(title->text(), "abc");
    EXPECT_EQ(session().job().title, "ab");
}

TEST_F(KeepingTest, WhatAFullDiskRefusesStaysTypedAndIsKeptLater)
{
    openMeasure();
    disk.full(true);
    for (const char* key : {"1", "0", ".", "0", "2"})
        keyed(key[0], key);
    keyed(Qt::Key_Return, "\r");
    ASSERT_TRUE(until([&] { return session().beingKept() == 0; }, 3000));
    auto* first = field("diameter-1");
    EXPECT_EQ(first->typed(), "10.02");
    EXPECT_TRUE(first->property("wrong").toBool());
    EXPECT_FALSE(beingKept(first));
    EXPECT_TRUE(session().job().specimens[0].input.dimensions.empty());
    EXPECT_TRUE(window->told().startsWith("Not kept: ")) << window->told().toStdString();
    EXPECT_TRUE(window->told().contains("full")) << window->told().toStdString();
    // Every other way a page writes is refused in words too, and the logbook stays whole.
    EXPECT_FALSE(session().attach(0, simulateRun(*findCatalogueEntry("rigger-tube"), 3, 400).record));
    EXPECT_TRUE(window->told().contains("full"));
    EXPECT_FALSE(session().record(0));
    EXPECT_FALSE(session().addJob(edits::newJob("J-9", "x", *findMethod("crush"), 1), "new job"));
    EXPECT_FALSE(session().writer().now([](Logbook& b) {
        return b.keepInstrument({"K", "cell", Json::object(), {}}, "operator A");
    }));
    disk.full(false);
    first->setFocus();
    keyed(Qt::Key_Return, "\r");
    session().finish();
    EXPECT_FALSE(first->property("wrong").toBool());
    EXPECT_NE(book->loadJob(session().jobId())->dump().find("10.02"), std::string::npos);
    EXPECT_TRUE(book->check().empty());
    EXPECT_EQ(book->jobs().size(), 1u);
}

TEST_F(KeepingTest, ReadingsThatFoundNoRoomAreKeptWithTheNextOne)
{
    openFlexure();
    for (const char* text : {"0", "0", "100", "0.4"}) {
        type(text);
        press(Qt::Key_Return);
    }
    disk.full(true);
    for (const char* text : {"200", "0.8", "300"}) {
        for (const char* c = text; *c; ++c)
            keyed(*c, QString(QChar(*c)));
        keyed(Qt::Key_Return, "\r");
    }
    keyed('1', "1"); // half a reading of the fourth step
    ASSERT_TRUE(until([&] { return session().beingKept() == 0; }, 5000));
    EXPECT_EQ(session().job().specimens[0].readings->rows(), 2u);
    EXPECT_TRUE(window->told().startsWith("Not kept")) << window->told().toStdString();
    EXPECT_TRUE(find<QLabel>("padMessage")->text().startsWith("3 readings are not kept yet"))
        << find<QLabel>("padMessage")->text().toStdString();
    // Nobody is sent anywhere: the half typed value stands where it was typed.
    auto* field = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    ASSERT_TRUE(field);
    EXPECT_EQ(field->objectName(), "pad-deflection");
    EXPECT_EQ(field->text(), "1");
    keyed('.', ".");
    keyed('2', "2");
    keyed(Qt::Key_Return, "\r");
    ASSERT_TRUE(until([&] { return session().beingKept() == 0; }, 5000));
    EXPECT_TRUE(find<QLabel>("padMessage")->text().startsWith("4 readings"))
        << find<QLabel>("padMessage")->text().toStdString();
    disk.full(false);
    click("padAgain");
    EXPECT_EQ(find<QLabel>("padMessage")->text(), "");
    const auto& readings = session().job().specimens[0].readings;
    ASSERT_EQ(readings->rows(), 4u);
    EXPECT_EQ(readings->find("force")->values.gather(), std::vector<double>({0, 100, 200, 300}));
    const auto deflections = readings->find("deflection")->values.gather();
    EXPECT_NEAR(deflections[2], 0.8, 1e-12);
    EXPECT_NEAR(deflections[3], 1.2, 1e-12);
    EXPECT_TRUE(book->check().empty());
}

TEST_F(KeepingTest, AllThatWasBuiltOnALostChangeGoesWithIt)
{
    openMeasure();
    const Json before = session().document().json();
    disk.slow(100);
    disk.full(true);
    std::vector<bool> heard;
    const auto hear = [&](bool kept) { heard.push_back(kept); };
    ASSERT_TRUE(session().apply(edits::head(session().document(), "title", "one"), hear));
    ASSERT_TRUE(session().apply(edits::head(session().document(), "title", "two"), hear));
    session().undo();
    ASSERT_TRUE(session().apply(edits::note(session().document(), 1, "fracture", "slant"), hear));
    EXPECT_EQ(session().beingKept(), 4u);
    disk.full(true);
    session().finish();
    EXPECT_EQ(heard, std::vector<bool>({false, false, false}));
    EXPECT_EQ(session().document().json(), before);
    EXPECT_EQ(*book->loadJob(session().jobId()), before);
    disk.full(false);
    ASSERT_TRUE(session().apply(edits::head(session().document(), "title", "three"), hear));
    session().finish();
    EXPECT_TRUE(heard.back());
    EXPECT_TRUE(book->check().empty());
}

TEST_F(KeepingTest, ClosingWaitsForAllAndStaysOpenWhereItCouldNotBeKept)
{
    openMeasure();
    const std::int64_t id = session().jobId();
    disk.slow(100);
    for (int i = 0; i < 5; ++i)
        ASSERT_TRUE(session().apply(edits::head(session().document(), "title", "title " + std::to_string(i))));
    EXPECT_TRUE(window->close());
    EXPECT_EQ((*book->loadJob(id))["job"]["title"], "title 4");
    window->show();
    disk.full(true);
    ASSERT_TRUE(session().apply(edits::head(session().document(), "title", "lost")));
    EXPECT_FALSE(window->close()) << "what was not kept has to be told first";
    EXPECT_TRUE(window->told().startsWith("Not kept"));
    disk.full(false);
    EXPECT_TRUE(window->close());
    EXPECT_EQ((*book->loadJob(id))["job"]["title"], "title 4");
    EXPECT_TRUE(book->check().empty());
}

TEST_F(KeepingTest, ALogbookDeletedUnderThePageIsSavedBesideAndSaidOnce)
{
    openMeasure();
    const std::string id = std::to_string(session().jobId());
    ASSERT_TRUE(QFile::remove(book->file()));
    for (const char* key : {"1", "0", ".", "0", "2"})
        keyed(key[0], key);
    keyed(Qt::Key_Return, "\r");
    ASSERT_TRUE(until([&] { return session().beingKept() == 0; }, 3000));
    EXPECT_TRUE(window->told().contains("no file any more")) << window->told().toStdString();
    ASSERT_FALSE(book->rescued().isEmpty());
    // All that was in it, and the job with the change that came too late.
    auto saved = Logbook::open(book->rescued());
    ASSERT_TRUE(saved);
    EXPECT_TRUE((*saved)->check().empty());
    const auto job = readJsonFile(book->rescued().toStdString() + "-" + id + ".json");
    ASSERT_TRUE(job);
    EXPECT_NE(job->dump().find("10.02"), std::string::npos);
    auto* first = field("diameter-1");
    EXPECT_EQ(first->typed(), "10.02");
    EXPECT_TRUE(first->property("wrong").toBool());
    // From then on it can be looked at, and every change is refused in words.
    EXPECT_FALSE(session().apply(edits::head(session().document(), "title", "too late")));
    EXPECT_TRUE(window->told().contains("deleted while it was open")) << window->told().toStdString();
    EXPECT_TRUE(window->close());
}

TEST_F(KeepingTest, ARunOnAFullDiskIsStoppedAndItsReadingsAreSaidAndKept)
{
    ASSERT_NO_FATAL_FAILURE(runUntilSomeIsKept());
    LiveFrame& frame = window->frame();
    disk.full(true);
    ASSERT_TRUE(until([&] { return !frame.cantKeep().isEmpty(); }));
    ASSERT_TRUE(until([&] { return !frame.moves(); })) << "a specimen is not broken for nothing";
    ASSERT_TRUE(until([&] { return !frame.running(); }, 5000));
    settle();
    EXPECT_TRUE(window->told().contains("samples can't be kept") && window->told().contains("full"))
        << window->told().toStdString();
    EXPECT_FALSE(window->told().contains("STOP by hand"));
    disk.full(false);
    // What was kept before reads, and says that it is not whole.
    window->openJob(jobCalled("J-0101"), 3, 4);
    const auto record = book->loadRecord(QString::fromStdString(session().specimen().recordId));
    ASSERT_TRUE(record);
    EXPECT_EQ((*record)->rows(), frame.keptRows());
    EXPECT_FALSE((*record)->incompleteBecause.empty());
    EXPECT_TRUE(book->check().empty());
}

TEST_F(KeepingTest, RoomAgainDuringTheStopKeepsEveryReading)
{
    ASSERT_NO_FATAL_FAILURE(runUntilSomeIsKept());
    LiveFrame& frame = window->frame();
    QObject::connect(&frame, &LiveFrame::updated, window.get(), [&] {
        if (!frame.cantKeep().isEmpty())
            disk.full(false);
    });
    disk.full(true);
    ASSERT_TRUE(until([&] { return !frame.cantKeep().isEmpty() && !frame.running(); }));
    const auto record = session().record(3);
    ASSERT_TRUE(record);
    EXPECT_EQ(record->rows(), frame.takenRows()) << "none is missing";
    const Column& time = record->find("time")->values;
    for (size_t i = 1; i < record->rows(); ++i)
        ASSERT_NEAR(time[i] - time[i - 1], 0.02, 1e-6);
    EXPECT_FALSE(record->incompleteBecause.empty());
    EXPECT_TRUE(book->check().empty());
}

TEST_F(KeepingTest, ListsAndTheJournalShowWhatIsKept)
{
    openMeasure();
    disk.slow(100);
    ASSERT_TRUE(session().apply(edits::head(session().document(), "title", "a title of its own")));
    window->go(MainWindow::LogbookPlace);
    auto* table = find<QTableWidget>("journalTable");
    const auto shown = [&] {
        for (int r = 0; r < table->rowCount(); ++r)
            if (table->item(r, 5)->text().contains("a title of its own"))
                return true;
        return false;
    };
    EXPECT_FALSE(shown());
    EXPECT_TRUE(until(shown, 3000));
}

} // namespace
} // namespace fortitor::test
