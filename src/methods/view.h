// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/curve_view.h"

#include <optional>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace fortitor {

enum class Scale { Linear, Log, Probit };

/// An axis with what it is drawn in. Base units; a probit axis takes shares between 0 and 1.
struct ViewAxis {
    std::string title{};
    Kind kind = Kind::Number;
    Scale scale = Scale::Linear;
};

/// One observation of a scatter.
struct ScatterPoint {
    double x = 0;
    double y = 0;
    std::string label{}; ///< the specimen it belongs to
    bool open = false; ///< a bound: it would lie further along `x` ("did not break")
    bool left = false; ///< left out of the fit
    std::string look{}; ///< what kind it is of, where they are told apart
};

/// A fitted line with its band, as so many places along x. `low` and `high` may be empty.
struct FittedLine {
    std::string label{};
    std::vector<double> x{}, y{}, low{}, high{};
};

/// A place on an axis that says something: a level, a temperature that was read off.
struct ScatterMark {
    double at = 0;
    bool onX = false;
    std::string words{};
};

/// A stretch of the x axis, such as where a result may lie, or where all looked alike.
struct ScatterRegion {
    double from = 0, to = 0;
    std::string words{};
    bool interval = false; ///< of a result, drawn on the axis; else a shade behind all
};

/// Observations with what was fitted to them.
struct ScatterView {
    ViewAxis xAxis{}, yAxis{};
    std::vector<ScatterPoint> points{};
    std::vector<FittedLine> lines{};
    std::vector<ScatterMark> marks{};
    std::vector<ScatterRegion> regions{};
    std::vector<double> gainX{}, gain{}; ///< what a further observation there would give, 0 to 1
    std::string (*told)(double x, double y) = nullptr; ///< what a place on it stands for, of base units
};

/// A reading with a place.
struct MapPoint {
    double x = 0, y = 0; ///< mm
    double value = 0; ///< base unit of the map
    std::string label{};
    bool left = false;
};

/// Readings over a surface.
struct MapView {
    ViewAxis xAxis{"x", Kind::Length}, yAxis{"y", Kind::Length}, value{};
    std::vector<MapPoint> points{};
    std::vector<std::pair<double, double>> outline{}; ///< of the piece, mm
};

/// Counts in classes, row by row.
struct MatrixView {
    ViewAxis xAxis{}, yAxis{}, value{};
    std::vector<double> xEdges{}, yEdges{}; ///< one more than there are columns and rows
    std::vector<double> cells{};
};

/// What an outcome shows itself by.
using View = std::variant<CurveView, ScatterView, MapView, MatrixView>;

/// What it is called in a list of views: "HV over from the surface", "map".
std::string viewName(const View& view);

/// What can't be drawn of a view, named: no point, figures that are not numbers, figures a scale has no place for
/// (zero on a log axis, 0 or 1 on a probit axis). Empty: all of it can.
std::vector<std::string> viewTroubles(const View& view);

} // namespace fortitor
