// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/line_fit.h"

#include "sim/random.h"

#include <gtest/gtest.h>

#include <cmath>
#include <vector>

namespace fortitor {
namespace {

TEST(LineFit, ExactLine)
{
    std::vector<double> x;
    std::vector<double> y;
    for (int i = 0; i < 100; ++i) {
        x.push_back(0.01 * i);
        y.push_back(3 + 70000 * x.back());
    }
    const LineFit fit = fitLine(x, y);
    EXPECT_NEAR(fit.slope, 70000, 1e-7);
    EXPECT_NEAR(fit.intercept, 3, 1e-7);
    EXPECT_NEAR(fit.r2, 1, 1e-14);
    EXPECT_EQ(fit.n, 100u);
}

TEST(LineFit, KeepsDigitsFarFromTheOrigin)
{
    // A small climb on top of large numbers: one-pass sums would lose it.
    std::vector<double> x;
    std::vector<double> y;
    for (int i = 0; i < 1000; ++i) {
        x.push_back(1e6 + 1e-3 * i);
        y.push_back(5e8 + 2e-3 * i);
    }
    EXPECT_NEAR(fitLine(x, y).slope, 2, 1e-5);
}

TEST(LineFit, PublishedExample)
{
    // Five points worked by hand: x̄ 3, ȳ 4.2, Sxx 10, Sxy 9, slope 0.9.
    const std::vector<double> x{1, 2, 3, 4, 5};
    const std::vector<double> y{2, 4, 5, 4, 6};
    const LineFit fit = fitLine(x, y);
    EXPECT_NEAR(fit.slope, 0.8, 1e-12);
    EXPECT_NEAR(fit.intercept, 1.8, 1e-12);
    EXPECT_NEAR(fit.r2, 0.72727272727, 1e-9);
}

TEST(LineFit, RelativeSlopeErrorFollowsTheRule)
{
    const std::vector<double> x{1, 2, 3, 4, 5};
    const std::vector<double> y{2, 4, 5, 4, 6};
    const LineFit fit = fitLine(x, y);
    EXPECT_NEAR(fit.relativeSlopeError(), std::sqrt((1 / fit.r2 - 1) / 3), 1e-12);
}

TEST(LineFit, RefusesWhatHasNoSpread)
{
    const std::vector<double> same{2, 2, 2, 2};
    const std::vector<double> y{1, 2, 3, 4};
    EXPECT_FALSE(fitLine(same, y).valid());
    EXPECT_FALSE(fitLine(std::vector<double>{1}, std::vector<double>{1}).valid());
    EXPECT_FALSE(fitLine({}, {}).valid());
}

TEST(LineFit, ScalesWithItsUnits)
{
    Random random(5);
    std::vector<double> x;
    std::vector<double> y;
    std::vector<double> x2;
    std::vector<double> y2;
    for (int i = 0; i < 50; ++i) {
        x.push_back(random.even());
        y.push_back(2 * x.back() + 0.1 * random.normal());
        x2.push_back(x.back() * 25.4);
        y2.push_back(y.back() * 4.4482216152605);
    }
    const LineFit a = fitLine(x, y);
    const LineFit b = fitLine(x2, y2);
    EXPECT_NEAR(b.slope / a.slope, 4.4482216152605 / 25.4, 1e-12);
    EXPECT_NEAR(a.r2, b.r2, 1e-12);
}

TEST(QuadraticFit, FindsTheTop)
{
    std::vector<double> x;
    std::vector<double> y;
    for (int i = -20; i <= 30; ++i) {
        x.push_back(0.05 + 1e-4 * i);
        y.push_back(300 - 4e6 * (x.back() - 0.0507) * (x.back() - 0.0507));
    }
    const QuadraticFit fit = fitQuadratic(x, y);
    EXPECT_NEAR(fit.vertex(), 0.0507, 1e-9);
    EXPECT_NEAR(fit.at(fit.vertex()), 300, 1e-7);
    EXPECT_EQ(fitQuadratic(std::vector<double>{1, 2, 3}, std::vector<double>{1, 2, 1}).n, 0u);
}

} // namespace
} // namespace fortitor
