// SPDX-License-Identifier: GPL-3.0-or-later
// Where a job begins: in an empty logbook, by keys, by words, by Ctrl+K; and that any job can be simulated.
#include "support.h"

#include "app/shell/start_page.h"
#include "sim/rehearsal.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QTimer>

#include <algorithm>

namespace fortitor {
namespace {

class StartTest : public test::AppTest {
protected:
    std::vector<TestCard*> shown()
    {
        QApplication::processEvents();
        auto cards = find<QWidget>("startPage")->findChildren<TestCard*>();
        std::vector<TestCard*> out;
        std::ranges::copy_if(cards, std::back_inserter(out), [](const TestCard* c) { return c->isVisible(); });
        return out;
    }
};

TEST_F(StartTest, AnEmptyLogbookShowsEveryTestByItsQuestion)
{
    window->go(MainWindow::Jobs);
    EXPECT_EQ(shown().size(), methodRegistry().size());
    for (const TestCard* card : shown()) {
        EXPECT_FALSE(card->text().isEmpty()) << card->method().id;
        EXPECT_TRUE(card->text().endsWith('?')) << card->method().id;
        EXPECT_TRUE(card->toolTip().startsWith("Gives ")) << card->method().id;
    }
    type("bend"); // what it is called comes before what also gives some bending
    EXPECT_GT(shown().size(), 1u);
    press(Qt::Key_Down);
    EXPECT_EQ(QApplication::focusWidget()->objectName(), "test-flexure");
    press(Qt::Key_Escape);
    find<QLineEdit>("testSearch")->setFocus();
    type("in twist");
    ASSERT_EQ(shown().size(), 1u);
    press(Qt::Key_Return);
    ASSERT_TRUE(session().isOpen());
    EXPECT_EQ(session().job().method->id, "torsion");
    EXPECT_EQ(QApplication::focusWidget(), find<QLineEdit>("jobTitle"));
}

TEST_F(StartTest, ByArrowsAndByEscape)
{
    window->go(MainWindow::Jobs);
    press(Qt::Key_Escape); // nowhere to go yet
    EXPECT_TRUE(find<QWidget>("startPage")->isVisible());
    press(Qt::Key_Down);
    press(Qt::Key_Right);
    press(Qt::Key_Down);
    press(Qt::Key_Up);
    press(Qt::Key_Return);
    ASSERT_TRUE(session().isOpen());
    EXPECT_EQ(session().job().method->id, "tension-plastic");
    press(Qt::Key_N, Qt::ControlModifier);
    type("nothing like it");
    EXPECT_TRUE(shown().empty());
    EXPECT_TRUE(find<QLabel>("startNone")->isVisible());
    press(Qt::Key_Return);
    EXPECT_EQ(book->jobs().size(), 1u);
    press(Qt::Key_Escape);
    EXPECT_EQ(shown().size(), methodRegistry().size());
    press(Qt::Key_Escape);
    EXPECT_TRUE(find<QWidget>("jobsPage")->isVisible());
    press(Qt::Key_N, Qt::ControlModifier);
    QTest::mouseClick(find<TestCard>("test-hardness"), Qt::LeftButton);
    EXPECT_EQ(session().job().method->id, "hardness");
}

TEST_F(StartTest, WhatIsSteeredToIsSeen)
{
    window->resize(1024, 600);
    window->go(MainWindow::Jobs);
    press(Qt::Key_Down);
    for (int row = 0; row < 5; ++row)
        press(Qt::Key_Down);
    const QWidget* here = QApplication::focusWidget();
    ASSERT_TRUE(qobject_cast<const TestCard*>(here));
    EXPECT_EQ(here->visibleRegion().boundingRect().height(), here->height());
}

TEST_F(StartTest, TheFinderMakesAJobOfAnyTest)
{
    QTimer::singleShot(100, window.get(), [&] {
        auto* words = window->findChild<QLineEdit*>("finderWords");
        ASSERT_TRUE(words);
        QTest::keyClicks(words, "new crush job");
        QTest::keyClick(words, Qt::Key_Return);
    });
    press(Qt::Key_K, Qt::ControlModifier);
    ASSERT_TRUE(session().isOpen());
    EXPECT_EQ(session().job().method->id, "crush");
}

TEST_F(StartTest, AJobOnASteelOfTheReferenceIsSimulatedByItsFigures)
{
    for (const InstrumentRow& row : demoInstruments())
        ASSERT_TRUE(book->keepInstrument(row, "operator A"));
    window->go(MainWindow::Jobs);
    press(Qt::Key_Down);
    press(Qt::Key_Return);
    type("C45, trial");
    press(Qt::Key_Tab);
    type("steel C45");
    press(Qt::Key_Tab);
    press(Qt::Key_2, Qt::AltModifier);
    for (int place = 0; place < 3; ++place) {
        type("8.00");
        press(Qt::Key_Return);
    }
    press(Qt::Key_Left, Qt::ControlModifier);
    for (const auto& [name, text] : {std::pair{"gauge_length", "40"}, std::pair{"extensometer_gauge_length", "40"},
                                     std::pair{"parallel_length", "50"}}) {
        find<QLineEdit>(name)->setFocus();
        type(text);
        press(Qt::Key_Return);
    }
    press(Qt::Key_3, Qt::AltModifier);
    EXPECT_NE(window->frame().restsOn().find("steel C45"), std::string::npos) << window->frame().restsOn();
    EXPECT_TRUE(find<QLabel>("rehearsed")->text().contains("reference figures of steel C45"));
    auto* cell = find<QComboBox>("choose-force");
    ASSERT_TRUE(cell);
    for (int row = 0; row < cell->count(); ++row)
        if (cell->itemText(row).contains("100 kN")) {
            cell->setCurrentIndex(row);
            emit cell->activated(row);
        }
    settle();
    const auto plan = window->frame().rehearsalPlan();
    ASSERT_TRUE(plan);
    const auto done = rehearse(*plan);
    ASSERT_TRUE(done && *done) << (done ? "" : done.problem().text());
    for (const RehearsedRun& run : (*done)->runs)
        EXPECT_NEAR(run.peak / 50.27 / 650, 1, 0.06) << run.words;
}

} // namespace
} // namespace fortitor
