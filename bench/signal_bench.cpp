// SPDX-License-Identifier: GPL-3.0-or-later
// A long history to look at.
#include "app/bench/history/signal_view.h"

#include <benchmark/benchmark.h>

#include <QElapsedTimer>
#include <QImage>
#include <QTemporaryDir>

#include <cmath>
#include <fstream>

namespace {

using namespace fortitor;

/// Ten days at 200 Hz on the page: from the whole to a stroke and back, every picture painted.
void zoomHistory(benchmark::State& state)
{
    QTemporaryDir folder;
    const std::string path = folder.filePath("days.f32").toStdString();
    constexpr size_t block = 1 << 20, blocks = 165; // 173 million
    {
        std::ofstream out(path, std::ios::binary);
        std::vector<float> values(block);
        for (size_t i = 0; i < block; ++i)
            values[i] = static_cast<float>(100 * std::sin(static_cast<double>(i) * 0.03) + static_cast<double>(i % 97));
        for (size_t k = 0; k < blocks; ++k)
            out.write(reinterpret_cast<const char*>(values.data()),
                      static_cast<std::streamsize>(block * sizeof(float)));
    }
    HistoryRequest request;
    request.rate = 200;
    const auto file = std::make_shared<const HistoryFile>(*openHistory(path, request));
    QElapsedTimer clock;
    clock.start();
    auto pyramid = std::make_shared<const Pyramid>(std::move(**Pyramid::build(*file->source)));
    const double built = static_cast<double>(clock.elapsed());
    SignalView view;
    view.resize(960, 420);
    view.show(file, pyramid);
    QImage image(960, 420, QImage::Format_ARGB32_Premultiplied);
    const auto n = static_cast<double>(file->source->size());
    double slowest = 0;
    std::int64_t pictures = 0;
    for (auto _ : state)
        for (double wide = n; wide > 400; wide *= 0.9) {
            QElapsedTimer one;
            one.start();
            view.showWindow(0.37 * n - wide / 2, 0.37 * n + wide / 2);
            view.render(&image);
            slowest = std::max(slowest, static_cast<double>(one.nsecsElapsed()) / 1e6);
            ++pictures;
        }
    state.counters["ms a picture, slowest"] = slowest;
    state.counters["pictures a second"] =
        benchmark::Counter(static_cast<double>(pictures), benchmark::Counter::kIsRate);
    state.counters["ms to build"] = built;
}
BENCHMARK(zoomHistory)->Unit(benchmark::kMillisecond)->UseRealTime();

} // namespace
