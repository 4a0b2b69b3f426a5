// SPDX-License-Identifier: GPL-3.0-or-later
// The bench serves each method from its declaration: notes from drawings, the cure clock, pieces in a
// row, scatter, comparison.
#include "support.h"
#include "unreadable.h"

#include "app/bench/read/curve_plot.h"
#include "app/bench/measure/note_picker.h"
#include "app/bench/judge/scatter_picture.h"
#include "app/bench/read/result_card.h"
#include "app/bench/read/working_drawer.h"
#include "app/shell/compare_page.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"

#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QMenu>
#include <QTableWidget>

namespace fortitor {
namespace {

class MethodsTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    void open(const char* number, int specimen, int stage)
    {
        window->openJob(jobCalled(number), specimen, stage);
        QApplication::processEvents();
        settle();
    }
};

TEST_F(MethodsTest, EveryPageOfEveryDemoJobOpensInASmallWindow)
{
    window->resize(1024, 700);
    for (const JobRow& row : book->jobs())
        for (int stage = 0; stage < 7; ++stage) {
            window->openJob(row.id, row.specimens - 1, stage);
            QApplication::processEvents();
            window->openJob(row.id, 0, stage);
            QApplication::processEvents();
            EXPECT_FALSE(window->grab().isNull());
            EXPECT_EQ(session().stage(), stage);
            const QStringList faults = test::unreadable(*window);
            EXPECT_TRUE(faults.isEmpty())
                << row.number.toStdString() << ", page " << stage << ": " << faults.join("; ").toStdString();
        }
}

TEST_F(MethodsTest, ReadServesEachMethodFromItsDeclaration)
{
    for (const auto& [number, marks, slip] :
         {std::tuple{"J-0105", 2, "card-Et"}, std::tuple{"J-0104", 1, "card-E_chord"},
          std::tuple{"J-0106", 1, "card-Fz_tu"}, std::tuple{"J-0107", 1, "card-Rp0.2"},
          std::tuple{"J-0108", 3, "card-F_peak"}}) {
        open(number, 0, 4);
        ASSERT_TRUE(session().specimenOutcome().outcome->curve()) << number;
        EXPECT_GE(session().specimenOutcome().outcome->curve()->marks.size(), static_cast<size_t>(marks)) << number;
        EXPECT_TRUE(find<ResultCard>(slip)) << number;
        for (const Result& r : session().specimenOutcome().outcome->results) {
            window->bench().readPage()->chooseSymbol(QString::fromStdString(r.symbol));
            EXPECT_GT(find<WorkingDrawer>("working")->text().size(), 15) << number << " " << r.symbol;
        }
    }
}

TEST_F(MethodsTest, TheChordIsDraggedInStrain)
{
    open("J-0104", 0, 4);
    auto* plot = find<CurvePlot>("curvePlot");
    plot->setFocus();
    press(Qt::Key_Tab);
    press(Qt::Key_Up, Qt::ShiftModifier);
    ASSERT_TRUE(session().specimen().input.options.contains("chord"));
    EXPECT_TRUE(session().specimen().input.options.at("chord").starts_with("0.1"));
    EXPECT_NE(session().specimen().input.options.at("chord"), "0.1 % 0.3 %");
    press(Qt::Key_R);
    EXPECT_FALSE(session().document().json()["specimens"][0].value("options", Json::object()).contains("chord"));
}

TEST_F(MethodsTest, TheCrushedLengthIsDraggedAndTheEnergyFollows)
{
    open("J-0108", 0, 4);
    auto* plot = find<CurvePlot>("curvePlot");
    const double before = *session().specimenOutcome().outcome->find("W")->value;
    const auto handle = plot->handleOf("crush end");
    ASSERT_NE(handle, CurvePlot::Handle::None);
    const QPoint from = plot->handlePosition(handle).toPoint();
    QTest::mousePress(plot, Qt::LeftButton, {}, from);
    QTest::mouseMove(plot, from - QPoint(120, 0));
    QTest::mouseRelease(plot, Qt::LeftButton, {}, from - QPoint(120, 0));
    QApplication::processEvents();
    EXPECT_LT(*session().specimenOutcome().outcome->find("W")->value, 0.95 * before);
}

TEST_F(MethodsTest, AFailureIsPickedFromDrawings)
{
    open("J-0104", 0, 4);
    auto* pick = find<NotePicker>("note-failure_kind");
    ASSERT_TRUE(pick);
    QTest::mouseClick(pick, Qt::LeftButton);
    QApplication::processEvents();
    QMenu* menu = nullptr;
    for (QMenu* m : pick->findChildren<QMenu*>("noteMenu"))
        menu = m;
    ASSERT_TRUE(menu);
    EXPECT_EQ(menu->actions().size(), 9); // seven kinds, a line, not noted
    EXPECT_FALSE(menu->actions()[5]->icon().isNull());
    menu->actions()[5]->trigger();
    menu->close();
    QApplication::processEvents();
    EXPECT_EQ(noteOf(session().specimen().input, "failure_kind"), "S long splits");
}

TEST_F(MethodsTest, ThePlaceOfFailureIsPickedOnTheCrossSection)
{
    open("J-0106", 0, 4);
    auto* pick = find<NotePicker>("note-failure_place");
    QTest::mouseClick(pick, Qt::LeftButton);
    QApplication::processEvents();
    auto* section = pick->findChild<SectionPick*>("sectionPick");
    ASSERT_TRUE(section);
    QTest::mouseClick(section, Qt::LeftButton, {}, section->spotOf("block adhesive"));
    QApplication::processEvents();
    EXPECT_EQ(noteOf(session().specimen().input, "failure_place"), "block adhesive");
    // It leaves the set by itself, with the reason.
    EXPECT_FALSE(session().specimenOutcome().excludedBecause.empty());
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(session().specimenOutcome().excludedBecause.empty());
}

TEST_F(MethodsTest, TheCureClockKeepsTheSpecimenOutOfLoad)
{
    open("J-0106", 5, 1);
    EXPECT_TRUE(find<QLabel>("cureClock")->text().contains("cures for another"));
    open("J-0106", 5, 2);
    LiveFrame& frame = window->frame();
    EXPECT_TRUE(frame.ready());
    EXPECT_TRUE(frame.holdBacks().join(";").contains("cures for another"));
    frame.start();
    settle();
    EXPECT_FALSE(frame.running());
    // Bonded long ago: the clock has run down.
    ASSERT_TRUE(session().apply(edits::note(session().document(), 5, "bonded", "2020-01-01 08:00")));
    EXPECT_FALSE(frame.holdBacks().join(";").contains("cures"));
    // Bonded now, by the button.
    open("J-0106", 5, 1);
    click("bondedNow");
    // 23 h 59 min; a whole day in the very second of the minute that is noted.
    const QString left = find<QLabel>("cureClock")->text();
    EXPECT_TRUE(left.contains("23 h") || left.contains("24 h")) << left.toStdString();
}

TEST_F(MethodsTest, TwoPiecesInARowWithoutLeavingThePage)
{
    open("J-0108", 18, 3);
    LiveFrame& frame = window->frame();
    ASSERT_TRUE(frame.ready());
    frame.zeroForce();
    frame.setPace(50);
    settle();
    press(Qt::Key_C);
    press(Qt::Key_G);
    ASSERT_TRUE(frame.holdBacks().isEmpty()) << frame.holdBacks().join("; ").toStdString();
    press(Qt::Key_Return);
    ASSERT_TRUE(frame.running());
    ASSERT_TRUE(until([&] { return !frame.running(); }, 60000));
    settle();
    EXPECT_EQ(frame.state(), LiveFrame::State::Broken);
    ASSERT_TRUE(session().record(18));
    EXPECT_TRUE(session().record(18)->incompleteBecause.empty());
    EXPECT_NEAR(*session().specimenOutcome().outcome->find("F_peak")->value, 900, 200);
    // One key to the next: chosen, zeroed, still on Load.
    press(Qt::Key_N);
    EXPECT_EQ(session().current(), 19u);
    EXPECT_EQ(session().stage(), 3);
    EXPECT_TRUE(frame.shows("force-zeroed"));
    EXPECT_FALSE(frame.shows("centred"));
    press(Qt::Key_C);
    press(Qt::Key_G);
    press(Qt::Key_Return);
    EXPECT_TRUE(frame.running());
    press(Qt::Key_Escape);
    EXPECT_FALSE(frame.running());
}

TEST_F(MethodsTest, ABarOfPlasticRunsOnTheFrame)
{
    open("J-0105", 0, 0);
    ASSERT_TRUE(session().apply(edits::addSpecimen(session().document())));
    const size_t last = session().job().specimens.size() - 1;
    session().setCurrent(last);
    for (const auto& [key, text] :
         {std::pair{"width", "10.02 mm"}, std::pair{"thickness", "4.01 mm"},
          std::pair{"extensometer_gauge_length", "50 mm"}, std::pair{"grip_distance", "115 mm"}})
        ASSERT_TRUE(session().apply(
            edits::reading(session().document(), last, *session().job().method->findField(key), 0, text)));
    ASSERT_TRUE(session().apply(edits::note(session().document(), last, "direction", "across 90°")));
    session().setStage(2);
    settle();
    LiveFrame& frame = window->frame();
    ASSERT_TRUE(frame.ready());
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
    frame.setPace(50);
    settle();
    press(Qt::Key_Return);
    ASSERT_TRUE(frame.running()) << frame.holdBacks().join("; ").toStdString();
    ASSERT_TRUE(until([&] { return !frame.running(); }, 60000));
    settle();
    EXPECT_EQ(frame.state(), LiveFrame::State::Broken);
    EXPECT_TRUE(session().specimenOutcome().outcome->find("sigma_m")->value);
}

/// A test that is mostly read by hand, run on the frame: set up, started, to the break.
struct RunOnFrame {
    const char* job;
    int specimen;
    const char* symbol;
    const char* channel;
};

class OnTheFrame : public MethodsTest, public testing::WithParamInterface<RunOnFrame> { };

TEST_P(OnTheFrame, BeamsAndShaftsRunToTheBreakAndAreRead)
{
    const auto& [number, specimen, symbol, channel] = GetParam();
    open(number, specimen, 2);
    LiveFrame& frame = window->frame();
    EXPECT_TRUE(frame.byHand());
    auto* way = find<QComboBox>("setupWay");
    ASSERT_TRUE(way->isVisible());
    way->setCurrentIndex(1);
    emit way->activated(1);
    settle();
    EXPECT_FALSE(frame.byHand());
    ASSERT_TRUE(until([&] { return frame.ready(); })) << frame.holdBacks().join("; ").toStdString();
    frame.zeroForce();
    frame.setCentred();
    settle();
    frame.putExtensometerOn();
    frame.setGuard(true);
    settle();
    ASSERT_TRUE(until([&] { return frame.holdBacks().isEmpty(); })) << frame.holdBacks().join("; ").toStdString();
    frame.setPace(100);
    session().setStage(3);
    settle();
    press(Qt::Key_Return);
    ASSERT_TRUE(frame.running());
    ASSERT_TRUE(until([&] { return !frame.running(); }, 90000)) << frame.status().words;
    settle();
    EXPECT_EQ(frame.state(), LiveFrame::State::Broken) << frame.status().endedWords;
    ASSERT_TRUE(session().record(static_cast<size_t>(specimen)));
    EXPECT_TRUE(session().record(static_cast<size_t>(specimen))->find(channel));
    const auto& outcome = session().specimenOutcome().outcome;
    ASSERT_TRUE(outcome);
    ASSERT_TRUE(outcome->find(symbol)->value) << symbol;
    // A figure of the right size: within a fifth of what the same kind of piece gave when it was read by hand.
    const auto& other = session().outcome().specimens[static_cast<size_t>(specimen) - 1].outcome;
    ASSERT_TRUE(other && other->find(symbol)->value);
    EXPECT_NEAR(*outcome->find(symbol)->value / *other->find(symbol)->value, 1, 0.25) << symbol;
}

INSTANTIATE_TEST_SUITE_P(Methods, OnTheFrame,
                         testing::Values(RunOnFrame{"J-0110", 7, "MOR", "deflection"},
                                         RunOnFrame{"J-0111", 3, "tau_max", "torque"}));

TEST_F(MethodsTest, ScatterSpeaksInASentence)
{
    open("J-0108", 0, 5);
    click("judgeScatter");
    auto* scatter = find<ScatterPicture>("scatterPicture");
    ASSERT_TRUE(scatter);
    EXPECT_TRUE(scatter->sentences().first().startsWith("Most of the scatter is between pieces"));
    // The dented one stands apart; without it the rest is normal.
    EXPECT_TRUE(scatter->sentences()[1].startsWith("Not normally"));
    ASSERT_TRUE(session().apply(edits::exclude(session().document(), 12, "dented")));
    QApplication::processEvents();
    EXPECT_TRUE(scatter->sentences()[1].startsWith("Normally"));
    click("judgeCurves");
    EXPECT_TRUE(find<QTableWidget>("setTable"));
}

TEST_F(MethodsTest, CompareTellsDirectionsApartAndSaves)
{
    window->go(MainWindow::Compare);
    auto* list = find<QListWidget>("compareList");
    for (int i = 0; i < list->count(); ++i)
        if (list->item(i)->text().startsWith("J-0105") && !list->item(i)->text().contains("P5"))
            list->item(i)->setCheckState(Qt::Checked);
    auto* by = find<QComboBox>("compareBy");
    by->setCurrentIndex(by->findData("direction"));
    emit by->activated(by->currentIndex());
    auto* page = find<ComparePage>("comparePage");
    ASSERT_EQ(page->comparison().groups.size(), 3u);
    const auto& figures = page->comparison().figures;
    const auto strength = std::ranges::find(figures, "sigma_m", &ComparedFigure::symbol);
    ASSERT_NE(strength, figures.end());
    EXPECT_TRUE(strength->against[2] && strength->against[2]->told()); // across is weaker, beyond chance
    EXPECT_LT(strength->against[2]->difference, -15);
    EXPECT_TRUE(page->savePicture(folder.filePath("c.png")));
    EXPECT_TRUE(page->saveData(folder.filePath("c.csv")));
    QFile csv(folder.filePath("c.csv"));
    ASSERT_TRUE(csv.open(QFile::ReadOnly));
    const QByteArray text = csv.readAll();
    EXPECT_TRUE(text.contains("\"sigma_m\",\"MPa\",\"across 90"));
    EXPECT_TRUE(text.contains("J-0105 P9"));
    QFile curves(folder.filePath("c-curves.csv"));
    ASSERT_TRUE(curves.open(QFile::ReadOnly));
    EXPECT_TRUE(curves.readLine().startsWith("\"J-0105 P1 strain, "));
    EXPECT_GT(curves.readAll().count('\n'), 1000);
    EXPECT_FALSE(page->saveData("/no/such/folder/c.csv"));
    // Pan and zoom by hand.
    auto* plot = find<PlotView>("comparePlot");
    QTest::mousePress(plot, Qt::LeftButton, {}, {200, 150});
    QTest::mouseMove(plot, {240, 160});
    QTest::mouseRelease(plot, Qt::LeftButton, {}, {240, 160});
    QTest::mouseDClick(plot, Qt::LeftButton, {}, {200, 150});
}

TEST_F(MethodsTest, TheMethodIsChosenOnPlanWhileNothingIsLoaded)
{
    const auto id = book->addJob(edits::newJob("J-9", "New", *findMethod("tension-metal"), 2), "operator A", "made");
    ASSERT_TRUE(id);
    window->openJob(*id, 0, 0);
    auto* method = find<QComboBox>("jobMethod");
    ASSERT_TRUE(method->isEnabled());
    method->setCurrentIndex(method->findData("flatwise-tension"));
    emit method->activated(method->currentIndex());
    EXPECT_EQ(session().job().method->id, "flatwise-tension");
    EXPECT_EQ(session().specimen().input.shape, "block");
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(session().job().method->id, "tension-metal");
    open("J-0101", 0, 0);
    EXPECT_FALSE(find<QComboBox>("jobMethod")->isEnabled());
}

TEST_F(MethodsTest, TodayTellsWhatCures)
{
    window->go(MainWindow::Today);
    QApplication::processEvents();
    QStringList words;
    for (QLabel* l : window->findChildren<QLabel*>())
        if (l->isVisible())
            words << l->text();
    EXPECT_TRUE(words.join("\n").contains("J-0106 W6"));
    EXPECT_TRUE(words.join("\n").contains("cures for another"));
}

} // namespace
} // namespace fortitor
