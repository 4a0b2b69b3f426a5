// SPDX-License-Identifier: GPL-3.0-or-later
// Plates struck and then compressed: the page of the drop weight, the curves of Read, the chain of two jobs, the
// balance.
#include "support.h"

#include "app/bench/drop/drop_page.h"
#include "app/bench/read/curve_plot.h"
#include "app/bench/setup/balance_view.h"
#include "jobs/edits.h"
#include "methods/cai/cai.h"

#include <QComboBox>
#include <QLabel>

namespace fortitor {
namespace {

class PlateTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    [[nodiscard]] Json piece(size_t index) { return session().document().json()["specimens"][index]; }
};

TEST_F(PlateTest, WhatTheCompressionFoundIsShownWhereThePlateWasStruck)
{
    openAt("J-0117", 0, Stage::Load);
    EXPECT_TRUE(find<QLabel>("dropAfter")->text().startsWith("then J-0117C: "))
        << find<QLabel>("dropAfter")->text().toStdString();
    EXPECT_TRUE(find<QLabel>("dropAfter")->text().contains("MPa"));
}

TEST_F(PlateTest, APlateIsStruckAndItsDamageKept)
{
    openAt("J-0117", 0, Stage::Load);
    EXPECT_TRUE(find<QLabel>("dropCaution")->text().contains("Mass blocked?"));
    EXPECT_FALSE(find<QPushButton>("dropSimulated")->isEnabled()); // struck already
    window->findChild<QWidget*>("tags")->setFocus();
    press(Qt::Key_Insert);
    settle();
    ASSERT_EQ(session().current(), 5u);
    openAt("J-0117", 5, Stage::Load);
    auto* dent = find<QLineEdit>("drop-dent_depth");
    dent->setFocus();
    type("0.36");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(piece(5)["dimensions"]["dent_depth"], "0.36 mm");
    // Without a height or a thickness the simulated tower knows no blow.
    find<DropPage>("dropPage")->setFocus();
    press(Qt::Key_I);
    EXPECT_TRUE(find<QLabel>("dropMessage")->text().contains("thickness"));
    find<QLineEdit>("drop-height")->setFocus();
    type("480");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(piece(5)["options"]["height"], "480 mm");
    find<DropPage>("dropPage")->setFocus();
    press(Qt::Key_I);
    settle();
    ASSERT_TRUE(session().hasRecord(5));
    const auto& outcome = session().specimenOutcome().outcome;
    EXPECT_NEAR(*outcome->find("E_nominal")->value, 5.5 * 9.80665 * 0.48, 1e-9);
    EXPECT_TRUE(outcome->find("F_max")->value);
    EXPECT_TRUE(piece(5)["options"].contains("speed"));
}

TEST_F(PlateTest, ReadShowsForceDeflectionAndEnergy)
{
    openAt("J-0117", 2, Stage::Read);
    auto* choice = find<QComboBox>("readViewChoice");
    ASSERT_TRUE(choice->isVisible());
    ASSERT_EQ(choice->count(), 3);
    EXPECT_EQ(choice->itemText(0), "force and time");
    auto* plot = find<CurvePlot>("curvePlot");
    EXPECT_TRUE(plot->plot().x.title.startsWith("time"));
    choice->setCurrentIndex(2);
    emit choice->activated(2);
    settle();
    EXPECT_TRUE(plot->plot().y.title.startsWith("energy")) << plot->plot().y.title.toStdString();
}

TEST_F(PlateTest, TheSamePlatesGoOnToCompression)
{
    openAt("J-0117", 1, Stage::Load);
    // Their job is there already: it is opened, not made once more.
    const size_t jobs = book->jobs().size();
    EXPECT_TRUE(find<QPushButton>("dropChain")->text().contains("J-0117C"));
    find<QPushButton>("dropChain")->click();
    settle();
    EXPECT_EQ(session().job().number, "J-0117C");
    EXPECT_EQ(session().current(), 1u);
    EXPECT_EQ(book->jobs().size(), jobs);
    // Under another number it is made, with what is known of each blow.
    openAt("J-0117", 1, Stage::Load);
    session().apply(edits::head(session().document(), "number", "J-0117B"));
    settle();
    find<QPushButton>("dropChain")->click();
    settle();
    EXPECT_EQ(session().job().chain, "J-0117B");
    EXPECT_EQ(book->jobs().size(), jobs + 1);
    ASSERT_EQ(session().job().specimens.size(), 5u);
    EXPECT_EQ(session().job().specimens[1].label, "S2");
    const Json notes = piece(1)["notes"];
    ASSERT_TRUE(notes.contains(caiKeys::blow));
    EXPECT_NE(notes[caiKeys::blow].get<std::string>().find(" J"), std::string::npos);
    EXPECT_TRUE(piece(1)["dimensions"].contains("thickness"));
    EXPECT_FALSE(piece(1)["dimensions"].contains("dent_depth"));
}

TEST_F(PlateTest, ByKeysTheFieldsComeBeforeWhatMakesAJob)
{
    openAt("J-0117", 0, Stage::Load);
    find<QLineEdit>("drop-height")->setFocus();
    QStringList way;
    for (int i = 0; i < 6; ++i) {
        way << QApplication::focusWidget()->objectName();
        press(Qt::Key_Tab);
    }
    EXPECT_EQ(way.join(' '),
              "drop-height drop-speed drop-dent_depth drop-dent_depth_relaxed drop-damage_length "
              "drop-damage_width");
}

TEST_F(PlateTest, StrengthOverTheEnergyOfTheBlow)
{
    openAt("J-0117C", 0, Stage::Judge);
    const auto& set = session().outcome().set;
    ASSERT_TRUE(set);
    const auto* scatter = set->view<ScatterView>();
    ASSERT_TRUE(scatter);
    EXPECT_EQ(scatter->points.size(), 4u); // the fifth waits
    EXPECT_GT(scatter->points.front().y, scatter->points.back().y);
}

TEST_F(PlateTest, TheBalanceSaysWhichCornerToEase)
{
    BalanceView view;
    view.resize(420, 132);
    std::vector<Corner> asked;
    QObject::connect(&view, &BalanceView::easeAsked, [&](Corner corner) { asked.push_back(corner); });
    const Balance off = balanceOf({700e-6, 480e-6, 500e-6, 420e-6});
    view.show(off, true);
    QTest::mouseClick(&view, Qt::LeftButton, {}, view.barOf(*off.most).center().toPoint());
    ASSERT_EQ(asked.size(), 1u);
    EXPECT_EQ(asked.front(), Corner::FrontLeft);
    view.show(off, false); // a real fixture is turned by hand
    QTest::mouseClick(&view, Qt::LeftButton, {}, view.barOf(*off.most).center().toPoint());
    EXPECT_EQ(asked.size(), 1u);
}

} // namespace
} // namespace fortitor
