// SPDX-License-Identifier: GPL-3.0-or-later
// A load history in the window: taken in, looked at, its chain set box by box, what it came to.
#include "support.h"

#include "app/bench/history/history_page.h"
#include "app/bench/history/spectrum_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFile>
#include <QLabel>

#include <cmath>

namespace fortitor {
namespace {

class SpectrumTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    SpectrumPage* readPage(int specimen = 0)
    {
        openAt("J-0121", specimen, Stage::Read);
        auto* page = find<SpectrumPage>("spectrumPage");
        EXPECT_TRUE(until([&] { return page->settled(); }));
        return page;
    }
    [[nodiscard]] double figureOf(const char* symbol)
    {
        const auto& outcome = session().specimenOutcome().outcome;
        const Result* r = outcome ? outcome->find(symbol) : nullptr;
        return r && r->value ? *r->value : NAN;
    }
    [[nodiscard]] std::string option(const char* key)
    {
        const auto& options = session().specimen().input.options;
        return options.contains(key) ? options.at(key) : std::string();
    }
};

TEST_F(SpectrumTest, TheChainIsSetBoxByBox)
{
    readPage();
    auto* strip = find<ChainStrip>("chainStrip");
    ASSERT_EQ(strip->boxes().size(), 7u);
    for (size_t k = 0; k < 6; ++k)
        EXPECT_GT(strip->boxes()[k].x.size(), 10u) << "no picture in box " << k;
    const double before = figureOf("damage");
    EXPECT_GT(before, 0);
    // To the low-pass by keys, and set.
    strip->setFocus();
    for (int i = 0; i < 3; ++i)
        press(Qt::Key_Left);
    EXPECT_EQ(strip->chosen(), 3u);
    auto* setting = find<QLineEdit>("boxSetting");
    EXPECT_EQ(setting->text(), "2 Hz");
    setting->setFocus();
    setting->selectAll();
    type("0.5 Hz");
    press(Qt::Key_Return);
    EXPECT_EQ(option("low_pass"), "0.5 Hz");
    const double slow = figureOf("damage");
    EXPECT_LT(slow, before);
    // What can't be is refused where it was typed.
    setting->setFocus();
    setting->selectAll();
    type("quick");
    press(Qt::Key_Return);
    EXPECT_EQ(option("low_pass"), "0.5 Hz");
    EXPECT_TRUE(find<QLabel>("spectrumMessage")->text().contains("quick"));
    setting->setText("0.5 Hz");
    // Space switches the box off and on.
    strip->setFocus();
    press(Qt::Key_Space);
    EXPECT_EQ(option("low_pass"), "none");
    EXPECT_TRUE(strip->boxes()[3].off);
    EXPECT_GT(figureOf("damage"), slow);
    press(Qt::Key_Space); // as it was set before
    EXPECT_EQ(option("low_pass"), "0.5 Hz");
    EXPECT_NEAR(figureOf("damage"), slow, 1e-12);
    session().undo();
    settle();
    EXPECT_EQ(option("low_pass"), "none");
}

TEST_F(SpectrumTest, ASettingMayBeOfOneHistoryOnly)
{
    auto* page = readPage(1);
    page->chooseBox(5);
    find<QCheckBox>("boxOnly")->setChecked(true);
    auto* setting = find<QLineEdit>("boxSetting");
    setting->setFocus();
    setting->selectAll();
    type("2 MPa");
    press(Qt::Key_Return);
    EXPECT_EQ(session().job().specimens[1].input.options.at("cut"), "2 MPa");
    EXPECT_FALSE(session().job().specimens[0].input.options.contains("cut"));
    EXPECT_NEAR(figureOf("cut_at"), 2, 1e-12);
}

TEST_F(SpectrumTest, OthersAreTriedAndNothingIsKeptOfThem)
{
    auto* page = readPage(1);
    page->chooseBox(3);
    const auto document = session().document().json();
    click("boxTry");
    auto* table = find<QLabel>("trialTable");
    EXPECT_TRUE(until([&] { return table->text().contains("4 Hz") && !table->text().contains("…"); }))
        << table->text().toStdString();
    EXPECT_TRUE(table->text().contains("%"));
    EXPECT_EQ(session().document().json(), document);
    page->chooseBox(2);
    EXPECT_TRUE(find<QLabel>("trialTable")->text().isEmpty());
}

TEST_F(SpectrumTest, TheWorstEventIsOneClickAway)
{
    auto* page = readPage();
    page->chooseBox(0);
    auto* signal = find<SignalView>("signalView");
    const auto whole = signal->window();
    click("spectrumWorst");
    EXPECT_TRUE(until([&] { return page->settled(); }));
    const auto [from, to] = signal->window();
    EXPECT_LT(to - from, (whole.second - whole.first) / 5);
    const double at = static_cast<double>(session().specimenOutcome().outcome->history->worst.at());
    EXPECT_GT(at, from);
    EXPECT_LT(at, to);
    // By hand: closer by the wheel's key, all by 0.
    signal->setFocus();
    press(Qt::Key_Plus);
    EXPECT_NEAR(signal->window().second - signal->window().first, (to - from) / 2, 1);
    press(Qt::Key_0);
    EXPECT_EQ(signal->window(), whole);
}

TEST_F(SpectrumTest, WhatWasCountedIsSeenFromEverySide)
{
    auto* page = readPage();
    page->chooseBox(6);
    auto* choice = find<QComboBox>("countedLeftChoice");
    ASSERT_GE(choice->count(), 4);
    auto* plot = find<PlotView>("countedLeft");
    for (int i = 0; i < choice->count(); ++i) {
        choice->setCurrentIndex(i);
        emit choice->activated(i);
        EXPECT_TRUE(plot->plot().troubles.empty()) << choice->itemText(i).toStdString();
        EXPECT_TRUE(!plot->plot().series.empty() || plot->plot().bars) << choice->itemText(i).toStdString();
    }
    click("syntheticGenerate");
    EXPECT_EQ(choice->currentText(), "synthetic over counted");
    ASSERT_GE(plot->plot().series.size(), 2u);
    EXPECT_TRUE(find<QPushButton>("syntheticSave")->isVisible());
}

TEST_F(SpectrumTest, FilesAreTakenInAndWhatIsWrongIsSaid)
{
    openAt("J-0121", 0, Stage::Load);
    auto* page = find<HistoryPage>("historyPage");
    EXPECT_TRUE(until([&] { return find<SignalView>("signalView")->ready(); }));
    EXPECT_TRUE(find<QLabel>("historyFacts")->text().contains("200 Hz"));
    QFile file(folder.filePath("short.csv"));
    ASSERT_TRUE(file.open(QFile::WriteOnly));
    file.write("strain (ue)\n0\n10\n0\n");
    for (int i = 0; i < 500; ++i)
        file.write(i % 2 == 0 ? "100\n" : "-100\n");
    file.close();
    page->takeFiles({folder.filePath("short.csv")});
    settle();
    EXPECT_TRUE(until([&] { return find<QLabel>("historyTitle")->text().contains("short.csv"); }));
    auto* rate = find<QLineEdit>("history-rate");
    rate->setFocus();
    rate->selectAll();
    type("20");
    press(Qt::Key_Return);
    EXPECT_EQ(session().specimen().input.history->rate, "20 Hz");
    EXPECT_TRUE(until([&] { return find<QLabel>("historyFacts")->text().contains("20 Hz"); }));
    rate->setFocus();
    rate->selectAll();
    type("fast");
    press(Qt::Key_Return);
    EXPECT_EQ(session().specimen().input.history->rate, "20 Hz");
    page->takeFiles({folder.filePath("gone.f32")});
    settle();
    EXPECT_TRUE(until([&] { return find<QLabel>("historyMessage")->text().contains("gone.f32"); }));
    EXPECT_TRUE(session().specimenOutcome().problem);
    session().undo();
    settle();
    EXPECT_FALSE(session().specimenOutcome().problem);
}

} // namespace
} // namespace fortitor
