// SPDX-License-Identifier: GPL-3.0-or-later
// A long curve drawn from its extents: nothing that shows is lost, and little is looked at.
#include "curve/extent_tree.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

namespace fortitor {
namespace {

struct Drawn {
    std::vector<std::pair<double, double>> points;
    int gaps = 0;
};

Drawn drawn(const ExtentTree& tree, const ExtentTree::Window& window, double cell, double rise)
{
    Drawn d;
    tree.walk(
        window, cell, rise, [&](double x, double y) { d.points.emplace_back(x, y); }, [&] { ++d.gaps; });
    return d;
}

/// The greatest and least y in each column of the window.
std::map<long, std::pair<double, double>> columns(const std::vector<std::pair<double, double>>& points,
                                                  const ExtentTree::Window& w, double cell)
{
    std::map<long, std::pair<double, double>> out;
    for (const auto& [x, y] : points) {
        if (x < w.x0 || x > w.x1)
            continue;
        auto [it, fresh] = out.try_emplace(static_cast<long>(std::floor((x - w.x0) / cell)), y, y);
        it->second = {std::min(it->second.first, y), std::max(it->second.second, y)};
    }
    return out;
}

TEST(ExtentTree, EachColumnKeepsItsLeastAndGreatest)
{
    // A spike a reading wide must not be lost, at any zoom.
    const size_t n = 300000;
    std::vector<double> x(n), y(n);
    std::mt19937 random(3);
    for (size_t i = 0; i < n; ++i) {
        x[i] = static_cast<double>(i) * 1e-3;
        y[i] = std::sin(x[i] / 10) + (random() % 5000 == 0 ? 3 : 0);
    }
    const ExtentTree tree(x, y);
    std::vector<std::pair<double, double>> all;
    for (size_t i = 0; i < n; ++i)
        all.emplace_back(x[i], y[i]);
    for (const double wide : {300.0, 30.0, 1.0}) {
        const ExtentTree::Window window{20, 20 + wide * 0.9, -10, 10};
        const double cell = wide / 1000;
        const Drawn d = drawn(tree, window, cell, 1e-4);
        EXPECT_LT(d.points.size(), 40000u) << wide;
        const auto truth = columns(all, window, cell);
        const auto shown = columns(d.points, window, cell);
        // Within a neighbouring column, since a narrow stretch stands at its middle.
        for (const auto& [column, range] : truth) {
            double least = INFINITY, greatest = -INFINITY;
            for (long k = column - 1; k <= column + 1; ++k)
                if (const auto it = shown.find(k); it != shown.end()) {
                    least = std::min(least, it->second.first);
                    greatest = std::max(greatest, it->second.second);
                }
            ASSERT_LE(least, range.first + 1e-4) << wide << " " << column;
            ASSERT_GE(greatest, range.second - 1e-4) << wide << " " << column;
        }
    }
}

TEST(ExtentTree, AnyWayTheCurveRuns)
{
    // A loop: x goes there and back; both branches are drawn.
    std::vector<double> x, y;
    for (int i = 0; i <= 100000; ++i) {
        const double t = 2 * M_PI * i / 100000;
        x.push_back(std::cos(t));
        y.push_back(std::sin(t));
    }
    const Drawn d = drawn(ExtentTree(x, y), {-2, 2, -2, 2}, 0.004, 0.004);
    EXPECT_TRUE(
        std::ranges::any_of(d.points, [](const auto& p) { return std::abs(p.first) < 0.01 && p.second > 0.99; }));
    EXPECT_TRUE(
        std::ranges::any_of(d.points, [](const auto& p) { return std::abs(p.first) < 0.01 && p.second < -0.99; }));
    EXPECT_EQ(d.gaps, 0);
}

TEST(ExtentTree, WhatIsNotFiniteIsAGap)
{
    std::vector<double> x(64), y(64, 1);
    for (size_t i = 0; i < x.size(); ++i)
        x[i] = static_cast<double>(i);
    y[20] = NAN;
    x[40] = INFINITY;
    const Drawn d = drawn(ExtentTree(x, y), {0, 63, 0, 2}, 0.01, 0.01);
    EXPECT_EQ(d.points.size(), 62u);
    EXPECT_EQ(d.gaps, 2);
    EXPECT_TRUE(drawn(ExtentTree({}, {}), {0, 1, 0, 1}, 1, 1).points.empty());
    const std::vector<double> none(40, NAN);
    EXPECT_TRUE(drawn(ExtentTree(none, none), {0, 1, 0, 1}, 1, 1).points.empty());
    const std::vector<double> one{3};
    EXPECT_EQ(drawn(ExtentTree(one, one), {0, 5, 0, 5}, 0.1, 0.1).points.size(), 2u) << "first and last of one point";
}

TEST(ExtentTree, FarStretchesAreNotLookedAt)
{
    const size_t n = 1 << 20;
    std::vector<double> x(n), y(n);
    for (size_t i = 0; i < n; ++i) {
        x[i] = static_cast<double>(i);
        y[i] = std::sin(0.1 * x[i]);
    }
    const Drawn d = drawn(ExtentTree(x, y), {500000, 500100, -1, 1}, 0.1, 0.001);
    EXPECT_LT(d.points.size(), 700u);
}

} // namespace
} // namespace fortitor
