// SPDX-License-Identifier: GPL-3.0-or-later
// What is told beside the counts: Rayleigh, damage in time, life, block, Gassner, what is kept.
#include "history/block_program.h"
#include "history/figures.h"
#include "history/seen_stretch.h"
#include "sim/load_history.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <numeric>

namespace fortitor::figures_test {
namespace {

std::shared_ptr<const HistoryFile> fileOf(std::vector<double> values, double rate)
{
    return std::make_shared<const HistoryFile>(
        HistoryFile{.source = historyOf(std::move(values)), .unit = findUnit("MPa"), .rate = rate});
}

SpectrumSettings plain()
{
    SpectrumSettings s;
    s.chain.spikes = false;
    s.chain.detrend = s.chain.lowPass = 0;
    s.counts.cut.of = CutRule::Of::Nothing;
    s.counts.curve = DamageCurve{};
    return s;
}

/// Hours of rowing and of the road, strain as stress.
std::vector<double> measured(const char* kind, double from, double to)
{
    const HistoryKind& k = *findHistoryKind(kind);
    std::vector<float> values(static_cast<size_t>(to * 3600 * k.rate));
    LoadHistory(k, 3).next(values);
    return {values.begin() + static_cast<std::ptrdiff_t>(from * 3600 * k.rate), values.end()};
}

TEST(Rayleigh, DamageIsThatOfTheGammaFunction)
{
    DamageCurve curve;
    curve.rule = DamageCurve::Below::Straight;
    const double rms = 30, straight = std::pow(rms / 71, 3) / 2e6 * std::tgamma(2.5);
    EXPECT_NEAR(rayleighDamage(curve, rms) / straight, 1, 1e-9);
    // Incomplete gamma functions, by another program.
    curve.rule = DamageCurve::Below::Bent;
    EXPECT_NEAR(rayleighDamage(curve, rms) / 3.432509003651581e-08, 1, 1e-9);
    curve.rule = DamageCurve::Below::Cut;
    EXPECT_NEAR(rayleighDamage(curve, rms) / 1.496058844330411e-08, 1, 1e-8);
    EXPECT_EQ(rayleighDamage(curve, 0), 0);
    EXPECT_NEAR(rayleighDamage(curve, 1e-3), 0, 1e-300); // all below the knee
    EXPECT_EQ(rayleighExceedance(0, rms), 1);
    EXPECT_NEAR(rayleighExceedance(rms, rms), std::exp(-1), 1e-15);
}

TEST(InTime, DaysAddUpAndAnEventStandsOnItsDay)
{
    // Four days at one reading a minute: small waves, and one great one on the third day.
    const double rate = 1.0 / 60;
    std::vector<double> values(4 * 1440);
    for (size_t i = 0; i < values.size(); ++i)
        values[i] = (i % 2 == 0 ? 1 : -1) * (20 + static_cast<double>(i % 7));
    values[2 * 1440 + 701] = -200;
    values[2 * 1440 + 702] = 300;
    const auto figures = historyFigures(fileOf(values, rate), plain());
    ASSERT_TRUE(figures) << figures.problem().text();
    const HistoryFigures& h = **figures;
    ASSERT_EQ(h.inTime.damage.size(), 4u);
    EXPECT_EQ(h.inTime.seconds, 86400);
    const double sum = std::accumulate(h.inTime.damage.begin(), h.inTime.damage.end(), 0.0);
    EXPECT_NEAR(sum / *h.spectrum.counts.damage, 1, 1e-12);
    EXPECT_GT(h.inTime.damage[2], 2 * h.inTime.damage[1]);
    EXPECT_EQ(h.worst.high, 2u * 1440 + 702);
    EXPECT_EQ(h.worst.low, 2u * 1440 + 701);
    EXPECT_EQ(h.worst.at(), h.worst.high);
    EXPECT_NEAR(*h.life * *h.spectrum.counts.damage, 4 * 86400, 1e-6);
}

TEST(InTime, WhatIsRunTwiceStandsBeside)
{
    std::vector<double> values;
    Random random(4);
    for (int i = 0; i < 5000; ++i)
        values.push_back(30 * random.normal());
    for (const Residue rule : {Residue::Half, Residue::Repeat, Residue::Ignore}) {
        SpectrumSettings s = plain();
        s.counts.residue = rule;
        const auto h = *historyFigures(fileOf(values, 1), s);
        const double sum = std::accumulate(h->inTime.damage.begin(), h->inTime.damage.end(), h->inTime.beside);
        EXPECT_NEAR(sum / *h->spectrum.counts.damage, 1, 1e-9) << static_cast<int>(rule);
        EXPECT_EQ(h->inTime.beside > 0, rule == Residue::Repeat);
    }
}

TEST(Kept, AnotherClassNeedsNoFurtherPassAndAFilterDoes)
{
    const auto file = fileOf(measured("transport-history", 8, 8.3), 200);
    SpectrumSettings s = plain();
    int asked = 0;
    s.chain.progress = [&](double) { return ++asked > 0; };
    const auto first = *historyFigures(file, s);
    EXPECT_GT(std::exchange(asked, 0), 0);
    s.counts.curve->detail = 36;
    const auto second = *historyFigures(file, s);
    EXPECT_EQ(asked, 0);
    EXPECT_GT(*second->spectrum.counts.damage, *first->spectrum.counts.damage);
    s.chain.lowPass = 3;
    const auto third = *historyFigures(file, s);
    EXPECT_GT(asked, 0);
    EXPECT_LT(third->spectrum.counts.turningPoints, second->spectrum.counts.turningPoints);
    // Fresh, from another file: the same to the bit.
    const auto fresh = *historyFigures(fileOf(measured("transport-history", 8, 8.3), 200), s);
    EXPECT_EQ(*fresh->spectrum.counts.damage, *third->spectrum.counts.damage);
    EXPECT_EQ(fresh->spectrum.counts.histogram.front().count, third->spectrum.counts.histogram.front().count);
}

TEST(Kept, WhatIsStoppedIsNotKept)
{
    const auto file = fileOf(measured("rowing-history", 6, 6.2), 200);
    SpectrumSettings s = plain();
    s.chain.lowPass = 2;
    s.chain.progress = [](double) { return false; };
    EXPECT_TRUE((*historyFigures(file, s))->stopped);
    EXPECT_LT(watchHistory(*file).share, 0);
    s.chain.progress = [&](double) {
        EXPECT_GE(watchHistory(*file).share, 0);
        stopHistory(*file);
        return true;
    };
    EXPECT_TRUE((*historyFigures(file, s))->stopped);
    s.chain.progress = {};
    EXPECT_FALSE((*historyFigures(file, s))->stopped);
}

TEST(Stretch, IsWhatTheWholeHas)
{
    const auto values = measured("rowing-history", 5, 8.5);
    const auto file = fileOf(values, 200);
    SpectrumSettings s;
    s.counts.curve = DamageCurve{};
    const auto whole = *historyFigures(file, s);
    const std::uint64_t from = 200 * 3600 * 2 + 77;
    const auto seen = seenStretch(*file, *whole, s, from, 6000);
    ASSERT_TRUE(seen);
    EXPECT_FALSE(seen->alone);
    EXPECT_EQ(seen->chain.raw[0], values[from]);
    EXPECT_EQ(seen->cut, whole->spectrum.counts.cutAt);
    ASSERT_EQ(seen->turning.size(), seen->turningAt.size());
    ASSERT_EQ(seen->kept.size(), seen->keptAt.size());
    EXPECT_LT(seen->kept.size(), seen->turning.size());
    for (size_t i = 0; i < seen->turning.size(); ++i)
        EXPECT_EQ(seen->turning[i], seen->chain.filtered[static_cast<size_t>(seen->turningAt[i])]);
    // Another trend is told from the hours about it: near to what the whole then has.
    SpectrumSettings other = s;
    other.chain.detrend = 1800;
    const auto alone = seenStretch(*file, *whole, other, from, 6000);
    ASSERT_TRUE(alone);
    EXPECT_TRUE(alone->alone);
    const auto settled = *historyFigures(file, other);
    const auto exact = seenStretch(*file, *settled, other, from, 6000);
    double most = 0;
    for (size_t i = 0; i < 6000; ++i)
        most = std::max(most, std::abs(alone->chain.filtered[i] - exact->chain.filtered[i]));
    EXPECT_LT(most, 0.02 * whole->spectrum.counts.rangeMax);
}

TEST(BlockSteps, HasItsCyclesAndItsDamage)
{
    const auto file = fileOf(measured("rowing-history", 6, 8), 200);
    SpectrumSettings s;
    s.counts.curve = DamageCurve{};
    const auto h = *historyFigures(file, s);
    const Counts& c = h->spectrum.counts;
    const auto program = blockProgram(c, 8, 100'000, 3);
    ASSERT_TRUE(program);
    std::uint64_t cycles = 0;
    double work = 0;
    for (const BlockStep& step : program->steps) {
        cycles += step.cycles;
        work += static_cast<double>(step.cycles) * std::pow(step.range, 3);
        EXPECT_GT(step.cycles, 0u);
        EXPECT_GE(step.range, c.cutAt);
        EXPECT_LE(step.range, c.rangeMax);
    }
    EXPECT_EQ(cycles, program->cycles);
    EXPECT_NEAR(static_cast<double>(cycles), 1e5, 8);
    EXPECT_NEAR(program->share, 1, 0.01);
    // The same work as the equivalent range has in as many cycles, but for the width of the classes.
    EXPECT_NEAR(work / (static_cast<double>(cycles) * std::pow(*c.equivalentRange, 3)), 1, 0.02);
    // Up, then down, the greatest in the middle.
    const size_t middle = program->steps.size() / 2;
    for (size_t i = 1; i <= middle; ++i)
        EXPECT_GT(program->steps[i].range, program->steps[i - 1].range);
    for (size_t i = middle + 1; i < program->steps.size(); ++i)
        EXPECT_LT(program->steps[i].range, program->steps[i - 1].range);
    const std::string csv = blockCsv(*program, "MPa");
    EXPECT_TRUE(csv.starts_with("step,cycles,range (MPa),mean (MPa),least (MPa),greatest (MPa)\n1,"));
    // A short block leaves the rare ones out, and says so.
    const auto small = blockProgram(c, 8, 20, 3);
    ASSERT_TRUE(small);
    EXPECT_FALSE(small->left.empty());
    EXPECT_LT(small->share, 1);
    EXPECT_FALSE(blockProgram(c, 0, 100, 3));
    EXPECT_FALSE(blockProgram(c, 8, 0, 3));
    EXPECT_FALSE(blockProgram(Counts{}, 1, 10, 3));
}

TEST(Gassner, PassesThroughWhatWasMeasuredWithTheSlopeOfItsLine)
{
    const auto file = fileOf(measured("rowing-history", 6, 8), 200);
    SpectrumSettings s;
    s.counts.curve = DamageCurve{};
    s.counts.curve->rule = DamageCurve::Below::Straight;
    const auto h = *historyFigures(file, s);
    const auto line = gassnerLine(h->spectrum.counts, *s.counts.curve, 61);
    ASSERT_EQ(line.size(), 61u);
    const GassnerPoint& here = line[30];
    EXPECT_NEAR(here.greatest, h->spectrum.counts.rangeMax, 1e-9);
    EXPECT_NEAR(here.cycles * *h->spectrum.counts.damage / h->spectrum.counts.cycles, 1, 1e-9);
    for (const GassnerPoint& point : line)
        EXPECT_NEAR(point.cycles * std::pow(point.greatest / here.greatest, 3) / here.cycles, 1, 1e-9);
    // A constant range is its own spectrum.
    std::vector<double> constant;
    for (int i = 0; i < 2001; ++i)
        constant.push_back(i % 2 == 0 ? 40 : -40);
    const auto even = *historyFigures(fileOf(constant, 1), plain());
    for (const GassnerPoint& point : gassnerLine(even->spectrum.counts, DamageCurve{}))
        EXPECT_NEAR(point.cycles * DamageCurve{}.perCycle(point.greatest), 1, 0.06); // the width of a class
}

} // namespace
} // namespace fortitor::figures_test
