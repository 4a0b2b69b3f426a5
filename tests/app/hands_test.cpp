// SPDX-License-Identifier: GPL-3.0-or-later
// What a person is in the middle of stays: half a value, an open list, half a drag, through every signal and
// timer there is.
#include "support.h"

#include "app/bench/read/curve_plot.h"
#include "app/bench/import_dialog.h"
#include "app/bench/tags.h"
#include "app/bench/read/what_if_panel.h"
#include "app/shell/calibration_dialog.h"
#include "app/theme/units.h"
#include "jobs/edits.h"
#include "methods/common/section.h"

#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QPointer>
#include <QRegularExpression>
#include <QScrollArea>
#include <QScrollBar>
#include <QTableWidget>
#include <QTimer>

namespace fortitor {
namespace {

class HandsTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    void open(const char* job, int specimen, int stage)
    {
        ASSERT_TRUE(window->openJob(jobCalled(job), specimen, stage));
        settle();
    }
    void fireTimers()
    {
        for (QTimer* timer : window->findChildren<QTimer*>())
            if (timer->isActive()) {
                QTimerEvent due(timer->timerId());
                QCoreApplication::sendEvent(timer, &due);
            }
    }
    /// Everything that may happen while somebody looks at the calliper.
    void disturb(bool looks = true)
    {
        fireTimers();
        emit session().changed();
        emit session().currentChanged();
        emit session().stageChanged(session().stage());
        emit session().opened();
        emit window->frame().updated();
        Units::instance().setSystem(UnitSystem::InchPound);
        if (looks)
            Theme::instance().setDark(true); // slow: the whole window is styled anew
        QApplication::processEvents();
        fireTimers();
        Units::instance().setSystem(UnitSystem::SI);
        Theme::instance().setDark(false);
        session().setWho("operator B");
        QApplication::processEvents();
        session().setWho("operator A");
        QTest::qWait(70); // what was put off had the time to come
    }
    /// Types half a value into every field that is to be seen, and looks away.
    void halfTyped(const std::string& where)
    {
        for (QPushButton* accept : window->findChildren<QPushButton*>("remarkAccept"))
            if (accept->isVisible())
                accept->click();
        QApplication::processEvents();
        std::vector<QPointer<QLineEdit>> all;
        for (QLineEdit* edit : window->findChildren<QLineEdit*>())
            if (edit->isVisible() && edit->isEnabled() && !edit->isReadOnly())
                all.emplace_back(edit);
        for (const QPointer<QLineEdit>& edit : all) {
            if (!edit || !edit->isVisible())
                continue; // only what another field led to
            SCOPED_TRACE(where + ", " + edit->objectName().toStdString());
            const QString before = edit->text();
            window->activateWindow();
            ASSERT_TRUE(QTest::qWaitForWindowActive(window.get()));
            edit->setFocus();
            edit->selectAll();
            QTest::keyClicks(edit.data(), "10.");
            const int cursor = edit->cursorPosition();
            disturb(fields_++ % 6 == 0);
            ASSERT_TRUE(edit);
            EXPECT_EQ(edit->text().toStdString(), "10.");
            EXPECT_TRUE(edit->isVisible());
            EXPECT_EQ(QApplication::focusWidget(), edit.data());
            EXPECT_EQ(edit->cursorPosition(), cursor);
            edit->setText(before);
            edit->setModified(false);
            while (QWidget* popup = QApplication::activePopupWidget())
                popup->close(); // suggestions
        }
    }
    void openLists(const std::string& where)
    {
        std::vector<QPointer<QComboBox>> all;
        for (QComboBox* box : window->findChildren<QComboBox*>())
            if (box->isVisible() && box->isEnabled() && box->count() > 1)
                all.emplace_back(box);
        for (const QPointer<QComboBox>& box : all) {
            if (!box || !box->isVisible())
                continue;
            SCOPED_TRACE(where + ", list " + box->objectName().toStdString());
            box->setFocus();
            box->showPopup();
            QApplication::processEvents();
            const int row = box->count() - 1;
            box->view()->setCurrentIndex(box->model()->index(row, 0));
            disturb(fields_++ % 6 == 0);
            ASSERT_TRUE(box);
            EXPECT_TRUE(box->view()->isVisible()) << "closed";
            EXPECT_EQ(box->view()->currentIndex().row(), row);
            EXPECT_EQ(box->count(), row + 1);
            box->hidePopup();
            QTest::qWait(70);
        }
    }
    int fields_ = 0; ///< looked at so far
};

struct Place {
    const char* job;
    int specimen;
    int stage;
};
constexpr Place places[] = {{"J-0101", 4, 0}, {"J-0110", 0, 0}, {"J-0101", 4, 1}, {"J-0106", 5, 1}, {"J-0111", 3, 1},
                            {"J-0101", 3, 2}, {"J-0111", 3, 2}, {"J-0101", 4, 3}, {"J-0111", 3, 3}, {"J-0109", 2, 3},
                            {"J-0101", 1, 4}, {"J-0110", 0, 4}, {"J-0101", 0, 5}, {"J-0101", 0, 6}};

TEST_F(HandsTest, HalfAValueStaysOnEveryPage)
{
    for (const Place& place : places) {
        open(place.job, place.specimen, place.stage);
        halfTyped(std::string(place.job) + " stage " + std::to_string(place.stage));
    }
    for (const int place : {MainWindow::Jobs, MainWindow::Compare, MainWindow::Reference, MainWindow::LogbookPlace}) {
        if (place == MainWindow::Jobs)
            session().close();
        window->go(place);
        halfTyped("place " + std::to_string(place));
    }
    EXPECT_GT(fields_, 60);
}

TEST_F(HandsTest, AnOpenListStaysOnEveryPage)
{
    for (const Place& place : places) {
        open(place.job, place.specimen, place.stage);
        openLists(std::string(place.job) + " stage " + std::to_string(place.stage));
    }
    window->go(MainWindow::Compare);
    openLists("compare");
    EXPECT_GT(fields_, 25);
}

TEST_F(HandsTest, ReasonsAndCopiesStay)
{
    open("J-0101", 1, 4);
    auto* panel = window->findChild<WhatIfPanel*>("whatIf");
    panel->ask("yield_offset", "0.1 %");
    auto* reason = find<QLineEdit>("whatIfReason");
    type("misr");
    disturb();
    ASSERT_TRUE(panel->isOpen());
    EXPECT_EQ(QApplication::focusWidget(), reason);
    type("ead");
    EXPECT_EQ(reason->text(), "misread");
    // Something else of the specimen is changed: the copy stands on what is now, with its change.
    ASSERT_TRUE(session().apply(edits::note(session().document(), 1, "fracture", "flat")));
    ASSERT_TRUE(panel->isOpen());
    EXPECT_TRUE(panel->after());
    press(Qt::Key_Return);
    EXPECT_FALSE(panel->isOpen());
    EXPECT_EQ(session().specimen().input.options.at("yield_offset"), "0.1 %");
    EXPECT_EQ(session().specimen().input.notes.at("fracture"), "flat") << "what was changed meanwhile is not undone";

    session().setStage(5);
    click("judgeExclude");
    auto* why = find<QLineEdit>("judgeReason");
    type("slip");
    disturb();
    type("ped");
    EXPECT_EQ(why->text(), "slipped");
    // For another specimen it is another reason; the first one waits.
    session().setCurrent(2);
    EXPECT_FALSE(why->isVisible());
    session().setCurrent(1);
    EXPECT_EQ(why->text(), "slipped");
    EXPECT_TRUE(why->isVisible());
}

TEST_F(HandsTest, HalfADragStays)
{
    open("J-0101", 0, 4);
    auto* plot = find<CurvePlot>("curvePlot");
    const QPoint from = plot->handlePosition(CurvePlot::Handle::High).toPoint();
    const auto drag = [&](bool disturbed) {
        QTest::mousePress(plot, Qt::LeftButton, {}, from);
        if (disturbed)
            disturb();
        QTest::mouseMove(plot, from + QPoint(14, -12));
        if (disturbed)
            disturb();
        EXPECT_TRUE(plot->dragging());
        EXPECT_EQ(plot->active(), CurvePlot::Handle::High);
        QTest::mouseMove(plot, from + QPoint(30, -24));
        QTest::mouseRelease(plot, Qt::LeftButton, {}, from + QPoint(30, -24));
        QTest::qWait(120);
        return session().specimen().input.options.at("slope");
    };
    const std::string plain = drag(false);
    session().undo();
    EXPECT_EQ(drag(true), plain);
}

TEST_F(HandsTest, ZoomAndScrollStay)
{
    open("J-0101", 1, 4);
    auto* plot = find<CurvePlot>("curvePlot");
    const QPointF before = plot->handlePosition(CurvePlot::Handle::Offset);
    QWheelEvent wheel(QPointF(300, 150), plot->mapToGlobal(QPointF(300, 150)), {}, {0, 120}, Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    for (int i = 0; i < 3; ++i)
        QApplication::sendEvent(plot, &wheel);
    plot->setMagnifier(false);
    const QPointF zoomed = plot->handlePosition(CurvePlot::Handle::Offset);
    EXPECT_NE(before, zoomed);
    disturb();
    EXPECT_LT((plot->handlePosition(CurvePlot::Handle::Offset) - zoomed).manhattanLength(), 0.5);
    for (const Place& place : places) {
        open(place.job, place.specimen, place.stage);
        window->resize(1024, 700);
        QTest::qWait(30);
        std::vector<std::pair<QPointer<QScrollBar>, int>> bars;
        for (QScrollBar* bar : window->findChildren<QScrollBar*>())
            if (bar->isVisible() && bar->maximum() > 0) {
                bar->setValue(bar->maximum() / 2);
                bars.emplace_back(bar, bar->value());
            }
        disturb(place.stage % 3 == 0);
        for (const auto& [bar, value] : bars) {
            ASSERT_TRUE(bar);
            EXPECT_NEAR(bar->value(), value, 1) << place.job << " stage " << place.stage << " "
                                                << bar->parentWidget()->parentWidget()->objectName().toStdString();
        }
    }
}

TEST_F(HandsTest, TheInstrumentsTableIsNotFilledUnderAnOpenEditor)
{
    window->go(MainWindow::Instruments);
    auto* table = find<QTableWidget>("instrumentTable");
    table->setFocus();
    int row = 0;
    while (table->item(row, 1)->text() != "cell")
        ++row;
    const QString capacity = table->item(row, 3)->text() == "60 kN" ? "70 kN" : "60 kN";
    table->setCurrentCell(row, 3);
    press(Qt::Key_F2); // opens the cell, as the page says
    auto* editor = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    ASSERT_TRUE(editor) << "F2 has to open the cell";
    QPointer<QLineEdit> alive(editor);
    disturb();
    ASSERT_TRUE(alive && alive->isVisible());
    type(capacity);
    press(Qt::Key_Return);
    QTest::qWait(150);
    EXPECT_EQ(table->item(row, 3)->text(), capacity);
}

TEST_F(HandsTest, ALateReadingDoesNotTakeThePlaceOfATypedOne)
{
    const auto cell = book->instrument("cell K-50");
    ASSERT_TRUE(cell);
    CalibrationDialog dialog(session(), window->frame(), *cell, window.get());
    dialog.show();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&dialog));
    auto* table = dialog.findChild<QTableWidget*>("calibrationTable");
    auto* take = dialog.findChild<QPushButton*>("calibrationTake");
    table->setCurrentCell(1, 2);
    take->click();
    ASSERT_FALSE(take->isEnabled()) << "the reading takes a second";
    table->item(1, 2)->setText("10.07"); // typed and left meanwhile
    ASSERT_TRUE(until([&] { return take->isEnabled(); }, 8000));
    EXPECT_EQ(table->item(1, 2)->text(), "10.07");
    EXPECT_TRUE(dialog.findChild<QLabel*>("calibrationWords")->text().contains("stays"));
    EXPECT_EQ(table->currentRow(), 1);
    // With nothing typed it is taken, and the next line is at hand.
    table->setCurrentCell(2, 2);
    take->click();
    ASSERT_TRUE(until([&] { return take->isEnabled(); }, 8000));
    EXPECT_FALSE(table->item(2, 2)->text().isEmpty());
    EXPECT_EQ(table->currentRow(), 3);
}

