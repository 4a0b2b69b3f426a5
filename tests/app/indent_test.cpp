// SPDX-License-Identifier: GPL-3.0-or-later
// Indents planned, made and read by keys and mouse.
#include "support.h"

#include "app/bench/indent/indent_list.h"
#include "app/bench/indent/indent_page.h"
#include "app/bench/indent/picture_panel.h"
#include "app/bench/indent/piece_map.h"
#include "app/widgets/plot_view.h"
#include "sim/indent_camera.h"
#include "vision/vision.h"

#include <QComboBox>
#include <QFile>
#include <QImage>
#include <QLabel>
#include <QTableWidget>
#include <QTemporaryDir>

namespace fortitor {
namespace {

class IndentTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    [[nodiscard]] const std::vector<SingleReading>& readings() { return session().specimenOutcome().outcome->readings; }
    void chooseScale(const char* name)
    {
        auto* scale = find<QComboBox>("pictureScale");
        scale->setCurrentIndex(scale->findText(name));
        emit scale->activated(scale->currentIndex());
    }
    void typeInto(const char* field, const char* text)
    {
        find<QLineEdit>(field)->setFocus();
        type(text);
    }
};

TEST_F(IndentTest, AnIndentIsTakenByKeysAloneAtItsPlannedPlace)
{
    openAt("J-0114", 2, Stage::Load); // P2, six of thirteen made
    ASSERT_EQ(readings().size(), 6u);
    EXPECT_TRUE(find<QLineEdit>("indent-diagonal_1")->hasFocus());
    type("54.6");
    EXPECT_NE(find<QLabel>("indentTried")->text().indexOf("622"), -1) << "from the first diagonal alone";
    EXPECT_TRUE(find<QLabel>("indentTriedWords")->text().contains("from the first alone"));
    press(Qt::Key_Return);
    type("53.9");
    EXPECT_NE(find<QLabel>("indentTried")->text().indexOf("630"), -1);
    press(Qt::Key_Return);
    settle();
    ASSERT_EQ(readings().size(), 7u);
    EXPECT_EQ(readings().back().notation, "630 HV 1");
    const Json& lists = session().document().json()["specimens"][2]["readings"];
    EXPECT_EQ(lists["diagonal_1"][6], "54.6 um");
    EXPECT_EQ(lists["from_surface"][6], "0.75 mm");
    EXPECT_TRUE(find<QLineEdit>("indent-diagonal_1")->hasFocus()) << "the next one can be typed at once";
    EXPECT_TRUE(find<QLineEdit>("indent-diagonal_1")->text().isEmpty());
    press(Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_EQ(readings().size(), 6u);
}

TEST_F(IndentTest, WhatIsDoubtedIsAskedOnceAndWhatIsWrongIsNotTaken)
{
    openAt("J-0114", 2, Stage::Load);
    type("nonsense");
    press(Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("indentMessage")->text().contains("nonsense"));
    QTest::keyClick(keyTarget(), Qt::Key_A, Qt::ControlModifier);
    type("58");
    press(Qt::Key_Return);
    press(Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("indentMessage")->text().contains("Nothing typed"));
    type("52");
    press(Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("indentMessage")->text().contains("differ by 10"));
    EXPECT_EQ(readings().size(), 6u);
    press(Qt::Key_Return);
    settle();
    ASSERT_EQ(readings().size(), 7u);
    EXPECT_EQ(readings().back().remarks.front().code, "indent-uneven");
}

TEST_F(IndentTest, TheOtherRingOfTheDialIsQueried)
{
    openAt("J-0112", 5, Stage::Load); // S4 in HRB, two read
    ASSERT_EQ(readings().size(), 2u);
    type("67.2");
    press(Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("indentMessage")->text().contains("other ring"))
        << find<QLabel>("indentMessage")->text().toStdString();
    EXPECT_EQ(readings().size(), 2u);
    QTest::keyClick(keyTarget(), Qt::Key_A, Qt::ControlModifier);
    type("97.2");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(readings().size(), 3u);
    EXPECT_EQ(readings().back().notation, "97.2 HRBW");
}

TEST_F(IndentTest, TheNextPieceCanBeTypedAtOnceAndWhatIsHalfTypedWaits)
{
    openAt("J-0113", 5, Stage::Load); // C5, one of three made
    type("2.0");
    press(Qt::Key_Right, Qt::ControlModifier);
    settle();
    EXPECT_TRUE(find<QLineEdit>("indent-diameter_1")->hasFocus());
    EXPECT_TRUE(find<QLineEdit>("indent-diameter_1")->text().isEmpty());
    type("2.11");
    press(Qt::Key_Return);
    type("2.12");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(readings().size(), 1u);
    EXPECT_EQ(session().document().json()["specimens"][6]["readings"]["diameter_2"][0], "2.12 mm");
    press(Qt::Key_Left, Qt::ControlModifier);
    settle();
    EXPECT_EQ(find<QLineEdit>("indent-diameter_1")->text(), "2.0");
    EXPECT_EQ(readings().size(), 1u) << "of C5, as before";
}

TEST_F(IndentTest, APieceOnAScaleOfItsOwnIsKeyedOnIt)
{
    openAt("J-0112", 4, Stage::Load); // S3c, on the cone while the others are read with the ball
    ASSERT_EQ(readings().size(), 7u);
    EXPECT_TRUE(find<QLabel>("indentMean")->text().contains("of 5")) << "two seat the indenter";
    type("24.3");
    press(Qt::Key_Return);
    settle();
    ASSERT_EQ(readings().size(), 8u);
    EXPECT_EQ(readings().back().notation, "24.3 HRC");
    EXPECT_EQ(session().document().json()["specimens"][4]["readings"]["value"][7], "24.3 HRC");
}

TEST_F(IndentTest, AReadingSetAsideKeepsItsReasonAndItsPlace)
{
    openAt("J-0113", 1, Stage::Load);
    ASSERT_EQ(readings().size(), 3u);
    auto* list = find<IndentList>("indentList");
    QTest::mouseClick(list, Qt::LeftButton, {}, list->spotOf(1).toPoint());
    click("indentAside");
    type("cracked");
    press(Qt::Key_Return);
    settle();
    EXPECT_TRUE(readings()[1].setAside);
    const Json& piece = session().document().json()["specimens"][1];
    EXPECT_EQ(piece["readings"]["diameter_1"][1], nullptr);
    EXPECT_EQ(piece["readings"]["x"][1], "0 mm");
    ASSERT_EQ(piece["corrections"].size(), 2u);
    EXPECT_EQ(piece["corrections"][0]["why"], "cracked");
    EXPECT_TRUE(piece["corrections"][0]["was"].is_string());
}

TEST_F(IndentTest, TheSimulatedTesterAnswersToOneKey)
{
    openAt("J-0114", 4, Stage::Load); // P4, nothing read yet
    ASSERT_TRUE(readings().empty());
    for (int i = 0; i < 13; ++i)
        press(Qt::Key_I);
    settle();
    ASSERT_EQ(readings().size(), 13u);
    const Outcome& outcome = *session().specimenOutcome().outcome;
    ASSERT_TRUE(outcome.find("CHD")->value) << "the case is crossed";
    EXPECT_NEAR(*outcome.find("CHD")->value, 0.8, 0.25);
    EXPECT_TRUE(find<PlotView>("indentProfile"));
}

TEST_F(IndentTest, PlacesArePlannedAndRefusedBeforeAnythingIsMade)
{
    openAt("J-0114", 4, Stage::Measure);
    auto* map = find<PieceMap>("pieceMap");
    const auto planned = [&] { return session().specimen().input.places.size(); };
    ASSERT_EQ(planned(), 13u);
    const auto& standing = session().specimen().input.places;
    QTest::mouseClick(map, Qt::LeftButton, {}, (map->spotOf(standing[0].x, standing[0].y) + QPointF(11, 0)).toPoint());
    QApplication::processEvents();
    EXPECT_TRUE(find<QLabel>("pieceMessage")->text().contains("from planned place 1"))
        << find<QLabel>("pieceMessage")->text().toStdString();
    EXPECT_EQ(planned(), 13u);
    QTest::mouseClick(map, Qt::LeftButton, {}, map->spotOf(standing[12].x, standing[12].y).toPoint());
    settle();
    EXPECT_EQ(planned(), 12u) << "a click on a planned place takes it out";
    press(Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_EQ(planned(), 13u);
    click("planClear");
    EXPECT_EQ(planned(), 0u);
    typeInto("planFirst", "0.02");
    click("planTraverse");
    EXPECT_TRUE(find<QLabel>("pieceMessage")->text().contains("from the edge"));
    find<QLineEdit>("planFirst")->setFocus();
    find<QLineEdit>("planFirst")->selectAll();
    type("0.2");
    typeInto("planStep", "0.05");
    typeInto("planCount", "9");
    press(Qt::Key_Return);
    settle();
    ASSERT_EQ(planned(), 9u);
    const auto desk = deskOf(session().specimen().input);
    ASSERT_TRUE(desk);
    for (size_t i = 0; i < 9; ++i)
        EXPECT_EQ(refusedAt(*desk, desk->places[i], i), "") << "in so many rows that they keep their distance";
    EXPECT_NEAR(*desk->places[8].depth, 0.6, 1e-9);
}

TEST_F(IndentTest, AScaleIsTakenFromThoseThatWillDo)
{
    openAt("J-0114", 4, Stage::Plan);
    auto* table = find<QTableWidget>("proposalTable");
    ASSERT_GT(table->rowCount(), 8);
    QString first = table->item(0, 0)->text();
    bool away = false;
    for (int r = 0; r < table->rowCount(); ++r)
        away = away || table->item(r, 2)->text().contains("through the layer");
    EXPECT_TRUE(away);
    int wanted = -1;
    for (int r = 0; r < table->rowCount(); ++r)
        if (table->item(r, 0)->text().trimmed() == "HV 0.5")
            wanted = r;
    ASSERT_GE(wanted, 0) << first.toStdString();
    table->setCurrentCell(wanted, 0);
    table->setFocus();
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(session().job().specimens[4].input.options.at("force"), "0.5 kgf");
    EXPECT_EQ(session().document().json()["options"]["scale"], "HV");
}

/// A file with an indent, as a camera would leave it.
QString shotFile(const QTemporaryDir& folder, const char* name, double first, double second, double pixel,
                 std::uint64_t seed)
{
    const GreyPicture shot = takeShot(
        {.shape = IndentShape::Square, .first = first, .second = second, .pixel = pixel, .angle = 0.3, .seed = seed});
    const QString file = folder.filePath(name);
    EXPECT_TRUE(QImage(shot.pixels.data(), shot.width, shot.height, shot.width, QImage::Format_Grayscale8).save(file));
    return file;
}

TEST_F(IndentTest, AnIndentIsReadFromItsPictureAndThePictureStaysWithIt)
{
    QTemporaryDir shots;
    const double pixel = 0.1736e-3;
    const QString file = shotFile(shots, "pin-07.png", 0.0546, 0.0539, pixel, 3);
    shotFile(shots, "pin-08.png", 0.0551, 0.0549, pixel, 4);
    openAt("J-0114", 2, Stage::Load); // P2, six made
    auto* page = find<IndentPage>("indentPage");
    auto* panel = find<IndentPage>("indentPage")->findChild<PicturePanel*>();
    page->openPicture(file);
    ASSERT_TRUE(until([&] { return !panel->busy(); }, 10000));
    EXPECT_FALSE(panel->ready()) << "a scale that nobody chose would be a wrong number";
    chooseScale("40×");
    ASSERT_TRUE(panel->ready()) << find<QLabel>("pictureCaption")->text().toStdString();
    EXPECT_NEAR(find<QLineEdit>("indent-diagonal_1")->text().toDouble(), 54.6, 0.4);
    EXPECT_NEAR(find<QLineEdit>("indent-diagonal_2")->text().toDouble(), 53.9, 0.4);
    EXPECT_TRUE(find<QLineEdit>("indent-diagonal_1")->isReadOnly());
    EXPECT_TRUE(find<QLabel>("pictureDoubts")->text().contains("corner positions"));
    // A nudge of ten pixels outwards makes it longer, and softer; the ends as found stay beside it.
    const double before = panel->reading()->lengths[0].base;
    panel->view()->setFocus();
    const auto seen = (*vision())->decode(*pictureBytes(file.toStdString()), "again");
    ASSERT_TRUE(seen);
    const bool left = markedBy(*(*vision())->find(*seen, IndentShape::Square)).ends[0].x < 320;
    press(Qt::Key_1);
    for (int i = 0; i < 10; ++i)
        press(left ? Qt::Key_Left : Qt::Key_Right);
    const double after = panel->reading()->lengths[0].base;
    EXPECT_NEAR(after - before, 10 * pixel * std::cos(0.3), 0.25 * pixel);
    press(Qt::Key_Return);
    ASSERT_TRUE(until([&] { return readings().size() == 7; }, 10000));
    settle();
    const Json& piece = session().document().json()["specimens"][2];
    const Json& picture = piece["pictures"].back();
    EXPECT_EQ(picture["reading"], 7);
    EXPECT_EQ(picture["file"], "pin-07.png");
    EXPECT_NE(picture["found"], picture["placed"]);
    QFile original(file);
    ASSERT_TRUE(original.open(QIODevice::ReadOnly));
    const auto kept = session().logbook().loadPicture(QString::fromStdString(picture["picture_sha256"]));
    ASSERT_TRUE(kept) << kept.problem().text();
    EXPECT_EQ(*kept, original.readAll());
    EXPECT_TRUE(session().logbook().check().empty());
    // The next one of the folder has come by itself.
    ASSERT_TRUE(until([&] { return panel->ready(); }, 10000));
    EXPECT_EQ(panel->fileName(), "pin-08.png");
    EXPECT_NEAR(find<QLineEdit>("indent-diagonal_1")->text().toDouble(), 55.1, 0.4);
    press(Qt::Key_Return);
    ASSERT_TRUE(until([&] { return readings().size() == 8; }, 10000));
    settle();
    EXPECT_TRUE(find<QLabel>("indentMessage")->text().contains("last picture"));
    press(Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_EQ(session().document().json()["specimens"][2]["pictures"].size(), 7u) << "it goes with its reading";
}

TEST_F(IndentTest, APictureWithoutAnIndentGivesNoNumberUntilItsEndsArePlaced)
{
    QTemporaryDir shots;
    openAt("J-0114", 2, Stage::Load);
    auto* page = find<IndentPage>("indentPage");
    auto* panel = find<IndentPage>("indentPage")->findChild<PicturePanel*>();
    QFile broken(shots.filePath("broken.png"));
    ASSERT_TRUE(broken.open(QIODevice::WriteOnly));
    broken.write("\x89PNG\r\n\x1a\n cut");
    broken.close();
    page->openPicture(broken.fileName());
    ASSERT_TRUE(until([&] { return !panel->busy(); }, 10000));
    EXPECT_FALSE(panel->ready());
    EXPECT_TRUE(find<QLabel>("pictureCaption")->text().contains("broken.png"));
    press(Qt::Key_Return);
    EXPECT_EQ(readings().size(), 6u);
    QImage plain(640, 480, QImage::Format_Grayscale8);
    plain.fill(140);
    ASSERT_TRUE(plain.save(shots.filePath("plain.png")));
    page->openPicture(shots.filePath("plain.png"));
    ASSERT_TRUE(until([&] { return !panel->busy(); }, 10000));
    EXPECT_FALSE(panel->ready()) << "nothing is taken from a place that nobody has looked at";
    click("pictureFind");
    EXPECT_FALSE(panel->ready());
    chooseScale("40×");
    EXPECT_FALSE(panel->ready()) << "no end has been put in its place";
    panel->view()->setFocus();
    for (const auto key : {Qt::Key_1, Qt::Key_2, Qt::Key_3}) {
        press(key);
        press(Qt::Key_Left);
        EXPECT_FALSE(panel->ready());
    }
    press(Qt::Key_4);
    press(Qt::Key_Left);
    EXPECT_TRUE(panel->ready());
    click("picturePlaces");
    EXPECT_FALSE(find<QLineEdit>("indent-diagonal_1")->isReadOnly());
    EXPECT_TRUE(find<QLineEdit>("indent-diagonal_1")->text().isEmpty());
}

TEST_F(IndentTest, TwoClicksOnABarGiveTheScale)
{
    QTemporaryDir shots;
    const QString file = shotFile(shots, "bar.png", 0.0546, 0.0546, 0.1736e-3, 5);
    openAt("J-0114", 2, Stage::Load);
    auto* panel = find<IndentPage>("indentPage")->findChild<PicturePanel*>();
    find<IndentPage>("indentPage")->openPicture(file);
    ASSERT_TRUE(until([&] { return !panel->busy(); }, 10000));
    chooseScale("two clicks on a scale bar");
    EXPECT_FALSE(panel->ready()) << "no number without a scale";
    for (const double x : {100.0, 388.0})
        QTest::mouseClick(panel->view(), Qt::LeftButton, {}, panel->view()->onScreen({x, 400}).toPoint());
    typeInto("pictureLength", "50");
    ASSERT_TRUE(panel->ready());
    EXPECT_NEAR(panel->scale().side, 0.05 / 288, 0.01 * 0.05 / 288);
    EXPECT_GT(panel->scale().doubt, 0);
}

TEST_F(IndentTest, ReadShowsTheProfileAndItsFigures)
{
    openAt("J-0114", 1, Stage::Read);
    auto* views = find<PlotView>("readViews");
    ASSERT_TRUE(views);
    EXPECT_GE(views->plot().series.size(), 3u) << "readings, the line between them, and the limit";
    EXPECT_TRUE(find<QWidget>("card-CHD"));
    EXPECT_TRUE(find<QWidget>("working"));
}

} // namespace
} // namespace fortitor
