// SPDX-License-Identifier: GPL-3.0-or-later
// The bench, page by page, by name, key and mouse.
#include "support.h"
#include "unreadable.h"

#include "app/bench/read/curve_plot.h"
#include "app/shell/application.h"
#include "app/bench/plan/option_trial.h"
#include "app/theme/units.h"
#include "app/bench/import_dialog.h"
#include "app/bench/margin.h"
#include "app/bench/read/result_card.h"
#include "app/bench/tags.h"
#include "jobs/edits.h"
#include "sim/catalogue.h"

#include <QComboBox>
#include <QLabel>
#include <QFile>
#include <QListWidget>
#include <QTableWidget>
#include <QTimer>

namespace fortitor {
namespace {

class BenchTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    void openRigger(int specimen, int stage)
    {
        ASSERT_TRUE(window->openJob(jobCalled("J-0101"), specimen, stage));
        settle();
    }
    QString put(const char* name, const QByteArray& bytes)
    {
        QFile out(folder.filePath(name));
        EXPECT_TRUE(out.open(QIODevice::WriteOnly));
        out.write(bytes);
        return folder.filePath(name);
    }
};

TEST_F(BenchTest, ASlipOfTenIsQueriedAsItIsMade)
{
    openRigger(4, 1);
    EXPECT_EQ(QApplication::focusWidget(), find<QLineEdit>("diameter-1"));
    type("100.2");
    press(Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("measureMessage")->text().contains("10 times"));
    EXPECT_FALSE(session().specimen().input.dimensions.contains("diameter"));
    // A second Enter keeps it all the same; undo takes it back.
    press(Qt::Key_Return);
    EXPECT_TRUE(session().specimen().input.dimensions.contains("diameter"));
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(session().specimen().input.dimensions.contains("diameter"));
}

TEST_F(BenchTest, WhatDoesNotReadIsSaidAndNotKept)
{
    openRigger(4, 1);
    type("ten");
    press(Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("measureMessage")->text().contains("ten"));
    EXPECT_EQ(QApplication::focusWidget(), find<QLineEdit>("diameter-1"));
    press(Qt::Key_Escape);
    type("10.01 kN");
    press(Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("measureMessage")->text().contains("force"));
    EXPECT_FALSE(session().specimen().input.dimensions.contains("diameter"));
}

TEST_F(BenchTest, MeasuringABarTakesNoKeyTooMany)
{
    openRigger(4, 1);
    int keys = 0;
    for (const char* reading : {"10.02", "10.01", "10.03"}) {
        type(reading);
        keys += static_cast<int>(qstrlen(reading));
        press(Qt::Key_Return);
        ++keys;
    }
    EXPECT_EQ(session().job().specimens[4].input.dimensions.at("diameter").size(), 3u);
    EXPECT_EQ(keys, 18);
}

TEST_F(BenchTest, TagsAreChosenByMouseAndKey)
{
    openRigger(0, 4);
    auto* tags = find<TagStrip>("tags");
    QTest::mouseClick(tags, Qt::LeftButton, {}, tags->tagRect(2).center());
    EXPECT_EQ(session().current(), 2u);
    tags->setFocus();
    press(Qt::Key_Left);
    EXPECT_EQ(session().current(), 1u);
    press(Qt::Key_Right, Qt::ControlModifier);
    EXPECT_EQ(session().current(), 2u);
    QTest::mouseClick(tags, Qt::LeftButton, {}, tags->tagRect(5).center());
    EXPECT_EQ(session().job().specimens.size(), 6u);
    EXPECT_EQ(session().job().specimens.back().label, "A6");
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(session().job().specimens.size(), 5u);
}

TEST_F(BenchTest, FortyTagsStayInReach)
{
    openRigger(0, 1);
    CommandBuilder builder(session().document(), "many");
    for (int i = 0; i < 35; ++i)
        builder.append("/specimens", Json{{"label", "B" + std::to_string(i)}, {"dimensions", {{"shape", "round"}}}});
    ASSERT_TRUE(session().apply(builder.take()));
    auto* tags = find<TagStrip>("tags");
    EXPECT_LE(tags->height(), 120);
    for (int i = 0; i < 28; ++i) {
        EXPECT_GE(tags->tagRect(i).width(), 48) << i;
        EXPECT_LE(tags->tagRect(i).right(), tags->width() - 180) << i;
    }
}

TEST_F(BenchTest, DraggingTheStraightPartMovesEveryFigureAndRGoesBack)
{
    openRigger(0, 4);
    auto* plot = find<CurvePlot>("curvePlot");
    const double automatic = *session().specimenOutcome().outcome->find("E")->value;
    const QString before = find<ResultCard>("card-E")->valueText();
    const QPoint from = plot->handlePosition(CurvePlot::Handle::High).toPoint();
    QTest::mousePress(plot, Qt::LeftButton, {}, from);
    EXPECT_EQ(plot->active(), CurvePlot::Handle::High);
    QTest::mouseMove(plot, from + QPoint(30, -24));
    QApplication::processEvents();
    // On its way the slips follow, and nothing is kept.
    EXPECT_NE(find<ResultCard>("card-E")->valueText(), before);
    EXPECT_FALSE(session().specimen().input.options.contains("slope"));
    QTest::mouseRelease(plot, Qt::LeftButton, {}, from + QPoint(30, -24));
    QApplication::processEvents();
    EXPECT_TRUE(session().specimen().input.options.contains("slope"));
    EXPECT_NE(*session().specimenOutcome().outcome->find("E")->value, automatic);
    // Only this specimen.
    EXPECT_FALSE(session().job().specimens[1].input.options.contains("slope"));
    plot->setFocus();
    press(Qt::Key_R);
    EXPECT_DOUBLE_EQ(*session().specimenOutcome().outcome->find("E")->value, automatic);
}

TEST_F(BenchTest, TabWalksTheHandlesAndArrowsNudge)
{
    openRigger(0, 4);
    auto* plot = find<CurvePlot>("curvePlot");
    plot->setFocus();
    press(Qt::Key_Tab);
    EXPECT_EQ(plot->active(), CurvePlot::Handle::Low);
    const QPointF low = plot->handlePosition(CurvePlot::Handle::Low);
    press(Qt::Key_Up);
    const double one = low.y() - plot->handlePosition(CurvePlot::Handle::Low).y();
    EXPECT_GT(one, 0);
    EXPECT_TRUE(session().specimen().input.options.contains("slope"));
    press(Qt::Key_Up, Qt::ShiftModifier);
    EXPECT_GT(low.y() - plot->handlePosition(CurvePlot::Handle::Low).y(), 5 * one);
    press(Qt::Key_Tab);
    EXPECT_EQ(plot->active(), CurvePlot::Handle::High);
    press(Qt::Key_Tab);
    EXPECT_EQ(plot->active(), CurvePlot::Handle::Offset);
    press(Qt::Key_Right);
    EXPECT_EQ(session().specimen().input.options.at("yield_offset"), "0.210 %");
    EXPECT_TRUE(session().specimenOutcome().outcome->find("Rp0.21")->value);
    press(Qt::Key_R);
    EXPECT_FALSE(session().specimen().input.options.contains("yield_offset"));
}

TEST_F(BenchTest, TheBreakIsDraggedAlongTheCurve)
{
    openRigger(0, 4);
    auto* plot = find<CurvePlot>("curvePlot");
    const double automatic = *session().specimenOutcome().outcome->find("At")->value;
    const auto handle = plot->handleOf("break");
    ASSERT_NE(handle, CurvePlot::Handle::None);
    const QPoint from = plot->handlePosition(handle).toPoint();
    QTest::mouseClick(plot, Qt::LeftButton, {}, from);
    EXPECT_FALSE(session().specimen().input.options.contains("break_at")); // a click only chooses
    QTest::mousePress(plot, Qt::LeftButton, {}, from);
    EXPECT_EQ(plot->active(), handle);
    QTest::mouseMove(plot, from + QPoint(-60, 0));
    QTest::mouseRelease(plot, Qt::LeftButton, {}, from + QPoint(-60, 0));
    QApplication::processEvents();
    ASSERT_TRUE(session().specimen().input.options.contains("break_at"));
    const double moved = *session().specimenOutcome().outcome->find("At")->value;
    EXPECT_LT(moved, automatic);
    plot->setFocus();
    press(Qt::Key_Right, Qt::ShiftModifier); // the handle is still the chosen one
    EXPECT_GT(*session().specimenOutcome().outcome->find("At")->value, moved);
    press(Qt::Key_R);
    EXPECT_DOUBLE_EQ(*session().specimenOutcome().outcome->find("At")->value, automatic);
}

TEST_F(BenchTest, AJudgedSetAsksForAReason)
{
    openRigger(0, 5);
    click("judgeKeep");
    EXPECT_TRUE(session().judged());
    session().setStage(4);
    auto* plot = find<CurvePlot>("curvePlot");
    plot->setFocus();
    press(Qt::Key_Tab);
    press(Qt::Key_Up);
    EXPECT_FALSE(session().specimen().input.options.contains("slope"));
    auto* reason = find<QLineEdit>("trialReason");
    ASSERT_TRUE(reason);
    reason->setFocus();
    press(Qt::Key_Return); // none given yet
    EXPECT_FALSE(session().specimen().input.options.contains("slope"));
    type("foot reached into it");
    press(Qt::Key_Return);
    EXPECT_TRUE(session().specimen().input.options.contains("slope"));
    bool kept = false;
    for (const JournalEntry& row : session().logbook().journal(session().jobId(), 50))
        kept = kept || row.why.contains("foot reached into it");
    EXPECT_TRUE(kept);
    // Nor does R change a judged set on the quiet.
    plot->setFocus();
    press(Qt::Key_R);
    EXPECT_TRUE(session().specimen().input.options.contains("slope"));
    EXPECT_TRUE(window->told().contains("judged"));
}

TEST_F(BenchTest, AnOptionTriedOnReadCanBeDropped)
{
    openRigger(0, 4);
    auto* option = find<QComboBox>("readOption");
    option->setCurrentIndex(option->findData("peak"));
    emit option->activated(option->currentIndex());
    auto* choice = find<QComboBox>("readChoice");
    const double smooth = *session().specimenOutcome().outcome->find("Rm")->value;
    choice->setCurrentIndex(choice->findData("raw"));
    emit choice->activated(choice->currentIndex());
    auto* trial = find<OptionTrial>("optionTrial");
    ASSERT_TRUE(trial->onTrial());
    EXPECT_TRUE(trial->tableText().contains("before"));
    click("trialDrop");
    EXPECT_DOUBLE_EQ(*session().specimenOutcome().outcome->find("Rm")->value, smooth);
    choice = find<QComboBox>("readChoice");
    EXPECT_EQ(choice->currentData().toString(), "smooth");
    choice->setCurrentIndex(choice->findData("raw"));
    emit choice->activated(choice->currentIndex());
    click("trialAccept");
    EXPECT_EQ(session().specimen().input.options.at("peak"), "raw");
    EXPECT_FALSE(session().job().specimens[1].input.options.contains("peak"));
}

TEST_F(BenchTest, UnitsShownChangeNothingKept)
{
    openRigger(0, 4);
    const Json before = session().document().json();
    Units::instance().setSystem(UnitSystem::InchPound);
    EXPECT_TRUE(find<ResultCard>("card-Rm")->valueText().endsWith("ksi"));
    session().setStage(2);
    EXPECT_TRUE(find<QLabel>("setupForce")->text().contains("lbf"));
    session().setStage(0);
    EXPECT_TRUE(find<QLabel>("forecast")->text().contains("lbf"));
    for (const int stage : {1, 3, 5}) {
        session().setStage(stage);
        EXPECT_FALSE(window->grab().isNull());
    }
    session().setStage(4);
    Units::instance().setSystem(UnitSystem::SI);
    EXPECT_TRUE(find<ResultCard>("card-Rm")->valueText().endsWith("MPa"));
    EXPECT_EQ(session().document().json(), before);
}

TEST_F(BenchTest, LowerGripFirstIsAnOptionAndTheStepsFollow)
{
    openRigger(3, 2);
    EXPECT_TRUE(find<QPushButton>("closeTop")->y() < find<QPushButton>("closeBottom")->y());
    ASSERT_TRUE(session().apply(edits::option(session().document(), "first_grip", "lower")));
    QApplication::processEvents();
    EXPECT_TRUE(find<QPushButton>("closeBottom")->y() < find<QPushButton>("closeTop")->y());
    // The steps were laid out anew: the frame takes a moment until it listens again.
    ASSERT_TRUE(until([&] { return window->frame().ready() && find<QPushButton>("zeroForce")->isEnabled(); }));
    click("zeroForce");
    click("closeBottom");
    LiveFrame& frame = window->frame();
    EXPECT_TRUE(frame.shows("grip-bottom"));
    EXPECT_LT(std::abs(frame.sample().force), 200);
    click("closeTop");
    EXPECT_TRUE(until([&] { return frame.sample().force > 800; }, 3000)); // the second grip pulls, whichever it is
    EXPECT_FALSE(frame.shows("grip-second"));
    ASSERT_TRUE(until([&] { return find<QPushButton>("easeToZero")->isEnabled(); }));
    click("easeToZero");
    EXPECT_TRUE(until([&] { return frame.shows("grip-second"); }));
}

TEST_F(BenchTest, EveryFigureExplainsItself)
{
    openRigger(0, 4);
    auto* working = find<WorkingDrawer>("working");
    for (const Result& r : session().specimenOutcome().outcome->results) {
        window->bench().readPage()->chooseSymbol(QString::fromStdString(r.symbol));
        EXPECT_GT(working->text().size(), 20) << r.symbol;
    }
    window->bench().readPage()->chooseSymbol("Rm");
    EXPECT_TRUE(working->text().contains("Improve first"));
    EXPECT_TRUE(working->text().contains("would change it"));
    window->bench().readPage()->chooseSymbol("ReH");
    EXPECT_TRUE(working->text().contains("without a drop"));
}

TEST_F(BenchTest, ARemarkIsAcceptedWithAReasonThatStays)
{
    openRigger(1, 4);
    ASSERT_FALSE(session().openRemarks(1).empty());
    auto* card = find<QWidget>("remark-nominal-dimension");
    ASSERT_TRUE(card);
    QTest::mouseClick(card->findChild<QPushButton*>("remarkAccept"), Qt::LeftButton);
    auto* reason = card->findChild<QLineEdit*>("remarkReason");
    ASSERT_TRUE(reason->isVisible());
    QTest::keyClick(reason, Qt::Key_Return); // no reason, nothing kept
    EXPECT_FALSE(session().settlement(1, "nominal-dimension"));
    QTest::keyClicks(reason, "measured again, it is so");
    QTest::keyClick(reason, Qt::Key_Return);
    QApplication::processEvents();
    ASSERT_TRUE(session().settlement(1, "nominal-dimension"));
    EXPECT_EQ(session().settlement(1, "nominal-dimension")->why, "measured again, it is so");
    EXPECT_EQ(session().settlement(1, "nominal-dimension")->who, "operator A");
    EXPECT_TRUE(session().openRemarks(1).empty());
    EXPECT_EQ(book->journal(session().jobId(), 1)[0].why, "measured again, it is so");
    auto* again = find<QWidget>("remark-nominal-dimension");
    QTest::mouseClick(again->findChild<QPushButton*>("remarkReopen"), Qt::LeftButton);
    EXPECT_FALSE(session().openRemarks(1).empty());
}

TEST_F(BenchTest, ARemarkLeadsToItsField)
{
    openRigger(1, 4);
    QTest::mouseClick(find<QWidget>("remark-nominal-dimension")->findChild<QPushButton*>("remarkGo"), Qt::LeftButton);
    QApplication::processEvents();
    EXPECT_EQ(session().stage(), 1);
    EXPECT_EQ(QApplication::focusWidget(), find<QLineEdit>("diameter-1"));
}

TEST_F(BenchTest, LeavingOutKeepsBothSetsOfFigures)
{
    openRigger(2, 5);
    const auto n = [&] { return std::ranges::find(session().outcome().batch, "Rm", &SetFigure::symbol)->statistics.n; };
    EXPECT_EQ(n(), 3u);
    click("judgeExclude");
    auto* reason = find<QLineEdit>("judgeReason");
    QTest::keyClicks(reason, "bent while unpacking");
    QTest::keyClick(reason, Qt::Key_Return);
    QApplication::processEvents();
    EXPECT_EQ(n(), 2u);
    EXPECT_EQ(session().specimen().excludedBecause, "bent while unpacking");
    EXPECT_TRUE(session().specimenOutcome().outcome->find("Rm")->value);
    click("judgeExclude");
    EXPECT_EQ(n(), 3u);
}

TEST_F(BenchTest, OptionsChangeEveryFigureAndCanBeTakenBack)
{
    openRigger(0, 0);
    const double mean = *session().specimenOutcome().outcome->find("Rm")->value;
    auto* area = find<QComboBox>("option-area_from");
    area->setCurrentText("least");
    emit area->activated(area->currentIndex());
    // On trial first: before and after side by side, nothing kept.
    EXPECT_DOUBLE_EQ(*session().specimenOutcome().outcome->find("Rm")->value, mean);
    EXPECT_TRUE(find<OptionTrial>("optionTrial")->tableText().contains("after"));
    click("trialAccept");
    EXPECT_GT(*session().specimenOutcome().outcome->find("Rm")->value, mean);
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_DOUBLE_EQ(*session().specimenOutcome().outcome->find("Rm")->value, mean);
    press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_GT(*session().specimenOutcome().outcome->find("Rm")->value, mean);
}

TEST_F(BenchTest, StopByEscFromAnyPage)
{
    openRigger(3, 2);
    LiveFrame& frame = window->frame();
    frame.zeroForce();
    frame.closeTopGrip();
    frame.closeBottomGrip();
    frame.easeToZero();
    settle();
    ASSERT_TRUE(until([&] { return frame.shows("grip-second"); }));
    frame.putExtensometerOn();
    frame.setGuard(true);
    settle();
    session().setStage(3);
    press(Qt::Key_Return);
    ASSERT_TRUE(frame.running());
    until([&] { return frame.curve().strain().size() > 60; });
    window->go(MainWindow::Reference);
    press(Qt::Key_Escape);
    EXPECT_FALSE(frame.running());
    EXPECT_EQ(frame.state(), LiveFrame::State::Stopped);
    // What was recorded is kept, and says that it is not whole.
    ASSERT_TRUE(session().record(3));
    EXPECT_EQ(session().record(3)->incompleteBecause, "stopped by hand");
    EXPECT_GT(session().record(3)->rows(), 50u);
    EXPECT_TRUE(session().specimenOutcome().outcome->remarked("record-incomplete"));
}

TEST_F(BenchTest, TheStartIsHeldBackInWords)
{
    openRigger(3, 3);
    LiveFrame& frame = window->frame();
    frame.start();
    settle();
    EXPECT_FALSE(frame.running());
    EXPECT_TRUE(frame.holdBacks().join(";").contains("guard"));
    EXPECT_TRUE(frame.holdBacks().join(";").contains("zeroed"));
    // A zero with both grips closed is no zero.
    frame.closeTopGrip();
    frame.closeBottomGrip();
    frame.zeroForce();
    settle();
    EXPECT_FALSE(frame.shows("force-zeroed"));
    // An open guard stops a running drive.
    openRigger(4, 3);
    EXPECT_FALSE(frame.prepare().isEmpty());
    EXPECT_FALSE(frame.ready());
}

TEST_F(BenchTest, ATextRecordIsDroppedAndPutRightByHand)
{
    openRigger(4, 1);
    auto run = simulateRun(*findCatalogueEntry("rigger-tube"), 5);
    QByteArray text = "Bench 2; operator B\nzeit;kraft;auszug;weg\n";
    for (size_t i = 0; i < run.record.rows(); ++i) {
        QString line = QString("%1;%2;%3;%4\n")
                           .arg(run.record.channels[0].values[i], 0, 'f', 3)
                           .arg(run.record.channels[1].values[i] / 1000, 0, 'f', 5)
                           .arg(run.record.channels[2].values[i], 0, 'f', 5)
                           .arg(run.record.channels[3].values[i], 0, 'f', 5);
        text += line.replace('.', ',').toUtf8();
    }
    const QString path = put("bench2.txt", text);
    ImportDialog dialog(path, *session().job().method);
    dialog.show();
    EXPECT_FALSE(dialog.clear());
    auto* take = dialog.findChild<QPushButton*>("importTake");
    EXPECT_FALSE(take->isEnabled());
    EXPECT_FALSE(dialog.findChild<QLabel*>("importMessage")->text().isEmpty());
    const auto set = [&](const QString& name, const QString& words) {
        auto* box = dialog.findChild<QComboBox*>(name);
        const int at = box->findData(words);
        ASSERT_GE(at, 0) << name.toStdString() << " " << words.toStdString();
        box->setCurrentIndex(at);
        emit box->activated(at);
    };
    const std::pair<const char*, const char*> columns[] = {
        {"time", "s"}, {"force", "kN"}, {"extension", "mm"}, {"displacement", "mm"}};
    for (int c = 0; c < 4; ++c) {
        set(QString("channel-%1").arg(c + 1), columns[c].first);
        set(QString("unit-%1").arg(c + 1), columns[c].second);
    }
    ASSERT_TRUE(take->isEnabled()) << dialog.findChild<QLabel*>("importMessage")->text().toStdString();
    QTest::mouseClick(take, Qt::LeftButton);
    ASSERT_TRUE(until([&] { return !dialog.records().empty(); }));
    EXPECT_EQ(dialog.records().front().rows(), run.record.rows());
    ASSERT_TRUE(session().attach(4, dialog.records().front(), dialog.choices()));
    EXPECT_TRUE(session().record(4));
}

TEST_F(BenchTest, EachOfSeveralTestsInAFileBecomesASpecimen)
{
    openRigger(4, 1);
    QByteArray text = "Time (s);Force (kN);Load (kN);Extension (mm)\n";
    for (int test = 0; test < 3; ++test) {
        for (int i = 0; i < 60; ++i)
            text +=
                QString("%1;%2;%3;%4\n").arg(0.5 * i).arg(0.4 * i + test).arg(0.39 * i + test).arg(0.002 * i).toUtf8();
        text += "\n";
    }
    const size_t before = session().job().specimens.size();
    const QString path = put("three.csv", text);
    QTimer::singleShot(0, window.get(), [&] {
        auto* dialog = window->findChild<ImportDialog*>("importDialog");
        ASSERT_TRUE(dialog);
        auto* take = dialog->findChild<QPushButton*>("importTake");
        auto* part = dialog->findChild<QComboBox*>("importPart");
        EXPECT_TRUE(part->isVisibleTo(dialog));
        EXPECT_EQ(part->count(), 4);
        // Two columns claim the force: none has it before a person says so.
        EXPECT_FALSE(take->isEnabled());
        EXPECT_TRUE(dialog->findChild<QLabel*>("importMessage")->text().contains("which column is force (2 or 3)"))
            << dialog->findChild<QLabel*>("importMessage")->text().toStdString();
        auto* channel = dialog->findChild<QComboBox*>("channel-2");
        channel->setCurrentIndex(channel->findData("force"));
        emit channel->activated(channel->currentIndex());
        EXPECT_EQ(dialog->findChild<QComboBox*>("unit-2")->currentText(), "kN") << "as its header says";
        EXPECT_TRUE(take->isEnabled()) << dialog->findChild<QLabel*>("importMessage")->text().toStdString();
        QTest::mouseClick(take, Qt::LeftButton);
    });
    EXPECT_TRUE(window->takeIn(path)) << window->told().toStdString();
    ASSERT_GE(session().job().specimens.size(), before + 1);
    size_t hung = 0;
    for (size_t i = 4; i < session().job().specimens.size(); ++i)
        if (const auto record = session().record(i)) {
            EXPECT_EQ(record->rows(), 60u);
            EXPECT_DOUBLE_EQ(record->find("force")->values[0], 1000.0 * static_cast<double>(hung));
            ++hung;
        }
    EXPECT_EQ(hung, 3u);
}

TEST_F(BenchTest, BadFilesAreSaidAndChangeNothing)
{
    openRigger(4, 1);
    const Json before = session().document().json();
    for (const auto& [name, bytes] : {std::pair{"empty.csv", QByteArray()},
                                      std::pair{"binary.csv",
                                                QByteArray("\x7f"
                                                           "ELF\0\1\2\3\0\0\0\0",
                                                           12)},
                                      std::pair{"words.txt", QByteArray("no numbers here at all\nreally\n")}}) {
        const QString path = put(name, bytes);
        ImportDialog dialog(path, *session().job().method);
        EXPECT_FALSE(dialog.clear()) << name;
        EXPECT_FALSE(dialog.findChild<QPushButton*>("importTake")->isEnabled()) << name;
        EXPECT_FALSE(dialog.findChild<QLabel*>("importMessage")->text().isEmpty()) << name;
    }
    EXPECT_FALSE(window->takeIn(put("broken.json", "{\"fortitor_job\": 1,")));
    EXPECT_TRUE(window->told().contains("broken.json")) << window->told().toStdString();
    EXPECT_EQ(session().document().json(), before);
}

TEST_F(BenchTest, AReadOnlyLogbookCanBeReadAndSaysSo)
{
    const auto id = jobCalled("J-0101");
    auto second = Logbook::open(folder.filePath("book.sqlite"));
    ASSERT_TRUE(second);
    MainWindow other(**second);
    other.show();
    until([&] { return !other.told().isEmpty(); }, 3000);
    EXPECT_TRUE(other.told().contains("read-only"));
    ASSERT_TRUE(other.openJob(id, 0, 4));
    EXPECT_TRUE(other.session().specimenOutcome().outcome->find("Rm")->value);
    EXPECT_FALSE(other.session().apply(edits::head(other.session().document(), "title", "changed")));
    EXPECT_EQ(other.session().job().title, "Rigger tube, incoming lot");
    EXPECT_TRUE(other.told().contains("has it open"));
}

TEST_F(BenchTest, ARecordThatIsGoneIsSaidAndTheRestStays)
{
    openRigger(0, 4);
    ASSERT_TRUE(session().apply(edits::attachRecord(session().document(), 0, "no-such-record", "lost", {})));
    EXPECT_TRUE(session().specimenOutcome().outcome->remarked("record-missing"));
    EXPECT_EQ(session().specimenOutcome().verdict, Verdict::Open);
    EXPECT_TRUE(session().outcome().specimens[2].outcome->find("Rm")->value);
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(session().specimenOutcome().outcome->find("Rm")->value);
}

TEST_F(BenchTest, AJobGoesOutAsAFolderAndComesBack)
{
    openRigger(0, 4);
    const double Rm = *session().specimenOutcome().outcome->find("Rm")->value;
    window->exportJob(folder.filePath("out.json"));
    EXPECT_TRUE(QFile::exists(folder.filePath("J-0101-A1.csv")));
    const auto before = book->jobs().size();
    ASSERT_TRUE(window->takeIn(folder.filePath("out.json")));
    EXPECT_EQ(book->jobs().size(), before + 1);
    EXPECT_DOUBLE_EQ(*session().outcome().specimens[0].outcome->find("Rm")->value, Rm);
}

TEST_F(BenchTest, TheFinderOpensASpecimenByALetterOrTwo)
{
    QTimer::singleShot(200, window.get(), [&] {
        auto* finder = window->findChild<QDialog*>("finder");
        ASSERT_TRUE(finder);
        auto* words = finder->findChild<QLineEdit*>("finderWords");
        QTest::keyClicks(words, "T3");
        auto* list = finder->findChild<QListWidget*>("finderList");
        EXPECT_GE(list->count(), 1);
        QTest::keyClick(words, Qt::Key_Return);
    });
    press(Qt::Key_K, Qt::ControlModifier);
    ASSERT_TRUE(session().isOpen());
    EXPECT_EQ(session().job().number, "J-0103");
}

TEST_F(BenchTest, RailSearchAndLists)
{
    window->go(MainWindow::Jobs);
    auto* list = find<QListWidget>("jobList");
    EXPECT_EQ(list->count(), 23);
    QTest::keyClicks(find<QLineEdit>("jobSearch"), "backstay");
    EXPECT_EQ(list->count(), 4);
    QTest::keyClick(find<QLineEdit>("jobSearch"), Qt::Key_Return);
    EXPECT_TRUE(session().isOpen());
    press(Qt::Key_4, Qt::ControlModifier);
    QTest::keyClicks(find<QLineEdit>("referenceSearch"), "6082");
    EXPECT_EQ(find<QTableWidget>("referenceTable")->rowCount(), 1);
    press(Qt::Key_5, Qt::ControlModifier);
    EXPECT_EQ(find<QTableWidget>("instrumentTable")->rowCount(), 18);
    press(Qt::Key_6, Qt::ControlModifier);
    EXPECT_GT(find<QTableWidget>("journalTable")->rowCount(), 11);
    click("logbookCheck");
    EXPECT_TRUE(find<QLabel>("logbookFound")->text().startsWith("Whole"));
    window->go(MainWindow::Compare);
    auto* compare = find<QListWidget>("compareList");
    EXPECT_EQ(compare->count(), 154);
    compare->item(0)->setCheckState(Qt::Checked);
    EXPECT_EQ(compare->item(0)->checkState(), Qt::Checked);
}

TEST_F(BenchTest, AnInstrumentOutOfOrderIsSaid)
{
    window->go(MainWindow::Instruments);
    auto* table = find<QTableWidget>("instrumentTable");
    int row = 0;
    while (table->item(row, 0)->text() != "cell K-50")
        ++row;
    table->item(row, 3)->setText("fifty");
    until([&] { return table->item(row, 3)->text() == "50 kN"; }, 2000);
    EXPECT_EQ(table->item(row, 3)->text(), "50 kN");
    table->item(row, 3)->setText("60 kN");
    until([&] { return book->instruments().size() == 12; }, 500);
    bool found = false;
    for (const InstrumentRow& r : book->instruments())
        found = found || (r.name == "cell K-50" && r.body["capacity"] == "60 kN");
    EXPECT_TRUE(found);
}

TEST_F(BenchTest, SlipsAndRemarksHaveTheirRoomWhicheverWayOneCame)
{
    const std::pair<const char*, int> stops[] = {{"J-0101", 1}, {"J-0102", 4}, {"J-0103", 4},
                                                 {"J-0101", 5}, {"J-0102", 4}, {"J-0101", 4}};
    for (const auto& [number, stage] : stops) {
        ASSERT_TRUE(window->openJob(jobCalled(number), 2, stage));
        QTest::qWait(60);
        if (stage != 4)
            continue;
        const ResultCard* last = nullptr;
        for (const ResultCard* slip : window->bench().readPage()->findChildren<ResultCard*>()) {
            if (!slip->isVisible())
                continue;
            EXPECT_EQ(slip->width(), 124) << slip->symbol().toStdString();
            if (last) {
                EXPECT_GE(slip->x(), last->x() + 124) << number << " " << slip->symbol().toStdString();
            }
            last = slip;
        }
        ASSERT_TRUE(last);
        for (const QLabel* label : find<Margin>("margin")->findChildren<QLabel*>())
            if (label->isVisible() && label->wordWrap() && !label->text().isEmpty()) {
                EXPECT_GE(label->height(), label->heightForWidth(label->width()) - 1)
                    << number << " " << label->text().toStdString();
            }
    }
}

TEST_F(BenchTest, BothThemesAndSmallWindowsPaint)
{
    openRigger(0, 4);
    for (const bool dark : {true, false}) {
        Theme::instance().setDark(dark);
        for (const QSize& size : {QSize(1024, 700), QSize(1280, 800), QSize(2560, 1440)}) {
            window->resize(size);
            for (int stage = 0; stage < 7; ++stage) {
                session().setStage(stage);
                settle();
                const QImage picture = window->grab().toImage();
                EXPECT_EQ(picture.pixelColor(picture.width() / 2, 5), pal().paper) << stage;
                size_t strong = 0; // pixels that stand out from the ground: writing, lines
                for (int y = 0; y < picture.height(); ++y)
                    for (int x = 0; x < picture.width(); ++x)
                        strong += std::abs(qGray(picture.pixel(x, y)) - qGray(pal().paper.rgb())) > 90;
                EXPECT_GT(strong, 8000u) << stage << " " << size.width() << (dark ? " dark" : " light");
                const QStringList faults = test::unreadable(*window);
                EXPECT_TRUE(faults.isEmpty()) << stage << " " << size.width() << (dark ? " dark: " : " light: ")
                                              << faults.join("; ").toStdString();
            }
        }
    }
}

TEST_F(BenchTest, InALowWindowNoLimitLiesOnTheNextFiguresName)
{
    openRigger(0, 5);
    window->resize(1024, 700);
    settle();
    auto* picture = find<QWidget>("setPicture");
    const QImage image = picture->grab().toImage();
    constexpr int strips = 4; // Rm and A, which are wanted, E and Rp0.2
    const double step = (picture->height() - 22.0) / strips;
    ASSERT_LT(step, 60) << "not low enough to ask";
    for (int k = 0; k + 1 < strips; ++k)
        for (int y = static_cast<int>(20 + k * step) + 44; y < static_cast<int>(20 + (k + 1) * step) - 2; ++y)
            for (int x = static_cast<int>(picture->width() * 0.6) + 20; x < picture->width(); ++x)
                ASSERT_EQ(image.pixelColor(x, y), pal().surface) << "below strip " << k << " at " << x << ", " << y;
}

TEST(ThemeContrast, TextReadsOnItsGround)
{
    const auto luminance = [](const QColor& c) {
        const auto part = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
        return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
    };
    const auto contrast = [&](const QColor& a, const QColor& b) {
        const double x = luminance(a);
        const double y = luminance(b);
        return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
    };
    for (const Palette* p : {&lightPalette(), &darkPalette()}) {
        for (const QColor& ground : {p->paper, p->surface, p->margin, p->rail})
            for (const QColor& text : {p->ink, p->quiet, p->accentText})
                EXPECT_GE(contrast(text, ground), 4.5)
                    << text.name().toStdString() << " on " << ground.name().toStdString();
        EXPECT_GE(contrast(p->stopText, p->stop), 4.5);
        EXPECT_GE(contrast(p->ink, p->accentTint), 4.5);
        for (const QColor& line : p->data)
            EXPECT_GE(contrast(line, p->surface), 3.0) << line.name().toStdString();
    }
}

} // namespace
} // namespace fortitor

int main(int argc, char** argv)
{
    if (qEnvironmentVariableIsEmpty("FORTITOR_REAL_WINDOW"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    fortitor::Application app(argc, argv);
    QCoreApplication::setOrganizationName("fortitor");
    QCoreApplication::setApplicationName("fortitor-tests");
    fortitor::Theme::instance().install();
    testing::InitGoogleTest(&argc, argv);
    return RUN_ALL_TESTS();
}
