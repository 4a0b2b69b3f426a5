// SPDX-License-Identifier: GPL-3.0-or-later
// A thousand simulated records of each method with noise, foot, offset and quantisation, read by the
// automatic way and held against what the simulator knows to be true.
#include "methods/method.h"
#include "reference/tables.h"
#include "sim/catalogue.h"

#include "records.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>

namespace fortitor::truth_test {
namespace {

struct Limit {
    const char* symbol;
    double relative;
};

struct Series {
    const char* method;
    std::vector<Limit> limits;
    int least; ///< how often each figure must have been asked
};

SpecimenInput inputFor(const CatalogueEntry& entry, SimulatedRun& run)
{
    SpecimenInput input;
    input.label = entry.name;
    input.shape = entry.shape;
    input.options = entry.options;
    for (const auto& [key, values] : run.specimen.dimensions)
        for (const std::string& v : values)
            input.dimensions[key].push_back(*parseQuantity(v, Kind::Length));
    // The reading is held against the truth of the material: sizes must not add their own scatter.
    if (entry.shape == "block") {
        input.dimensions["length"] = {
            Quantity{run.specimen.bar.section / input.dimensions["width"].front().base, findUnit("mm"), 0, ""}};
        input.dimensions["thickness"] = {Quantity{run.specimen.bar.parallelLength, findUnit("mm"), 0, ""}};
    } else if (entry.method != "crush") {
        input.dimensions["area"] = {Quantity{run.specimen.bar.section, findUnit("mm2"), 0, ""}};
    }
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

class Truth : public testing::TestWithParam<Series> { };

TEST_P(Truth, ThousandSimulatedRecords)
{
    const Series& series = GetParam();
    std::vector<const CatalogueEntry*> entries;
    for (const CatalogueEntry& e : catalogue())
        if (e.method == series.method)
            entries.push_back(&e);
    ASSERT_FALSE(entries.empty());
    std::map<std::string, Tally> table;
    std::string silent;
    const std::uint64_t count = test::recordsOf(1000);
    for (std::uint64_t seed = 1; seed <= count; ++seed) {
        const CatalogueEntry& entry = *entries[seed % entries.size()];
        auto run = simulateRun(entry, seed);
        const auto truth = run.specimen.truth;
        const auto outcome = findMethod(series.method)->evaluate(inputFor(entry, run));
        ASSERT_TRUE(outcome) << outcome.problem().text();
        for (const Limit& limit : series.limits) {
            const auto wanted = truth.find(limit.symbol);
            if (wanted == truth.end())
                continue;
            Tally& tally = table[limit.symbol];
            ++tally.asked;
            const Result* r = outcome->find(limit.symbol);
            const double error = r->value ? std::abs(*r->value / wanted->second - 1) : 1;
            tally.worst = std::max(tally.worst, error);
            if (error <= limit.relative) {
                ++tally.within;
                continue;
            }
            const bool remarked = std::ranges::any_of(outcome->remarks, [&](const Remark& m) {
                return m.severity != Severity::Note
                    && (m.symbols.empty() || std::ranges::find(m.symbols, limit.symbol) != m.symbols.end());
            });
            // Inside three of its standard uncertainties it is not silent: the figure says how well it is known.
            if (!remarked && !(r->value && std::abs(*r->value - wanted->second) <= 1.5 * r->budget.expanded)) {
                ++tally.silent;
                char line[160];
                std::snprintf(line, sizeof line, "%s seed %llu %s: off by %.3f %%\n", entry.name.c_str(),
                              static_cast<unsigned long long>(seed), limit.symbol, error * 100);
                silent += line;
            }
        }
    }
    std::printf("%-11s %6s %8s %9s %8s %8s\n", "figure", "asked", "within", "share", "worst", "silent");
    for (const Limit& limit : series.limits) {
        const Tally& t = table[limit.symbol];
        const double share = t.asked > 0 ? static_cast<double>(t.within) / t.asked : 0;
        std::printf("%-11s %6d %8d %8.1f%% %7.2f%% %8d\n", limit.symbol, t.asked, t.within, share * 100, t.worst * 100,
                    t.silent);
        EXPECT_GE(t.asked * 1000, series.least * static_cast<int>(count)) << limit.symbol;
        // Of few records a share says nothing: there all that is off has to be told.
        EXPECT_GE(share, count >= 1000 ? 0.98 : 0.9) << limit.symbol;
        EXPECT_EQ(t.silent, 0) << limit.symbol;
    }
    EXPECT_EQ(silent, "");
}

INSTANTIATE_TEST_SUITE_P(
    Methods, Truth,
    testing::Values(
        Series{"tension-metal", {{"E", 0.01}, {"Rp0.2", 0.005}, {"ReH", 0.005}, {"ReL", 0.01}, {"Rm", 0.002}}, 100},
        Series{"tension-plastic",
               {{"Et", 0.01},
                {"sigma_y", 0.003},
                {"sigma_m", 0.003},
                {"sigma_b", 0.01},
                {"eps_b", 0.01},
                {"eps_tb", 0.01}},
               200},
        Series{"tension-composite", {{"E_chord", 0.01}, {"sigma_max", 0.003}, {"eps_max", 0.01}, {"nu12", 0.02}}, 300},
        Series{"flatwise-tension", {{"Fz_tu", 0.003}, {"E_z", 0.02}}, 1000}, Series{"flexure", {{"MOE", 0.02}}, 1000},
        Series{"poisson", {{"nu", 0.02}, {"nu_load", 0.02}, {"E", 0.02}}, 1000},
        Series{"compression", {{"E", 0.01}, {"Rp0.2", 0.005}, {"sigma_max", 0.003}}, 400},
        Series{"crush", {{"F_peak", 0.003}, {"W", 0.003}, {"F_mean", 0.003}, {"efficiency", 0.005}}, 1000}),
    [](const testing::TestParamInfo<Series>& one) {
        std::string name = one.param.method;
        std::erase(name, '-');
        return name;
    });

} // namespace
} // namespace fortitor::truth_test
