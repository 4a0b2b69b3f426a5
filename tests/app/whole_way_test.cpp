// SPDX-License-Identifier: GPL-3.0-or-later
// From a new job to the PDF, by keys and mouse, in the real window.
#include "support.h"

#include "app/bench/read/result_card.h"
#include "app/bench/read/curve_plot.h"
#include "report/pages.h"

#include <QComboBox>
#include <QFile>
#include <QMimeData>

namespace fortitor {
namespace {

class WholeWay : public test::AppTest { };

TEST_F(WholeWay, FromNewJobToPdfAndBackAfterClosing)
{
    for (const InstrumentRow& row : demoInstruments())
        ASSERT_TRUE(book->keepInstrument(row, "operator A"));
    // Plan
    press(Qt::Key_N, Qt::ControlModifier);
    EXPECT_FALSE(session().isOpen());
    type("6892");
    press(Qt::Key_Return);
    ASSERT_TRUE(session().isOpen());
    EXPECT_EQ(QApplication::focusWidget(), find<QLineEdit>("jobTitle"));
    type("Rigger tube, trial");
    press(Qt::Key_Tab);
    type("6082-T6");
    press(Qt::Key_Tab);
    EXPECT_EQ(session().job().title, "Rigger tube, trial");
    EXPECT_EQ(session().job().materialName, "6082-T6");
    auto* symbol = find<QComboBox>("requirementSymbol");
    symbol->setCurrentIndex(symbol->findData("Rm"));
    find<QLineEdit>("requirementMin")->setFocus();
    type("200");
    press(Qt::Key_Return);
    ASSERT_EQ(session().job().requirements.size(), 1u);
    EXPECT_EQ(session().job().requirements[0].min, 200);

    // Measure: three places, then the lengths, without the mouse.
    press(Qt::Key_2, Qt::AltModifier);
    EXPECT_EQ(QApplication::focusWidget(), find<QLineEdit>("diameter-1"));
    type("10.02");
    press(Qt::Key_Return);
    EXPECT_EQ(QApplication::focusWidget(), find<QLineEdit>("diameter-2"));
    type("10,01");
    press(Qt::Key_Return);
    type("0.3945 in");
    press(Qt::Key_Return);
    // The last place leads to the next specimen; back to the first for its lengths.
    EXPECT_EQ(session().current(), 1u);
    press(Qt::Key_Left, Qt::ControlModifier);
    EXPECT_EQ(session().specimen().input.dimensions.at("diameter").size(), 3u);
    for (const auto& [name, text] : {std::pair{"gauge_length", "50"}, std::pair{"extensometer_gauge_length", "50"},
                                     std::pair{"parallel_length", "60"}}) {
        find<QLineEdit>(name)->setFocus();
        type(text);
        press(Qt::Key_Return);
    }
    EXPECT_EQ(session().current(), 0u);

    // Set up: instruments, then the steps.
    press(Qt::Key_3, Qt::AltModifier);
    const auto choose = [&](const char* name, const QString& words) {
        auto* box = find<QComboBox>(name);
        const int at = box->findText(words, Qt::MatchStartsWith);
        ASSERT_GE(at, 0) << name;
        box->setCurrentIndex(at);
        emit box->activated(at);
        QApplication::processEvents();
        settle(); // until the specimen hangs in the frame again the buttons of the steps are grey
    };
    choose("choose-force", "cell K-50");
    choose("choose-grips", "wedge grips");
    choose("choose-extensometer", "extensometer X-50");
    EXPECT_FALSE(window->frame().holdBacks().isEmpty());
    EXPECT_FALSE(find<QPushButton>("setupNext")->isEnabled());
    ASSERT_TRUE(find<QPushButton>("zeroForce")->isEnabled());
    click("zeroForce");
    click("closeTop");
    click("closeBottom");
    ASSERT_TRUE(until([&] { return std::abs(window->frame().sample().force) > 800; }, 3000))
        << "closing the grips puts load on";
    click("easeToZero");
    ASSERT_TRUE(until([&] { return window->frame().shows("grip-second"); }));
    EXPECT_LT(std::abs(window->frame().sample().force), 60);
    click("extensometerOn");
    click("closeGuard");
    EXPECT_TRUE(window->frame().holdBacks().isEmpty()) << window->frame().holdBacks().join("; ").toStdString();
    click("setupNext");
    EXPECT_EQ(session().stage(), 3);

    // Load: start, hold, go on, the prompt, the break.
    window->frame().setPace(50);
    settle();
    press(Qt::Key_Return);
    ASSERT_TRUE(window->frame().running());
    press(Qt::Key_Space);
    EXPECT_EQ(window->frame().state(), LiveFrame::State::Holding);
    press(Qt::Key_Space);
    ASSERT_TRUE(until([&] { return window->frame().state() == LiveFrame::State::Prompt; }));
    click("promptAnswer");
    ASSERT_TRUE(until([&] { return window->frame().state() == LiveFrame::State::Broken; }));
    ASSERT_TRUE(session().record(0));
    EXPECT_TRUE(session().record(0)->incompleteBecause.empty());
    EXPECT_TRUE(session().record(0)->has("extensometer-off"));

    // After the break.
    press(Qt::Key_2, Qt::AltModifier);
    click("measureAfter");
    for (const auto& [name, text] : {std::pair{"final_gauge_length", "56.4"}, std::pair{"final_diameter-1", "7.31"},
                                     std::pair{"final_diameter-2", "7.29"}}) {
        find<QLineEdit>(name)->setFocus();
        type(text);
        press(Qt::Key_Return);
        session().setCurrent(0);
    }

    // Read: every figure is there, and is the core's own.
    press(Qt::Key_5, Qt::AltModifier);
    const Outcome& outcome = *session().specimenOutcome().outcome;
    for (const char* name : {"E", "Rp0.2", "Rm", "A", "Z"}) {
        ASSERT_TRUE(outcome.find(name)->value) << name;
        auto* slip = find<ResultCard>(QString("card-") + name);
        EXPECT_EQ(slip->valueText().toStdString(),
                  showFigure(specFor(*session().job().method, name), *outcome.find(name)).text + " "
                      + showFigure(specFor(*session().job().method, name), *outcome.find(name)).unit);
    }
    EXPECT_NEAR(*outcome.find("E")->value / 70000, 1, 0.04);
    EXPECT_NEAR(*outcome.find("Z")->value, 0.4695, 0.01);
    QTest::mouseClick(find<ResultCard>("card-Rm"), Qt::LeftButton);
    EXPECT_TRUE(window->bench().readPage()->findChild<WorkingDrawer*>("working")->text().contains("Fm / So"));

    // Judge and report.
    press(Qt::Key_6, Qt::AltModifier);
    EXPECT_EQ(session().specimenOutcome().verdict, Verdict::Pass);
    EXPECT_TRUE(find<QLabel>("verdict")->text().startsWith("1 of 3 meet Rm ≥ 200 MPa"));
    press(Qt::Key_7, Qt::AltModifier);
    for (const char* name : {"report.pdf", "report.csv", "report.xlsx", "report.json"}) {
        ASSERT_TRUE(window->bench().reportPage()->save(folder.filePath(name))) << name;
        QFile file(folder.filePath(name));
        EXPECT_TRUE(file.open(QIODevice::ReadOnly));
        EXPECT_GT(file.size(), 100) << name;
    }
    QFile pdf(folder.filePath("report.pdf"));
    ASSERT_TRUE(pdf.open(QIODevice::ReadOnly));
    EXPECT_TRUE(pdf.readAll().startsWith("%PDF"));

    // Found again after closing.
    const double Rm = *outcome.find("Rm")->value;
    const auto id = session().jobId();
    start();
    ASSERT_TRUE(window->openJob(id, 0, 4));
    EXPECT_DOUBLE_EQ(*session().specimenOutcome().outcome->find("Rm")->value, Rm);
    EXPECT_TRUE(book->check().empty());
}

} // namespace
} // namespace fortitor