TEST_F(HandsTest, CtrlKChoosesNothingByItself)
{
    const auto jobs = book->jobs().size();
    QTimer::singleShot(100, window.get(), [&] {
        auto* words = window->findChild<QLineEdit*>("finderWords");
        ASSERT_TRUE(words);
        QTest::keyClick(words, Qt::Key_Return);
        if (auto* dialog = QApplication::activeModalWidget())
            dialog->close();
    });
    press(Qt::Key_K, Qt::ControlModifier);
    EXPECT_EQ(book->jobs().size(), jobs);
}

TEST_F(HandsTest, TheSecondHalfFollowsTheFirst)
{
    open("J-0101", 4, 1);
    type("10.");
    disturb();
    type("04");
    press(Qt::Key_Return);
    EXPECT_EQ(session().specimen().input.dimensions.at("diameter").front().text, "10.04 mm");
}

TEST_F(HandsTest, WhatIsQueriedOrWrongIsNotForgotten)
{
    open("J-0101", 4, 1);
    type("10.02");
    press(Qt::Key_Return);
    type("100.2");
    press(Qt::Key_Return); // queried
    auto* second = find<QLineEdit>("diameter-2");
    EXPECT_TRUE(second->property("queried").toBool());
    find<QLineEdit>("diameter-3")->setFocus();
    type("10.03");
    press(Qt::Key_Return); // kept, while the second still waits
    session().setCurrent(4);
    EXPECT_EQ(second->text(), "100.2");
    EXPECT_TRUE(second->property("queried").toBool());
    EXPECT_TRUE(find<QLabel>("measureMessage")->text().contains("10 times"));
    // Another specimen and back: it waits there, and stands nowhere else.
    press(Qt::Key_Left, Qt::ControlModifier);
    EXPECT_NE(second->text(), "100.2");
    press(Qt::Key_Right, Qt::ControlModifier);
    EXPECT_EQ(second->text(), "100.2");
    EXPECT_TRUE(second->property("queried").toBool());
    EXPECT_EQ(session().specimen().input.dimensions.at("diameter").size(), 2u);
}

