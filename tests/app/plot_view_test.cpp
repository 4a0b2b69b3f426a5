// SPDX-License-Identifier: GPL-3.0-or-later
// The plot that all pages look at: by mouse, by key, saved.
#include "app/widgets/plot_view.h"

#include <gtest/gtest.h>

#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <QWheelEvent>

#include <cmath>

namespace fortitor {
namespace {

class PlotViewTest : public testing::Test {
protected:
    void SetUp() override
    {
        scatter = ScatterView{.xAxis = {"cycles", Kind::Number, Scale::Log}, .yAxis = {"range", Kind::Stress}};
        scatter.points = {
            {.x = 1e4, .y = 200, .label = "a"}, {.x = 1e5, .y = 120, .label = "b"}, {.x = 1e6, .y = 80, .label = "c"}};
        view.resize(500, 320);
        view.QWidget::show();
        held = scatter;
        view.show(plotOf(held, UnitSystem::SI));
    }
    ScatterView scatter;
    View held;
    PlotView view;
};

TEST_F(PlotViewTest, PansZoomsAndGoesBack)
{
    const QPointF before = view.spotOf("b");
    ASSERT_TRUE(view.chart().area().contains(before));
    QTest::mousePress(&view, Qt::LeftButton, {}, {200, 150});
    QTest::mouseMove(&view, {240, 160});
    QTest::mouseMove(&view, {260, 170});
    QTest::mouseRelease(&view, Qt::LeftButton, {}, {260, 170});
    EXPECT_NEAR(view.spotOf("b").x() - before.x(), 60, 1);
    EXPECT_NEAR(view.spotOf("b").y() - before.y(), 20, 1);
    QTest::keyClick(&view, Qt::Key_0);
    EXPECT_EQ(view.spotOf("b"), before);
    QTest::keyClick(&view, Qt::Key_Right);
    EXPECT_NEAR(view.spotOf("b").x() - before.x(), -40, 1e-6);
    QTest::mouseDClick(&view, Qt::LeftButton, {}, {100, 100});
    EXPECT_EQ(view.spotOf("b"), before);
    // The place under the hand stays.
    view.zoomAt(before, 0.5);
    EXPECT_NEAR(view.spotOf("b").x(), before.x(), 1e-6);
    EXPECT_GT(std::abs(view.spotOf("a").x() - before.x()),
              1.8 * std::abs(before.x() - view.chart().area().left()) * 0.4);
    for (int i = 0; i < 500; ++i)
        view.zoomAt(before, 0.5); // no end of closeness breaks it
    view.grab();
    for (int i = 0; i < 2000; ++i)
        view.zoomAt(before, 2);
    view.grab();
    view.showAll();
    EXPECT_EQ(view.spotOf("b"), before);
}

TEST_F(PlotViewTest, APointIsChosenByAClickNotByADrag)
{
    QSignalSpy chosen(&view, &PlotView::pointChosen);
    QTest::mouseClick(&view, Qt::LeftButton, {}, view.spotOf("c").toPoint());
    ASSERT_EQ(chosen.size(), 1);
    EXPECT_EQ(chosen[0][0].toString(), "c");
    QTest::mousePress(&view, Qt::LeftButton, {}, view.spotOf("a").toPoint());
    QTest::mouseMove(&view, view.spotOf("a").toPoint() + QPoint(30, 0));
    QTest::mouseRelease(&view, Qt::LeftButton, {}, view.spotOf("a").toPoint());
    EXPECT_EQ(chosen.size(), 1);
}

TEST_F(PlotViewTest, TheWindowStaysWhileTheExtentDoes)
{
    view.zoomAt({200, 150}, 0.5);
    const QPointF at = view.spotOf("b");
    view.show(plotOf(held, UnitSystem::SI));
    EXPECT_EQ(view.spotOf("b"), at);
    scatter.points.push_back({.x = 1e8, .y = 20, .label = "d"});
    const View wider = scatter;
    view.show(plotOf(wider, UnitSystem::SI));
    EXPECT_TRUE(view.chart().area().contains(view.spotOf("d")));
}

TEST_F(PlotViewTest, PictureAndDataAreSaved)
{
    QTemporaryDir folder;
    ASSERT_TRUE(view.savePicture(folder.filePath("p.png")));
    EXPECT_EQ(QImage(folder.filePath("p.png")).size(), QSize(2000, 1280));
    ASSERT_TRUE(view.saveData(folder.filePath("d.csv")));
    QFile csv(folder.filePath("d.csv"));
    ASSERT_TRUE(csv.open(QFile::ReadOnly));
    EXPECT_EQ(csv.readAll().count('\n'), 4);
    EXPECT_FALSE(view.saveData("/no/such/folder/d.csv"));
    EXPECT_FALSE(view.savePicture("/no/such/folder/p.png"));
}

TEST_F(PlotViewTest, NothingAndOddThingsCanBeLookedAt)
{
    view.clear();
    view.grab();
    const View none = ScatterView{};
    view.show(plotOf(none, UnitSystem::SI));
    view.zoomAt({100, 100}, 0.5);
    view.panBy({10, 10});
    view.grab();
    EXPECT_EQ(view.plot().troubles.size(), 1u);
}

} // namespace
} // namespace fortitor
