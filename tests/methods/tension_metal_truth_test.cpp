// SPDX-License-Identifier: GPL-3.0-or-later
// A thousand simulated records with noise, foot, offset and quantisation, read by the automatic
// method and held against what the simulator knows to be true.
#include "methods/tension_metal/tension_metal.h"
#include "reference/tables.h"
#include "sim/catalogue.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>

namespace fortitor {
namespace {

struct Limit {
    const char* symbol;
    double relative;
    double (*truth)(const MetalTruth&);
};

constexpr Limit limits[] = {
    {"E", 0.01, [](const MetalTruth& t) { return t.modulus; }},
    {"Rp0.2", 0.005, [](const MetalTruth& t) { return t.proof02; }},
    {"ReH", 0.005, [](const MetalTruth& t) { return t.upper; }},
    {"ReL", 0.01, [](const MetalTruth& t) { return t.lower; }},
    {"Rm", 0.002, [](const MetalTruth& t) { return t.strength; }},
};

SpecimenInput inputFor(const CatalogueEntry& entry, SimulatedRun& run)
{
    SpecimenInput input;
    input.label = entry.name;
    input.shape = entry.diameter > 0 ? "round" : "rectangular";
    for (const auto& [key, values] : run.specimen.dimensions)
        for (const std::string& v : values)
            input.dimensions[key].push_back(*parseQuantity(v, Kind::Length));
    // The reading is held against the truth of the material: the section must not add its own scatter.
    input.dimensions["area"] = {Quantity{run.specimen.bar.section, findUnit("mm2"), 0, ""}};
    if (const PublishedMaterial* row = findPublishedMaterial(entry.material); row && row->youngsModulus) {
        input.published["E"] = *row->youngsModulus;
        input.publishedSource = row->name;
    }
    input.record = std::make_shared<const Record>(std::move(run.record));
    return input;
}

struct Tally {
    int asked = 0;
    int within = 0;
    int silent = 0;
    double worst = 0;
};

TEST(TensionMetalTruth, ThousandSimulatedRecords)
{
    std::map<std::string, Tally> table;
    std::string silent;
    const auto& entries = catalogue();
    for (std::uint64_t seed = 1; seed <= 1000; ++seed) {
        const CatalogueEntry& entry = entries[seed % entries.size()];
        auto run = simulateRun(entry, seed);
        const MetalTruth truth = run.specimen.truth;
        const auto outcome = evaluateTensionMetal(inputFor(entry, run));
        ASSERT_TRUE(outcome) << outcome.problem().text();
        for (const Limit& limit : limits) {
            const double wanted = limit.truth(truth);
            if (wanted == 0)
                continue;
            Tally& tally = table[limit.symbol];
            ++tally.asked;
            const Result* r = outcome->find(limit.symbol);
            const double error = r->value ? std::abs(*r->value / wanted - 1) : 1;
            tally.worst = std::max(tally.worst, error);
            if (error <= limit.relative) {
                ++tally.within;
                continue;
            }
            const bool remarked = std::ranges::any_of(outcome->remarks, [&](const Remark& m) {
                return m.severity != Severity::Note && (m.symbols.empty() || std::ranges::find(m.symbols, limit.symbol) != m.symbols.end());
            });
            if (!remarked) {
                ++tally.silent;
                char line[160];
                std::snprintf(line, sizeof line, "%s seed %llu %s: off by %.3f %%\n", entry.name.c_str(), static_cast<unsigned long long>(seed), limit.symbol, error * 100);
                silent += line;
            }
        }
    }
    std::printf("%-8s %6s %8s %9s %8s %8s\n", "figure", "asked", "within", "share", "worst", "silent");
    for (const Limit& limit : limits) {
        const Tally& t = table[limit.symbol];
        const double share = static_cast<double>(t.within) / t.asked;
        std::printf("%-8s %6d %8d %8.1f%% %7.2f%% %8d\n", limit.symbol, t.asked, t.within, share * 100, t.worst * 100, t.silent);
        EXPECT_GT(t.asked, 100) << limit.symbol;
        EXPECT_GE(share, 0.98) << limit.symbol;
        EXPECT_EQ(t.silent, 0) << limit.symbol;
    }
    EXPECT_EQ(silent, "");
}

} // namespace
} // namespace fortitor
