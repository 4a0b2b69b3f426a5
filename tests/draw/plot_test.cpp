// SPDX-License-Identifier: GPL-3.0-or-later
// One plot for curves, scatters, maps and matrices, on linear, logarithmic and probability scales.
#include "draw/plot.h"

#include <gtest/gtest.h>

#include <QImage>

#include <cmath>
#include <set>

namespace fortitor {
namespace {

QImage painted(const Plot& plot, int width = 600, int height = 400)
{
    QImage image(width, height, QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    const QRectF room(0, 0, width, height);
    plot.paint(painter, lightPalette(), room, plot.chartIn(room));
    return image;
}

/// Pixels inside the axes that are not white.
int inked(const QImage& image, const QRectF& area)
{
    int count = 0;
    for (int y = static_cast<int>(area.top()) + 2; y < area.bottom() - 2; ++y)
        for (int x = static_cast<int>(area.left()) + 2; x < area.right() - 2; ++x)
            count += QColor(image.pixel(x, y)).lightness() < 200;
    return count;
}

TEST(Ticks, FourAtLeastOnEveryScaleAndRange)
{
    for (const auto& [low, high] :
         {std::pair(0.0, 1.0), {0.0, 0.0031}, {-40.0, 23.0}, {1e6, 1e6 + 3}, {0.97, 1.03}, {-1e-9, 2e-9}}) {
        const auto ticks = ticksOf(Scale::Linear, low, high, 4);
        EXPECT_GE(ticks.size(), 4u) << low << " " << high;
        std::set<QString> words;
        for (const Tick& t : ticks) {
            EXPECT_GE(t.at, low - 1e-9 * std::abs(high - low));
            EXPECT_LE(t.at, high + 1e-9 * std::abs(high - low));
            words.insert(t.words);
        }
        EXPECT_EQ(words.size(), ticks.size()) << "two ticks with one figure";
    }
    for (const auto& [low, high] : {std::pair(1.0, 1000.0), {3e4, 2e6}, {0.2, 9.0}, {1e-3, 1e9}, {450.0, 520.0}}) {
        const auto ticks = ticksOf(Scale::Log, low, high, 5);
        EXPECT_GE(ticks.size(), 4u) << low << " " << high;
        EXPECT_LE(ticks.size(), 16u) << low << " " << high;
    }
    for (const auto& [low, high] : {std::pair(0.01, 0.99), {0.4, 0.6}, {0.001, 0.9999}})
        EXPECT_GE(ticksOf(Scale::Probit, low, high, 5).size(), 4u) << low << " " << high;
}

TEST(Chart, ScalesGoThereAndBack)
{
    const Chart c(QRectF(0, 0, 300, 200), 1, 1000, 0.01, 0.99, Scale::Log, Scale::Probit);
    EXPECT_NEAR(c.px(10), 100, 1e-9);
    EXPECT_NEAR(c.px(100), 200, 1e-9);
    EXPECT_NEAR(c.py(0.5), 100, 1e-9);
    EXPECT_NEAR(c.xAt(150), std::pow(10, 1.5), 1e-9);
    EXPECT_NEAR(c.yAt(c.py(0.9)), 0.9, 1e-9);
    EXPECT_TRUE(std::isnan(c.px(0)));
    EXPECT_TRUE(std::isnan(c.py(1)));
    // Published quantile of the normal distribution.
    EXPECT_NEAR(Chart::onScale(Scale::Probit, 0.975), 1.959963985, 1e-9);
    // A range that has no place there is put inside.
    const Chart odd(QRectF(0, 0, 300, 200), -5, 0, 0, 2, Scale::Log, Scale::Probit);
    EXPECT_TRUE(std::isfinite(odd.px(5)));
    EXPECT_TRUE(std::isfinite(odd.py(0.3)));
}

TEST(Plot, EveryKindOfViewIsDrawn)
{
    CurveView curve;
    for (int i = 0; i < 500; ++i) {
        curve.x.push_back(1e-4 * i);
        curve.y.push_back(300 * (1 - std::exp(-0.02 * i)));
    }
    ScatterView scatter{.xAxis = {"cycles", Kind::Number, Scale::Log}, .yAxis = {"range", Kind::Stress}};
    scatter.points = {{.x = 1e4, .y = 200, .label = "a"},
                      {.x = 1e5, .y = 120, .label = "b"},
                      {.x = 2e6, .y = 80, .label = "c", .open = true},
                      {.x = 3e4, .y = 190, .label = "d", .left = true}};
    scatter.lines = {{"50 %", {1e4, 1e6}, {210, 85}, {180, 70}, {240, 100}}};
    MapView map{.value = {"hardness", Kind::Hardness}};
    map.points = {{.x = 1, .y = 1, .value = 450, .label = "1"}, {.x = 4, .y = 2, .value = 470, .label = "2"}};
    map.outline = {{0, 0}, {6, 0}, {6, 3}, {0, 3}};
    MatrixView matrix{.xAxis = {"range", Kind::Stress},
                      .yAxis = {"mean", Kind::Stress},
                      .xEdges = {0, 1, 2},
                      .yEdges = {0, 1, 2},
                      .cells = {10, 0, 3, 1000}};
    for (const View& view : {View(curve), View(scatter), View(map), View(matrix)}) {
        const Plot plot = plotOf(view, UnitSystem::SI);
        EXPECT_TRUE(plot.troubles.empty()) << view.index();
        EXPECT_GT(inked(painted(plot), plot.areaIn(QRectF(0, 0, 600, 400))), 60) << view.index();
        EXPECT_NE(painted(plot), painted(Plot{})) << view.index();
    }
}

TEST(Plot, WhatCantBeDrawnIsSaidAndTheRestIs)
{
    const double nan = std::nan("");
    ScatterView scatter{.xAxis = {"cycles", Kind::Number, Scale::Log}};
    scatter.points = {{.x = 0, .y = 1}, {.x = 100, .y = nan}, {.x = 1000, .y = 5}};
    const Plot plot = plotOf(View(scatter), UnitSystem::SI);
    EXPECT_EQ(plot.troubles.size(), 2u);
    EXPECT_GT(inked(painted(plot), plot.areaIn(QRectF(0, 0, 600, 400))), 20);
    for (const View& view :
         {View(CurveView{}), View(ScatterView{}), View(MapView{}), View(MatrixView{}),
          View(ScatterView{.points = {{.x = 1, .y = 1}}}), View(ScatterView{.points = {{.x = nan, .y = nan}}})}) {
        const Plot odd = plotOf(view, UnitSystem::InchPound);
        EXPECT_TRUE(std::isfinite(odd.x.low) && odd.x.low < odd.x.high) << view.index();
        EXPECT_TRUE(std::isfinite(odd.y.low) && odd.y.low < odd.y.high) << view.index();
        painted(odd, 200, 120);
    }
}

TEST(Plot, ALongCurveLooksTheSameFromItsTree)
{
    std::vector<double> x(50000), y(50000);
    for (size_t i = 0; i < x.size(); ++i) {
        x[i] = 1e-3 * static_cast<double>(i);
        y[i] = std::sin(0.4 * x[i]) + (i == 31234 ? 2 : 0);
    }
    Plot whole;
    whole.series.push_back({.x = x, .y = y});
    whole.fit();
    Plot fast = whole;
    fast.series[0].tree = std::make_shared<ExtentTree>(x, y);
    const QImage a = painted(whole);
    const QImage b = painted(fast);
    int differs = 0;
    for (int r = 0; r < a.height(); ++r)
        for (int c = 0; c < a.width(); ++c)
            differs += std::abs(QColor(a.pixel(c, r)).lightness() - QColor(b.pixel(c, r)).lightness()) > 90;
    EXPECT_LT(differs, 60) << "of " << inked(a, whole.areaIn(QRectF(0, 0, 600, 400)));
    // The single spike is there.
    const Chart chart = fast.chartIn(QRectF(0, 0, 600, 400));
    const QPointF spike = chart.at(x[31234], y[31234]);
    bool seen = false;
    for (int dx = -2; dx <= 2; ++dx)
        for (int dy = 0; dy <= 4; ++dy)
            seen = seen
                || QColor(b.pixel(static_cast<int>(spike.x()) + dx, static_cast<int>(spike.y()) + dy)).lightness()
                    < 190;
    EXPECT_TRUE(seen);
}

/// The words of what is wanted lie on no curve, however low the window and wherever on the climb the level stands.
TEST(Plot, TheWordsOfALimitKeepClearOfTheCurve)
{
    // A metal's: up within a fiftieth of the width, then a long arch.
    std::vector<double> x, y;
    for (int i = 0; i <= 4000; ++i) {
        x.push_back(0.16 * i / 4000);
        y.push_back(std::min(190e3 * x.back(), 250 + 90 * std::sin(3 * x.back() / 0.16)));
    }
    Plot plot;
    plot.x = {.title = "strain"};
    plot.y = {.title = "stress"};
    plot.series = {{.x = x, .y = y}};
    plot.fit();
    for (const int height : {200, 240, 300, 420})
        for (const double at : {60.0, 150.0, 240.0, 290.0, 330.0}) {
            plot.limits = {{.at = at, .words = QString("Rm wanted ≥ %1 MPa").arg(at)}};
            const Chart chart = plot.chartIn({0, 0, 640.0, static_cast<double>(height)});
            const QImage with = painted(plot, 640, height);
            plot.limits.front().words.clear();
            const QImage without = painted(plot, 640, height);
            int words = 0;
            int on = 0;
            const auto curveAt = [&](int px, int py) {
                for (size_t i = 0; i < x.size(); i += 2)
                    if (const QPointF c = chart.at(x[i], y[i]);
                        std::abs(c.x() - px) < 1.5 && std::abs(c.y() - py) < 1.5)
                        return true;
                return false;
            };
            for (int py = 0; py < height; ++py)
                for (int px = 0; px < 640; ++px)
                    if (with.pixel(px, py) != without.pixel(px, py)) {
                        ++words;
                        on += curveAt(px, py);
                    }
            EXPECT_GT(words, 200) << "no words at " << at;
            EXPECT_EQ(on, 0) << "at " << at << " in a plot " << height << " high";
        }
}

TEST(Plot, DataAreWrittenInTheUnitsShown)
{
    ScatterView scatter{.xAxis = {"strain", Kind::Strain}, .yAxis = {"stress", Kind::Stress}};
    scatter.points = {{.x = 0.002, .y = 140, .label = "A \"1\""}, {.x = 0.004, .y = 280, .label = "A2"}};
    const std::string text = plotOf(View(scatter), UnitSystem::SI).csv();
    EXPECT_NE(text.find("\"readings strain, %\",\"readings stress, MPa\""), std::string::npos) << text;
    EXPECT_NE(text.find("\"A \"\"1\"\"\",0.2,140"), std::string::npos) << text;
    MatrixView matrix{.xAxis = {"range", Kind::Stress},
                      .yAxis = {"mean", Kind::Stress},
                      .xEdges = {0, 1, 2},
                      .yEdges = {0, 1},
                      .cells = {10, 3}};
    EXPECT_NE(plotOf(View(matrix), UnitSystem::SI).csv().find("1,2,0,1,3"), std::string::npos);
}

} // namespace
} // namespace fortitor
