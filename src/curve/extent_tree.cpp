// SPDX-License-Identifier: GPL-3.0-or-later
#include "curve/extent_tree.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr ExtentTree::Box nothing{1, 0, 1, 0};

bool empty(const ExtentTree::Box& box)
{
    return box.x0 > box.x1;
}

void take(ExtentTree::Box& box, const ExtentTree::Box& other)
{
    if (empty(other))
        return;
    if (empty(box)) {
        box = other;
        return;
    }
    box = {std::min(box.x0, other.x0), std::max(box.x1, other.x1), std::min(box.y0, other.y0),
           std::max(box.y1, other.y1)};
}

} // namespace

ExtentTree::ExtentTree(std::span<const double> x, std::span<const double> y)
    : x_(x.first(std::min(x.size(), y.size()))), y_(y.first(x_.size()))
{
    std::vector<Box> level((x_.size() + leaf - 1) / leaf, nothing);
    for (size_t b = 0; b < level.size(); ++b) {
        double x0 = INFINITY, x1 = -INFINITY, y0 = INFINITY, y1 = -INFINITY;
        for (size_t i = b * leaf; i < std::min(x_.size(), (b + 1) * leaf); ++i) {
            if (!std::isfinite(x_[i]) || !std::isfinite(y_[i]))
                continue;
            x0 = std::min(x0, x_[i]);
            x1 = std::max(x1, x_[i]);
            y0 = std::min(y0, y_[i]);
            y1 = std::max(y1, y_[i]);
        }
        if (x0 <= x1)
            level[b] = {x0, x1, y0, y1};
    }
    while (!level.empty()) {
        levels_.push_back(std::move(level));
        const std::vector<Box>& under = levels_.back();
        if (under.size() == 1)
            break;
        level.assign((under.size() + fan - 1) / fan, nothing);
        for (size_t i = 0; i < under.size(); ++i)
            take(level[i / fan], under[i]);
    }
}

ExtentTree::Box ExtentTree::whole() const
{
    return levels_.empty() ? nothing : levels_.back().front();
}

struct ExtentTree::Walk {
    const Window& window;
    double cell, rise;
    const std::function<void(double, double)>& point;
    const std::function<void()>& gap;
    bool open = false; ///< the last point was not finite: a gap comes before the next

    void give(double x, double y)
    {
        if (open)
            gap();
        open = false;
        point(x, y);
    }
};

void ExtentTree::visit(Walk& walk, size_t level, size_t index) const
{
    size_t points = leaf;
    for (size_t k = 0; k < level; ++k)
        points *= fan;
    const size_t from = index * points;
    const size_t to = std::min(x_.size(), from + points);
    const Box& box = levels_[level][index];
    if (empty(box)) {
        walk.open = true;
        return;
    }
    const Window& w = walk.window;
    const bool outside = box.x1 < w.x0 || box.x0 > w.x1 || box.y1 < w.y0 || box.y0 > w.y1;
    const bool narrow = box.x1 - box.x0 <= walk.cell;
    if (outside || narrow) {
        const auto finite = [&](size_t i) { return std::isfinite(x_[i]) && std::isfinite(y_[i]); };
        if (!finite(from))
            walk.open = true;
        else
            walk.give(x_[from], y_[from]);
        // Where the ends are the extent too, and both are seen, they say it all.
        const auto [least, most] = std::minmax(y_[from], y_[to - 1]);
        const bool endsTell = least == box.y0 && most == box.y1 && box.x0 >= w.x0 && box.x1 <= w.x1;
        if (!outside && box.y1 - box.y0 > walk.rise && !endsTell) {
            // In the order of the way, else every falling stretch is drawn to and fro.
            const double middle = 0.5 * (box.x0 + box.x1);
            const bool falls = y_[to - 1] < y_[from];
            walk.give(middle, falls ? box.y1 : box.y0);
            walk.give(middle, falls ? box.y0 : box.y1);
        }
        if (!finite(to - 1))
            walk.open = true;
        else
            walk.give(x_[to - 1], y_[to - 1]);
        return;
    }
    if (level == 0) {
        for (size_t i = from; i < to; ++i)
            if (std::isfinite(x_[i]) && std::isfinite(y_[i]))
                walk.give(x_[i], y_[i]);
            else
                walk.open = true;
        return;
    }
    const size_t last = std::min(levels_[level - 1].size(), (index + 1) * fan);
    for (size_t child = index * fan; child < last; ++child)
        visit(walk, level - 1, child);
}

void ExtentTree::walk(const Window& window, double cell, double rise, const std::function<void(double, double)>& point,
                      const std::function<void()>& gap) const
{
    if (levels_.empty())
        return;
    Walk walk{window, cell, rise, point, gap};
    visit(walk, levels_.size() - 1, 0);
}

} // namespace fortitor