TEST_F(HandsTest, AReadingAFifthAwayIsQueriedWhateverTheFactor)
{
    open("J-0101", 4, 1);
    for (const char* wrong : {"4", "50", "60", "13"}) {
        auto* first = find<QLineEdit>("diameter-1");
        first->setFocus();
        first->selectAll();
        type(wrong); // the pieces before have 10.02
        press(Qt::Key_Return);
        EXPECT_TRUE(first->property("queried").toBool()) << wrong;
        EXPECT_FALSE(session().specimen().input.dimensions.contains("diameter")) << wrong;
        press(Qt::Key_Escape);
    }
    type("10.9"); // unusual, and within a fifth
    press(Qt::Key_Return);
    EXPECT_EQ(session().specimen().input.dimensions.at("diameter").size(), 1u);
}

TEST_F(HandsTest, ACalliperWithAWedgeLosesNoCharacter)
{
    open("J-0101", 4, 1);
    CommandBuilder builder(session().document(), "forty pieces");
    for (int i = 0; i < 40; ++i)
        builder.append("/specimens",
                       Json{{"label", "B" + std::to_string(i)}, {"dimensions", {{"shape", "rectangular"}}}});
    ASSERT_TRUE(session().apply(builder.take()));
    session().setCurrent(5);
    find<QLineEdit>("width-1")->setFocus();
    std::vector<std::string> sent;
    int characters = 0;
    for (int piece = 0; piece < 40; ++piece)
        for (int k = 0; k < 6; ++k) {
            sent.push_back(formatFixed((k < 3 ? 12 : 4) + 0.01 * ((piece * 7 + k * 3) % 40), 2));
            for (const char c : sent.back()) {
                QTest::keyClick(QApplication::focusWidget(), c);
                if (++characters % 5 == 0) {
                    fireTimers();
                    emit session().changed();
                }
            }
            QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
        }
    ASSERT_EQ(session().job().specimens.size(), 45u);
    size_t at = 0;
    for (size_t i = 5; i < 45; ++i)
        for (const char* key : {"width", "thickness"}) {
            const auto& dimensions = session().job().specimens[i].input.dimensions;
            ASSERT_TRUE(dimensions.contains(key)) << i << key;
            ASSERT_EQ(dimensions.at(key).size(), 3u) << i << key;
            for (const Quantity& reading : dimensions.at(key))
                EXPECT_EQ(reading.text, sent[at++] + " mm") << session().job().specimens[i].label;
        }
}

