// SPDX-License-Identifier: GPL-3.0-or-later
#include "methods/map_field.h"

#include <gtest/gtest.h>

#include <cmath>

namespace fortitor::map_field_test {
namespace {

MapView grid(size_t n, const auto& value)
{
    MapView view;
    for (size_t r = 0; r < n; ++r)
        for (size_t c = 0; c < n; ++c) {
            const auto x = static_cast<double>(c), y = static_cast<double>(r);
            view.points.push_back({x, y, value(x, y), {}, false});
        }
    return view;
}

TEST(MapField, StaysBetweenItsPointsAndFollowsThem)
{
    const auto field = fieldOf(grid(9, [](double x, double) { return 300 + 50 * x; }));
    ASSERT_TRUE(field);
    EXPECT_EQ(field->least, 300);
    EXPECT_EQ(field->greatest, 700);
    for (size_t r = 0; r < field->rows(); ++r)
        for (size_t c = 0; c < field->columns(); ++c) {
            const double v = field->values[r * field->columns() + c];
            if (!std::isfinite(v))
                continue;
            EXPECT_GE(v, 300);
            EXPECT_LE(v, 700);
            const double x = 0.5 * (field->xEdges[c] + field->xEdges[c + 1]);
            if (x > 1.5 && x < 6.5) {
                EXPECT_NEAR(v, 300 + 50 * x, 40);
            }
        }
}

TEST(MapField, AnIsoLineLiesWhereItsValueIs)
{
    const auto field = fieldOf(grid(11, [](double x, double y) { return std::hypot(x - 5, y - 5); }), 80);
    ASSERT_TRUE(field);
    const IsoLine ring = isoLine(*field, 3);
    ASSERT_GT(ring.size(), 20u);
    for (const auto& [a, b] : ring)
        EXPECT_NEAR(std::hypot(a.first - 5, a.second - 5), 3, 0.6);
    EXPECT_TRUE(isoLine(*field, 99).empty());
    for (const double level : isoLevels(*field)) {
        EXPECT_GT(level, field->least);
        EXPECT_LT(level, field->greatest);
    }
    EXPECT_GE(isoLevels(*field).size(), 3u);
    EXPECT_LE(isoLevels(*field).size(), 9u);
}

TEST(MapField, TooFewPointsOrThoseOnALineGiveNone)
{
    EXPECT_FALSE(fieldOf(grid(1, [](double, double) { return 1.0; })));
    MapView line;
    for (int i = 0; i < 8; ++i)
        line.points.push_back({static_cast<double>(i), 2, 300.0 + i, {}, false});
    EXPECT_FALSE(fieldOf(line));
    EXPECT_FALSE(fieldOf(MapView{}));
    MapView left = grid(3, [](double, double) { return 400.0; });
    for (MapPoint& p : left.points)
        p.left = true;
    EXPECT_FALSE(fieldOf(left));
    // Far from every point there is nothing.
    MapView two = grid(3, [](double x, double) { return x; });
    for (MapPoint p : std::vector<MapPoint>(two.points)) {
        p.x += 40;
        two.points.push_back(p);
    }
    const auto apart = fieldOf(two);
    ASSERT_TRUE(apart);
    EXPECT_TRUE(std::isnan(apart->values[apart->columns() / 2]));
}

} // namespace
} // namespace fortitor::map_field_test
