// SPDX-License-Identifier: GPL-3.0-or-later
// Parts with a rated load: loads and rules on Plan, the check between the loads, what Read and Judge tell, the labels.
#include "support.h"

#include "app/widgets/basics.h"

#include "app/bench/load/check_panel.h"
#include "app/bench/plan/arrest_dialog.h"
#include "app/bench/plan/rules_dialog.h"
#include "app/bench/read/curve_plot.h"
#include "app/model/own_tables.h"
#include "jobs/edits.h"
#include "methods/proof_load/proof_load.h"
#include "report/scrap_labels.h"

#include <QComboBox>
#include <QFileInfo>
#include <QLabel>
#include <QListWidget>
#include <QTableWidget>

namespace fortitor {
namespace {

class ProofTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    [[nodiscard]] Json piece(size_t index) { return session().document().json()["specimens"][index]; }
    LiveFrame& frame() { return window->frame(); }
};

TEST_F(ProofTest, PlanDrawsTheLoadsAndSaysThemInEveryUnit)
{
    openAt("J-0118", 0, Stage::Plan);
    const Plot& plot = find<PlotView>("loadsPicture")->plot();
    ASSERT_EQ(plot.series.size(), 2u); // by force rate, then by displacement
    QStringList levels;
    for (const PlotLimit& limit : plot.limits)
        levels << limit.words;
    EXPECT_TRUE(levels.contains("working load 7.85 kN · 800 kg")) << levels.join(" | ").toStdString();
    EXPECT_TRUE(levels.contains("proof load 15.7 kN · 1.60 t · 2.00 ×")) << levels.join(" | ").toStdString();
    EXPECT_EQ(levels.count("check"), 2);
    EXPECT_TRUE(find<QLabel>("loadsWords")->text().contains("all of them are scrap"));
    EXPECT_TRUE(find<QLabel>("loadsWords")->text().contains("Weakest of the load train: pins and yokes Y-45, 45.0 kN"))
        << find<QLabel>("loadsWords")->text().toStdString();
    session().apply(edits::option(session().document(), "fixture_limit", "60 kN"));
    settle();
    EXPECT_TRUE(find<QLabel>("loadsWords")->text().contains("is above it"));
    openAt("J-0101", 0, Stage::Plan);
    EXPECT_FALSE(window->findChild<QWidget*>("loadsView")->isVisible());
    EXPECT_FALSE(window->findChild<QWidget*>("rulesView")->isVisible());
}

TEST_F(ProofTest, RulesAreCitedFromTheBookAndTakenOut)
{
    openAt("J-0118", 0, Stage::Plan);
    EXPECT_EQ(session().job().rules.size(), 2u);
    EXPECT_TRUE(find<QLabel>("rulesWords")->text().contains("no law by itself"));
    click("ruleOut-1");
    EXPECT_EQ(session().job().rules.size(), 1u);
    EXPECT_EQ(session().specimenOutcome().outcome->rules.size(), 1u);
    session().undo();
    settle();
    EXPECT_EQ(session().job().rules.size(), 2u);
    const auto rules = readOwnRules(session().logbook());
    ASSERT_EQ(rules.size(), 3u);
    session().apply(edits::cite(session().document(), rules[2]));
    settle();
    EXPECT_EQ(session().specimenOutcome().outcome->rules.size(), 3u);
}

TEST_F(ProofTest, TheBookKeepsOnlyWhatCanBeCited)
{
    openAt("J-0118", 0, Stage::Plan);
    RulesDialog dialog(session(), window.get());
    dialog.show();
    auto* names = dialog.findChild<QListWidget*>("ruleNames");
    ASSERT_EQ(names->count(), 3);
    dialog.findChild<QPushButton*>("ruleNew")->click();
    const auto put = [&](const char* key, const char* text) { dialog.findChild<QLineEdit*>(key)->setText(text); };
    put("rule-name", "buoy rule");
    put("rule-break_factor_min", "4");
    dialog.findChild<QPushButton*>("ruleKeep")->click();
    auto* message = dialog.findChild<QLabel*>("ruleMessage");
    EXPECT_TRUE(message->text().contains("no source")) << message->text().toStdString();
    EXPECT_EQ(readOwnRules(session().logbook()).size(), 3u);
    put("rule-source", "board at the pier");
    put("rule-break_factor_min", "0.4");
    dialog.findChild<QPushButton*>("ruleKeep")->click();
    EXPECT_TRUE(message->text().contains("below 1"));
    put("rule-break_factor_min", "4");
    dialog.findChild<QPushButton*>("ruleKeep")->click();
    EXPECT_EQ(message->text(), "Kept.");
    EXPECT_EQ(readOwnRules(session().logbook()).size(), 4u);
    put("rule-name", "hoist rule"); // there is one of that name
    dialog.findChild<QPushButton*>("ruleKeep")->click();
    EXPECT_TRUE(message->text().contains("has this name"));
    dialog.findChild<QPushButton*>("ruleRemove")->click();
    EXPECT_EQ(readOwnRules(session().logbook()).size(), 3u);
}

TEST_F(ProofTest, TheForceOfAnArrestIsSaidAtOnce)
{
    openAt("J-0118", 0, Stage::Plan);
    ArrestDialog dialog(session(), window.get());
    dialog.show();
    const auto put = [&](const char* key, const char* text) { dialog.findChild<QLineEdit*>(key)->setText(text); };
    // The part of the test is offered as what stops.
    EXPECT_TRUE(dialog.findChild<QLineEdit*>("arrestStiffness")->text().endsWith("N/mm"));
    put("arrestMass", "850 kg");
    put("arrestSpeed", "1.2 m/s");
    put("arrestDistance", "20 mm");
    auto* peak = dialog.findChild<QLabel*>("arrestPeak");
    EXPECT_EQ(peak->text(), "Peak 61.2 kN · 6.24 t · 7.80 ×");
    EXPECT_TRUE(dialog.findChild<QLabel*>("arrestMean")->text().startsWith("Mean 30.6 kN"));
    dialog.findChild<QComboBox*>("arrestWay")->setCurrentIndex(1);
    EXPECT_TRUE(peak->text().startsWith("Peak 77.9 kN")) << peak->text().toStdString();
    put("arrestDistance", "twenty");
    EXPECT_TRUE(peak->text().endsWith("–"));
    EXPECT_TRUE(dialog.findChild<QLabel*>("arrestMessage")->text().contains("stopped within"));
}

TEST_F(ProofTest, TheFrameWaitsForTheCheckAndStopsAtTheFixture)
{
    openAt("J-0119", 5, Stage::SetUp); // the last strap, not loaded yet
    ASSERT_TRUE(frame().ready());
    session().apply(edits::option(session().document(), "hold", "4 s"));
    session().apply(edits::option(session().document(), "ramp", "6 s"));
    settle();
    openAt("J-0119", 5, Stage::SetUp);
    (void)frame().prepare();
    settle();
    frame().zeroForce();
    frame().closeTopGrip();
    frame().closeBottomGrip();
    frame().easeToZero();
    ASSERT_TRUE(until([&] { return frame().shows("grip-second"); }));
    frame().setGuard(true);
    settle();
    frame().setPace(20);
    session().setStage(static_cast<int>(Stage::Load));
    settle();
    ASSERT_TRUE(frame().holdBacks().isEmpty()) << frame().holdBacks().join("; ").toStdString();
    frame().start();
    settle();
    for (const char* note : {"function_1", "function_2"}) {
        ASSERT_TRUE(until([&] { return frame().state() == LiveFrame::State::Prompt; }, 60000))
            << note << " " << frame().status().words << " " << frame().status().endedWords;
        auto* panel = find<CheckPanel>("checkPanel");
        ASSERT_TRUE(panel);
        auto* free = find<QPushButton>("checkFree");
        EXPECT_FALSE(free->isEnabled()); // nothing is said yet
        QTest::keyClick(window.get(), Qt::Key_Return);
        EXPECT_EQ(frame().state(), LiveFrame::State::Prompt);
        click("checkGuard"); // hands reach in
        ASSERT_TRUE(until([&] { return !frame().shows("guard-closed"); }));
        EXPECT_EQ(frame().state(), LiveFrame::State::Prompt); // it waits, it is not stopped
        // Another piece is looked at meanwhile: what is found goes to the one that hangs in the frame.
        const Json looked = piece(2)["notes"];
        session().setCurrent(2);
        settle();
        press(Qt::Key_2);
        EXPECT_EQ(piece(2)["notes"], looked);
        EXPECT_EQ(piece(5)["notes"][note], "tool");
        EXPECT_TRUE(find<QLabel>("checkHead")->text().startsWith("T6, "));
        session().setCurrent(5);
        settle();
        press(Qt::Key_1);
        EXPECT_EQ(piece(5)["notes"][note], "free");
        auto* distance = find<QLineEdit>("checkDistance");
        distance->setFocus();
        type("21.4 mm");
        press(Qt::Key_Return);
        EXPECT_EQ(piece(5)["notes"][std::string(note) + "_distance"], "21.4 mm");
        EXPECT_EQ(frame().state(), LiveFrame::State::Prompt); // Enter in the field keeps it, and no more
        panel->enter();
        EXPECT_FALSE(free->isEnabled()); // the guard is open
        click("checkGuard");
        ASSERT_TRUE(until([&] { return frame().shows("guard-closed"); }));
        ASSERT_TRUE(until([&] { return free->isEnabled(); }));
        EXPECT_EQ(frame().state(), LiveFrame::State::Prompt);
        press(Qt::Key_Return);
        ASSERT_TRUE(until([&] { return frame().state() == LiveFrame::State::Running; }));
        EXPECT_TRUE(until([&] { return !panel->isVisible(); }));
    }
    ASSERT_TRUE(until([&] { return !frame().running(); }, 90000));
    settle();
    ASSERT_TRUE(session().hasRecord(5));
    const auto& outcome = session().specimenOutcome().outcome;
    ASSERT_TRUE(outcome);
    EXPECT_FALSE(outcome->remarked("cycles-count"));
    EXPECT_TRUE(outcome->find("F_max")->value);
}

TEST_F(ProofTest, ReadTellsChecksRulesAndLevels)
{
    openAt("J-0118", 0, Stage::Read);
    const auto& outcome = session().specimenOutcome().outcome;
    ASSERT_TRUE(outcome && outcome->curve());
    ASSERT_EQ(outcome->told.size(), 2u);
    EXPECT_EQ(outcome->told[0].heading, "between the loads");
    auto* told = find<QWidget>("toldPicture");
    EXPECT_TRUE(told->accessibleName().contains("after cycle 1: free by hand"));
    auto* plot = find<CurvePlot>("curvePlot");
    EXPECT_EQ(plot->plot().series.size(), 3u); // two cycles and the pull
    EXPECT_EQ(plot->plot().limits.size(), 3u);
    // The knee is put by hand, and goes back.
    ASSERT_NE(plot->handleOf("F_knee"), CurvePlot::Handle::None);
    const double before = *outcome->find("F_knee")->value;
    session().apply(edits::specimenOption(session().document(), 0, "knee_at", "2.0 mm", {}));
    settle();
    EXPECT_NE(*session().specimenOutcome().outcome->find("F_knee")->value, before);
    plot->setFocus();
    press(Qt::Key_R);
    EXPECT_EQ(*session().specimenOutcome().outcome->find("F_knee")->value, before);
}

TEST_F(ProofTest, WhatDidNotBreakIsAtLeastEverywhere)
{
    openAt("J-0118", 0, Stage::Judge);
    size_t bounds = 0;
    auto* table = find<QTableWidget>("setTable");
    for (size_t i = 0; i < session().outcome().specimens.size(); ++i) {
        const Result* most = session().outcome().specimens[i].outcome->find("F_max");
        ASSERT_TRUE(most->value);
        const bool bound = most->bound == Result::Bound::AtLeast;
        bounds += bound;
        bool shown = false;
        for (int c = 0; c < table->columnCount(); ++c)
            shown = shown || table->item(static_cast<int>(i), c)->text().startsWith("≥");
        EXPECT_EQ(shown, bound) << i;
    }
    EXPECT_GT(bounds, 0u);
    EXPECT_EQ(session().outcome().lots.size(), 2u); // marked and unmarked
    EXPECT_TRUE(find<QWidget>("toldPicture")->accessibleName().contains("marked, 2"));
    const QString verdict = find<QLabel>("verdict")->text();
    EXPECT_TRUE(verdict.contains("slipway rule")) << verdict.toStdString();
    EXPECT_NE(reportCsv(session().outcome()).find(">="), std::string::npos);
}

TEST_F(ProofTest, EveryLoadedPartHasALabelForScrap)
{
    openAt("J-0119", 0, Stage::Report);
    EXPECT_TRUE(find<QPushButton>("saveScrap")->isEnabled());
    const auto labels = scrapLabels(session().job(), session().outcome(), {});
    ASSERT_EQ(labels.size(), 5u); // the sixth waits
    EXPECT_EQ(labels[0].label, "T1");
    EXPECT_NE(labels[0].why.find("kN"), std::string::npos) << labels[0].why;
    const std::string path = s(folder.filePath("labels.pdf"));
    ASSERT_TRUE(writeScrapLabels(path, labels));
    EXPECT_GT(QFileInfo(q(path)).size(), 1000);
    EXPECT_FALSE(writeScrapLabels(path, {}));
    openAt("J-0101", 0, Stage::Report);
    EXPECT_FALSE(window->findChild<QPushButton*>("saveScrap")->isVisible());
}

TEST_F(ProofTest, MeasureDrawsThePartByItsKind)
{
    openAt("J-0118", 0, Stage::Measure);
    for (const char* field : {"pin", "bow", "eye", "eye_across", "pin_new", "bow_new"}) {
        auto* edit = find<QuantityField>(field);
        ASSERT_TRUE(edit) << field;
        EXPECT_LE(edit->geometry().right(), edit->parentWidget()->width()) << field;
    }
    const Drawing& drawing = session().job().method->drawing;
    EXPECT_EQ(drawing.formFor(session().specimen().input), "part-eye");
    session().apply(edits::note(session().document(), 0, "part", "shackle"));
    settle();
    EXPECT_EQ(drawing.formFor(session().specimen().input), "part-shackle");
}

} // namespace
} // namespace fortitor
