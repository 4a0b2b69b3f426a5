// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/palette.h"

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

/// The least range [0 or low, high] widened by a little to round numbers.
std::pair<double, double> roomyRange(double low, double high);

/// A plot's window on its data: axes, curves thinned to what the pixels can show.
class Chart {
public:
    /// A range that is none (empty, or not finite) becomes [0, 1].
    Chart(const QRectF& area, double left, double right, double bottom, double top);

    [[nodiscard]] const QRectF& area() const { return area_; }
    [[nodiscard]] QPointF at(double x, double y) const { return {px(x), py(y)}; }
    [[nodiscard]] double px(double x) const { return area_.left() + (x - left_) / (right_ - left_) * area_.width(); }
    [[nodiscard]] double py(double y) const { return area_.bottom() - (y - bottom_) / (top_ - bottom_) * area_.height(); }
    [[nodiscard]] double xAt(double pixel) const { return left_ + (pixel - area_.left()) / area_.width() * (right_ - left_); }
    [[nodiscard]] double yAt(double pixel) const { return bottom_ + (area_.bottom() - pixel) / area_.height() * (top_ - bottom_); }

    /// Hairlines at the ticks of y, an axis line below and left, figures; titles "stress, MPa".
    /// `scale` multiplies sizes (1 on screen).
    void drawAxes(QPainter& painter, const Palette& palette, const QString& xTitle, const QString& yTitle, double scale = 1) const;

    /// x and y in data units times their factors. Points are thinned so that each pixel column keeps its first,
    /// least, greatest and last point; the drawn line is the same to the pixel. NaN and infinity: a gap.
    void drawCurve(QPainter& painter, std::span<const double> x, std::span<const double> y, const QPen& pen, double xFactor = 1, double yFactor = 1) const;
    /// The points of that line, of readings that are all finite.
    [[nodiscard]] QPolygonF thinned(std::span<const double> x, std::span<const double> y, double xFactor = 1, double yFactor = 1) const;

private:
    QRectF area_;
    double left_, right_, bottom_, top_;
};

/// "Rp0.2" drawn as R with a lowered p0.2. Returns the width; nothing is drawn without a painter.
double drawSymbol(QPainter* painter, const QPointF& baseline, const QString& symbol, const QFont& font);
/// The same for text that takes HTML.
QString symbolHtml(const QString& symbol);

} // namespace fortitor
