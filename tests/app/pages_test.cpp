// SPDX-License-Identifier: GPL-3.0-or-later
// Plan, Set up, Report, Measure after the break, keys and help: what the other tests do not reach.
#include "app/bench/measure/note_picker.h"
#include "support.h"

#include "app/bench/margin.h"
#include "app/bench/measure/measure_page.h"
#include "app/bench/ribbon.h"
#include "app/shell/finder.h"
#include "app/widgets/basics.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QTimer>

namespace fortitor {
namespace {

class PagesTest : public test::AppTest {
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
};

TEST_F(PagesTest, PlanWorksOutLoadRateAndTime)
{
    openRigger(0, 0);
    const QString words = find<QLabel>("forecast")->text();
    EXPECT_TRUE(words.contains("25.3 kN")) << words.toStdString(); // 320 MPa on 79.12 mm²
    EXPECT_TRUE(words.contains("0.90 mm/min"));
    EXPECT_TRUE(words.contains("0.00025 /s"));
    session().setCurrent(4);
    EXPECT_TRUE(find<QLabel>("forecast")->text().contains("not measured"));
}

TEST_F(PagesTest, ALimitStaysShownAndKeptWhenTheLotIsAskedToo)
{
    openRigger(0, 0);
    const QString before = find<QLineEdit>("min-Rm")->text();
    ASSERT_FALSE(before.isEmpty());
    click("lot-Rm");
    EXPECT_EQ(find<QLineEdit>("min-Rm")->text(), before);
    auto* most = find<QLineEdit>("max-Rm");
    most->setFocus();
    type("900 MPa");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(session().job().requirements[0].max, 900);
    EXPECT_TRUE(session().job().requirements[0].min) << "lost by what was typed beside it";
    EXPECT_EQ(find<QLineEdit>("min-Rm")->text(), before);
}

TEST_F(PagesTest, RequirementsAreChangedAndTakenOut)
{
    openRigger(0, 0);
    auto* min = find<QLineEdit>("min-Rm");
    min->setFocus();
    min->selectAll();
    type("310 MPa");
    press(Qt::Key_Return);
    EXPECT_EQ(session().job().requirements[0].min, 310);
    auto* wrong = find<QLineEdit>("min-Rm");
    wrong->setFocus();
    wrong->selectAll();
    type("310 mm");
    press(Qt::Key_Return);
    EXPECT_EQ(session().job().requirements[0].min, 310);
    EXPECT_TRUE(window->told().contains("length")) << window->told().toStdString();
    click("requirementOut");
    EXPECT_EQ(session().job().requirements.size(), 1u);
}

TEST_F(PagesTest, AnOptionThatIsNoneIsSaidAndNotKept)
{
    openRigger(0, 0);
    auto* offset = find<QLineEdit>("option-yield_offset");
    offset->setFocus();
    offset->selectAll();
    type("0.2 mm");
    press(Qt::Key_Tab);
    // The figures say what is wrong, in place of a number.
    EXPECT_TRUE(session().specimenOutcome().problem);
    const std::string said = session().specimenOutcome().problem->text();
    const OptionSpec& option = *session().job().method->findOption("yield_offset");
    EXPECT_NE(said.find(option.label), std::string::npos) << said;
    EXPECT_EQ(said.find("yield_offset"), std::string::npos) << said; // keys belong to files
    session().undo();
    EXPECT_FALSE(session().specimenOutcome().problem);
}

TEST_F(PagesTest, TheBreakIsMeasuredOnTheOtherSide)
{
    openRigger(0, 1);
    click("measureAfter");
    EXPECT_EQ(find<QLineEdit>("final_gauge_length")->text(),
              q(session().specimen().input.dimensions.at("final_gauge_length")[0].text).chopped(3));
    auto* fracture = find<NotePicker>("after-fracture");
    ASSERT_TRUE(fracture->isVisible());
    emit fracture->picked("at grip");
    EXPECT_EQ(fracture->text(), "at grip");
    EXPECT_EQ(session().specimen().input.notes.at("fracture"), "at grip");
    EXPECT_TRUE(session().specimenOutcome().outcome->remarked("break-at-grip"));
    click("measureBefore");
    EXPECT_TRUE(find<QLineEdit>("diameter-1")->isVisible());
}

TEST_F(PagesTest, ShapesBringTheirOwnFields)
{
    openRigger(4, 1);
    auto* shape = find<QComboBox>("measureShape");
    const int at = shape->findText("rectangular");
    shape->setCurrentIndex(at);
    emit shape->activated(at);
    QApplication::processEvents();
    EXPECT_TRUE(find<QLineEdit>("width-1"));
    EXPECT_TRUE(find<QLineEdit>("thickness-3"));
    find<QLineEdit>("width-1")->setFocus();
    for (const char* text : {"12.50", "12.51", "12.50", "3.01", "3.00", "3.02"}) {
        type(text);
        press(Qt::Key_Return);
    }
    EXPECT_EQ(session().job().specimens[4].input.dimensions.at("width").size(), 3u);
    EXPECT_EQ(session().job().specimens[4].input.dimensions.at("thickness").size(), 3u);
}

TEST_F(PagesTest, ACellTooSmallIsRefusedWithTheBetterOneNamed)
{
    openRigger(3, 2);
    auto* cells = find<QComboBox>("choose-force");
    const int at = cells->findText("cell K-5,", Qt::MatchStartsWith);
    ASSERT_GE(at, 0);
    cells->setCurrentIndex(at);
    emit cells->activated(at);
    QApplication::processEvents();
    auto* card = find<QWidget>("remark-cell-too-small");
    ASSERT_TRUE(card);
    bool better = false;
    for (const QLabel* label : card->findChildren<QLabel*>())
        better = better || label->text().contains("Better: cell K-50");
    EXPECT_TRUE(better);
    EXPECT_FALSE(window->frame().holdBacks().isEmpty());
    EXPECT_FALSE(find<QPushButton>("setupNext")->isEnabled());
}

TEST_F(PagesTest, SafetyWordsStandAtTheirStage)
{
    openRigger(3, 3);
    const auto words = [&] {
        QApplication::processEvents();
        QString all;
        for (const QLabel* label : find<Margin>("margin")->findChildren<QLabel*>())
            if (label->isVisible())
                all += label->text() + "\n";
        return all;
    };
    EXPECT_TRUE(words().contains("Guard stays closed"));
    EXPECT_TRUE(words().contains("a competent person decide"));
    session().setStage(2);
    EXPECT_TRUE(words().contains("Eye protection"));
    EXPECT_TRUE(words().contains("Know the stop button"));
    session().setStage(1);
    EXPECT_TRUE(words().contains("gloves"));
}

TEST_F(PagesTest, ReportChoicesChangeThePages)
{
    openRigger(0, 6);
    auto* report = window->bench().reportPage();
    const auto size = [&](const char* name) {
        EXPECT_TRUE(report->save(folder.filePath(name)));
        return QFile(folder.filePath(name)).size();
    };
    const auto plain = size("a.pdf");
    find<QCheckBox>("reportDerivations")->setChecked(true);
    EXPECT_GT(size("b.pdf"), plain);
    EXPECT_FALSE(report->save("/no/such/folder/c.pdf"));
    EXPECT_TRUE(find<QLabel>("reportNote")->text().contains("/no/such/folder"));
}

TEST_F(PagesTest, RibbonByMouse)
{
    openRigger(0, 0);
    auto* ribbon = find<Ribbon>("ribbon");
    QTest::mouseClick(ribbon, Qt::LeftButton, {}, QPoint(130, 20));
    EXPECT_EQ(session().stage(), 1);
}

TEST_F(PagesTest, KeysOfThePageAndHelpForTheFocus)
{
    openRigger(0, 4);
    QString words;
    QTimer::singleShot(150, window.get(), [&] {
        auto* sheet = window->findChild<QDialog*>("keySheet");
        if (!sheet)
            return;
        for (const QLabel* label : sheet->findChildren<QLabel*>())
            words += label->text() + "\n";
        sheet->close();
    });
    press(Qt::Key_F2);
    EXPECT_TRUE(words.contains("Keys of Read"));
    EXPECT_TRUE(words.contains("back to automatic"));
    EXPECT_TRUE(words.contains("STOP"));
    for (int stage = 0; stage < 7; ++stage)
        EXPECT_GE(window->bench().page(stage)->keys().size(), 2) << stage;
}

TEST_F(PagesTest, WindowStateIsRemembered)
{
    openRigger(2, 5);
    session().setWho("operator B");
    QSettings().setValue("who", session().who());
    window->resize(1100, 720);
    window->close();
    start();
    EXPECT_EQ(session().who(), "operator B");
    EXPECT_EQ(QSettings().value("lastStage").toInt(), 5);
    EXPECT_EQ(QSettings().value("lastJob").toLongLong(), jobCalled("J-0101"));
}

TEST_F(PagesTest, AnEmptyLogbookSaysWhatToDo)
{
    QTemporaryDir other;
    auto empty = *Logbook::open(other.filePath("empty.sqlite"));
    MainWindow fresh(*empty);
    fresh.show();
    fresh.go(MainWindow::Jobs);
    QApplication::processEvents();
    EXPECT_TRUE(fresh.findChild<QWidget*>("startPage")->isVisible());
    EXPECT_TRUE(fresh.findChild<QLabel*>("startLead")->text().contains("no job yet"));
    EXPECT_TRUE(fresh.findChild<QPushButton*>("startDemo")->isVisible());
    fresh.newJob();
    EXPECT_TRUE(fresh.session().isOpen());
    for (int stage = 0; stage < 7; ++stage) {
        fresh.session().setStage(stage);
        EXPECT_FALSE(fresh.grab().isNull());
    }
    // A job without any specimen is no trouble either.
    const Json none = Json::array();
    ASSERT_TRUE(
        fresh.session().apply(CommandBuilder(fresh.session().document(), "none").set("/specimens", none).take()));
    for (int stage = 0; stage < 7; ++stage) {
        fresh.session().setStage(stage);
        EXPECT_FALSE(fresh.grab().isNull());
    }
}

} // namespace
} // namespace fortitor
