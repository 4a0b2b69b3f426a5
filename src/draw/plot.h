// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "curve/extent_tree.h"
#include "draw/chart.h"
#include "methods/display.h"
#include "methods/view.h"

#include <QPainter>
#include <QPen>
#include <QString>

#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace fortitor {

/// A curve or a row of observations in base units. What it points at must outlive the plot.
struct PlotSeries {
    std::span<const double> x{}, y{};
    QString label{};
    size_t kind = 0; ///< colour, dash and shape go by it
    bool joined = true; ///< a line; else points
    bool thin = false; ///< a fitted line, thinner and without a shape
    std::optional<QPen> pen{}; ///< drawn with it in ink, or quietly, without a shape (points: round, `thin` hollow)
    bool quiet = false;
    bool strong = false; ///< the one at hand, wider
    bool aside = false; ///< left out: pale and dashed
    std::vector<char> open{}; ///< of points: a bound, drawn hollow with an arrow along x
    std::vector<char> left{}; ///< of points: left out, drawn crossed
    std::vector<QString> names{}; ///< of points
    std::shared_ptr<const ExtentTree> tree{}; ///< of a long curve
};

/// The ground between two lines over the same x.
struct PlotBand {
    std::vector<double> x{}, low{}, high{};
    size_t kind = 0;
    bool quiet = false; ///< a shade of the paper, not of a kind
    QString words{}; ///< at its top
};

/// A line across the plot: what is wanted, a level.
struct PlotLimit {
    double at = 0;
    bool onX = false; ///< stands on the x axis; else on y
    bool mark = false; ///< where something is to be done, not a limit
    bool quiet = false; ///< only a level that says something
    QString symbol{}; ///< of a result, set before the words
    QString words{};
};

/// Counts in classes, drawn by their shade.
struct PlotCells {
    std::vector<double> xEdges{}, yEdges{}, values{}; ///< row by row
    bool ground = false; ///< not counts but a ground between points, from 0 to 1; nothing where it is no number
};

/// Counts in classes, as bars from zero.
struct PlotBars {
    std::vector<double> edges{}, heights{};
};

struct PlotAxis {
    QString title{}; ///< "strain, %"
    double factor = 1; ///< base value → shown
    Scale scale = Scale::Linear;
    double low = 0, high = 1; ///< shown, the whole extent
    bool fromZero = true; ///< where zero is near
};

/// Points from which a tree is worth its building.
constexpr size_t treeFrom = 4000;

/// What is drawn, in whatever painter: a widget, a picture, a page.
struct Plot {
    PlotAxis x{}, y{};
    std::vector<PlotSeries> series{};
    std::vector<PlotBand> bands{};
    std::vector<PlotLimit> limits{};
    std::optional<PlotCells> cells{};
    std::optional<PlotBars> bars{};
    std::function<QString(double x, double y)> told{}; ///< what a place stands for, of base units
    std::vector<QString> troubles{}; ///< what can't be drawn, said under the axes
    /// Where the curves' names stand: in a legend, at their ends, in a row over the axes, nowhere.
    enum class Names { Legend, Ends, Row, None } names = Names::Legend;
    double wordsUpTo = 1; ///< share of the width that the words of limits keep to
    double above = 0, beside = 0; ///< room kept above the axes and at their right, px
    std::vector<std::shared_ptr<const std::vector<double>>> held{}; ///< figures that only the plot has

    /// Takes the extent from what it holds, from zero where that is near.
    void fit();
    [[nodiscard]] QRectF areaIn(const QRectF& room, double scale = 1) const;
    /// A window on it; the whole extent without one.
    [[nodiscard]] Chart chartIn(const QRectF& room, double scale = 1) const;
    /// Axes, cells, bars, bands and limits; then series, legend and what can't be drawn.
    void paintGround(QPainter& painter, const Palette& palette, const Chart& chart, double scale = 1) const;
    void paintSeries(QPainter& painter, const Palette& palette, const Chart& chart, double scale = 1,
                     bool quick = false) const;
    /// Both. `quick`, while the hand moves: the same lines without smoothing and dashes.
    void paint(QPainter& painter, const Palette& palette, const QRectF& room, const Chart& chart, double scale = 1,
               bool quick = false) const;
    /// Every observation and curve as comma-separated text, unrounded, in the units shown.
    [[nodiscard]] std::string csv() const;
};

/// The plot of a view. The view must outlive it.
Plot plotOf(const View& view, UnitSystem system);

/// The mark at the end of a curve, of a shape of its own for each colour.
void drawShape(QPainter& painter, size_t kind, const QPointF& at, double r);

} // namespace fortitor
