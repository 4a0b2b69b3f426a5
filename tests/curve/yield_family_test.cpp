// SPDX-License-Identifier: GPL-3.0-or-later
// Yielding with a drop as bars show it: a deep first dip, serrations or none, few readings and many, noise. The
// law stands here by itself, apart from the one of the simulated bars.
#include "curve/yield_point.h"

#include "sim/random.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <vector>

namespace fortitor {
namespace {

constexpr double E = 210e3;

/// MPa over plastic strain.
struct Bar {
    double upper = 320, dip = 288, low = 300, serration = 3, period = 0.0015, plateau = 0.02;
    [[nodiscard]] double at(double p) const
    {
        constexpr double dropped = 0.0003;
        constexpr double out = 0.001;
        if (p <= 0)
            return upper;
        if (p < dropped)
            return upper + (dip - upper) * p / dropped;
        if (p < out)
            return dip + (low + serration - dip) * (p - dropped) / (out - dropped);
        if (p < plateau) {
            const double phase = std::fmod((p - out) / period, 1.0);
            return low + serration * (phase < 0.8 ? 1 - phase / 0.8 : (phase - 0.8) / 0.2);
        }
        return at(plateau - 1e-12) + 150 * (1 - std::exp(-(p - plateau) / 0.05));
    }
    /// The least after the first dip.
    [[nodiscard]] double lower() const
    {
        double least = upper;
        for (int i = 0; i <= 4000; ++i)
            least = std::min(least, at(0.001 + (plateau - 0.001) * i / 4000.0 - 1e-9));
        return std::min(least, at(plateau + 1e-9));
    }
};

struct Read {
    std::vector<double> x, y;
};

Read recorded(const Bar& bar, int readings, double noise, bool irregular, Random& random)
{
    Read r;
    const double step = bar.plateau / readings;
    const double elastic = bar.upper / E;
    const auto put = [&](double x, double y) {
        r.x.push_back(std::max(x, r.x.empty() ? 0 : r.x.back()));
        r.y.push_back(y + noise * random.normal());
    };
    for (int i = 0; i < 60; ++i)
        put(elastic * i / 60, bar.upper * i / 60);
    put(elastic, bar.upper);
    for (double p = 0; p < 0.15;) {
        p += (p < bar.plateau + 0.03 ? 1 : 3) * step * (irregular ? -std::log(1 - random.between(0, 1) * 0.999) : 1);
        put(p + bar.at(p) / E, bar.at(p));
    }
    return r;
}

TEST(YieldFamily, LowerYieldAndItsExtensionAreThoseOfThePlateau)
{
    std::printf("readings noise/ReH  found   ReL within 1 %%  Ae median    95 %% within\n");
    for (const int readings : {10, 30, 100, 500})
        for (const double noise : {0.0, 0.0005, 0.0015, 0.005}) {
            Random random(static_cast<std::uint64_t>(readings + 100000 * noise));
            int found = 0;
            int close = 0;
            int said = 0;
            std::vector<double> off;
            constexpr int bars = 1000;
            for (int i = 0; i < bars; ++i) {
                Bar bar;
                bar.dip = random.between(285, 302);
                bar.serration = random.between(0.5, 4);
                bar.period = random.between(0.001, 0.004);
                bar.plateau = random.between(0.01, 0.03);
                const Read r = recorded(bar, readings, noise * bar.upper, i % 2 == 0, random);
                const auto drop = findYieldDrop(r.x, r.y, E, 0, noise * bar.upper);
                if (!drop)
                    continue;
                ++found;
                close += std::abs(drop->lower / bar.lower() - 1) < 0.01 ? 1 : 0;
                ASSERT_TRUE(std::isfinite(drop->lower));
                if (drop->extension) {
                    off.push_back(std::abs(*drop->extension / bar.plateau - 1));
                    said += std::abs(*drop->extension - bar.plateau) <= 2 * drop->extensionDoubt ? 1 : 0;
                }
            }
            ASSERT_GT(off.size(), 500u);
            std::ranges::sort(off);
            const double share = static_cast<double>(close) / found;
            const double most = off[off.size() * 95 / 100];
            std::printf("%6d   %5.2f %%   %5.1f %%   %6.1f %%       %5.1f %%     %5.1f %%   said %5.1f %%\n", readings,
                        100 * noise, 100.0 * found / bars, 100 * share, 100 * off[off.size() / 2], 100 * most,
                        100.0 * said / static_cast<double>(off.size()));
            EXPECT_GE(share, readings >= 100 ? 0.98 : readings >= 30 ? 0.9 : 0.85) << readings << " " << noise;
            EXPECT_LE(most, readings >= 100 ? 0.08 : readings >= 30 ? 0.1 : 0.3) << readings << " " << noise;
        }
}

TEST(YieldFamily, ADeepFirstDipIsLeftOut)
{
    Random random(1);
    const Bar bar; // dips to 288, all later minima at 300
    const Read r = recorded(bar, 200, 0, false, random);
    const auto drop = findYieldDrop(r.x, r.y, E, 0, 0);
    ASSERT_TRUE(drop);
    EXPECT_TRUE(drop->transientLeftOut);
    EXPECT_NEAR(drop->lower, 300, 0.3);
    EXPECT_NEAR(drop->lowerShortCut, 288, 1) << "the short cut of the standard takes it";
    ASSERT_TRUE(drop->extension);
    EXPECT_NEAR(*drop->extension, 0.02, 0.0008);
}

TEST(YieldFamily, WithoutAPlateauTheOneMinimumCounts)
{
    Random random(2);
    Bar bar;
    bar.plateau = 0.00031; // hardening begins in the dip
    Read r;
    for (int i = 0; i <= 60; ++i) {
        r.x.push_back(bar.upper / E * i / 60);
        r.y.push_back(bar.upper * i / 60);
    }
    for (int i = 1; i < 600; ++i) {
        const double p = 0.0002 * i;
        const double y = p < 0.0006 ? 320 - 32 * p / 0.0006 : 288 + 160 * (1 - std::exp(-(p - 0.0006) / 0.03));
        r.x.push_back(p + y / E);
        r.y.push_back(y);
    }
    const auto drop = findYieldDrop(r.x, r.y, E, 0, 0);
    ASSERT_TRUE(drop);
    EXPECT_NEAR(drop->lower, 288, 1.5);
    EXPECT_FALSE(drop->transientLeftOut);
}

} // namespace
} // namespace fortitor