TEST_F(HandsTest, AfterAddTheFirstEmptyFieldHasTheFocus)
{
    open("J-0101", 0, 1);
    auto* tags = find<TagStrip>("tags");
    QTest::mouseClick(tags, Qt::LeftButton, {}, tags->tagRect(5).center());
    EXPECT_EQ(session().specimen().label, "A6");
    EXPECT_EQ(QApplication::focusWidget(), find<QLineEdit>("diameter-1"));
    type("10.01");
    press(Qt::Key_Return);
    EXPECT_EQ(session().specimen().input.dimensions.at("diameter").size(), 1u);
}

TEST_F(HandsTest, EnterImports)
{
    open("J-0101", 4, 4);
    QFile file(folder.filePath("r.csv"));
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write("Time (s),Force (kN),Extension (mm)\n");
    for (int i = 0; i < 200; ++i)
        file.write(QByteArray::number(i * 0.1) + "," + QByteArray::number(i * 0.1) + "," + QByteArray::number(i * 0.001)
                   + "\n");
    file.close();
    QTimer::singleShot(200, window.get(), [&] {
        auto* dialog = window->findChild<ImportDialog*>("importDialog");
        ASSERT_TRUE(dialog);
        QTest::keyClick(QApplication::focusWidget() ? QApplication::focusWidget() : dialog, Qt::Key_Return);
        QTest::qWait(1000);
        if (dialog && dialog->isVisible())
            dialog->reject();
    });
    EXPECT_TRUE(window->takeIn(file.fileName()));
    ASSERT_TRUE(session().record(4));
    EXPECT_EQ(session().record(4)->rows(), 200u);
}

