// SPDX-License-Identifier: GPL-3.0-or-later
// Scatter of a set: published factors, worked cases, and what can't be told.
#include "judge/normality.h"
#include "judge/tolerance.h"
#include "judge/variance_shares.h"
#include "judge/welch.h"

#include <gtest/gtest.h>

#include <numeric>
#include <random>

namespace fortitor {
namespace {

struct Factor {
    size_t n;
    double b, a; ///< 90/95 and 99/95
};

class ToleranceFactors : public testing::TestWithParam<Factor> { };

TEST_P(ToleranceFactors, AgreeWithPublishedOneSidedTables)
{
    const Factor& f = GetParam();
    EXPECT_NEAR(toleranceFactor(f.n, 0.90, 0.95), f.b, 0.0006);
    EXPECT_NEAR(toleranceFactor(f.n, 0.99, 0.95), f.a, 0.0006);
}

// One-sided factors as published for normal tolerance limits.
INSTANTIATE_TEST_SUITE_P(Tables, ToleranceFactors,
                         testing::Values(Factor{3, 6.155, 10.553}, Factor{4, 4.162, 7.042}, Factor{5, 3.407, 5.741},
                                         Factor{6, 3.006, 5.062}, Factor{7, 2.755, 4.642}, Factor{8, 2.582, 4.354},
                                         Factor{9, 2.454, 4.143}, Factor{10, 2.355, 3.981}, Factor{12, 2.210, 3.747},
                                         Factor{15, 2.068, 3.520}, Factor{20, 1.926, 3.295}, Factor{25, 1.838, 3.158},
                                         Factor{30, 1.777, 3.064}, Factor{50, 1.646, 2.862}));

TEST(ToleranceBoundsTest, TheLargeSetFormJoinsTheExactOne)
{
    std::vector<double> values(2001);
    std::iota(values.begin(), values.end(), 0.0);
    const auto closed = toleranceBounds(values);
    ASSERT_TRUE(closed);
    EXPECT_NEAR(closed->kB, toleranceFactor(2000, 0.90, 0.95), 5e-4);
    EXPECT_NEAR(closed->kA, toleranceFactor(2000, 0.99, 0.95), 5e-4);
    EXPECT_FALSE(toleranceBounds(std::vector<double>{1.0}));
}

TEST(AndersonDarling, AWorkedCase)
{
    // 0.1, 0.2 … 2.0: even values. A² by an independent sum (numpy and scipy): 0.220737841656.
    std::vector<double> even;
    for (int i = 1; i <= 20; ++i)
        even.push_back(i / 10.0);
    const auto found = andersonDarling(even);
    ASSERT_TRUE(found);
    EXPECT_NEAR(found->statistic, 0.22073784165630883, 1e-12);
    EXPECT_NEAR(found->adjusted / found->statistic, 1 + 0.75 / 20 + 2.25 / 400, 1e-12);
    EXPECT_FALSE(found->doubted());
    EXPECT_GT(found->p, 0.5);
}

TEST(AndersonDarling, DoubtsWhatIsSkewAndNotWhatIsNormal)
{
    std::mt19937 random(7);
    std::normal_distribution<double> normal(300, 5);
    std::exponential_distribution<double> skew(1);
    int falseAlarms = 0;
    int seen = 0;
    for (int round = 0; round < 400; ++round) {
        std::vector<double> a;
        std::vector<double> b;
        for (int i = 0; i < 30; ++i) {
            a.push_back(normal(random));
            b.push_back(skew(random));
        }
        falseAlarms += andersonDarling(a)->doubted();
        seen += andersonDarling(b)->doubted();
    }
    EXPECT_NEAR(falseAlarms / 400.0, 0.05, 0.03);
    EXPECT_GT(seen, 370);
    EXPECT_FALSE(andersonDarling(std::vector<double>(7, 1.0)));
    EXPECT_FALSE(andersonDarling(std::vector<double>(20, 1.0)));
}

TEST(AndersonDarling, DoesNotDependOnUnitOrOrder)
{
    const std::vector<double> v{3.1, 2.9, 3.4, 3.0, 2.7, 3.3, 3.2, 2.8, 3.05};
    std::vector<double> other(v.rbegin(), v.rend());
    for (double& x : other)
        x = 1e6 + 1e-3 * x;
    EXPECT_NEAR(andersonDarling(v)->statistic, andersonDarling(other)->statistic, 1e-5);
}

TEST(ProbabilityPlot, ScoresAreSymmetricAndRise)
{
    const std::vector<double> v{5, 1, 4, 2, 3};
    const auto points = probabilityPlot(v);
    ASSERT_EQ(points.size(), 5u);
    EXPECT_EQ(points[0].index, 1u);
    EXPECT_NEAR(points[2].score, 0, 1e-12);
    for (size_t i = 0; i < 5; ++i)
        EXPECT_NEAR(points[i].score, -points[4 - i].score, 1e-12);
    EXPECT_NEAR(points[4].score, 1.1798, 1e-3); // Blom, n = 5
}

TEST(HistogramTest, CountsEveryValueOnce)
{
    std::vector<double> v;
    for (int i = 0; i < 137; ++i)
        v.push_back(std::sin(i * 1.7));
    const Histogram h = histogramOf(v);
    EXPECT_EQ(std::accumulate(h.counts.begin(), h.counts.end(), size_t{0}), v.size());
    EXPECT_EQ(histogramOf(std::vector<double>{2, 2, 2}).counts.front(), 3u);
    EXPECT_TRUE(histogramOf({}).counts.empty());
}

TEST(Variance, AWorkedOneWayTable)
{
    // Three groups of three: means 2, 5, 8; within 1 each: MSB 27, MSW 1, component (27−1)/3.
    const std::vector<double> v{1, 2, 3, 4, 5, 6, 7, 8, 9};
    const auto s = varianceShares(v, {"a", "a", "a", "b", "b", "b", "c", "c", "c"});
    ASSERT_TRUE(s);
    EXPECT_NEAR(s->f, 27, 1e-12);
    EXPECT_NEAR(s->between, 26.0 / 3, 1e-12);
    EXPECT_NEAR(s->within, 1, 1e-12);
    EXPECT_NEAR(s->p, 0.001, 2e-4);
}

TEST(Variance, UnequalGroupsAndNegativeComponents)
{
    const auto none = varianceShares(std::vector<double>{1, 9, 2, 8, 5}, {"a", "a", "b", "b", "b"});
    ASSERT_TRUE(none);
    EXPECT_EQ(none->between, 0);
    EXPECT_EQ(none->share(), 0);
    EXPECT_FALSE(varianceShares(std::vector<double>{1, 2}, {"a", "b"}));
    EXPECT_FALSE(varianceShares(std::vector<double>{1, 2, 3}, {"a", "a", "a"}));
}

TEST(Welch, AWorkedCase)
{
    // Means 10 and 13, s² 1 and 4, n 4 and 4: se² 1.25, ν = 1.25²/(0.0625/3 + 1/3) = 4.412.
    const double u = std::sqrt(0.75);
    const std::vector<double> a{10 - u, 10 - u, 10 + u, 10 + u};
    const std::vector<double> b{13 - 2 * u, 13 - 2 * u, 13 + 2 * u, 13 + 2 * u};
    const auto d = welch(a, b);
    ASSERT_TRUE(d);
    EXPECT_NEAR(d->difference, 3, 1e-12);
    EXPECT_NEAR(d->degrees, 4.4118, 1e-3);
    EXPECT_NEAR(d->halfWidth, 2.677 * std::sqrt(1.25), 0.02);
    EXPECT_TRUE(d->told());
    EXPECT_FALSE(welch(std::vector<double>{1.0}, b));
}

} // namespace
} // namespace fortitor
