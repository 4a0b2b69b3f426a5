// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of indents, and the chart of a tester's checks.
#include "app/bench/indent/block_dialog.h"
#include "sim/indent_camera.h"
#include "vision/vision.h"

#include <benchmark/benchmark.h>

#include <QApplication>
#include <QBuffer>
#include <QImage>
#include <QPainter>

#include <cmath>

namespace fortitor {
namespace {

/// As many megapixels, with an indent that takes up half of the picture's height.
GreyPicture shotOf(double megapixels, IndentShape shape)
{
    const int height = static_cast<int>(std::sqrt(megapixels * 1e6 / 1.333));
    const int width = static_cast<int>(1.333 * height);
    return takeShot({.shape = shape,
                     .first = 0.5 * height * 1e-4,
                     .second = 0.5 * height * 1e-4 * (shape == IndentShape::Long ? 1 / 7.114 : 1.004),
                     .pixel = 1e-4,
                     .angle = 0.4,
                     .width = width,
                     .height = height,
                     .seed = 5});
}

void findIndent(benchmark::State& state)
{
    const auto shape = static_cast<IndentShape>(state.range(1));
    const GreyPicture picture = shotOf(static_cast<double>(state.range(0)), shape);
    const Vision& reader = **vision();
    for (auto _ : state) {
        const auto found = reader.find(picture, shape);
        if (!found)
            state.SkipWithError(found.problem().text().c_str());
        benchmark::DoNotOptimize(found);
    }
}
BENCHMARK(findIndent)
    ->ArgsProduct({{5, 20}, {0, 1, 2}})
    ->ArgNames({"megapixels", "shape"})
    ->Unit(benchmark::kMillisecond);

void decodePicture(benchmark::State& state)
{
    const GreyPicture picture = shotOf(static_cast<double>(state.range(0)), IndentShape::Square);
    QByteArray bytes;
    QBuffer into(&bytes);
    into.open(QIODevice::WriteOnly);
    QImage(picture.pixels.data(), picture.width, picture.height, picture.width, QImage::Format_Grayscale8)
        .save(&into, "PNG");
    const Vision& reader = **vision();
    for (auto _ : state)
        benchmark::DoNotOptimize(reader.decode(
            {reinterpret_cast<const std::uint8_t*>(bytes.constData()), static_cast<size_t>(bytes.size())}, "bench"));
}
BENCHMARK(decodePicture)->Arg(5)->Arg(20)->ArgName("megapixels")->Unit(benchmark::kMillisecond);

/// What the chart of so many checks takes: history, plot, and its picture of 860 by 260.
void blockChart(benchmark::State& state)
{
    std::vector<TesterWork> checks(static_cast<size_t>(state.range(0)));
    for (size_t i = 0; i < checks.size(); ++i) {
        checks[i].scale = "HRC";
        checks[i].check = true;
        checks[i].errorLimit = 1.5;
        checks[i].error = 0.3 * std::sin(static_cast<double>(i)) + 0.2 * std::sin(static_cast<double>(i) * 0.37);
        checks[i].when = "2026-11-02T08:10";
    }
    QImage image(860, 260, QImage::Format_RGB32);
    for (auto _ : state) {
        const Plot plot = plotOfChecks(checks, blockHistory(checks));
        QPainter painter(&image);
        const QRectF room(0, 0, image.width(), image.height());
        plot.paint(painter, lightPalette(), room, plot.chartIn(room));
    }
}
BENCHMARK(blockChart)->Arg(1000)->Arg(10'000)->Unit(benchmark::kMillisecond);

} // namespace
} // namespace fortitor

int main(int argc, char** argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
