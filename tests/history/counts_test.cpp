// SPDX-License-Identifier: GPL-3.0-or-later
// Counting: worked histories, a definition by brute force, properties, damage by hand.
#include "history/counts.h"
#include "history/spectrum.h"
#include "history/synthesis.h"
#include "history/turning.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>

namespace fortitor::counts_test {
namespace {

using Ranges = std::map<double, double>;

Ranges counted(const std::vector<double>& points, Residue rule)
{
    Ranges out;
    countRainflow(points, rule, [&](double from, double to, double count) { out[std::abs(to - from)] += count; });
    return out;
}

std::vector<double> turningOf(const std::vector<double>& values)
{
    Turning t;
    TurningFinder finder(t);
    for (size_t i = 0; i < values.size(); ++i)
        finder.take(values[i], static_cast<std::uint32_t>(i));
    finder.end();
    return t.values;
}

/// The smallest inner range that lies within its neighbours goes first, over and over: no stack, no order of coming.
Ranges byDefinition(std::vector<double> points)
{
    Ranges out;
    for (;;) {
        size_t best = 0;
        double least = std::numeric_limits<double>::infinity();
        for (size_t i = 1; i + 2 < points.size(); ++i) {
            const double inner = std::abs(points[i + 1] - points[i]);
            if (inner <= std::abs(points[i] - points[i - 1]) && inner <= std::abs(points[i + 2] - points[i + 1])
                && inner < least) {
                least = inner;
                best = i;
            }
        }
        if (best == 0)
            break;
        out[least] += 1;
        points.erase(points.begin() + static_cast<std::ptrdiff_t>(best),
                     points.begin() + static_cast<std::ptrdiff_t>(best) + 2);
    }
    for (size_t i = 1; i < points.size(); ++i)
        out[std::abs(points[i] - points[i - 1])] += 0.5;
    return out;
}

TEST(Rainflow, TheHistoryOfTheStandard)
{
    EXPECT_EQ(counted({-2, 1, -3, 5, -1, 3, -4, 4, -2}, Residue::Half),
              (Ranges{{3, 0.5}, {4, 1.5}, {6, 0.5}, {8, 1.0}, {9, 0.5}}));
    const std::vector<double> other{0, 6, 2, 9, 4, 7, 1, 5, 3, 8, -2, 3};
    EXPECT_EQ(counted(other, Residue::Half), (Ranges{{2, 1}, {3, 1}, {4, 1}, {5, 0.5}, {7, 1}, {9, 0.5}, {11, 0.5}}));
    EXPECT_EQ(counted(other, Residue::Repeat), (Ranges{{2, 1}, {3, 2}, {4, 1}, {7, 1}, {11, 1}}));
    EXPECT_EQ(counted(other, Residue::Ignore), (Ranges{{2, 1}, {3, 1}, {4, 1}, {7, 1}}));
    EXPECT_TRUE(counted({}, Residue::Half).empty());
    EXPECT_TRUE(counted({4}, Residue::Repeat).empty());
    EXPECT_EQ(counted({0, 5}, Residue::Half), (Ranges{{5, 0.5}}));
}

TEST(Rainflow, AHundredThousandHistoriesByDefinition)
{
    Random random(11);
    for (int history = 0; history < 100'000; ++history) {
        std::vector<double> values;
        const auto n = static_cast<size_t>(random.between(2, 26));
        const double steps = history % 2 ? 8 : 1e6; // ties, and none
        for (size_t i = 0; i < n; ++i)
            values.push_back(std::floor(random.between(0, steps)));
        const auto points = turningOf(values);
        ASSERT_EQ(counted(points, Residue::Half), byDefinition(points)) << history;
    }
}

TEST(Rainflow, TurningPointsOfStretchesJoin)
{
    EXPECT_EQ(turningOf({1, 2, 2, 3, 3, 1, 1, 1, 4}), (std::vector<double>{1, 3, 1, 4}));
    EXPECT_EQ(turningOf({5, 5, 5}), (std::vector<double>{5}));
    Turning t;
    TurningFinder finder(t);
    for (const auto& [value, at] : {std::pair(1.0, 0U), {3.0, 1U}, {3.0, 2U}, {2.0, 3U}})
        finder.take(value, at);
    finder.end();
    EXPECT_EQ(t.at, (std::vector<std::uint32_t>{0, 1, 3})); // of a level stretch its first
    Random random(2);
    for (int trial = 0; trial < 2'000; ++trial) {
        std::vector<double> values;
        for (int i = 0; i < 60; ++i)
            values.push_back(std::floor(random.between(0, 6)));
        const auto cut = static_cast<size_t>(random.between(1, 59));
        auto first = turningOf({values.begin(), values.begin() + static_cast<std::ptrdiff_t>(cut)});
        const auto second = turningOf({values.begin() + static_cast<std::ptrdiff_t>(cut), values.end()});
        first.insert(first.end(), second.begin(), second.end());
        ASSERT_EQ(turningOf(first), turningOf(values));
    }
}

// What is cut before counting is what would be dropped after it.
TEST(Counts, DroppingSmallCyclesLeavesTheOthers)
{
    Random random(5);
    for (int history = 0; history < 3'000; ++history) {
        std::vector<double> values;
        for (int i = 0; i < 80; ++i)
            values.push_back(std::floor(random.between(0, 40)));
        auto points = turningOf(values);
        for (const Residue rule : {Residue::Half, Residue::Repeat, Residue::Ignore}) {
            Ranges wanted = counted(points, rule);
            const double cut = std::floor(random.between(1, 30));
            std::erase_if(wanted, [&](const auto& one) { return one.first < cut; });
            auto kept = points;
            dropSmall(kept, cut);
            Ranges found = counted(kept, rule);
            if (rule == Residue::Half)
                std::erase_if(found, [&](const auto& one) { return one.first < cut; });
            // Halves at the ends may go with their points; closed cycles are the same.
            if (rule != Residue::Repeat) {
                ASSERT_EQ(found, wanted) << history;
            }
        }
    }
}

TEST(Counts, DamageByHand)
{
    DamageCurve curve;
    EXPECT_NEAR(curve.kneeRange(), 52.31, 0.005);
    const std::pair<double, double> ranges[] = {{20, 4e6}, {50, 8e5}, {75, 2e5}, {120, 1e4}};
    const double bent[] = {0.00653, 0.12762, 0.11787, 0.02414};
    double sum = 0;
    for (size_t i = 0; i < 4; ++i) {
        const double part = ranges[i].second * curve.perCycle(ranges[i].first);
        EXPECT_NEAR(part, bent[i], 5e-6);
        sum += part;
    }
    EXPECT_NEAR(sum, 0.27616, 5e-6);
    double straight = 0, cut = 0, third = 0, n = 0;
    for (const auto& [range, count] : ranges) {
        curve.rule = DamageCurve::Below::Straight;
        straight += count * curve.perCycle(range);
        curve.rule = DamageCurve::Below::Cut;
        cut += count * curve.perCycle(range);
        third += count * std::pow(range, 3);
        n += count;
    }
    EXPECT_NEAR(straight, 0.32641, 5e-6);
    EXPECT_NEAR(cut, 0.14201, 5e-6);
    EXPECT_NEAR(std::cbrt(third / n), 36.00, 0.005);
    EXPECT_FALSE(checkCurve({.slope = 0}));
    EXPECT_FALSE(checkCurve({.knee = -1}));
}

TEST(Counts, TransitionsOfAShortHistory)
{
    std::vector<double> points{1, 3, 2, 3, 1, 2, 1, 3, 2, 3, 1, 3};
    const auto c = countAll(points, {.cut = {.of = CutRule::Of::Nothing}, .bins = 3});
    ASSERT_TRUE(c);
    EXPECT_EQ(c->valleyToPeak, (std::vector<double>{0, 1, 3, 0, 0, 2, 0, 0, 0}));
    EXPECT_EQ(c->peakToValley, (std::vector<double>{0, 0, 0, 1, 0, 0, 2, 2, 0}));
    EXPECT_EQ(c->levels.size(), 3u);
    EXPECT_NEAR(c->levels[1], 2, 1e-12);
    EXPECT_EQ(c->turningPoints, 12u);
}

TEST(Counts, TheWholeOfALongHistory)
{
    Random random(8);
    std::vector<double> values;
    for (int i = 0; i < 60'000; ++i)
        values.push_back(20 * random.normal());
    const auto points = turningOf(values);
    const Ranges all = counted(points, Residue::Half);
    double total = 0;
    for (const auto& [range, count] : all)
        total += count;
    auto work = points;
    const DamageCurve curve{};
    const auto c = countAll(work, {.curve = curve});
    ASSERT_TRUE(c);
    EXPECT_NEAR(c->allCycles, total, 1e-9);
    EXPECT_EQ(c->rangeMax, all.rbegin()->first);
    // The least counted range with at most 0.25 % of counts above it.
    double over = 0, low = 0;
    for (auto it = all.rbegin(); it != all.rend() && over <= 0.0025 * total; ++it) {
        low = it->first;
        over += it->second;
    }
    EXPECT_EQ(c->rangeLowChance, low);
    EXPECT_EQ(c->cutAt, 0.25 * low);
    double kept = 0, damage = 0, cutDamage = 0, cube = 0;
    for (const auto& [range, count] : all) {
        (range < c->cutAt ? cutDamage : damage) += count * curve.perCycle(range);
        kept += range < c->cutAt ? 0 : count;
        cube += range < c->cutAt ? 0 : count * std::pow(range, 3);
    }
    EXPECT_NEAR(c->cycles, kept, 1e-9);
    EXPECT_NEAR(*c->damage, damage, 1e-12 * damage);
    EXPECT_NEAR(*c->damageCutShare, cutDamage / (damage + cutDamage), 1e-12);
    EXPECT_NEAR(*c->equivalentRange, std::cbrt(cube / kept), 1e-9);
    double inBins = 0, transitions = 0;
    for (const RangeBin& bin : c->histogram)
        inBins += bin.count;
    EXPECT_NEAR(inBins, kept, 1e-9);
    EXPECT_EQ(c->histogram.front().from, c->cutAt);
    EXPECT_EQ(c->histogram.back().to, c->rangeMax);
    EXPECT_EQ(c->exceedance.front().chance, 1);
    EXPECT_EQ(c->exceedanceAll.front().chance, 1);
    for (size_t k = 1; k < c->exceedance.size(); ++k)
        EXPECT_LE(c->exceedance[k].chance, c->exceedance[k - 1].chance);
    for (size_t k = 0; k < c->peakToValley.size(); ++k)
        transitions += c->peakToValley[k] + c->valleyToPeak[k];
    dropSmall(work, c->cutAt);
    EXPECT_EQ(transitions, static_cast<double>(work.size() - 1));
    // Each row of one matrix is left as often as a column of the other is reached, but for the ends.
    double off = 0;
    for (size_t level = 0; level < 64; ++level) {
        double left = 0, reached = 0;
        for (size_t other = 0; other < 64; ++other) {
            left += c->peakToValley[level * 64 + other];
            reached += c->valleyToPeak[other * 64 + level];
        }
        off += std::abs(left - reached);
    }
    EXPECT_LE(off, 2);
    // Twice the stress is eight times the damage where the line is straight.
    DamageCurve straight{.rule = DamageCurve::Below::Straight};
    auto once = points, twice = points;
    for (double& v : twice)
        v *= 2;
    EXPECT_NEAR(*countAll(twice, {.curve = straight})->damage / *countAll(once, {.curve = straight})->damage, 8, 1e-9);
}

// Of ten thousand points at a time the same as of all at once, and where nothing fits into memory.
TEST(Counts, TurningPointsInAFileAreCountedAlike)
{
    Random random(31);
    std::vector<double> values;
    for (int i = 0; i < 90'000; ++i)
        values.push_back(20 * random.normal() + 60 * std::sin(i / 300.0));
    const auto points = turningOf(values);
    const CountSettings settings{.curve = DamageCurve{}};
    const auto whole = countAll(points, settings);
    ASSERT_TRUE(whole);
    for (const size_t inMemory : {size_t{1}, size_t{7}, size_t{9'999}, points.size(), points.size() + 1}) {
        LongTurning turning(inMemory);
        for (size_t i = 0; i < points.size(); ++i)
            turning.add(points[i], static_cast<std::uint32_t>(3 * i));
        EXPECT_EQ(turning.size(), points.size());
        const Turning back = turning.all();
        EXPECT_EQ(back.values, points) << inMemory;
        EXPECT_EQ(back.at.back(), 3 * (points.size() - 1));
        const auto parts = countAll(turning, settings);
        ASSERT_TRUE(parts) << parts.problem().text();
        EXPECT_EQ(parts->cycles, whole->cycles);
        EXPECT_EQ(parts->cutAt, whole->cutAt);
        EXPECT_EQ(*parts->damage, *whole->damage); // to the last bit
        EXPECT_EQ(parts->peakToValley, whole->peakToValley);
        EXPECT_EQ(parts->rangeMean, whole->rangeMean);
    }
}

TEST(Counts, CutsAsTheyAreTyped)
{
    EXPECT_EQ(readCut("none")->of, CutRule::Of::Nothing);
    EXPECT_EQ(readCut("25 % of max")->of, CutRule::Of::Greatest);
    EXPECT_NEAR(readCut("30 % of 0.1 %")->chance, 0.001, 1e-12);
    EXPECT_NEAR(readCut("30 % of 0.1 %")->share, 0.3, 1e-12);
    EXPECT_NEAR(readCut("12 MPa")->fixed, 12, 1e-12);
    EXPECT_EQ(readCut("40 ue")->kind, Kind::Strain);
    for (const char* text : {"0 MPa", "-3 MPa", "25 %", "25 % of", "0 % of max", "120 % of max", "twelve", ""})
        EXPECT_FALSE(readCut(text)) << text;
    std::vector<double> points{0, 5, 0, 7, 1};
    EXPECT_FALSE(countAll(points, {.cut = {.of = CutRule::Of::Fixed, .fixed = 8}}));
    EXPECT_FALSE(countAll(points, {.bins = 0}));
    std::vector<double> level{3};
    const auto none = countAll(level, {.curve = DamageCurve{}});
    ASSERT_TRUE(none);
    EXPECT_EQ(none->cycles, 0);
    EXPECT_EQ(*none->damage, 0);
    EXPECT_EQ(*none->damageCutShare, 0);
}

TEST(Synthesis, TheSameTransitionsWithinSamplingError)
{
    Random random(21);
    std::vector<double> values;
    for (int i = 0; i < 200'000; ++i)
        values.push_back(20 * random.normal() + 10 * std::sin(i / 40.0));
    auto points = turningOf(values);
    const auto c = countAll(points, {.bins = 12});
    ASSERT_TRUE(c);
    const Transitions counted{c->levels, c->peakToValley, c->valleyToPeak};
    const auto drawn = synthesise(counted, 400'000, 5);
    ASSERT_TRUE(drawn);
    EXPECT_EQ(drawn->size(), 400'000u);
    EXPECT_EQ(*synthesise(counted, 400'000, 5), *drawn);
    EXPECT_NE(*synthesise(counted, 400'000, 6), *drawn);
    EXPECT_EQ(turningOf(*drawn).size(), drawn->size()); // each is a turning point
    std::vector<double> down(144, 0), up(144, 0);
    const auto level = [&](double v) {
        return static_cast<size_t>(std::ranges::find(c->levels, v) - c->levels.begin());
    };
    for (size_t i = 1; i < drawn->size(); ++i)
        ++((*drawn)[i] < (*drawn)[i - 1] ? down : up)[level((*drawn)[i - 1]) * 12 + level((*drawn)[i])];
    for (const auto& [was, is] : {std::pair(&c->peakToValley, &down), {&c->valleyToPeak, &up}})
        for (size_t row = 0; row < 12; ++row) {
            double before = 0, now = 0;
            for (size_t k = 0; k < 12; ++k) {
                before += (*was)[row * 12 + k];
                now += (*is)[row * 12 + k];
            }
            for (size_t k = 0; k < 12 && before > 0 && now > 0; ++k) {
                const double chance = (*was)[row * 12 + k] / before;
                EXPECT_NEAR((*is)[row * 12 + k] / now, chance, 5 * std::sqrt(chance * (1 - chance) / now) + 1e-9);
            }
        }
    EXPECT_FALSE(synthesise(counted, 1, 5));
    const std::vector<double> none(144, 0);
    EXPECT_FALSE(synthesise({c->levels, none, c->valleyToPeak}, 100, 5));
    EXPECT_FALSE(synthesise({}, 100, 5));
}

bool told(const Spectrum& s, const std::string& code)
{
    return std::ranges::find(s.remarks, code, &Remark::code) != s.remarks.end();
}

TEST(Spectrum, FromStrainToDamage)
{
    std::vector<double> strain;
    Random random(4);
    for (int i = 0; i < 40'000; ++i)
        strain.push_back(200 * std::sin(2 * M_PI * 0.5 * i / 50) + 2 * random.normal());
    const HistoryFile file{.source = historyOf(strain), .unit = findUnit("ue"), .rate = 50};
    SpectrumSettings s{.modulus = 210e3};
    s.counts.curve = DamageCurve{};
    const auto out = readSpectrum(file, s);
    ASSERT_TRUE(out) << out.problem().text();
    EXPECT_EQ(out->unit->symbol, "MPa");
    EXPECT_NEAR(out->counts.rangeMax, 400e-6 * 210e3, 1); // 84 MPa
    EXPECT_NEAR(out->counts.cycles, 400, 2);
    EXPECT_NEAR(*out->counts.damage, 400 * DamageCurve{}.perCycle(84), 0.03 * *out->counts.damage);
    EXPECT_TRUE(told(*out, "class-assumed"));
    EXPECT_FALSE(told(*out, "content-near-filter"));
    EXPECT_FALSE(told(*out, "clipped"));
    SpectrumSettings bare = s;
    bare.modulus.reset();
    const auto plain = readSpectrum(file, bare);
    ASSERT_TRUE(plain);
    EXPECT_FALSE(plain->counts.damage);
    EXPECT_TRUE(told(*plain, "no-damage"));
    EXPECT_NEAR(plain->counts.rangeMax, 400, 4);
    bare.counts.cut = *readCut("12 MPa");
    EXPECT_FALSE(readSpectrum(file, bare));
    bare.counts.cut = *readCut("50 ue");
    EXPECT_NEAR(readSpectrum(file, bare)->counts.cutAt, 50, 1e-9);
    bare.counts.cut = *readCut("5000 ue");
    EXPECT_FALSE(readSpectrum(file, bare));
    // A full bridge reads more.
    SpectrumSettings bridge = s;
    bridge.bridge = 0.5;
    EXPECT_NEAR(readSpectrum(file, bridge)->counts.rangeMax, out->counts.rangeMax / 2, 1e-9);
    // Spikes far out are faults; what rises above the limit bit by bit may be real.
    std::vector<double> faulty = strain, lively = strain;
    for (size_t i = 100; i < strain.size(); i += 977) {
        faulty[i] += 900;
        lively[i] += 25 * std::abs(random.normal());
        lively[i - 50] += 25 * std::abs(random.normal());
        lively[i + 50] += 25 * std::abs(random.normal());
    }
    const auto severity = [&](const std::vector<double>& x) {
        const auto found = readSpectrum({.source = historyOf(x), .unit = findUnit("ue"), .rate = 50}, s);
        const auto it = std::ranges::find(found->remarks, "repaired", &Remark::code);
        return it == found->remarks.end() ? Severity::Reject : it->severity;
    };
    EXPECT_EQ(severity(faulty), Severity::Caution); // one in a thousand: many
    for (size_t i = 0; i < faulty.size(); ++i)
        if (i > 20'000)
            faulty[i] = strain[i];
    EXPECT_EQ(severity(faulty), Severity::Note);
    EXPECT_EQ(severity(lively), Severity::Caution);
    // Real content near the filter, and an amplifier at its end.
    std::vector<double> fast = strain;
    for (size_t i = 0; i < fast.size(); ++i)
        fast[i] = std::min(150.0, fast[i] + 120 * std::sin(2 * M_PI * 1.9 * static_cast<double>(i) / 50));
    const auto heard = readSpectrum({.source = historyOf(fast), .unit = findUnit("ue"), .rate = 50}, s);
    EXPECT_TRUE(told(*heard, "content-near-filter"));
    EXPECT_TRUE(told(*heard, "clipped"));
}

} // namespace
} // namespace fortitor::counts_test
