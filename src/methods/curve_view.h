// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "units/unit.h"

#include <cstddef>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace fortitor {

/// A point on the curve with a meaning. `option` names the choice that puts it elsewhere by hand, as
/// a value of the x axis; empty: it follows from the others and can't be moved.
struct CurveMark {
    std::string id; ///< the symbol it belongs to, or "break"
    std::string label;
    double x = 0;
    double y = 0;
    std::string option;
    bool early = false; ///< stands in the foot, where the magnifier looks
    std::vector<std::pair<double, std::string>> stops{}; ///< the only places it may stand at, with the text of each
    enum class Side { Auto, Above, Right } side = Side::Auto; ///< where its name stands
};

/// An area under the curve with a meaning, from x = `from` to `to`.
struct CurveArea {
    std::string symbol;
    double from = 0;
    double to = 0;
    bool always = false; ///< shown also while nothing points at it
};

struct CurveAxis {
    std::string title;
    Kind kind = Kind::Number;
};

/// A value of the y axis that says something: a rated load, a limit.
struct CurveLevel {
    double y = 0;
    std::string words;
    bool stop = false; ///< the test stops there
};

/// A part of the curve that is drawn apart, as one of several alike.
struct CurvePart {
    size_t from = 0, to = 0; ///< points, one past the last
    std::string label; ///< "cycle 1"
};

/// How the ends of the straight part are moved by hand.
struct StraightHandles {
    std::string option; ///< "slope", "chord" …; empty: they can't be moved
    std::string word; ///< written before the two values: "manual "
    bool inX = false; ///< the two values are of the x axis (strains), else of the y axis (stresses)
};

/// A second set of readings over the same x, with its own straight line through (toe, 0).
struct SecondCurve {
    bool line = false; ///< a line through all, over the first; else points
    std::vector<double> x{};
    std::vector<double> y{};
    double slope = 0;
    double toe = 0;
    std::string label{};
};

/// The curve as read, for drawing. x counts from the corrected origin. Base units.
struct CurveView {
    CurveAxis xAxis{"strain", Kind::Strain};
    CurveAxis yAxis{"stress", Kind::Stress};
    std::vector<double> x;
    std::vector<double> y;
    double slope = 0; ///< of the straight part; 0: there is none
    double lineFrom = 0; ///< x where the straight line has y = 0
    double straightLow = 0; ///< y at its ends
    double straightHigh = 0;
    size_t straightPoints = 0;
    double r2 = 0;
    StraightHandles straight;
    double toe = 0; ///< x taken off
    std::optional<double> offset; ///< of the offset line
    std::string offsetOption = "yield_offset";
    std::string offsetMark = "Rp"; ///< how the mark begins that the offset line serves
    size_t bundled = 1; ///< readings that two points, their least and greatest, stand for
    size_t crossheadFrom = 0; ///< index after which x comes from elsewhere, as a rule the crosshead; 0: never
    std::string crossheadWords = "extensometer off";
    std::string label; ///< names the curve where there is a second one
    std::optional<SecondCurve> second;
    double section = 0; ///< mm² (mm³ of torsion); 0: unknown
    double length = 0; ///< mm that x is counted over (a number in torsion); 0: unknown
    std::pair<CurveAxis, CurveAxis> other{{"extension", Kind::Length},
                                          {"force", Kind::Force}}; ///< what x·length and y·section are
    bool keyed = false; ///< readings taken one by one: drawn as points
    double uniform = 0; ///< x up to which the true curve holds; 0: unknown
    std::vector<CurveMark> marks;
    std::vector<CurveArea> areas;
    std::vector<CurveLevel> levels;
    std::vector<CurvePart> parts; ///< cycles before the last pull; the rest is drawn as the curve
    double footTo = 0; ///< x up to which the foot is drawn larger beside it; 0: it is not
    std::optional<double> transverse; ///< −slope of the transverse strain, for drawing
    std::vector<double> bending; ///< share of bending along the curve, at the rows of bendingX
    std::vector<double> bendingX;

    [[nodiscard]] const CurveMark* find(const std::string& id) const;
};

/// The same curve as force over extension: stress times section, strain times length. Nothing without
/// both, or when the view is not one of stress and strain.
std::optional<CurveView> loadExtension(const CurveView& view);

/// True stress σ(1+ε) over true strain ln(1+ε), up to the greatest force only: after it the neck
/// counts. Nothing when that point is not known.
std::optional<CurveView> trueCurve(const CurveView& view);

/// The text of the straight part's option for two ends given as y values on the line.
std::string straightOptionText(const CurveView& view, double low, double high);

/// The text of a mark's option for a place on the x axis.
std::string markOptionText(const CurveView& view, double x);
/// The same for a mark that has stops: the text of the nearest.
std::string markOptionText(const CurveView& view, const CurveMark& mark, double x);
/// The stop `steps` on from the one nearest to x, as a place on the x axis.
double stopBeside(const CurveMark& mark, double x, int steps);

} // namespace fortitor
