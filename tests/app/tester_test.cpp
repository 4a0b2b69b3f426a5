// SPDX-License-Identifier: GPL-3.0-or-later
// Testers over time, tables of hardness, zones of a piece: by keys and mouse.
#include "support.h"

#include "jobs/edits.h"

#include "app/bench/indent/block_dialog.h"
#include "app/bench/indent/piece_map.h"
#include "app/model/own_tables.h"
#include "app/shell/hardness_reference.h"
#include "app/widgets/plot_view.h"

#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QSettings>
#include <QTableWidget>

namespace fortitor {
namespace {

class TesterTest : public test::AppTest {
protected:
    void SetUp() override
    {
        AppTest::SetUp();
        startWithDemo();
    }
    [[nodiscard]] const Json& piece(size_t i) { return session().document().json()["specimens"][i]; }
};

TEST_F(TesterTest, ADriftIsNamedAndWhatIsChosenIsOpened)
{
    BlockDialog dialog(session(), "tester R-2", "HRC");
    EXPECT_EQ(dialog.findChild<QComboBox*>("blockWhich")->currentText(), "tester R-2 · HRC");
    EXPECT_TRUE(dialog.findChild<QLabel*>("blockWords")->text().startsWith("The error drifts by +0."));
    auto* table = dialog.findChild<QTableWidget*>("blockTable");
    EXPECT_EQ(table->rowCount(), 16);
    EXPECT_EQ(table->item(0, 2)->text(), "D16") << "the newest first";
    EXPECT_GE(dialog.findChild<PlotView*>("blockPlot")->plot().limits.size(), 3u);
    table->setCurrentCell(3, 0);
    QTest::mouseClick(dialog.findChild<QPushButton*>("blockOpen"), Qt::LeftButton);
    ASSERT_TRUE(dialog.asked());
    EXPECT_EQ(dialog.asked()->label, "D13");
    window->go(MainWindow::Today);
    bool told = false;
    for (QLabel* one : window->findChildren<QLabel*>())
        told = told || one->text() == "tester R-2 · HRC";
    EXPECT_TRUE(told);
}

TEST_F(TesterTest, ABlockOutOfItsLimitsMarksWhatWasReadSinceTheLastGoodCheck)
{
    openAt("J-0098", 16, Stage::Load); // D17, nothing read yet
    for (const char* number : {"46.0", "46.2", "47.9", "47.8", "47.9"}) { // two only seat the cone
        type(number);
        press(Qt::Key_Return);
        settle();
        if (find<QLabel>("indentMessage")->text().contains("Enter again"))
            press(Qt::Key_Return);
        settle();
    }
    EXPECT_EQ(piece(16)["notes"]["tester"], "tester R-2");
    EXPECT_TRUE(piece(16)["notes"].contains("read_at"));
    openAt("J-0112", 4, Stage::Read); // S3c, on the cone of the same tester, two days ago
    const auto inMargin = [&] {
        for (QLabel* one : window->findChildren<QLabel*>())
            if (one->isVisible() && one->text().contains("D17 in J-0098 was out of its limits"))
                return true;
        return false;
    };
    EXPECT_TRUE(inMargin()) << "marked in its own job, whichever job the check stands in";
    openAt("J-0112", 1, Stage::Read); // S1, on the ball
    EXPECT_FALSE(inMargin());
    BlockDialog dialog(session(), "tester R-2", "HRC");
    EXPECT_TRUE(dialog.findChild<QLabel*>("blockWords")->text().startsWith("Out of its limits"));
    auto* table = dialog.findChild<QTableWidget*>("blockTable");
    EXPECT_EQ(table->item(0, 2)->text(), "S3c");
    EXPECT_EQ(table->item(0, 6)->text(), "× read in doubt");
    EXPECT_EQ(table->item(1, 6)->text(), "× out of its limits");
}

TEST_F(TesterTest, ThePlacesOfEarlierChecksAreKeptAndAvoided)
{
    openAt("J-0098", 16, Stage::Measure);
    click("planFree");
    settle();
    ASSERT_EQ(session().specimen().input.places.size(), 1u);
    const Spot first = session().specimen().input.places[0];
    for (size_t i = 0; i < 16; ++i)
        for (const auto& x : session().job().specimens[i].input.readings.at("x"))
            EXPECT_GT(std::abs(x->base - first.x) + 100 * std::abs(-20 + 2.2 * static_cast<double>(i) - first.y), 1.4);
    click("planFree");
    settle();
    EXPECT_EQ(session().specimen().input.places.size(), 2u);
    auto* map = find<PieceMap>("pieceMap");
    QTest::mouseClick(map, Qt::LeftButton, {}, map->spotOf(2.2, 2).toPoint());
    EXPECT_TRUE(find<QLabel>("pieceMessage")->text().contains("earlier check"))
        << find<QLabel>("pieceMessage")->text().toStdString();
    click("planTraverse");
    EXPECT_TRUE(find<QLabel>("pieceMessage")->text().contains("no case"));
}

TEST_F(TesterTest, AChangeOfTheIndenterIsNoticed)
{
    QSettings().setValue("tester/HRBW", "tester R-2");
    openAt("J-0112", 6, Stage::Load); // S5 in HRB, nothing read yet; S4 was the last, on the same ball
    EXPECT_FALSE(find<QLabel>("indentMessage")->text().contains("only seat it"));
    openAt("J-0098", 16, Stage::Load); // the cone, on the same tester
    type("45.9");
    press(Qt::Key_Return);
    settle();
    openAt("J-0112", 6, Stage::SetUp);
    openAt("J-0112", 6, Stage::Load);
    EXPECT_TRUE(find<QLabel>("indentMessage")->text().contains("only seat it"));
    for (const char* number : {"96.9", "97.2", "97.4", "97.3"}) {
        type(number);
        press(Qt::Key_Return);
        settle();
    }
    EXPECT_EQ(piece(6)["notes"]["after_change"], "yes");
    EXPECT_EQ(piece(6)["notes"]["tester"], "tester R-2");
    const auto& readings = session().specimenOutcome().outcome->readings;
    ASSERT_EQ(readings.size(), 4u);
    EXPECT_TRUE(readings[0].setAside && readings[1].setAside && !readings[2].setAside);
    press(Qt::Key_Z, Qt::ControlModifier);
    for (int i = 0; i < 3; ++i)
        press(Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_FALSE(piece(6).contains("readings"));
    type("97.0");
    press(Qt::Key_Return);
    settle();
    EXPECT_EQ(piece(6)["notes"]["after_change"], "yes") << "it is still the first after the change";
    click("indentLog");
    bool logged = false;
    for (const JournalEntry& line : session().logbook().journal(session().jobId(), 20))
        logged = logged || line.what.contains("tester R-2: finished and covered after S5");
    EXPECT_TRUE(logged);
}

TEST_F(TesterTest, AnotherAnvilIsSeatedToo)
{
    QSettings().setValue("tester/HRBW", "tester R-2");
    openAt("J-0112", 5, Stage::Measure); // S4, the last that was read
    const auto noted = [&](const std::string& anvil) {
        ASSERT_TRUE(session().apply(edits::note(session().document(), session().current(), "stands_on", anvil)));
        settle();
    };
    noted("flat");
    openAt("J-0112", 6, Stage::Load);
    EXPECT_FALSE(find<QLabel>("indentMessage")->text().contains("only seat it")) << "which anvil is not noted";
    noted("flat");
    openAt("J-0112", 6, Stage::Load);
    EXPECT_FALSE(find<QLabel>("indentMessage")->text().contains("only seat it"));
    noted("V");
    openAt("J-0112", 5, Stage::Load);
    openAt("J-0112", 6, Stage::Load);
    EXPECT_TRUE(find<QLabel>("indentMessage")->text().contains("only seat it"));
}

TEST_F(TesterTest, ANumberStandsOnTheOtherScalesByTheTablesOrByOnesOwn)
{
    window->go(MainWindow::Reference);
    click("referenceHardness");
    auto* from = find<QLineEdit>("convertFrom");
    auto* table = find<QTableWidget>("convertTable");
    from->setFocus();
    type("45 HRC");
    const auto numberOf = [&](const char* scale) {
        for (int r = 0; r < table->rowCount(); ++r)
            if (table->item(r, 0)->text() == scale)
                return table->item(r, 1)->text();
        return QString("none");
    };
    EXPECT_EQ(numberOf("HV"), "446 HV");
    EXPECT_EQ(numberOf("HRBW"), "–");
    EXPECT_TRUE(find<QLabel>("convertStrength")->text().contains("3.45"));
    auto* material = find<QComboBox>("convertMaterial");
    material->setCurrentIndex(1);
    emit material->activated(1);
    EXPECT_EQ(numberOf("HV"), "–");
    EXPECT_TRUE(find<QLabel>("convertStrength")->text().startsWith("No estimate"));
    from->selectAll();
    type("120 HRC");
    EXPECT_EQ(numberOf("HV"), "–");

    QFile own(folder.filePath("brass.csv"));
    ASSERT_TRUE(own.open(QIODevice::WriteOnly));
    own.write("# name: brass, works table\n# material: CuZn\nHV,HRB,HBW\n100,55.5,95\n120,66,114\n140,74,133\n");
    own.close();
    auto* panel = find<ConversionPanel>("conversionPanel");
    ASSERT_TRUE(panel->load(own.fileName()));
    from->selectAll();
    type("110 HV");
    EXPECT_EQ(numberOf("HRBW"), "60.8 HRBW");
    EXPECT_EQ(readOwnConversions(session().logbook()).size(), 1u);
    QFile bad(folder.filePath("bad.csv"));
    ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
    bad.write("HV,HRB\n100,55\n90,57\n");
    bad.close();
    EXPECT_FALSE(panel->load(bad.fileName()));
    EXPECT_TRUE(find<QLabel>("convertMessage")->text().contains("row 2"));
    click("convertTakeOut");
    EXPECT_TRUE(readOwnConversions(session().logbook()).empty());
}

TEST_F(TesterTest, OwnLimitsHoldForTheNextBlockAndNeedASource)
{
    window->go(MainWindow::Reference);
    click("referenceLimits");
    auto* table = find<QTableWidget>("limitsTable");
    int row = -1;
    for (int r = 0; r < table->rowCount(); ++r)
        if (table->item(r, 0)->text() == "HRC")
            row = r;
    ASSERT_GE(row, 0);
    table->item(row, 2)->setText("0.5");
    ASSERT_FALSE(readOwnLimits(session().logbook()).empty());
    table->item(row, 4)->setText("");
    EXPECT_TRUE(find<QLabel>("limitsMessage")->text().contains("not whole"));
    table->item(row, 4)->setText("works standard 12");
    EXPECT_TRUE(find<QLabel>("limitsMessage")->text().isEmpty());
    openAt("J-0098", 16, Stage::Load); // the ball was on it last: two only seat the cone
    for (int i = 0; i < 3; ++i) {
        type("45.9");
        press(Qt::Key_Return);
        settle();
    }
    EXPECT_EQ(piece(16)["options"]["block_error_limit"], "0.500000");
    EXPECT_TRUE(session().specimenOutcome().outcome->remarked("block-out-of-limits")) << "0.7 off";
    window->go(MainWindow::Reference);
    click("limitsBack");
    EXPECT_TRUE(readOwnLimits(session().logbook()).empty());
    EXPECT_EQ(piece(16)["options"]["block_error_limit"], "0.500000") << "it stays with what was read";
}

TEST_F(TesterTest, ABrushPutsReadingsIntoAZoneWithItsStatistics)
{
    openAt("J-0113", 1, Stage::Read); // C1, three indents
    auto* plot = find<PlotView>("readViews");
    click("zoneBrush");
    const auto over = [&](std::initializer_list<const char*> names) {
        const QPoint start = plot->spotOf(*names.begin()).toPoint();
        QTest::mousePress(plot, Qt::LeftButton, {}, start);
        for (const char* name : names)
            QTest::mouseMove(plot, plot->spotOf(name).toPoint());
        QTest::mouseRelease(plot, Qt::LeftButton, {}, plot->spotOf(*(names.end() - 1)).toPoint());
        settle();
    };
    over({"1", "2"});
    ASSERT_TRUE(piece(1).contains("zones"));
    EXPECT_EQ(piece(1)["zones"]["weld"].size(), 2u);
    const auto& groups = session().specimenOutcome().outcome->groups;
    ASSERT_EQ(groups.size(), 1u);
    const auto& readings = session().specimenOutcome().outcome->readings;
    EXPECT_NEAR(groups[0].mean, (*readings[0].value + *readings[1].value) / 2, 1e-9);
    EXPECT_TRUE(find<QLabel>("zoneWords")->text().startsWith("weld: "));
    find<QComboBox>("zoneName")->setCurrentText("flange");
    over({"2"});
    EXPECT_EQ(piece(1)["zones"]["weld"].size(), 1u) << "a reading is in one zone";
    EXPECT_EQ(piece(1)["zones"]["flange"].size(), 1u);
    auto* numbers = find<QLineEdit>("zoneNumbers");
    numbers->setText("2-9");
    QTest::keyClick(numbers, Qt::Key_Return);
    EXPECT_TRUE(find<QLabel>("zoneWords")->text().contains("numbers from 1 to 3"));
    numbers->setText("2-3");
    QTest::keyClick(numbers, Qt::Key_Return);
    settle();
    EXPECT_EQ(piece(1)["zones"]["flange"].size(), 2u) << "keyed in, without a mouse";
    click("zoneOut");
    settle();
    EXPECT_FALSE(piece(1)["zones"].contains("flange"));
    press(Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_TRUE(piece(1)["zones"].contains("flange"));
}

} // namespace
} // namespace fortitor
