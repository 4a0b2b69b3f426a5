// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/record_faults.h"

#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>
#include <vector>

namespace fortitor {
namespace {

using Values = std::vector<double>;

Values rounded(Values v, double step)
{
    for (double& x : v)
        x = std::round(x / step) * step;
    return v;
}

std::optional<Clipped> clipped(const Values& y, const Values& travel)
{
    return findClipped(y, [&] { return travel; });
}

/// A rounded curve over n rows: quick at first, a flat top, a slow fall.
Values curve(size_t n, double noise, std::uint64_t seed)
{
    Random random(seed);
    Values y;
    for (size_t i = 0; i < n; ++i) {
        const double x = static_cast<double>(i) / static_cast<double>(n);
        y.push_back(20000 * (1 - std::exp(-12 * x)) - 6000 * x * x + noise * random.normal());
    }
    return y;
}

Values counting(size_t n)
{
    Values x;
    for (size_t i = 0; i < n; ++i)
        x.push_back(static_cast<double>(i));
    return x;
}

TEST(Clipped, AChannelAtItsEndIsFoundAndARoundTopIsNot)
{
    int missed = 0;
    int false_ = 0;
    for (std::uint64_t seed = 1; seed <= 1000; ++seed) {
        Random random(seed + 5000);
        const auto n = static_cast<size_t>(random.between(60, 3000));
        const double noise = seed % 3 == 0 ? 0 : random.between(0.5, 60);
        const double step = seed % 4 == 0 ? 1e-3 : random.between(0.5, 50);
        const Values sound = rounded(curve(n, noise, seed), step);
        false_ += clipped(sound, counting(n)) ? 1 : 0;
        // Cut off where the curve still climbs.
        Values cut = sound;
        const double end = std::round(random.between(0.3, 0.85) * 16000 / step) * step;
        for (double& v : cut)
            v = std::min(v, end);
        const auto found = clipped(cut, counting(n));
        missed += found ? 0 : 1;
    }
    EXPECT_EQ(false_, 0);
    EXPECT_LE(missed, 10) << "coarse steps and few readings hide some";
}

TEST(Clipped, AHeldLoadIsNone)
{
    // Climb, hold at a set force with the crosshead creeping, climb no more.
    Values force;
    Values travel;
    for (int i = 0; i < 200; ++i) {
        force.push_back(std::min(100.0 * i, 10000.0));
        travel.push_back(i < 100 ? 0.01 * i : 1 + 0.0002 * (i - 100));
    }
    EXPECT_FALSE(clipped(force, travel));
    EXPECT_FALSE(clipped(force, {})) << "without a travel it can't be told";
    EXPECT_TRUE(clipped(force, counting(200)));
}

TEST(Clipped, AQuantisedDrawingPlateauIsNone)
{
    // A polymer: yield, then the force wavers within one step of its drawing plateau.
    Random random(3);
    Values force;
    for (int i = 0; i < 2000; ++i)
        force.push_back(i < 200 ? 1000 * std::sin(0.5 * 3.14159265 * i / 200) : 1000 - 0.3 * std::sin(0.01 * i));
    EXPECT_FALSE(clipped(rounded(force, 5), counting(2000)));
    EXPECT_FALSE(clipped(rounded(force, 1), counting(2000)));
}

TEST(Clipped, OddInput)
{
    EXPECT_FALSE(clipped({}, {}));
    EXPECT_FALSE(clipped(Values(100, 5.0), counting(100)));
    EXPECT_FALSE(clipped(Values(100, std::nan("")), counting(100)));
    EXPECT_FALSE(clipped(Values(100, -3.0), counting(100)));
    Values gaps = curve(500, 0, 1);
    for (size_t i = 0; i < gaps.size(); i += 7)
        gaps[i] = std::nan("");
    EXPECT_FALSE(clipped(gaps, counting(500)));
    EXPECT_FALSE(clipped(Values(100, std::numeric_limits<double>::infinity()), counting(100)));
}

TEST(TimeDisorder, EachFaultAndItsRow)
{
    Values time = counting(100);
    EXPECT_FALSE(findTimeDisorder(time));
    Values back = time;
    back[40] = 20;
    EXPECT_EQ(findTimeDisorder(back)->fault, TimeFault::Backwards);
    EXPECT_EQ(findTimeDisorder(back)->at, 40u);
    EXPECT_EQ(findTimeDisorder(back)->count, 1u);
    Values again = time;
    again.insert(again.end(), time.begin(), time.end());
    EXPECT_EQ(findTimeDisorder(again)->at, 100u);
    EXPECT_EQ(findTimeDisorder(Values(50, 3.0))->fault, TimeFault::Standing);
    Values leap = time;
    for (size_t i = 70; i < 100; ++i)
        leap[i] += 5000;
    EXPECT_EQ(findTimeDisorder(leap)->fault, TimeFault::Leaping);
    EXPECT_EQ(findTimeDisorder(leap)->at, 70u);
}

TEST(TimeDisorder, SoundClocksAreInOrder)
{
    Values coarse; // whole seconds at 50 rows a second
    for (int i = 0; i < 1000; ++i)
        coarse.push_back(std::floor(i / 50.0));
    EXPECT_FALSE(findTimeDisorder(coarse));
    Values gaps = counting(100);
    gaps[5] = gaps[50] = gaps[99] = std::nan("");
    EXPECT_FALSE(findTimeDisorder(gaps));
    Values irregular{0};
    Random random(4);
    for (int i = 0; i < 500; ++i)
        irregular.push_back(irregular.back() + std::pow(10, random.between(-3, 0)));
    EXPECT_FALSE(findTimeDisorder(irregular));
    Values hold = counting(100); // a step held for longer than all others
    for (size_t i = 60; i < 100; ++i)
        hold[i] += 80;
    EXPECT_FALSE(findTimeDisorder(hold));
    EXPECT_FALSE(findTimeDisorder({}));
    EXPECT_FALSE(findTimeDisorder(Values{1}));
    EXPECT_FALSE(findTimeDisorder(Values{1, 2000, 2001}));
}

} // namespace
} // namespace fortitor
