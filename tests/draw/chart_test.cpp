// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/chart.h"
#include "draw/specimen_drawing.h"

#include "sim/random.h"

#include <gtest/gtest.h>

#include <QImage>
#include <QPainter>

#include <cmath>

namespace fortitor {
namespace {

TEST(Ticks, RoundStepsInsideTheRange)
{
    for (const auto& [low, high] : {std::pair{0.0, 14.3}, std::pair{-3.0, 350.0}, std::pair{0.001, 0.0074},
                                    std::pair{0.0, 1e7}, std::pair{-1e-3, 1e-3}}) {
        const Ticks t = niceTicks(low, high, 6);
        ASSERT_GE(t.at.size(), 3u) << low << " " << high;
        ASSERT_LE(t.at.size(), 14u);
        const double step = t.at[1] - t.at[0];
        const double lead = step / std::pow(10, std::floor(std::log10(step) + 1e-9));
        EXPECT_TRUE(std::abs(lead - 1) < 1e-6 || std::abs(lead - 2) < 1e-6 || std::abs(lead - 5) < 1e-6) << lead;
        for (double v : t.at) {
            EXPECT_GE(v, low - 1e-9 * step);
            EXPECT_LE(v, high + 1e-9 * step);
            // As many decimals as it takes to say the number.
            EXPECT_NEAR(v * std::pow(10, t.decimals), std::round(v * std::pow(10, t.decimals)), 1e-5);
        }
    }
    EXPECT_TRUE(niceTicks(1, 1, 5).at.empty());
    EXPECT_TRUE(niceTicks(0, std::nan(""), 5).at.empty());
}

TEST(RoomyRange, HoldsTheData)
{
    for (const auto& [low, high] :
         {std::pair{0.0, 13.1}, std::pair{0.0, 312.0}, std::pair{-0.05, 14.0}, std::pair{5.0, 5.0}}) {
        const auto [a, b] = roomyRange(low, high);
        EXPECT_LE(a, low);
        EXPECT_GT(b, high);
        EXPECT_LT(b - a, 2 * (high - low) + 1.01);
    }
}

TEST(Chart, MapsBothWays)
{
    const Chart chart(QRectF(50, 20, 400, 300), 0, 14, 0, 350);
    for (double x : {0.0, 3.5, 14.0})
        EXPECT_NEAR(chart.xAt(chart.px(x)), x, 1e-12);
    for (double y : {0.0, 100.0, 350.0})
        EXPECT_NEAR(chart.yAt(chart.py(y)), y, 1e-12);
    EXPECT_EQ(chart.at(0, 0), QPointF(50, 320));
}

/// A long noisy curve and the thinned one leave the same picture but for single pixels.
TEST(Chart, ThinningDoesNotShow)
{
    Random random(4);
    std::vector<double> x;
    std::vector<double> y;
    for (int i = 0; i < 60000; ++i) {
        const double e = 12.0 * i / 60000;
        x.push_back(e);
        y.push_back(300 * (1 - std::exp(-e * 2)) + 0.8 * random.normal() + (i % 9000 == 4500 ? 30 : 0));
    }
    const Chart chart(QRectF(0, 0, 500, 300), 0, 12, 0, 350);
    const auto picture = [&](bool thin) {
        QImage image(500, 300, QImage::Format_Grayscale8);
        image.fill(Qt::white);
        QPainter painter(&image);
        painter.setPen(QPen(Qt::black, 1));
        QPolygonF line = chart.thinned(x, y);
        if (!thin) {
            line.clear();
            for (size_t i = 0; i < x.size(); ++i)
                line << chart.at(x[i], y[i]);
        }
        painter.drawPolyline(line);
        return image;
    };
    const QImage whole = picture(false);
    const QImage thin = picture(true);
    int differ = 0;
    for (int row = 0; row < 300; ++row)
        for (int column = 0; column < 500; ++column)
            differ += whole.pixel(column, row) != thin.pixel(column, row);
    EXPECT_LT(differ, 900);
    EXPECT_LT(chart.thinned(x, y).size(), 4000);
    // Each of the spikes is still there.
    for (int spike = 0; spike < 6; ++spike) {
        const int column = static_cast<int>(chart.px(x[static_cast<size_t>(spike * 9000 + 4500)]));
        int top = 300;
        for (int c = std::max(0, column - 2); c <= column + 2; ++c)
            for (int row = 0; row < top; ++row)
                if (qGray(thin.pixel(c, row)) < 128)
                    top = row;
        EXPECT_LT(top, chart.py(y[static_cast<size_t>(spike * 9000 + 4500)]) + 3) << spike;
    }
}

TEST(Chart, ThinningKeepsEndsAndShortCurves)
{
    const Chart chart(QRectF(0, 0, 100, 100), 0, 10, 0, 10);
    const std::vector<double> x{1, 2, 9};
    const std::vector<double> y{1, 5, 2};
    const QPolygonF line = chart.thinned(x, y);
    ASSERT_EQ(line.size(), 3);
    EXPECT_EQ(line.front(), chart.at(1, 1));
    EXPECT_EQ(line.back(), chart.at(9, 2));
    EXPECT_TRUE(chart.thinned({}, {}).size() <= 1);
}

TEST(Symbols, LoweredLetters)
{
    EXPECT_EQ(symbolHtml("Rp0.2"), "R<sub>p0.2</sub>");
    EXPECT_EQ(symbolHtml("A_ext"), "A<sub>ext</sub>");
    EXPECT_EQ(symbolHtml("E"), "E");
    EXPECT_EQ(symbolHtml("yield_ratio"), "Re/Rm");
    EXPECT_GT(drawSymbol(nullptr, {}, "Rp0.2", wordFont(12)), drawSymbol(nullptr, {}, "Rm", wordFont(12)));
}

TEST(Fonts, ShippedFacesAreUsed)
{
    EXPECT_TRUE(wordFont(12).family().startsWith("Inter"));
    EXPECT_TRUE(figureFont(12).family().startsWith("JetBrains"));
    const QFontMetricsF figures(figureFont(16));
    EXPECT_NEAR(figures.horizontalAdvance('1'), figures.horizontalAdvance('8'), 1e-6);
}

TEST(SpecimenDrawing, PlacesLieBetweenTheMarksToScale)
{
    for (const char* shape : {"round", "rectangular", "tube"}) {
        const SpecimenDrawing d = layOutBar(QRectF(60, 100, 800, 120), "waisted", shape, 60, 50, 10);
        EXPECT_NEAR((d.markRight - d.markLeft) / d.bar.width(), 50.0 / 60, 1e-9);
        ASSERT_EQ(d.places.size(), 3u);
        for (const QPointF& p : d.places) {
            EXPECT_GT(p.x(), d.markLeft);
            EXPECT_LT(p.x(), d.markRight);
        }
        EXPECT_TRUE(d.outline.contains(d.bar.center()));
        EXPECT_FALSE(silhouette("waisted", shape, QRectF(0, 0, 12, 20)).isEmpty());
    }
    // Unknown lengths still give a bar that can be drawn.
    const SpecimenDrawing unknown = layOutBar(QRectF(60, 100, 800, 120), "waisted", "round", 0, 0, 0);
    EXPECT_GT(unknown.bar.width(), 100);
}

TEST(SpecimenDrawing, LoadsOfABeamStandToScale)
{
    SpecimenDrawing d = layOutBar(QRectF(60, 100, 800, 120), "beam", "rectangular", 300, 0, 20);
    EXPECT_NEAR(d.bar.height() / d.bar.width(), 20.0 / 300, 1e-9) << "depth and span to one scale";
    putLoads(d, 300, std::nullopt);
    ASSERT_EQ(d.loads.size(), 1u);
    EXPECT_NEAR(d.loads[0], d.bar.center().x(), 1e-9);
    putLoads(d, 300, 100);
    ASSERT_EQ(d.loads.size(), 2u);
    EXPECT_NEAR((d.loads[1] - d.loads[0]) / d.bar.width(), 1.0 / 3, 1e-9);
    putLoads(d, 300, 400); // no load span of that beam
    EXPECT_EQ(d.loads.size(), 1u);
    // Everything that may be noted is drawn, and words that say nothing draw nothing odd.
    QImage image(900, 400, QImage::Format_ARGB32);
    QPainter painter(&image);
    for (const char* rings : {"", "flat", "at 45°", "upright"})
        for (const char* grain : {"", "1 in 20", "straight", "in", "1 in 0"})
            paintWood(painter, lightPalette(), d, rings, grain, "one, tight");
    paintBar(painter, lightPalette(), d, {true, false, true}, 1, "load span", "span");
}

} // namespace
} // namespace fortitor
