// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <functional>
#include <span>
#include <vector>

namespace fortitor {

/// The extents of a long curve at every scale: each node holds the least box around `fan` nodes below it, the lowest
/// around `leaf` points. What a picture can't tell apart is skipped unseen, whichever way the curve runs.
/// About three bytes a point; built in one pass. The points themselves are not held: they must outlive the tree
/// unchanged.
class ExtentTree {
public:
    static constexpr size_t leaf = 16; ///< points in the lowest box
    static constexpr size_t fan = 4; ///< boxes in the one above

    ExtentTree() = default;
    /// x and y of equal length; what is not finite belongs to no box.
    ExtentTree(std::span<const double> x, std::span<const double> y);

    struct Box {
        double x0 = 0, x1 = 0, y0 = 0, y1 = 0; ///< x0 > x1: no finite point
    };
    struct Window {
        double x0 = 0, x1 = 0, y0 = 0, y1 = 0;
    };

    /// Gives the points that draw the curve in a window, in their order. A stretch narrower than `cell` and lower than
    /// `rise` (data units a pixel) gives its first, least, greatest and last point; one that lies wholly outside gives
    /// its first and last. `gap` is called between points that no line joins.
    void walk(const Window& window, double cell, double rise, const std::function<void(double x, double y)>& point,
              const std::function<void()>& gap) const;

    [[nodiscard]] size_t size() const { return x_.size(); }
    [[nodiscard]] Box whole() const;

private:
    struct Walk;
    void visit(Walk& walk, size_t level, size_t index) const;
    std::span<const double> x_, y_;
    std::vector<std::vector<Box>> levels_; ///< from the points up
};

} // namespace fortitor
