// SPDX-License-Identifier: GPL-3.0-or-later
// The chain against another program's arithmetic, against itself cut otherwise, and on signals that are known.
#include "history/chain.h"
#include "history/detrend.h"
#include "history/low_pass.h"
#include "history/repair.h"
#include "history/source.h"
#include "sim/random.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <csignal>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <limits>
#include <numbers>

#include <sys/resource.h>

namespace fortitor::chain_test {
namespace {

namespace fs = std::filesystem;
constexpr double gap = std::numeric_limits<double>::quiet_NaN();

std::string dataFile(const char* name)
{
    return (fs::path(SOURCE_FOLDER) / "tests/data/history" / name).string();
}

/// A file that goes again.
struct Scratch {
    explicit Scratch(const char* name) : path((fs::temp_directory_path() / name).string()) { }
    ~Scratch() { fs::remove(path); }
    Scratch(const Scratch&) = delete;
    Scratch& operator=(const Scratch&) = delete;
    template <class T> void write(const std::vector<T>& values) const
    {
        std::ofstream out(path, std::ios::binary);
        out.write(reinterpret_cast<const char*>(values.data()),
                  static_cast<std::streamsize>(values.size() * sizeof(T)));
    }
    void write(const std::string& text) const { std::ofstream(path, std::ios::binary) << text; }
    std::string path;
};

std::vector<double> strokes(size_t n, std::uint64_t seed)
{
    Random random(seed);
    std::vector<double> x;
    for (size_t i = 0; i < n; ++i) {
        const double t = static_cast<double>(i) / 50;
        x.push_back(30 + 40 * std::sin(t / 900) + 60 * std::sin(3.4 * t) * (0.6 + 0.4 * std::sin(t / 20))
                    + 3 * random.normal());
    }
    return x;
}

struct Ran : ChainFound {
    Turning turning{};
};

Ran ran(const HistorySource& source, double rate, const ChainSettings& settings)
{
    const auto out = runChain(source, rate, settings);
    EXPECT_TRUE(out) << (out ? "" : out.problem().text());
    return out ? Ran{*out, out->turning.all()} : Ran{};
}

// numpy and scipy (median filter, dense least squares, sosfiltfilt), made once: tests/data/history.
TEST(Chain, AnotherProgramGivesTheSame)
{
    const auto file = openHistory(dataFile("reference.f32"), {.rate = 20});
    ASSERT_TRUE(file) << file.problem().text();
    const Ran out = ran(*file->source, file->rate, {.detrend = 100, .lowPass = 2});
    EXPECT_EQ(out.repaired, 40u);
    ASSERT_EQ(out.trend.size(), 6u);
    EXPECT_NEAR(out.trend[0], 209.32552337, 1e-6);
    EXPECT_NEAR(out.trend[1], 307.15155404, 1e-6);
    std::ifstream in(dataFile("reference-turning.csv"));
    std::string line;
    std::getline(in, line);
    size_t k = 0;
    for (; std::getline(in, line); ++k) {
        ASSERT_LT(k, out.turning.size());
        const size_t comma = line.find(',');
        EXPECT_EQ(out.turning.at[k], std::stoul(line.substr(0, comma)));
        EXPECT_NEAR(out.turning.values[k], std::stod(line.substr(comma + 1)), 1e-8);
    }
    EXPECT_EQ(k, out.turning.size());
}

// A history of many blocks: the same as one long filter run would give, whatever the threads.
TEST(Chain, BlocksAndThreadsLeaveNoTrace)
{
    const auto source = historyOf(strokes(700'000, 3));
    const ChainSettings settings{.spikes = false, .detrend = 3600, .lowPass = 2};
    ChainSettings one = settings, many = settings;
    one.threads = 1;
    many.threads = 5;
    const Ran a = ran(*source, 50, one), b = ran(*source, 50, many);
    ASSERT_EQ(a.turning.size(), b.turning.size());
    EXPECT_EQ(a.turning.values, b.turning.values); // to the last bit
    EXPECT_EQ(a.turning.at, b.turning.at);
    EXPECT_EQ(a.trend, b.trend);
    // The whole at once: one lane, held at both ends as long as the reflection.
    std::vector<double> x(source->size());
    source->read(0, x);
    const TrendPieces pieces(x.size(), 3600.0 * 50);
    takeOff(x, 0, pieces, a.trend);
    const size_t far = 20 * 50;
    std::vector<double> whole;
    for (size_t i = far; i > 0; --i)
        whole.push_back(2 * x.front() - x[i]);
    whole.insert(whole.end(), x.begin(), x.end());
    for (size_t i = 1; i <= far; ++i)
        whole.push_back(2 * x.back() - x[x.size() - 1 - i]);
    filterBothWays(whole, 1, LowPass::design(2, 50));
    double worst = 0;
    for (size_t k = 0; k < a.turning.size(); ++k)
        worst = std::max(worst, std::abs(a.turning.values[k] - whole[far + a.turning.at[k]]));
    EXPECT_LT(worst, 1e-9 * 200); // of the range
    // A stretch is as the whole has it.
    const auto stretch = stretchOf(*source, settings, a, 300'000, 5'000);
    ASSERT_TRUE(stretch);
    for (size_t i = 0; i < 5'000; ++i)
        ASSERT_NEAR(stretch->filtered[i], whole[far + 300'000 + i], 1e-7);
}

/// What the disk gives room for, while it lives.
struct SmallDisk {
    explicit SmallDisk(rlim_t bytes)
    {
        getrlimit(RLIMIT_FSIZE, &before);
        handler = std::signal(SIGXFSZ, SIG_IGN);
        rlimit low = before;
        low.rlim_cur = bytes;
        setrlimit(RLIMIT_FSIZE, &low);
    }
    ~SmallDisk()
    {
        setrlimit(RLIMIT_FSIZE, &before);
        std::signal(SIGXFSZ, handler);
    }
    SmallDisk(const SmallDisk&) = delete;
    SmallDisk& operator=(const SmallDisk&) = delete;
    rlimit before{};
    void (*handler)(int) = nullptr;
};

// Noise turns at two of three readings: most of them go to a file, and come back to the bit.
TEST(Chain, TurningPointsBeyondMemoryLieInAFile)
{
    const auto source = historyOf(strokes(400'000, 12));
    ChainSettings settings{.lowPass = 0, .scale = 1.7};
    const Ran whole = ran(*source, 50, settings);
    EXPECT_GT(whole.turning.size(), 200'000u);
    settings.inMemory = 1'000;
    const auto some = runChain(*source, 50, settings);
    ASSERT_TRUE(some) << some.problem().text();
    EXPECT_EQ(some->turning.size(), whole.turning.size());
    const Turning all = some->turning.all();
    EXPECT_EQ(all.values, whole.turning.values);
    EXPECT_EQ(all.at, whole.turning.at);
    const auto refusal = [&] {
        const auto out = runChain(*source, 50, settings);
        return out ? std::string("none") : out.problem().text();
    };
    {
        const SmallDisk disk(100'000);
        EXPECT_NE(refusal().find("12 a turning point"), std::string::npos) << refusal();
    }
    setenv("TMPDIR", "/nowhere/at/all", 1);
    EXPECT_NE(refusal().find("temporary files"), std::string::npos) << refusal();
    unsetenv("TMPDIR");
}

TEST(Chain, HalfThePowerIsLeftWhereAsked)
{
    for (const double asked : {0.02, 0.2, 2.0}) { // the corners are scaled as they are asked, not as they are warped
        const LowPass f = LowPass::design(asked, 200);
        EXPECT_NEAR(f.leftAt(asked, 200), std::sqrt(0.5), 2e-4 * asked * asked / 4 + 1e-9) << asked;
        EXPECT_NEAR(f.leftAt(0, 200), 1, 1e-9);
        EXPECT_LT(f.leftAt(2 * asked, 200), 0.01);
    }
    // Each pass has half the power at its own corner.
    EXPECT_NEAR(LowPass::design(20, 200).leftAt(20 * std::pow(std::sqrt(2) - 1, -1.0 / 8), 200), 0.5, 1e-12);
    EXPECT_TRUE(LowPass::refused(0, 200));
    EXPECT_TRUE(LowPass::refused(100, 200));
    EXPECT_TRUE(LowPass::refused(90, 200)); // its own corner would reach half the rate
    EXPECT_FALSE(LowPass::refused(80, 200));
    // A slow wave passes without shift, at its amplitude.
    std::vector<double> x;
    for (int i = 0; i < 20'000; ++i)
        x.push_back(50 * std::sin(2 * std::numbers::pi * 0.3 * i / 200));
    const Ran out = ran(*historyOf(x), 200, {.spikes = false, .detrend = 0, .lowPass = 3});
    for (size_t k = 3; k + 3 < out.turning.size(); ++k) {
        EXPECT_NEAR(std::abs(out.turning.values[k]), 50, 0.01);
        EXPECT_NEAR(std::remainder(out.turning.at[k] * 0.6 / 200 - 0.5, 1.0), 0, 0.01);
    }
}

TEST(Chain, ATrendOfStraightPiecesGoesWhole)
{
    const std::uint64_t n = 10'500;
    const TrendPieces pieces(n, 1000);
    EXPECT_EQ(pieces.count(), 10u); // the last half joins its neighbour: 499 readings
    EXPECT_EQ(TrendPieces(10'501, 1000).count(), 11u);
    EXPECT_EQ(TrendPieces(300, 1000).count(), 1u);
    std::vector<double> x;
    for (std::uint64_t i = 0; i < n; ++i) {
        const auto piece = std::min<std::uint64_t>(i / 1000, 9);
        const double u = static_cast<double>(i - piece * 1000) / (piece == 9 ? 1499.0 : 1000.0);
        const auto level = [](std::uint64_t joint) { return 100 * std::sin(static_cast<double>(joint)); };
        x.push_back(level(piece) + (level(piece + 1) - level(piece)) * u);
    }
    const Ran out = ran(*historyOf(x), 10, {.detrend = 100, .lowPass = 0});
    for (const double v : out.turning.values)
        EXPECT_NEAR(v, 0, 1e-9);
    EXPECT_NEAR(out.trend[3], 100 * std::sin(3.0), 1e-9);
}

TEST(Chain, GapsAndSpikesAreBridged)
{
    std::vector<double> x = strokes(4'000, 9);
    const std::vector<double> sound = x;
    x[0] = x[1] = gap;
    for (size_t i = 1'000; i < 1'300; ++i)
        x[i] = gap;
    x[2'000] += 900;
    x[2'500] -= 900;
    x[2'501] -= 900; // two beside one another
    x[3'000] = gap;
    x[3'001] += 900; // a spike beside a gap
    x.back() = gap;
    const auto source = historyOf(x);
    const Repaired repaired(*source, 100);
    std::vector<double> y(x.size());
    EXPECT_EQ(repaired.read(0, y), 2u + 300 + 1 + 2 + 2 + 1);
    EXPECT_EQ(y[0], sound[2]);
    EXPECT_EQ(y.back(), sound[x.size() - 2]);
    EXPECT_NEAR(y[1'150], sound[999] + (sound[1'300] - sound[999]) * 151 / 301, 1e-12);
    EXPECT_NEAR(y[2'000], (sound[1'999] + sound[2'001]) / 2, 1e-12);
    EXPECT_NEAR(y[3'000], sound[2'999] + (sound[3'002] - sound[2'999]) / 3, 1e-12);
    EXPECT_EQ(y[1'500], sound[1'500]);
    // Whatever stretch is asked for, and however small.
    for (const size_t size : {1u, 7u, 64u, 300u, 1'111u})
        for (size_t from = 0; from < x.size(); from += size) {
            std::vector<double> part(std::min(size, x.size() - from));
            repaired.read(from, part);
            for (size_t i = 0; i < part.size(); ++i)
                ASSERT_EQ(part[i], y[from + i]) << size << " " << from + i;
        }
}

TEST(Chain, AnInfiniteReadingIsAGap)
{
    std::vector<double> x = strokes(5'000, 2);
    x[3'000] = std::numeric_limits<double>::infinity();
    x[4'000] = -std::numeric_limits<double>::infinity();
    for (const bool spikes : {true, false}) {
        const Ran out = ran(*historyOf(x), 50, {.spikes = spikes});
        EXPECT_EQ(out.repaired, 2u);
        for (const double v : out.turning.values)
            ASSERT_TRUE(std::isfinite(v));
    }
}

// A coarse step: most differences are nothing, and nothing must be called a spike.
TEST(Chain, CoarseStepsAreNoSpikes)
{
    std::vector<double> x = strokes(20'000, 4);
    for (double& v : x)
        v = 50 * std::round(v / 50);
    EXPECT_EQ(ran(*historyOf(x), 50, {.lowPass = 0}).repaired, 0u);
    EXPECT_EQ(ran(*historyOf(std::vector<double>(5'000, 7.5)), 50, {}).turning.size(), 1u);
    const Ran none = ran(*historyOf(std::vector<double>(500, gap)), 50, {});
    EXPECT_EQ(none.repaired, 500u);
}

// Most readings of a smooth signal are the median of their five: its peaks must not become spikes.
TEST(Chain, SmoothSignalsHaveNoSpikes)
{
    Random random(17);
    for (const double noise : {0.0, 1e-4, 0.01, 0.3, 4.0})
        for (const double hertz : {0.03, 0.4, 2.0}) {
            std::vector<double> x;
            for (int i = 0; i < 30'000; ++i)
                x.push_back(80 * std::sin(2 * std::numbers::pi * hertz * i / 50) * (0.6 + 0.4 * std::sin(i / 900.0))
                            + noise * random.normal());
            EXPECT_EQ(ran(*historyOf(x), 50, {.lowPass = 0}).repaired, 0u) << noise << " " << hertz;
            x[12'345] += 400; // one that is
            const std::uint64_t found = ran(*historyOf(x), 50, {.lowPass = 0}).repaired;
            EXPECT_GE(found, 1u) << noise << " " << hertz;
            EXPECT_LE(found, 3u) << noise << " "
                                 << hertz; // without noise its neighbours stand out from their medians too
        }
}

TEST(Chain, TheMedianSizeIsExact)
{
    Random random(23);
    for (const size_t n : {9u, 10u, 5'000u, 5'001u, 200'003u}) {
        std::vector<double> x;
        for (size_t i = 0; i < n; ++i)
            x.push_back((i < n / 2 ? 1 : 40) * random.normal()); // half of it quiet: stretches mislead
        std::vector<double> sizes;
        for (size_t i = 0; i < n; ++i) {
            std::array<double, 5> five;
            for (size_t k = 0; k < 5; ++k)
                five[k] = x[std::min(n - 1, i + k < 2 ? 0 : i + k - 2)];
            std::ranges::sort(five);
            sizes.push_back(std::abs(x[i] - five[2]));
        }
        const auto zeros = static_cast<size_t>(std::ranges::count(sizes, 0.0));
        if (4 * zeros > n)
            std::erase(sizes, 0.0);
        std::ranges::sort(sizes);
        const double median = (sizes[(sizes.size() - 1) / 2] + sizes[sizes.size() / 2]) / 2;
        EXPECT_DOUBLE_EQ(ran(*historyOf(x), 50, {.lowPass = 0}).spikeLimit, 12 * 1.4826 * median) << n;
    }
}

TEST(Chain, ReadingsAtTheirEndAreCounted)
{
    std::vector<double> x = strokes(30'000, 5);
    for (double& v : x)
        v = std::min(v, 95.0);
    const Ran out = ran(*historyOf(x), 50, {});
    EXPECT_EQ(out.top.value, 95);
    EXPECT_GT(out.top.count, 100u);
    EXPECT_LE(out.top.next, 2u);
    EXPECT_LE(out.bottom.count, 2u);
}

TEST(Chain, WhatCantBeIsNamed)
{
    const auto source = historyOf(strokes(2'000, 1));
    EXPECT_FALSE(runChain(*source, 0, {}));
    EXPECT_FALSE(runChain(*source, -5, {}));
    EXPECT_FALSE(runChain(*source, 50, {.lowPass = 25}));
    EXPECT_FALSE(runChain(*source, 50, {.detrend = -1}));
    EXPECT_FALSE(runChain(*historyOf({1.0}), 50, {}));
    int asked = 0;
    const auto stopped = runChain(*source, 50, {.progress = [&](double share) {
        EXPECT_GE(share, 0);
        EXPECT_LE(share, 1.0001);
        return ++asked < 2;
    }});
    ASSERT_TRUE(stopped);
    EXPECT_TRUE(stopped->stopped);
}

TEST(History, RawFiles)
{
    const Scratch narrow("fortitor-chain.f32"), wide("fortitor-chain.f64");
    std::vector<float> f;
    std::vector<double> d;
    for (int i = 0; i < 5'000; ++i) {
        f.push_back(static_cast<float>(i) * 0.25F);
        d.push_back(i * 0.25);
    }
    narrow.write(f);
    wide.write(d);
    for (const std::string& path : {narrow.path, wide.path}) {
        const auto file = openHistory(path, {.rate = 100});
        ASSERT_TRUE(file) << file.problem().text();
        EXPECT_EQ(file->source->size(), 5'000u);
        std::vector<double> part(4'500);
        file->source->read(400, part);
        EXPECT_EQ(part[0], 100);
        EXPECT_EQ(part[4'499], 4'899 * 0.25);
        EXPECT_FALSE(file->source->trouble());
    }
    EXPECT_FALSE(openHistory(narrow.path, {}));
    EXPECT_FALSE(openHistory(narrow.path, {.format = "f64", .unit = "kN", .rate = 100}));
    EXPECT_FALSE(openHistory("/nowhere.f32", {.rate = 100}));
    EXPECT_FALSE(openHistory(narrow.path, {.format = "tape", .rate = 100}));
    // Several as one.
    const auto both = openHistories({wide.path, narrow.path}, {.rate = 100});
    ASSERT_TRUE(both);
    EXPECT_EQ(both->source->size(), 10'000u);
    std::vector<double> across(20);
    both->source->read(4'990, across);
    EXPECT_EQ(across[9], 4'999 * 0.25);
    EXPECT_EQ(across[10], 0);
    EXPECT_FALSE(openHistories({}, {.rate = 100}));
    // Cut in mid-sample; written while it is read.
    std::ofstream(narrow.path, std::ios::binary | std::ios::app) << "x";
    EXPECT_NE(openHistory(narrow.path, {.rate = 100}).problem().found.find("mid-sample"), std::string::npos);
    const auto open = openHistory(wide.path, {.rate = 100});
    std::ofstream(wide.path, std::ios::binary | std::ios::app) << "12345678";
    ASSERT_TRUE(open);
    EXPECT_TRUE(open->source->trouble());
    EXPECT_FALSE(runChain(*open->source, 100, {}));
    fs::resize_file(wide.path, 800);
    std::vector<double> gone(50);
    open->source->read(1'000, gone); // no crash, and told
    EXPECT_TRUE(open->source->trouble());
}

TEST(History, TextFiles)
{
    const Scratch scratch("fortitor-history.csv");
    std::string text = "time (s),gauge (ue),warmth (degC)\n";
    for (int i = 0; i < 3'000; ++i)
        text += std::to_string(i * 0.02) + "," + (i == 700 ? "" : std::to_string(i % 40)) + ",20\n";
    scratch.write(text);
    const auto file = openHistory(scratch.path, {.channel = "gauge"});
    ASSERT_TRUE(file) << file.problem().text();
    EXPECT_EQ(file->source->size(), 3'000u);
    EXPECT_NEAR(file->rate, 50, 1e-6);
    std::vector<double> part(3);
    file->source->read(699, part);
    EXPECT_EQ(part[0], 699 % 40);
    EXPECT_TRUE(std::isnan(part[1]));
    EXPECT_EQ(file->unit->symbol, findUnit("ue")->symbol);
    EXPECT_FALSE(openHistory(scratch.path, {})); // which of two
    EXPECT_FALSE(openHistory(scratch.path, {.channel = "gauge 9"}));
    EXPECT_FALSE(openHistory(scratch.path, {.channel = "2", .rate = 60})); // its own time says otherwise
    // A clock with a hole, two rates in one history.
    std::string hole = "time (s),gauge (ue)\n";
    for (int i = 0; i < 100; ++i)
        hole += std::to_string((i < 50 ? i : i + 7) * 0.02) + ",1\n";
    scratch.write(hole);
    EXPECT_FALSE(openHistory(scratch.path, {}));
    // A column of numbers alone.
    scratch.write("stress MPa\n1.5\n\n2.5\n-3e1\n");
    const auto lines = openHistory(scratch.path, {.unit = "MPa", .rate = 10});
    ASSERT_TRUE(lines) << lines.problem().text();
    EXPECT_EQ(lines->source->size(), 4u);
    scratch.write("1.5\n2,5 kN\n3\n");
    EXPECT_FALSE(openHistory(scratch.path, {.rate = 10}));
}

} // namespace
} // namespace fortitor::chain_test
