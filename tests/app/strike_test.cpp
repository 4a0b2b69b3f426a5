// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces struck by keys; the transition on Judge, and what to strike next.
#include "support.h"

#include "app/bench/photos.h"
#include "app/bench/plan/spread_view.h"
#include "app/bench/strike/look_row.h"
#include "app/widgets/plot_view.h"
#include "jobs/edits.h"
#include "methods/impact/impact.h"

#include <QComboBox>
#include <QDateTime>
#include <QLabel>
#include <QTableWidget>
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
    EXPECT_TRUE(until([&] { return find<QLabel>("strikeClock")->text().contains("s of 5"); }));
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

TEST_F(StrikeTest, TheSimulatedPendulumIsWorkedStepByStep)
{
    openAt("J-0116", 16, Stage::Load);
    const auto step = [&](const QString& words) {
        auto* next = find<QPushButton>("strikeRelease");
        EXPECT_TRUE(until([&] { return next->text() == words; }))
            << next->text().toStdString() << " for " << words.toStdString();
        find<QLineEdit>("strikeEnergy")->setFocus();
        press(Qt::Key_I);
    };
    step("Simulated pendulum");
    window->frame().client().command("pace", {{"speed", 20}});
    step("Raise and lock");
    step("Piece in, pointer set");
    EXPECT_TRUE(find<QLabel>("strikeMessage")->text().contains("temperature"));
    find<QLineEdit>("note-temperature")->setFocus();
    type("-40 °C");
    press(Qt::Key_Return);
    settle();
    step("Piece in, pointer set");
    EXPECT_TRUE(until([&] { return find<QLabel>("pendulumWords")->text().contains("guard open"); }));
    step("Close the guard");
    step("Release");
    step("Brake");
    ASSERT_TRUE(until([&] { return piece(16).contains("readings"); }, 8000))
        << find<QLabel>("strikeMessage")->text().toStdString() << find<QLabel>("pendulumWords")->text().toStdString();
    settle();
    EXPECT_TRUE(session().specimenOutcome().outcome->find("K")->value);
    EXPECT_TRUE(piece(16)["notes"].contains("look"));
    press(Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_FALSE(piece(16).contains("readings"));
}

TEST_F(StrikeTest, ThePlannedTemperatureIsTakenOnlyWhenAskedTwice)
{
    openAt("J-0116", 16, Stage::Plan);
    auto* spread = find<QLineEdit>("spreadText");
    const QString before = spread->text();
    EXPECT_TRUE(before.startsWith("-60: 3; -40: 3")) << before.toStdString();
    EXPECT_TRUE(find<QLabel>("spreadWords")->text().contains("2 without a plan"));
    spread->setFocus();
    spread->setText({});
    type(before + "; -25: 3");
    press(Qt::Key_Return);
    ASSERT_EQ(session().job().specimens.size(), 19u); // one is wanting
    EXPECT_EQ(piece(16)["notes"]["planned_temperature"], "-25 °C");
    EXPECT_EQ(piece(18)["label"], "K19");
    auto* picture = find<SpreadPicture>("spreadPicture");
    QTest::mouseClick(picture, Qt::LeftButton, Qt::ShiftModifier, picture->spotOf(-25).toPoint() - QPoint(0, 20));
    settle();
    EXPECT_FALSE(piece(18)["notes"].contains("planned_temperature")); // it stays, without a plan
    spread->setFocus();
    spread->setText({});
    type("-60: 1");
    press(Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("spreadMessage")->text().contains("3 or more"));
    press(Qt::Key_Escape);
    openAt("J-0116", 16, Stage::Load);
    EXPECT_TRUE(find<QLabel>("strikeTitle")->text().contains("planned at -25 °C"));
    find<QLineEdit>("strikeEnergy")->setFocus();
    type("31.5");
    press(Qt::Key_Return);
    EXPECT_FALSE(piece(16).contains("readings"));
    EXPECT_TRUE(find<QLabel>("strikeMessage")->text().contains("as planned"));
    press(Qt::Key_Return);
    EXPECT_EQ(piece(16)["notes"]["temperature"], "-25 °C");
    EXPECT_EQ(piece(16)["readings"]["energy"][0], "31.5 J");
}

TEST_F(StrikeTest, APendulumIsProposedAndTakenByAKey)
{
    openAt("J-0116", 0, Stage::Plan);
    auto* expected = find<QLineEdit>("option-expected");
    EXPECT_EQ(expected->text(), "5 J; 110 J");
    expected->setFocus();
    expected->setText({});
    type("4 J; 115 J");
    press(Qt::Key_Return);
    settle();
    auto* table = find<QTableWidget>("proposalTable");
    ASSERT_EQ(table->rowCount(), 6);
    EXPECT_TRUE(table->item(0, 0)->text().contains("300 J"));
    table->setFocus();
    table->setCurrentCell(1, 0);
    press(Qt::Key_Return);
    EXPECT_EQ(session().document().json()["options"]["pendulum"], "150 J");
}

TEST_F(StrikeTest, TheFreeSwingIsKeptOnceADayAndRemindedOf)
{
    openAt("J-0116", 16, Stage::Load);
    EXPECT_TRUE(find<QPushButton>("strikeReminder")->text().contains("No free swing today"));
    click("strikeReminder");
    auto* value = find<QLineEdit>("dailyValue");
    EXPECT_TRUE(find<QLabel>("dailyWords")->text().contains("No free swing today"));
    value->setFocus();
    type("-1");
    press(Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("dailyMessage")->isVisible());
    value->setText({});
    type("0.8");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(session().document().json()["options"]["loss"], "0.8 J");
    EXPECT_EQ(session().document().json()["daily"].back()["value"], "0.8 J");
    EXPECT_FALSE(find<QLabel>("dailyWords")->text().contains("No free swing today"));
    openAt("J-0116", 16, Stage::Load);
    EXPECT_FALSE(window->findChild<QPushButton*>("strikeReminder")->isVisible());
}

TEST_F(StrikeTest, APhotographIsJoinedToThePieceAndKeptByItsHash)
{
    openAt("J-0116", 0, Stage::Load);
    QImage image(300, 200, QImage::Format_RGB32);
    image.fill(Qt::darkGray);
    const QString path = folder.filePath("half.png"), text = folder.filePath("half.txt");
    ASSERT_TRUE(image.save(path));
    QFile other(text);
    ASSERT_TRUE(other.open(QIODevice::WriteOnly));
    other.write("no picture");
    other.close();
    auto* photos = find<PhotoRow>("photos");
    photos->takeIn({path, text});
    settle();
    ASSERT_EQ(piece(0)["pictures"].size(), 1u);
    const std::string sha = piece(0)["pictures"][0]["picture_sha256"];
    EXPECT_EQ(piece(0)["pictures"][0]["file"], "half.png");
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_EQ(*book->loadPicture(QString::fromStdString(sha)), file.readAll());
    EXPECT_TRUE(find<QLabel>("strikeMessage")->text().contains("half.txt is no picture"));
    const QImage shown =
        find<QPushButton>("photo-" + QString::fromStdString(sha).left(8))->icon().pixmap(40, 40).toImage();
    EXPECT_EQ(shown.pixelColor(shown.rect().center()), QColor(Qt::darkGray)); // the photograph, no blank
    EXPECT_EQ(session().specimen().pictures.front().reading, 0u);
    EXPECT_TRUE(book->check().empty());
    photos->takeIn({path});
    settle();
    EXPECT_EQ(piece(0)["pictures"].size(), 1u); // once is enough
    press(Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_FALSE(piece(0).contains("pictures"));
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
