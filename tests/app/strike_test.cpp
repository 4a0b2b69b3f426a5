// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces struck by keys; the transition on Judge, and what to strike next.
#include "support.h"

#include "app/bench/strike/look_row.h"
#include "app/widgets/plot_view.h"
#include "jobs/edits.h"
#include "methods/impact/impact.h"

#include <QComboBox>
#include <QDateTime>
#include <QLabel>
#include <QTimer>

namespace fortitor {
namespace {

class StrikeTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    [[nodiscard]] Json piece(size_t index) { return session().document().json()["specimens"][index]; }
};

TEST_F(StrikeTest, APieceIsKeptInUnderTenKeys)
{
    openAt("J-0116", 16, Stage::Load); // K17, not struck yet
    ASSERT_TRUE(find<QLineEdit>("strikeEnergy")->hasFocus());
    EXPECT_TRUE(find<QLabel>("strikeCaution")->text().contains("Nobody in the swing?"));
    press(Qt::Key_Space); // out of the bath
    QTest::qWait(300);
    EXPECT_TRUE(find<QLabel>("strikeClock")->text().contains("s of 5"));
    type("31.5");
    EXPECT_TRUE(find<QLabel>("strikeResult")->text().contains("KV2 = 31.5 J"))
        << find<QLabel>("strikeResult")->text().toStdString();
    press(Qt::Key_Return);
    EXPECT_EQ(piece(16)["readings"]["energy"][0], "31.5 J");
    ASSERT_TRUE(piece(16)["notes"].contains("bath_to_blow"));
    EXPECT_TRUE(find<LookRow>("look-break")->hasFocus());
    press(Qt::Key_1);
    press(Qt::Key_2);
    EXPECT_EQ(piece(16)["notes"]["break"], "complete");
    EXPECT_EQ(piece(16)["notes"]["look"], "mixed");
    // Space, four of the number, Enter, two looks: eight keys. Without its temperature it stands for nothing.
    EXPECT_TRUE(session().specimenOutcome().outcome->remarked("temperature-missing"));
    find<QLineEdit>("note-temperature")->setFocus();
    type("-32 °C");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(piece(16)["notes"]["temperature"], "-32 °C");
    EXPECT_FALSE(session().specimenOutcome().outcome->remarked("temperature-missing"));
    EXPECT_NEAR(*session().specimenOutcome().outcome->find("K")->value, 31.5, 1e-9);
}

TEST_F(StrikeTest, WhatIsHalfTypedWaitsForItsPieceAndWrongOnesAreToldAtOnce)
{
    openAt("J-0116", 16, Stage::Load);
    type("31");
    session().setCurrent(17);
    settle();
    EXPECT_TRUE(find<QLineEdit>("strikeEnergy")->text().isEmpty());
    type("320");
    EXPECT_TRUE(find<QLabel>("strikeResult")->text().contains("it has no more than that"));
    press(Qt::Key_Return);
    EXPECT_FALSE(piece(17).contains("readings"));
    EXPECT_TRUE(find<QLabel>("strikeMessage")->text().contains("320"));
    session().setCurrent(16);
    settle();
    EXPECT_EQ(find<QLineEdit>("strikeEnergy")->text(), "31");
}

TEST_F(StrikeTest, AReadingThatStandsIsReplacedOnlyWhenAskedTwice)
{
    openAt("J-0116", 0, Stage::Load);
    const Json before = piece(0)["readings"];
    type("31.5");
    press(Qt::Key_Return);
    EXPECT_EQ(piece(0)["readings"], before);
    EXPECT_TRUE(find<QLabel>("strikeMessage")->text().contains("struck already"));
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(piece(0)["readings"]["energy"][0], "31.5 J");
}

TEST_F(StrikeTest, TheSimulatedPendulumAsksForATemperature)
{
    openAt("J-0116", 16, Stage::Load);
    press(Qt::Key_I);
    EXPECT_FALSE(piece(16).contains("readings"));
    EXPECT_TRUE(find<QLabel>("strikeMessage")->text().contains("temperature"));
    find<QLineEdit>("note-temperature")->setFocus();
    type("-40 °C");
    press(Qt::Key_Return);
    settle();
    find<QLineEdit>("strikeEnergy")->setFocus();
    press(Qt::Key_I);
    settle();
    ASSERT_TRUE(piece(16).contains("readings"));
    EXPECT_TRUE(session().specimenOutcome().outcome->find("K")->value);
    press(Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_FALSE(piece(16).contains("readings"));
}

TEST_F(StrikeTest, JudgeShowsTheCurveAndPlansThePiecesThatAreLeft)
{
    openAt("J-0116", 0, Stage::Judge);
    const auto& set = session().outcome().set;
    ASSERT_TRUE(set);
    ASSERT_TRUE(set->find("T_27J")->value);
    EXPECT_TRUE(find<PlotView>("setPlot")->isVisible());
    ASSERT_TRUE(set->next);
    const std::string value = set->next->value;
    EXPECT_TRUE(find<QLabel>("setNextWords")->text().startsWith("2 pieces are left."));
    click("setNextAct");
    settle();
    EXPECT_EQ(piece(16)["notes"]["temperature"], value);
    EXPECT_EQ(piece(17)["notes"]["temperature"], value);
    press(Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_FALSE(piece(16)["notes"].contains("temperature"));
}

TEST_F(StrikeTest, PlasticsAreJudgedByTemperatureAndKindOfBreak)
{
    openAt("J-0115", 0, Stage::Judge);
    const auto& outcome = session().outcome();
    EXPECT_TRUE(outcome.batch.empty()) << "no mean over three temperatures";
    ASSERT_GE(outcome.lots.size(), 3u);
    EXPECT_EQ(outcome.lots.front().name, "-30 °C, complete");
    openAt("J-0115", 0, Stage::Plan);
    auto* geometry = find<QComboBox>("option-geometry");
    EXPECT_FALSE(geometry->itemIcon(0).isNull());
}

TEST_F(StrikeTest, TheShearShareComesFromTheSidesOfThePatch)
{
    openAt("J-0116", 16, Stage::Load);
    const Json sizes = piece(16)["dimensions"];
    const double face = parseQuantity(sizes["width"].get<std::string>(), Kind::Length)->base
        * parseQuantity(sizes["ligament"].get<std::string>(), Kind::Length)->base;
    QTimer::singleShot(200, [&] {
        auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget());
        ASSERT_TRUE(dialog);
        EXPECT_FALSE(dialog->findChild<QPushButton*>("patchTake")->isEnabled());
        dialog->findChild<QLineEdit*>("patchWidth")->setText("6");
        dialog->findChild<QLineEdit*>("patchHeight")->setText("40"); // more than there is
        EXPECT_FALSE(dialog->findChild<QPushButton*>("patchTake")->isEnabled());
        dialog->findChild<QLineEdit*>("patchHeight")->setText("4");
        dialog->findChild<QPushButton*>("patchTake")->click();
    });
    find<QPushButton>("strikePatch")->click();
    settle();
    const std::string noted = piece(16)["notes"]["shear_fraction"];
    EXPECT_NEAR(std::stod(noted), 100 * (1 - 24 / face), 0.51) << noted;
}

TEST_F(StrikeTest, TheBathCountsDownForEachPiece)
{
    openAt("J-0116", 16, Stage::Load);
    EXPECT_TRUE(find<QLabel>("strikeBathClock")->text().contains("5 min at least"));
    find<QPushButton>("strikeIntoBath")->click();
    settle();
    EXPECT_TRUE(find<QLabel>("strikeBathClock")->text().contains("still to stay"))
        << find<QLabel>("strikeBathClock")->text().toStdString();
    session().setCurrent(17); // the next has a bath of its own
    settle();
    EXPECT_TRUE(find<QLabel>("strikeBathClock")->text().contains("5 min at least"));
    // Six minutes ago: it is ready, and the blow keeps how long it stayed.
    session().apply(edits::note(session().document(), 17, impactKeys::bathIn,
                                QDateTime::currentDateTime().addSecs(-366).toString(Qt::ISODate).toStdString()));
    settle();
    EXPECT_TRUE(find<QLabel>("strikeBathClock")->text().contains("ready"));
    find<QLineEdit>("strikeEnergy")->setFocus();
    type("40");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(piece(17)["notes"][impactKeys::bathTime], "6.1 min");
}

} // namespace
} // namespace fortitor
