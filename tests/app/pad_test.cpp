// SPDX-License-Identifier: GPL-3.0-or-later
// The reading pad and the side copy, by keys alone.
#include "support.h"

#include "app/bench/load/pad_field.h"
#include "app/bench/load/pad_plot.h"
#include "app/bench/load/pad_sheet.h"
#include "app/bench/load/reading_pad.h"
#include "app/bench/read/result_card.h"
#include "app/bench/read/what_if_panel.h"
#include "app/bench/read/working_drawer.h"
#include "app/theme/units.h"
#include "jobs/edits.h"
#include "jobs/pad.h"

#include <QClipboard>
#include <QComboBox>
#include <QFile>
#include <QTableWidget>

#include <cmath>

namespace fortitor {
namespace {

class PadTest : public test::AppTest {
protected:
    void TearDown() override
    {
        Units::instance().setSystem(UnitSystem::SI);
        AppTest::TearDown();
    }
    /// A job of one method, its specimens measured, open on Load.
    void job(const char* method, const Json& sizes, int specimens = 2)
    {
        Json json = edits::newJob("J-0900", "readings by hand", *findMethod(method), specimens);
        json["material"]["name"] = std::string(method) == "flexure" ? "spruce" : "6082-T6";
        for (Json& s : json["specimens"])
            s["dimensions"] = sizes;
        auto id = book->addJob(json, "operator A", "taken in");
        ASSERT_TRUE(id);
        window->openJob(*id, 0, 3);
        QApplication::processEvents();
    }
    void battens()
    {
        job("flexure", {{"shape", "rectangular"}, {"width", "20.01 mm"}, {"depth", "19.98 mm"}, {"span", "300 mm"}});
    }
    PadTable table() { return padTable(session().document(), session().current()); }
    ReadingPad* pad() { return window->findChild<ReadingPad*>("readingPad"); }
    std::string cell(size_t channel, size_t row)
    {
        const PadTable t = table();
        return row < t.rows && t.cells[channel][row] ? *t.cells[channel][row] : "";
    }
    /// Keys a text and Enter; counts what was pressed.
    void enter(const QString& text)
    {
        type(text);
        press(Qt::Key_Return);
        keys += static_cast<int>(text.size()) + 1;
    }
    int keys = 0;
};

TEST_F(PadTest, ThirtyReadingsOfTwoChannelsWithoutTheMouseAndNoKeyWasted)
{
    battens();
    ASSERT_TRUE(find<PadField>("pad-force")->hasFocus()) << "the page opens where the work begins";
    int characters = 0;
    for (int i = 0; i < 30; ++i) {
        const QString force = QString::number(40 * i);
        const QString dial = QString::number(0.16 * i, 'f', 2);
        characters += static_cast<int>(force.size() + dial.size());
        enter(force);
        enter(dial);
    }
    EXPECT_EQ(keys, characters + 60) << "a key a character, Enter a reading";
    const PadTable t = table();
    ASSERT_EQ(t.rows, 30u);
    EXPECT_EQ(cell(0, 29), "1160 N");
    EXPECT_EQ(cell(1, 29), "4.64 mm");
    EXPECT_EQ(session().record(0)->rows(), 30u);
    EXPECT_NEAR(*session().specimenOutcome().outcome->find("MOE")->value,
                250 * std::pow(300.0, 3) / (4 * 20.01 * std::pow(19.98, 3)), 1);
}

TEST_F(PadTest, TheTargetInLightInkIsTakenByEnterAlone)
{
    battens();
    session().apply(edits::option(session().document(), "steps", "50 N x 5"));
    for (int i = 0; i < 5; ++i) {
        press(Qt::Key_Return); // as far as it says
        enter(QString::number(0.2 * i, 'f', 1));
    }
    EXPECT_EQ(table().values("force"), (std::vector<double>{0, 50, 100, 150, 200}));
    EXPECT_TRUE(find<QLabel>("padTarget")->text().contains("250"));
}

TEST_F(PadTest, MissedReadingsAreOneKeyAndUndoGoesBackToThem)
{
    battens();
    enter("0");
    enter("0");
    enter("100");
    press(Qt::Key_X);
    EXPECT_EQ(table().rows, 2u);
    EXPECT_EQ(cell(1, 1), "");
    enter("200");
    EXPECT_EQ(cell(0, 2), "200 N") << "X went on to the next step";
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(table().rows, 2u);
    EXPECT_TRUE(find<PadField>("pad-force")->hasFocus());
    enter("201");
    EXPECT_EQ(cell(0, 2), "201 N");
    // An empty field is no reading.
    press(Qt::Key_Return);
    EXPECT_TRUE(pad()->message().contains("X marks")) << pad()->message().toStdString();
    enter("rubbish");
    EXPECT_TRUE(pad()->message().contains("length")) << pad()->message().toStdString();
    EXPECT_EQ(cell(1, 2), "");
}

TEST_F(PadTest, FractionsTurnsSignsAndUnitsAreUnderstood)
{
    battens();
    enter("0");
    enter("0");
    enter("22.5 lbf");
    enter("42 div");
    enter("200");
    enter("0 rev + 84 div");
    enter("300");
    enter("1/20 in");
    EXPECT_EQ(cell(0, 1), "22.5 lbf");
    EXPECT_EQ(cell(1, 1), "0.42 mm");
    EXPECT_EQ(cell(1, 2), "0.84 mm");
    EXPECT_EQ(cell(1, 3), "1/20 in");
    // In inch and pound a bare number is one of those.
    Units::instance().setSystem(UnitSystem::InchPound);
    QApplication::processEvents();
    enter("90");
    press(Qt::Key_Return); // an off-line query may wait; a bare number first
    type("0.066");
    press(Qt::Key_Return);
    press(Qt::Key_Return);
    EXPECT_EQ(cell(0, 4), "90 lbf");
    EXPECT_EQ(cell(1, 4), "0.066 in");
}

TEST_F(PadTest, AReadingOffTheLineIsAskedAboutWhileItCanBeReadAgain)
{
    battens();
    for (int i = 0; i < 5; ++i) {
        enter(QString::number(100 * i));
        enter(QString::number(0.4 * i, 'f', 2));
    }
    enter("500");
    enter("20.0");
    EXPECT_TRUE(pad()->message().contains("ten")) << pad()->message().toStdString();
    EXPECT_EQ(cell(1, 5), "") << "asked first";
    EXPECT_TRUE(find<PadField>("pad-deflection")->hasFocus());
    enter("2.00"); // the text is chosen: typing replaces it
    EXPECT_EQ(cell(1, 5), "2.00 mm");
    EXPECT_EQ(pad()->message(), "");
    enter("600");
    enter("3.10");
    EXPECT_TRUE(pad()->message().contains("Enter again"));
    press(Qt::Key_Return);
    EXPECT_EQ(cell(1, 6), "3.10 mm") << "it was read so";
}

TEST_F(PadTest, TheLineStandsWithThreeReadingsAndEachOneTicks)
{
    battens();
    int ticks = 0;
    QObject::connect(pad(), &ReadingPad::ticked, pad(), [&] { ++ticks; });
    for (int i = 0; i < 3; ++i) {
        EXPECT_FALSE(find<PadPlot>("padPlot")->hasLine("force"));
        enter(QString::number(100 * i));
        enter(QString::number(0.4 * i, 'f', 2));
    }
    EXPECT_TRUE(find<PadPlot>("padPlot")->hasLine("force"));
    EXPECT_EQ(ticks, 6);
    EXPECT_TRUE(find<QLabel>("padResult")->text().contains("MOE"));
    click("padSound");
    EXPECT_EQ(find<QPushButton>("padSound")->text(), "tick off");
    click("padSound");
}

TEST_F(PadTest, ACorrectionLaterKeepsTheOldReadingAndTheReason)
{
    battens();
    for (int i = 0; i < 4; ++i) {
        enter(QString::number(100 * i));
        enter(QString::number(0.4 * i, 'f', 2));
    }
    auto* sheet = find<PadSheet>("padSheet");
    QTest::mouseClick(sheet, Qt::LeftButton, {}, sheet->cellAt(1, 2).center().toPoint());
    QApplication::processEvents();
    ASSERT_TRUE(find<PadField>("pad-deflection")->hasFocus());
    type("0.81");
    press(Qt::Key_Return);
    EXPECT_EQ(cell(1, 2), "0.80 mm") << "it waits for the reason";
    ASSERT_TRUE(find<QLineEdit>("padWhy")->hasFocus());
    press(Qt::Key_Return);
    EXPECT_EQ(cell(1, 2), "0.80 mm");
    type("misread");
    press(Qt::Key_Return);
    EXPECT_EQ(cell(1, 2), "0.81 mm");
    const Json& corrections = session().document().json()["specimens"][0]["corrections"];
    ASSERT_EQ(corrections.size(), 1u);
    EXPECT_EQ(corrections[0]["was"], "0.80 mm");
    EXPECT_EQ(corrections[0]["why"], "misread");
    // Up goes back through what was read, Down on.
    press(Qt::Key_Up);
    press(Qt::Key_Up);
    EXPECT_TRUE(find<PadField>("pad-deflection")->hasFocus() || find<PadField>("pad-force")->hasFocus());
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(cell(1, 2), "0.80 mm");
    EXPECT_FALSE(session().document().json()["specimens"][0].contains("corrections"));
}

TEST_F(PadTest, ATableIsPastedAndTakenBack)
{
    battens();
    QApplication::clipboard()->setText("Load\tDial\n0\t0\n100\t0.40\n200\tx\n300\t1.20\n");
    press(Qt::Key_V, Qt::ControlModifier);
    EXPECT_EQ(table().rows, 4u);
    EXPECT_TRUE(std::isnan(table().values("deflection")[2]));
    EXPECT_TRUE(pad()->message().contains("4 steps")) << pad()->message().toStdString();
    enter("400");
    EXPECT_EQ(cell(0, 4), "400 N") << "keys go on behind it";
    press(Qt::Key_Z, Qt::ControlModifier);
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(table().rows, 0u);
    QApplication::clipboard()->setText("0\t0\n100\tseven\n");
    click("padPaste");
    EXPECT_TRUE(pad()->message().contains("line 2")) << pad()->message().toStdString();
}

TEST_F(PadTest, ASheetIsTakenFromAFile)
{
    battens();
    const auto write = [&](const char* name, const QByteArray& text) {
        QFile file(folder.filePath(name));
        EXPECT_TRUE(file.open(QIODevice::WriteOnly));
        file.write(text);
        return file.fileName();
    };
    pad()->takeFile(write("sheet.csv", "Load (N);Dial (mm)\r\n0;0\r\n100;0,40\r\n200;0,80\r\n"));
    EXPECT_EQ(table().values("force"), (std::vector<double>{0, 100, 200}));
    EXPECT_NEAR(table().values("deflection")[1], 0.4, 1e-12);
    EXPECT_TRUE(pad()->message().contains("sheet.csv"));
    pad()->takeFile(write("wrong.csv", "0;0\n100;soon\n"));
    EXPECT_EQ(table().rows, 3u);
    EXPECT_TRUE(pad()->message().contains("line 2")) << pad()->message().toStdString();
    pad()->takeFile(folder.filePath("gone.csv"));
    EXPECT_TRUE(pad()->message().contains("can't be read")) << pad()->message().toStdString();
    pad()->takeFile(write("long.csv", QByteArray(5 << 20, '1')));
    EXPECT_TRUE(pad()->message().contains("too long")) << pad()->message().toStdString();
}

TEST_F(PadTest, InstrumentsAreReadByOneKeyToTheBreak)
{
    startWithDemo();
    for (const auto& [number, specimen, least] :
         {std::tuple{"J-0111", 3, 20}, std::tuple{"J-0110", 7, 8}, std::tuple{"J-0109", 2, 12}}) {
        window->openJob(jobCalled(number), specimen, 3);
        QApplication::processEvents();
        for (int i = 0; i < 60; ++i)
            press(Qt::Key_I);
        EXPECT_GE(table().rows, static_cast<size_t>(least)) << number;
        EXPECT_LT(table().rows, 60u) << number << ": it breaks, or the plan ends";
        const auto& outcome = session().specimenOutcome().outcome;
        ASSERT_TRUE(outcome) << number;
        const char* symbol = std::string(number) == "J-0111" ? "G" : std::string(number) == "J-0110" ? "MOE" : "nu";
        EXPECT_TRUE(outcome->find(symbol)->value) << number;
        EXPECT_GE(session().steps(static_cast<size_t>(specimen)), 2) << number;
    }
}

TEST_F(PadTest, SetUpOfATestByHandIsTickedByThePerson)
{
    startWithDemo();
    window->openJob(jobCalled("J-0111"), 3, 2);
    QApplication::processEvents();
    click("stepDone");
    const Json& specimen = session().document().json()["specimens"][3];
    EXPECT_TRUE(specimen.contains("done")) << specimen.dump();
    EXPECT_TRUE(find<QPushButton>("setupNext")->isEnabled());
    click("setupNext");
    EXPECT_EQ(session().stage(), 3);
    EXPECT_TRUE(pad()->isVisible());
}

TEST_F(PadTest, PoissonMayBeHeldByTheFrameInstead)
{
    startWithDemo();
    window->openJob(jobCalled("J-0109"), 2, 3);
    QApplication::processEvents();
    ASSERT_TRUE(pad()->isVisible());
    click("padFrame");
    EXPECT_FALSE(pad()->isVisible());
    EXPECT_TRUE(find<QPushButton>("loadStart"));
    click("loadByHand");
    EXPECT_TRUE(pad()->isVisible());
}

TEST_F(PadTest, WhatIfTheLimitWereAtAnotherReading)
{
    startWithDemo();
    window->openJob(jobCalled("J-0110"), 0, 4);
    QApplication::processEvents();
    const Json before = session().document().json();
    auto* limits = find<QTableWidget>("limitTable");
    ASSERT_GT(limits->rowCount(), 5);
    QTest::mouseClick(limits->viewport(), Qt::LeftButton, {}, limits->visualItemRect(limits->item(2, 0)).center());
    QApplication::processEvents();
    auto* panel = find<WhatIfPanel>("whatIf");
    ASSERT_TRUE(panel && panel->after());
    EXPECT_NE(*panel->after()->find("sigma_pl")->value, *session().specimenOutcome().outcome->find("sigma_pl")->value);
    EXPECT_TRUE(find<QLabel>("whatIfFigures")->text().contains("before"));
    EXPECT_EQ(session().document().json(), before) << "nothing changes until it is kept";
    press(Qt::Key_Escape);
    EXPECT_FALSE(panel->isVisible());
    EXPECT_EQ(session().document().json(), before);
    // By keys: a reading, then kept with a reason.
    window->bench().readPage()->setFocus();
    press(Qt::Key_W);
    ASSERT_TRUE(panel->isVisible());
    auto* what = find<QComboBox>("whatIfItem");
    what->setCurrentIndex(what->findText("dial, reading 4"));
    auto* value = find<QLineEdit>("whatIfValue");
    value->setFocus();
    value->selectAll();
    type("1.90");
    press(Qt::Key_Return);
    ASSERT_TRUE(panel->after());
    auto* reason = find<QLineEdit>("whatIfReason");
    reason->setFocus();
    press(Qt::Key_Return);
    EXPECT_EQ(session().document().json(), before) << "no reason, no change";
    type("read off by a turn");
    press(Qt::Key_Return);
    EXPECT_FALSE(panel->isVisible());
    const Json& specimen = session().document().json()["specimens"][0];
    EXPECT_EQ(specimen["readings"]["deflection"][3], "1.90 mm");
    EXPECT_EQ(specimen["corrections"][0]["why"], "read off by a turn");
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(session().document().json(), before);
}

TEST_F(PadTest, TorsionShowsTheStressAcrossTheSectionAndBothViews)
{
    startWithDemo();
    window->openJob(jobCalled("J-0111"), 0, 4);
    QApplication::processEvents();
    auto* read = window->bench().readPage();
    auto* picture = window->findChild<StressPicture*>("stressPicture");
    ASSERT_TRUE(picture);
    for (const char* symbol : {"tau_max", "tau_u", "tau_N"}) {
        read->chooseSymbol(symbol);
        EXPECT_TRUE(picture->isVisible()) << symbol;
        EXPECT_FALSE(picture->grab().isNull());
    }
    read->chooseSymbol("G");
    EXPECT_FALSE(picture->isVisible());
    auto* view = find<QComboBox>("curveView");
    EXPECT_EQ(view->itemText(1), "torque and twist");
    emit view->activated(1);
    EXPECT_FALSE(read->grab().isNull());
    EXPECT_TRUE(find<ResultCard>("card-G_twist"));
}

} // namespace
} // namespace fortitor
