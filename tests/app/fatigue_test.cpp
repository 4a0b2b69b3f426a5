// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces run to their end by keys and on the simulated frame; the line on Judge, and what to run next.
#include "support.h"

#include "app/bench/plan/spread_view.h"
#include "app/bench/run/run_lanes.h"
#include "app/bench/strike/look_row.h"
#include "app/widgets/plot_view.h"

#include <QComboBox>
#include <QLabel>

namespace fortitor {
namespace {

class FatigueTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    [[nodiscard]] Json piece(size_t index) { return session().document().json()["specimens"][index]; }
    [[nodiscard]] QString message() { return find<QLabel>("runMessage")->text(); }
};

TEST_F(FatigueTest, ARunIsKeyedInAFewStrokes)
{
    openAt("J-0120", 11, Stage::Load); // L12, planned at 130 MPa
    ASSERT_TRUE(find<QLineEdit>("runCycles")->hasFocus());
    EXPECT_TRUE(find<QLabel>("runCaution")->text().contains("Nobody reaches in"));
    EXPECT_TRUE(find<QLabel>("runCaution")->text().contains("operator A, extension 14"));
    EXPECT_TRUE(find<QLabel>("runFacts")->text().contains("kN")) << find<QLabel>("runFacts")->text().toStdString();
    EXPECT_TRUE(find<QLabel>("runFacts")->text().contains("mean line of 11 pieces"));
    type("1 240 000");
    press(Qt::Key_Return);
    EXPECT_EQ(piece(11)["readings"]["cycles"][0], "1240000");
    EXPECT_EQ(piece(11)["readings"]["range"][0], "130 MPa");
    EXPECT_TRUE(find<LookRow>("look-outcome")->hasFocus());
    press(Qt::Key_1);
    EXPECT_EQ(piece(11)["notes"]["outcome"], "broken");
    settle(); // that leads on to the next piece
    EXPECT_EQ(session().current(), 12u);
    EXPECT_TRUE(find<QLineEdit>("runCycles")->hasFocus());
    EXPECT_EQ(*session().outcome().specimens[11].outcome->find("N")->value, 1'240'000);
    EXPECT_FALSE(window->findChild<QLabel*>("runMessage")->isVisible());
    // Put right, the piece stays at hand.
    session().setCurrent(11);
    settle();
    find<LookRow>("look-outcome")->setFocus();
    press(Qt::Key_2);
    settle();
    EXPECT_EQ(piece(11)["notes"]["outcome"], "run-out");
    EXPECT_EQ(session().current(), 11u);
}

TEST_F(FatigueTest, WhatIsWrongIsToldAndWhatStandsIsAskedFor)
{
    openAt("J-0120", 0, Stage::Load);
    const Json before = piece(0)["readings"];
    type("many");
    press(Qt::Key_Return);
    EXPECT_TRUE(message().contains("number of cycles"));
    find<QLineEdit>("runCycles")->clear();
    type("99000");
    press(Qt::Key_Return);
    EXPECT_EQ(piece(0)["readings"], before);
    EXPECT_TRUE(message().contains("run already"));
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(piece(0)["readings"]["cycles"][0], "99000");
    // Half typed waits for its piece.
    find<QLineEdit>("runCycles")->setFocus();
    type("12");
    session().setCurrent(1);
    settle();
    EXPECT_TRUE(find<QLineEdit>("runCycles")->text().isEmpty());
    session().setCurrent(0);
    settle();
    EXPECT_EQ(find<QLineEdit>("runCycles")->text(), "12");
    // A range below zero is refused where it is typed; a good one goes to the reading.
    find<QLineEdit>("runCycles")->clear();
    find<QLineEdit>("run-range")->setFocus();
    find<QLineEdit>("run-range")->selectAll();
    type("-5");
    press(Qt::Key_Return);
    EXPECT_TRUE(message().contains("above zero"));
    find<QLineEdit>("run-range")->selectAll();
    type("255");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(piece(0)["readings"]["range"][0], "255 MPa");
}

TEST_F(FatigueTest, LanesAndNotesForAll)
{
    openAt("J-0120", 11, Stage::Load);
    auto* lanes = find<RunLanes>("runLanes");
    QTest::mouseClick(lanes, Qt::LeftButton, {}, lanes->laneAt(12).center().toPoint());
    settle();
    EXPECT_EQ(session().current(), 12u);
    find<QLineEdit>("run-frequency")->setFocus();
    find<QLineEdit>("run-frequency")->selectAll();
    type("12");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(piece(12)["notes"]["frequency"], "12 Hz");
    QTest::mouseClick(find<QPushButton>("runForAll"), Qt::LeftButton);
    settle();
    EXPECT_EQ(piece(11)["notes"]["frequency"], "12 Hz");
    EXPECT_EQ(piece(13)["notes"]["frequency"], "12 Hz");
    EXPECT_EQ(piece(0)["notes"]["frequency"], "8 Hz"); // run already
    session().undo();
    settle();
    EXPECT_EQ(piece(13)["notes"]["frequency"], "8 Hz");
}

TEST_F(FatigueTest, TheFrameRunsAPieceToItsEnd)
{
    openAt("J-0120", 11, Stage::Load);
    auto* next = find<QPushButton>("runStep");
    const auto step = [&](const QString& words) {
        EXPECT_TRUE(until([&] { return next->text() == words; }))
            << next->text().toStdString() << " for " << words.toStdString() << ": " << message().toStdString();
        find<QLineEdit>("runCycles")->setFocus();
        press(Qt::Key_I);
    };
    step("Simulated frame");
    step("Piece in");
    step("Close the guard");
    step("Start");
    EXPECT_TRUE(until([&] { return find<QLabel>("rigWords")->text().contains("stiffness"); }));
    const auto today = [&] {
        window->go(MainWindow::Today);
        QApplication::processEvents();
        QString all;
        for (const QLabel* label : window->findChildren<QLabel*>())
            if (label->isVisible())
                all += label->text() + "\n";
        openAt("J-0120", 11, Stage::Load);
        return all;
    };
    const QString running = today();
    EXPECT_TRUE(running.contains("J-0120 / L12") && running.contains("run-out at")) << running.toStdString();
    step("Stop");
    ASSERT_TRUE(until([&] { return piece(11)["notes"].contains("cycles_so_far"); }));
    EXPECT_TRUE(today().contains("stopped, because stopped by hand"));
    EXPECT_FALSE(piece(11).contains("readings"));
    auto* pace = find<QComboBox>("runPace");
    pace->setCurrentIndex(pace->count() - 1);
    emit pace->activated(pace->currentIndex());
    step("Go on");
    session().setCurrent(3); // someone looks at another piece meanwhile
    ASSERT_TRUE(until([&] { return piece(11).contains("readings"); }))
        << find<QLabel>("rigWords")->text().toStdString();
    EXPECT_EQ(piece(11)["readings"]["range"][0], "130 MPa");
    EXPECT_GT(std::stod(piece(11)["readings"]["cycles"][0].get<std::string>()), 1e5);
    EXPECT_TRUE(piece(11)["notes"].contains("outcome"));
    EXPECT_TRUE(piece(11)["notes"].contains("stopped_because"));
    EXPECT_FALSE(piece(11)["notes"].contains("cycles_so_far"));
    EXPECT_TRUE(message().contains("Call operator A"));
    EXPECT_EQ(session().current(), 3u);
    step("Take it out");
    EXPECT_TRUE(until([&] { return next->text() == "Piece in"; }));
    // What is not measured, planned or noted can't be run.
    press(Qt::Key_I);
    EXPECT_TRUE(until([&] { return message().contains("run already"); }));
}

TEST_F(FatigueTest, PlanTellsMachineDays)
{
    openAt("J-0120", 0, Stage::Plan);
    auto* spread = find<SpreadView>("spread");
    ASSERT_TRUE(spread->isVisible());
    const QString words = find<QLabel>("spreadWords")->text();
    EXPECT_TRUE(words.contains("14 pieces on 7 levels")) << words.toStdString();
    EXPECT_TRUE(words.contains("days of one frame at 8 Hz"));
    EXPECT_TRUE(words.contains("11 tested"));
}

TEST_F(FatigueTest, JudgeHasTheLineItsClassAndWhatToRunNext)
{
    openAt("J-0120", 0, Stage::Judge);
    const auto& set = session().outcome().set;
    ASSERT_TRUE(set);
    EXPECT_NEAR(*set->find("m")->value, 3.05, 0.8);
    EXPECT_GT(*set->find("S_char")->value, 71);
    EXPECT_TRUE(find<QLabel>("verdict")->text().contains("pass")) << find<QLabel>("verdict")->text().toStdString();
    EXPECT_TRUE(find<PlotView>("setPlot")->isVisible());
    EXPECT_GT(find<PlotView>("setPlot")->height(), 200);
    auto* act = find<QPushButton>("setNextAct");
    ASSERT_TRUE(act->isVisible());
    EXPECT_TRUE(act->text().startsWith("Plan L12 at")) << act->text().toStdString();
    QTest::mouseClick(act, Qt::LeftButton);
    settle();
    EXPECT_EQ(act->text(), "Plan L12 at " + QString::fromStdString(piece(11)["notes"]["planned_range"]));
}

TEST_F(FatigueTest, WhatWatchedThePieceStandsOnReadWithItsFracture)
{
    openAt("J-0120", 4, Stage::Read);
    const auto& outcome = *session().specimenOutcome().outcome;
    ASSERT_TRUE(outcome.find("N_start") && outcome.find("N_start")->value);
    EXPECT_LT(*outcome.find("N_start")->value, *outcome.find("N")->value);
    EXPECT_GT(*outcome.find("N_start")->value, 0.25 * *outcome.find("N")->value);
    EXPECT_NEAR(*outcome.find("m_paris")->value, 3, 0.3); // of the simulated crack
    auto* views = find<QComboBox>("readViewChoice");
    EXPECT_EQ(views->count(), 4);
    auto* plot = find<PlotView>("readViews");
    for (int i = 0; i < views->count(); ++i) {
        views->setCurrentIndex(i);
        emit views->activated(i);
        EXPECT_TRUE(plot->plot().troubles.empty()) << views->itemText(i).toStdString();
    }
    const auto note = [&](const char* key, const QString& typed) {
        auto* edit = find<QLineEdit>(QString("note-") + key);
        edit->setFocus();
        edit->selectAll();
        type(typed);
        press(Qt::Key_Return);
    };
    note("crack_depth", "3.1 mm");
    note("crack_length", "10");
    const auto told = [&] {
        QString all;
        for (const ToldGroup& group : session().specimenOutcome().outcome->told)
            for (const ToldRow& row : group.rows)
                all += QString::fromStdString(row.label + ": " + row.words + "\n");
        return all;
    };
    EXPECT_TRUE(told().contains("depth over length: 0.31")) << told().toStdString();
    // A crack on a face that nobody watched.
    note("crack_face", "back");
    EXPECT_TRUE(session().specimenOutcome().outcome->remarked("crack-not-watched"));
    window->bench().goToField("crack_face");
    settle();
    EXPECT_TRUE(find<QLineEdit>("note-crack_face")->hasFocus());
    session().undo();
    settle();
    EXPECT_FALSE(session().specimenOutcome().outcome->remarked("crack-not-watched"));
}

TEST_F(FatigueTest, APlaceOnTheDiagramTellsItsClass)
{
    openAt("J-0120", 6, Stage::Judge);
    auto* plot = find<PlotView>("setPlot");
    ASSERT_TRUE(plot->plot().told);
    EXPECT_TRUE(plot->plot().told(2e6, 71).contains("class 71"));
    EXPECT_TRUE(plot->plot().told(2.5e5, 160).contains("class 80")); // an eighth of the cycles at twice the range
    EXPECT_TRUE(plot->plot().told(0, 71).isEmpty());
}

} // namespace
} // namespace fortitor
