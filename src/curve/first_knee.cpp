// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/first_knee.h"

#include "curve/signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr double stretches = 200;
constexpr double flatter = 0.4;
constexpr int inRow = 3;

struct Stretch {
    double x = 0, y = 0; ///< means
    size_t count = 0;
    size_t end = 0;
};

/// Stretches of equal x, each at least three readings and half its share clear of the one before.
std::vector<Stretch> stretchesOf(std::span<const double> x, std::span<const double> y)
{
    const double each = (x.back() - x.front()) / stretches;
    std::vector<Stretch> out;
    for (size_t begin = 0; begin < y.size();) {
        Stretch s;
        size_t i = begin;
        do {
            s.x += x[i] - x[begin];
            s.y += y[i] - y[begin];
            ++s.count;
            ++i;
        } while (i < y.size()
                 && (s.count < 3 || x[i] - x[begin] < each
                     || (!out.empty() && x[begin] + s.x / static_cast<double>(s.count) - out.back().x < 0.5 * each)));
        s.x = x[begin] + s.x / static_cast<double>(s.count);
        s.y = y[begin] + s.y / static_cast<double>(s.count);
        s.end = i;
        out.push_back(s);
        begin = i;
    }
    return out;
}

} // namespace

std::size_t firstKnee(std::span<const double> x, std::span<const double> y, double noise)
{
    if (y.size() < 20 || !(x.back() > x.front()))
        return y.size();
    const auto all = stretchesOf(x, y);
    std::vector<double> slopes;
    double steepest = 0;
    int flat = 0;
    for (size_t k = 1; k < all.size(); ++k) {
        const double moved = all[k].x - all[k - 1].x;
        if (!(moved > 0))
            continue;
        slopes.push_back((all[k].y - all[k - 1].y) / moved);
        const double doubt = 1.5 * noise / std::sqrt(static_cast<double>(all[k].count)) / moved;
        // One stretch alone may be steep by chance: the middle of three counts; the very first ones by themselves.
        const size_t n = slopes.size();
        const double borne =
            n < 3 ? *std::ranges::min_element(slopes) : medianOf({slopes[n - 3], slopes[n - 2], slopes[n - 1]});
        if (borne > 4 * doubt)
            steepest = std::max(steepest, borne);
        flat = steepest > 0 && slopes.back() + 2 * doubt < flatter * steepest ? flat + 1 : 0;
        if (flat >= inRow)
            return all[k].end;
    }
    return y.size();
}

} // namespace fortitor