TEST_F(HandsTest, RemarksAreNeverSquashed)
{
    // Cards stay while others come: each has the height that its words ask for, at any width.
    for (const Place& place : places) {
        open(place.job, place.specimen, place.stage);
        for (const QSize size : {QSize(1280, 800), QSize(1024, 700)}) {
            window->resize(size);
            ASSERT_TRUE(session().apply(edits::note(session().document(), session().current(), "operator",
                                                    size.width() > 1100 ? "operator A" : "operator B")));
            QTest::qWait(200);
            for (const QWidget* card :
                 window->findChild<QWidget*>("margin")->findChildren<QWidget*>(QRegularExpression("^remark-")))
                EXPECT_GE(card->height(), card->layout()->heightForWidth(card->width()))
                    << card->objectName().toStdString() << " " << place.job << " stage " << place.stage;
        }
    }
}

TEST(ReadingQuery, HoldsAReadingAgainstItsNeighbours)
{
    const Unit& mm = baseUnit(Kind::Length);
    EXPECT_EQ(readingQuery(10.02, {}, {}, mm), "");
    EXPECT_EQ(readingQuery(10.02, {10.01, 10.03}, {10.0, 9.98}, mm), "");
    EXPECT_NE(readingQuery(4, {10.01}, {}, mm), "");
    EXPECT_NE(readingQuery(50, {}, {10.02, 10.01, 10.03}, mm), "");
    EXPECT_NE(readingQuery(100.2, {10.02}, {}, mm).find("10 times"), std::string::npos);
    // One bad neighbour does not put a sound reading in question, on the piece or before it.
    EXPECT_EQ(readingQuery(10.01, {100.2, 10.02}, {}, mm), "");
    EXPECT_EQ(readingQuery(10.01, {}, {10.02, 100.2, 10.03}, mm), "");
    // At a fifth it stands, beyond it is queried; zero and negative figures are no measure to hold against.
    EXPECT_EQ(readingQuery(12, {10}, {}, mm), "");
    EXPECT_NE(readingQuery(12.01, {10}, {}, mm), "");
    EXPECT_EQ(readingQuery(5, {0}, {-3}, mm), "");
}

} // namespace
} // namespace fortitor
