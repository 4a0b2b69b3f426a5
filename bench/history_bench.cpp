// SPDX-License-Identifier: GPL-3.0-or-later
// Long histories step by step, and lines through many pieces. The whole against another program: history_numpy.py.
#include "history/chain.h"
#include "history/counts.h"
#include "history/low_pass.h"
#include "history/repair.h"
#include "methods/fatigue_sn/detail_class.h"
#include "sim/random.h"

#include <benchmark/benchmark.h>

#include <cmath>

namespace {

using namespace fortitor;

constexpr double rate = 200;

/// Strokes with noise on a slow drift, as a gauge on a rigger has them; a day of them at most.
const HistorySource& strokes(std::int64_t readings)
{
    static std::map<std::int64_t, std::shared_ptr<const HistorySource>> kept;
    auto& source = kept[readings];
    if (!source) {
        Random random(7);
        std::vector<double> x;
        for (std::int64_t i = 0; i < readings; ++i) {
            const double t = static_cast<double>(i) / rate;
            x.push_back(80 * std::sin(t / 13751) + 60 * std::sin(3.456 * t) * (0.55 + 0.45 * std::sin(t / 20.7))
                        + 6 * random.normal());
        }
        source = historyOf(std::move(x));
    }
    return *source;
}

/// The whole chain to turning points; threads and readings are given.
void chain(benchmark::State& state)
{
    const HistorySource& source = strokes(state.range(1));
    const ChainSettings settings{.threads = static_cast<size_t>(state.range(0))};
    for (auto _ : state)
        benchmark::DoNotOptimize(runChain(source, rate, settings));
    state.counters["readings"] =
        benchmark::Counter(static_cast<double>(source.size() * state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(chain)->ArgsProduct({{1, 2}, {8'640'000, 17'280'000}})->Unit(benchmark::kMillisecond)->UseRealTime();

/// The filter alone, both ways, eight lanes.
void lowPass(benchmark::State& state)
{
    const LowPass filter = LowPass::design(2, rate);
    std::vector<double> block(8 * 18'000);
    Random random(1);
    for (double& v : block)
        v = random.normal();
    for (auto _ : state) {
        filterBothWays(block, 8, filter);
        benchmark::ClobberMemory();
    }
    state.counters["readings"] =
        benchmark::Counter(static_cast<double>(block.size() * state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(lowPass);

/// Turning points of filtered strokes, and of what is filtered at a fifth of the rate: one close to the next.
void rainflow(benchmark::State& state)
{
    const auto out = runChain(strokes(8'640'000), rate, {.lowPass = static_cast<double>(state.range(0))});
    const Turning turning = out->turning.all();
    for (auto _ : state) {
        double sum = 0;
        countRainflow(turning.values, Residue::Half,
                      [&](double from, double to, double count) { sum += count * std::abs(to - from); });
        benchmark::DoNotOptimize(sum);
    }
    state.counters["points"] =
        benchmark::Counter(static_cast<double>(out->turning.size() * state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(rainflow)->Arg(2)->Arg(40)->Unit(benchmark::kMillisecond);

/// 200 pieces, one in five a run-out: likelihood, mean line, both bounds.
void snFit(benchmark::State& state)
{
    Random random(3);
    std::vector<SnPiece> pieces;
    for (int i = 0; i < 200; ++i) {
        const double range = 90 + 15 * (i % 10),
                     life = std::pow(10, 12.6 - 3 * std::log10(range) + 0.2 * random.normal());
        pieces.push_back({range, std::min(life, 2.5e6), life > 2.5e6});
    }
    for (auto _ : state) {
        const auto line = fitSn(pieces, {});
        benchmark::DoNotOptimize(SnBound{}.rangeAt(*line, 2e6));
        benchmark::DoNotOptimize(classBound.rangeAt(*line, 2e6));
    }
}
BENCHMARK(snFit)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
