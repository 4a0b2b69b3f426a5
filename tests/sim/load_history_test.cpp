// SPDX-License-Identifier: GPL-3.0-or-later
// Simulated load histories: the same however they are asked for, and what the chain makes of a day of them.
#include "history/spectrum.h"
#include "sim/load_history.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace fortitor::load_history_test {
namespace {

std::vector<double> hoursOf(const char* name, double hours, std::uint64_t seed, size_t chunk)
{
    const HistoryKind& kind = *findHistoryKind(name);
    LoadHistory history(kind, seed);
    std::vector<float> part(chunk);
    std::vector<double> all;
    for (auto left = static_cast<size_t>(hours * 3600 * kind.rate); left > 0;) {
        const size_t count = std::min(left, chunk);
        history.next(std::span(part).first(count));
        all.insert(all.end(), part.begin(), part.begin() + static_cast<std::ptrdiff_t>(count));
        left -= count;
    }
    return all;
}

TEST(LoadHistory, TheSameHoweverItIsAskedFor)
{
    for (const HistoryKind& kind : historyKinds()) {
        const auto a = hoursOf(kind.name.data(), 0.2, 3, 1'000), b = hoursOf(kind.name.data(), 0.2, 3, 65'536);
        EXPECT_EQ(a, b);
        EXPECT_NE(a, hoursOf(kind.name.data(), 0.2, 4, 1'000));
    }
    EXPECT_EQ(findHistoryKind("swimming"), nullptr);
}

TEST(LoadHistory, AMorningOnTheWaterAndOneOnTheRoad)
{
    SpectrumSettings s{.modulus = 210e3};
    s.counts.curve = DamageCurve{};
    for (const auto& [name, least, most, strokes] :
         {std::tuple("rowing-history", 25.0, 90.0, 90 * 24.0), {"transport-history", 5.0, 400.0, 0.0}}) {
        const auto x = hoursOf(name, 10, 5, 65'536);
        EXPECT_TRUE(std::ranges::all_of(x, [](double v) { return std::isfinite(v); }));
        const auto out = readSpectrum({.source = historyOf(x), .unit = findUnit("ue"), .rate = 200}, s);
        ASSERT_TRUE(out) << out.problem().text();
        EXPECT_GT(out->counts.rangeMax, least) << name;
        EXPECT_LT(out->counts.rangeMax, most) << name;
        EXPECT_GT(*out->counts.damage, 0);
        if (strokes > 0) { // a cycle a stroke, of ninety minutes
            EXPECT_NEAR(out->counts.cycles, strokes, 0.35 * strokes);
        }
    }
}

} // namespace
} // namespace fortitor::load_history_test
