// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/common/run.h"
#include "methods/drop_weight/drop_weight.h"
#include "methods/proof_load/proof_load.h"
#include "methods/tension_metal/tension_metal.h"
#include "record/text_import.h"
#include "sim/catalogue.h"
#include "sim/dropped_plate.h"
#include "sim/rehearsal.h"

#include <benchmark/benchmark.h>

#include <sys/resource.h>

#include <malloc.h>

#include <atomic>
#include <fstream>
#include <thread>

namespace {

using namespace fortitor;

SpecimenInput inputOf(double points)
{
    const CatalogueEntry& entry = *findCatalogueEntry("rigger-tube");
    auto run = simulateRun(entry, 5, points * 1.09); // about `points` rows
    SpecimenInput in;
    in.label = "A1";
    in.shape = "round";
    for (const auto& [key, values] : run.specimen.dimensions)
        for (const std::string& v : values)
            in.dimensions[key].push_back(*parseQuantity(v, Kind::Length));
    in.record = std::make_shared<const Record>(std::move(run.record));
    return in;
}

/// Everything from the record to the results: straight part found, all figures, uncertainty.
void wholeReading(benchmark::State& state)
{
    const SpecimenInput in = inputOf(static_cast<double>(state.range(0)));
    for (auto _ : state) {
        auto outcome = evaluateTensionMetal(in);
        benchmark::DoNotOptimize(outcome);
    }
    state.counters["rows"] = static_cast<double>(in.record->rows());
}
BENCHMARK(wholeReading)->Arg(10'000)->Arg(100'000)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

long residentKilobytes()
{
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);)
        if (line.starts_with("VmHWM"))
            return std::stol(line.substr(6));
    return 0;
}

/// Peak memory of a reading over that of the record it reads.
void readingMemory(benchmark::State& state)
{
    const SpecimenInput in = inputOf(3'000'000);
    std::ofstream("/proc/self/clear_refs") << "5"; // the high-water mark starts anew
    const long before = residentKilobytes();
    for (auto _ : state) {
        auto outcome = evaluateTensionMetal(in);
        benchmark::DoNotOptimize(outcome);
    }
    const double record = static_cast<double>(in.record->rows() * in.record->channels.size() * sizeof(double));
    state.counters["record_MB"] = record / 1e6;
    state.counters["extra_over_record"] = static_cast<double>(residentKilobytes() - before) * 1024 / record;
}
BENCHMARK(readingMemory)->Iterations(1)->Unit(benchmark::kMillisecond);

void textImport(benchmark::State& state)
{
    auto run = simulateRun(*findCatalogueEntry("rigger-tube"), 5, 1'000'000);
    const std::string text = recordCsv(run.record);
    for (auto _ : state) {
        auto record = importTextBytes(text, "bench", {});
        benchmark::DoNotOptimize(record);
    }
    state.SetBytesProcessed(state.iterations() * static_cast<std::int64_t>(text.size()));
}
BENCHMARK(textImport)->Unit(benchmark::kMillisecond);

/// Seven runs of a metal to the break; some 100 s of the frame's time each.
void rehearseSevenSpecimens(benchmark::State& state)
{
    const RatePlan rates{.yieldSpeed = 0.015,
                         .afterSpeed = 0.402,
                         .strainRate = 0.00025,
                         .changeStrain = 0.018,
                         .lowest = 0.0002,
                         .highest = 0.0003};
    RehearsalPlan plan;
    plan.mount = {.specimen = "rigger-tube", .seed = 3, .section = 78.5, .length = 60, .gaugeLength = 50};
    plan.program = runToBreak(rates, 0.03, 0);
    plan.limits = {.force = 40000, .travel = 20, .forceDrop = 0.4, .time = 900};
    double seconds = 0;
    for (auto _ : state) {
        const auto done = rehearse(plan);
        seconds = 0;
        for (const RehearsedRun& run : (*done)->runs)
            seconds += run.seconds;
    }
    state.counters["frame_s"] = seconds;
}
BENCHMARK(rehearseSevenSpecimens)->Unit(benchmark::kMillisecond);

/// Twenty blows of 100 ms at 200 kHz, from the record to the results: on one core, or as a job has them worked out,
/// each core the next one.
void twentyBlows(benchmark::State& state)
{
    std::vector<SpecimenInput> inputs;
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
        DroppedKind kind;
        kind.rate = 200000;
        kind.length = 0.1;
        SpecimenInput in;
        in.label = "P";
        in.shape = "plate";
        in.options = {{"mass", "5.5 kg"}, {"height", "522 mm"}};
        in.dimensions["thickness"] = {*parseQuantity("4.2 mm", Kind::Length)};
        in.record = std::make_shared<const Record>(dropOn(kind, 522, seed).record);
        inputs.push_back(std::move(in));
    }
    for (auto _ : state) {
        std::atomic<size_t> next = 0;
        const auto work = [&] {
            for (size_t i = next++; i < inputs.size(); i = next++)
                benchmark::DoNotOptimize(evaluateDropWeight(inputs[i]));
        };
        std::vector<std::jthread> others;
        for (std::int64_t core = 1; core < state.range(0); ++core)
            others.emplace_back(work);
        work();
    }
}
BENCHMARK(twentyBlows)->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond)->UseRealTime();

/// A part through its proof loads to the end in a million rows, from the stored record to the results.
void proofMillionRows(benchmark::State& state)
{
    CatalogueEntry entry = *findCatalogueEntry("lifting-eye");
    entry.options["hold"] = "70 s";
    SimulatedRun run = simulateRun(entry, 7, 1.5e6); // the checks take no rows
    SpecimenInput in;
    in.label = "E";
    in.options = entry.options;
    in.notes = run.specimen.notes;
    in.record = std::make_shared<const Record>(std::move(run.record));
    for (auto _ : state)
        benchmark::DoNotOptimize(evaluateProofLoad(in));
    state.counters["rows"] = static_cast<double>(in.record->rows());
}
BENCHMARK(proofMillionRows)->Unit(benchmark::kMillisecond);

} // namespace

int main(int argc, char** argv)
{
    mallopt(M_MMAP_THRESHOLD, 32 << 20); // as the program does
    mallopt(M_TRIM_THRESHOLD, 256 << 20);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
