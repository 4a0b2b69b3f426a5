// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/palette.h"
#include "methods/view.h"

#include <QPainter>
#include <QPointF>
#include <QPolygonF>
#include <QRectF>
#include <QString>

#include <span>
#include <vector>

namespace fortitor {

/// Round steps (1, 2, 5) that lie inside [low, high], about `wanted` of them.
struct Ticks {
    std::vector<double> at;
    int decimals = 0;
};
Ticks niceTicks(double low, double high, int wanted);

/// A tick with its figure.
struct Tick {
    double at = 0;
    QString words{};
};

/// A power of ten as people write it: "2·10⁶".
QString powerOfTen(double value);
/// At least four labelled ticks inside [low, high], about `wanted`: round steps of a linear scale; decades and their
/// 2 and 5 of a logarithmic one (round steps within a decade); per cents of a probability scale.
std::vector<Tick> ticksOf(Scale scale, double low, double high, int wanted);

/// The least range [0 or low, high] widened by a little to round numbers.
std::pair<double, double> roomyRange(double low, double high);

/// A plot's window on its data: axes, curves thinned to what the pixels can show. A logarithmic axis lies above zero,
/// one of
/// probability between 0 and 1: a range that does not is put inside; what lies outside is not drawn.
class Chart {
public:
    /// A range that is none (empty, or not finite) becomes [0, 1].
    Chart(const QRectF& area, double left, double right, double bottom, double top, Scale xScale = Scale::Linear,
          Scale yScale = Scale::Linear);

    [[nodiscard]] const QRectF& area() const { return area_; }
    [[nodiscard]] QPointF at(double x, double y) const { return {px(x), py(y)}; }
    [[nodiscard]] double px(double x) const
    {
        return area_.left() + (onScale(xScale_, x) - left_) / (right_ - left_) * area_.width();
    }
    [[nodiscard]] double py(double y) const
    {
        return area_.bottom() - (onScale(yScale_, y) - bottom_) / (top_ - bottom_) * area_.height();
    }
    [[nodiscard]] double xAt(double pixel) const
    {
        return offScale(xScale_, left_ + (pixel - area_.left()) / area_.width() * (right_ - left_));
    }
    [[nodiscard]] double yAt(double pixel) const
    {
        return offScale(yScale_, bottom_ + (area_.bottom() - pixel) / area_.height() * (top_ - bottom_));
    }
    [[nodiscard]] bool linear() const { return xScale_ == Scale::Linear && yScale_ == Scale::Linear; }

    /// A value where it stands along a scale: itself, its logarithm to ten, its standard normal quantile. NaN for what
    /// has no place there.
    static double onScale(Scale scale, double value);
    static double offScale(Scale scale, double place);

    /// Hairlines at the ticks of y, an axis line below and left, figures; titles "stress, MPa".
    /// `scale` multiplies sizes (1 on screen).
    void drawAxes(QPainter& painter, const Palette& palette, const QString& xTitle, const QString& yTitle,
                  double scale = 1) const;

    /// x and y in data units times their factors. Points are thinned so that each pixel column keeps its first,
    /// least, greatest and last point; the drawn line is the same to the pixel. NaN and infinity: a gap.
    void drawCurve(QPainter& painter, std::span<const double> x, std::span<const double> y, const QPen& pen,
                   double xFactor = 1, double yFactor = 1) const;
    /// The points of that line, of readings that are all finite.
    [[nodiscard]] QPolygonF thinned(std::span<const double> x, std::span<const double> y, double xFactor = 1,
                                    double yFactor = 1) const;

private:
    QRectF area_;
    Scale xScale_, yScale_;
    double left_, right_, bottom_, top_; ///< along the scales
};

/// "Rp0.2" drawn as R with a lowered p0.2. Returns the width; nothing is drawn without a painter.
double drawSymbol(QPainter* painter, const QPointF& baseline, const QString& symbol, const QFont& font);
/// The same for text that takes HTML.
QString symbolHtml(const QString& symbol);

/// Draws a line of many points: the painter takes time with the square of the points of one stroke, so in pieces.
void drawLongLine(QPainter& painter, const QPolygonF& points);

} // namespace fortitor
