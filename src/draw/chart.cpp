// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/chart.h"

#include "methods/display.h"

#include <QFontMetricsF>

#include <boost/math/distributions/normal.hpp>

#include <algorithm>
#include <cmath>
#include <tuple>

namespace fortitor {
namespace {

struct DrawnParts {
    QString letter;
    QString lowered;
};

DrawnParts partsOf(const QString& symbol)
{
    const SymbolParts parts = symbolParts(symbol.toStdString());
    return {QString::fromStdString(parts.letter), QString::fromStdString(parts.lowered)};
}

} // namespace

Ticks niceTicks(double low, double high, int wanted)
{
    Ticks ticks;
    if (!(high > low) || !std::isfinite(high - low) || wanted < 1)
        return ticks;
    const double raw = (high - low) / wanted;
    const double power = std::pow(10, std::floor(std::log10(raw)));
    double step = 10 * power;
    for (double s : {1.0, 2.0, 5.0})
        if (s * power >= raw * 0.999) {
            step = s * power;
            break;
        }
    ticks.decimals = std::max(0, static_cast<int>(-std::floor(std::log10(step) + 1e-9)));
    const double first = std::ceil(low / step - 1e-9);
    // Counted, since far from zero a step may be too small to move a number on.
    for (int i = 0; i <= 4 * wanted && (first + i) * step <= high + 1e-9 * step; ++i)
        ticks.at.push_back((first + i) * step);
    return ticks;
}

std::pair<double, double> roomyRange(double low, double high)
{
    if (!std::isfinite(low) || !std::isfinite(high) || !std::isfinite(high - low))
        return {0, 1};
    if (!(high > low))
        return {low - 0.5, low + 0.5};
    const double wide = high - low;
    const auto ticks = niceTicks(low, high + 0.04 * wide, 7);
    const double step = ticks.at.size() > 1 ? ticks.at[1] - ticks.at[0] : wide / 7;
    const std::pair range{low < 0 && low > -0.02 * wide ? low : std::floor(low / step) * step,
                          std::ceil((high + 0.03 * wide) / step) * step};
    return std::isfinite(range.second - range.first) ? range : std::pair(low, high);
}

void Chart::drawAxes(QPainter& painter, const Palette& palette, const QString& xTitle, const QString& yTitle,
                     double scale) const
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, false);
    const QFont figures = figureFont(11 * scale);
    const QFontMetricsF metrics(figures);
    painter.setFont(figures);
    const auto ys = ticksOf(yScale_, offScale(yScale_, bottom_), offScale(yScale_, top_),
                            std::max(4, static_cast<int>(area_.height() / (38 * scale))));
    for (const auto& [y, text] : ys) {
        const double at = std::round(py(y)) + 0.0;
        painter.setPen(QPen(palette.hairSoft, scale));
        painter.drawLine(QPointF(area_.left(), at), QPointF(area_.right(), at));
        painter.setPen(palette.quiet);
        painter.drawText(QPointF(area_.left() - 8 * scale - metrics.horizontalAdvance(text),
                                 at + metrics.ascent() / 2 - scale),
                         text);
    }
    const auto xs = ticksOf(xScale_, offScale(xScale_, left_), offScale(xScale_, right_),
                            std::max(4, static_cast<int>(area_.width() / (84 * scale))));
    for (const auto& [x, text] : xs) {
        const double at = std::round(px(x));
        painter.setPen(QPen(palette.quiet, scale));
        painter.drawLine(QPointF(at, area_.bottom()), QPointF(at, area_.bottom() + 4 * scale));
        painter.drawText(
            QPointF(at - metrics.horizontalAdvance(text) / 2, area_.bottom() + 7 * scale + metrics.ascent()), text);
    }
    painter.setPen(QPen(palette.quiet, 1.2 * scale));
    const double zero = yScale_ == Scale::Linear && bottom_ <= 0 && top_ >= 0 ? std::round(py(0)) : area_.bottom();
    painter.drawLine(QPointF(area_.left(), zero), QPointF(area_.right(), zero));
    painter.drawLine(area_.topLeft(), area_.bottomLeft());

    const QFont words = wordFont(11 * scale);
    const QFontMetricsF wordMetrics(words);
    painter.setFont(words);
    painter.setPen(palette.quiet);
    painter.drawText(QPointF(area_.left(), area_.top() - 8 * scale), yTitle);
    painter.drawText(QPointF(area_.right() - wordMetrics.horizontalAdvance(xTitle), area_.bottom() + 36 * scale),
                     xTitle);
    painter.restore();
}

namespace {

/// Leaves out points that lie within a quarter of a pixel of the line drawn without them.
QPolygonF simplified(const QPolygonF& line)
{
    constexpr double tolerance = 0.25;
    constexpr qsizetype reach = 48;
    if (line.size() < 3)
        return line;
    QPolygonF out;
    out.reserve(line.size() / 4 + 2);
    out.append(line.front());
    qsizetype from = 0;
    for (qsizetype to = 2; to < line.size(); ++to) {
        const QPointF d = line[to] - line[from];
        const double length = std::sqrt(d.x() * d.x() + d.y() * d.y());
        bool straight = to - from < reach;
        for (qsizetype k = from + 1; straight && k < to; ++k) {
            const QPointF e = line[k] - line[from];
            if (length > 0) {
                const double along = e.x() * d.x() + e.y() * d.y();
                straight = std::abs(e.x() * d.y() - e.y() * d.x()) <= tolerance * length && along >= -tolerance * length
                    && along <= (length + tolerance) * length;
            } else {
                straight = e.x() * e.x() + e.y() * e.y() <= tolerance * tolerance;
            }
        }
        if (!straight) {
            from = to - 1;
            out.append(line[from]);
        }
    }
    out.append(line.back());
    return out;
}

} // namespace

QPolygonF Chart::thinned(std::span<const double> x, std::span<const double> y, double xFactor, double yFactor) const
{
    QPolygonF line;
    const size_t n = std::min(x.size(), y.size());
    line.reserve(static_cast<qsizetype>(std::min(n, size_t{8000})));
    if (!linear()) {
        for (size_t i = 0; i < n; ++i)
            line.append(at(x[i] * xFactor, y[i] * yFactor));
        return line;
    }
    const double kx = xFactor * area_.width() / (right_ - left_);
    const double cx = area_.left() - left_ * area_.width() / (right_ - left_);
    const double ky = -yFactor * area_.height() / (top_ - bottom_);
    const double cy = area_.bottom() + bottom_ * area_.height() / (top_ - bottom_);
    // Far outside the window a point only has to keep its side.
    const double farX = 4 * area_.width();
    const double farY = 4 * area_.height();
    const auto point = [&](size_t i) {
        return QPointF(std::clamp(cx + kx * x[i], area_.left() - farX, area_.right() + farX),
                       std::clamp(cy + ky * y[i], area_.top() - farY, area_.bottom() + farY));
    };
    size_t i = 0;
    while (i < n) {
        const double column = std::floor(cx + kx * x[i]);
        size_t low = i;
        size_t high = i;
        size_t last = i;
        while (last + 1 < n && std::floor(cx + kx * x[last + 1]) == column) {
            ++last;
            if (y[last] < y[low])
                low = last;
            if (y[last] > y[high])
                high = last;
        }
        line.append(point(i));
        for (size_t k : {std::min(low, high), std::max(low, high), last})
            if (k != i && line.back() != point(k))
                line.append(point(k));
        i = last + 1;
    }
    return line;
}

double Chart::onScale(Scale scale, double value)
{
    switch (scale) {
    case Scale::Log: return value > 0 ? std::log10(value) : std::nan("");
    case Scale::Probit:
        return value > 0 && value < 1 ? boost::math::quantile(boost::math::normal(), value) : std::nan("");
    case Scale::Linear: break;
    }
    return value;
}

double Chart::offScale(Scale scale, double place)
{
    switch (scale) {
    case Scale::Log: return std::pow(10, place);
    case Scale::Probit: return boost::math::cdf(boost::math::normal(), place);
    case Scale::Linear: break;
    }
    return place;
}

/// "2·10⁶".
QString powerOfTen(double value)
{
    const auto power = static_cast<int>(std::floor(std::log10(value) + 1e-9));
    static constexpr char16_t raised[] = u"⁰¹²³⁴⁵⁶⁷⁸⁹";
    QString up;
    for (const QChar digit : QString::number(std::abs(power)))
        up += QChar(raised[digit.digitValue()]);
    const QString head = QString::number(value / std::pow(10, power), 'g', 2);
    return (head == "1" ? QString() : head + QChar(0xb7)) + "10" + (power < 0 ? QString(QChar(0x207b)) : QString())
        + up;
}

std::vector<Tick> ticksOf(Scale scale, double low, double high, int wanted)
{
    std::vector<Tick> out;
    if (scale == Scale::Probit) {
        for (const double percent :
             {0.01, 0.1, 1.0, 5.0, 10.0, 20.0, 30.0, 50.0, 70.0, 80.0, 90.0, 95.0, 99.0, 99.9, 99.99})
            if (percent / 100 >= low && percent / 100 <= high)
                out.push_back({percent / 100, QString::number(percent)});
        if (out.size() >= 4)
            return out;
    }
    if (scale == Scale::Log && low > 0 && high / low >= 10) {
        const auto add = [&](double at) {
            const bool power = at >= 1e5 || at < 1e-4;
            if (at >= low * (1 - 1e-9) && at <= high * (1 + 1e-9))
                out.push_back({at, power ? powerOfTen(at) : QString::number(at, 'g', 6)});
        };
        const int first = static_cast<int>(std::floor(std::log10(low) + 1e-9));
        const int last = static_cast<int>(std::ceil(std::log10(high) - 1e-9));
        const int each = std::max(1, (last - first) / std::max(4, wanted)); // decades between two figures
        const bool between = last - first <= 4;
        for (int d = first; d <= last; d += each)
            for (const double m : between ? std::vector<double>{1, 2, 5} : std::vector<double>{1})
                add(m * std::pow(10, d));
        if (out.size() >= 4)
            return out;
    }
    out.clear();
    // A narrow range holds few steps of a coarse count: finer ones until four have a figure.
    for (int count = std::max(4, wanted); count <= 64; count *= 2) {
        const Ticks ticks = niceTicks(low, high, count);
        if (ticks.at.size() < 4 && count < 64)
            continue;
        for (const double at : ticks.at) {
            const double shown = scale == Scale::Probit ? 100 * at : at;
            out.push_back({at,
                           QString::number(shown == 0 ? 0.0 : shown, 'f',
                                           scale == Scale::Probit ? std::max(0, ticks.decimals - 2) : ticks.decimals)});
        }
        break;
    }
    return out;
}

Chart::Chart(const QRectF& area, double left, double right, double bottom, double top, Scale xScale, Scale yScale)
    : area_(area), xScale_(xScale), yScale_(yScale), left_(left), right_(right), bottom_(bottom), top_(top)
{
    const auto inside = [](Scale scale, double& low, double& high) {
        if (scale == Scale::Linear)
            return;
        if (scale == Scale::Log) {
            high = high > 0 && std::isfinite(high) ? high : 10;
            low = low > 0 && low < high ? low : high / 1000;
        } else {
            low = low > 0 && low < 1 ? low : 0.005;
            high = high > low && high < 1 ? high : 0.995;
        }
        low = onScale(scale, low);
        high = onScale(scale, high);
    };
    inside(xScale_, left_, right_);
    inside(yScale_, bottom_, top_);
    // A window on nothing is one on [0, 1]: whatever the readings hold, it can be painted.
    if (!(right_ > left_) || !std::isfinite(right_ - left_))
        std::tie(left_, right_) = std::pair(0.0, 1.0);
    if (!(top_ > bottom_) || !std::isfinite(top_ - bottom_))
        std::tie(bottom_, top_) = std::pair(0.0, 1.0);
}

void drawLongLine(QPainter& painter, const QPolygonF& points)
{
    const QPolygonF line = simplified(points);
    constexpr qsizetype piece = 100;
    for (qsizetype from = 0; from + 1 < line.size(); from += piece)
        painter.drawPolyline(line.constData() + from, static_cast<int>(std::min(piece + 1, line.size() - from)));
    if (line.size() == 1)
        painter.drawPoint(line.front());
}

void Chart::drawCurve(QPainter& painter, std::span<const double> x, std::span<const double> y, const QPen& pen,
                      double xFactor, double yFactor) const
{
    painter.save();
    // Slack below zero shows beside an axis that begins there; what was panned away does not.
    painter.setClipRect(area_.adjusted(left_ == 0 ? -20 : -2, -2, 2, 2), Qt::IntersectClip);
    painter.setRenderHint(QPainter::Antialiasing);
    // Round joins of thousands of short pieces cost more than all the rest, and do not show.
    QPen quick(pen);
    quick.setJoinStyle(Qt::BevelJoin);
    painter.setPen(quick);
    painter.setBrush(Qt::NoBrush);
    // No reading is a gap in the line: a painter that is given one never ends.
    const size_t n = std::min(x.size(), y.size());
    const auto reads = [&](size_t i) {
        return std::isfinite(onScale(xScale_, x[i] * xFactor)) && std::isfinite(onScale(yScale_, y[i] * yFactor));
    };
    for (size_t from = 0; from < n;) {
        size_t to = from;
        while (to < n && reads(to))
            ++to;
        if (to > from)
            drawLongLine(painter, thinned(x.subspan(from, to - from), y.subspan(from, to - from), xFactor, yFactor));
        from = to + 1;
    }
    painter.restore();
}

double drawSymbol(QPainter* painter, const QPointF& baseline, const QString& symbol, const QFont& font)
{
    const DrawnParts parts = partsOf(symbol);
    QFont small(font);
    small.setPixelSize(std::max(6, static_cast<int>(font.pixelSize() * 0.74 + 0.5)));
    const double first = QFontMetricsF(font).horizontalAdvance(parts.letter);
    const double second = parts.lowered.isEmpty() ? 0 : QFontMetricsF(small).horizontalAdvance(parts.lowered) + 0.5;
    if (painter) {
        painter->setFont(font);
        painter->drawText(baseline, parts.letter);
        painter->setFont(small);
        if (!parts.lowered.isEmpty())
            painter->drawText(baseline + QPointF(first + 0.5, font.pixelSize() * 0.2), parts.lowered);
        painter->setFont(font);
    }
    return first + second;
}

QString symbolHtml(const QString& symbol)
{
    const DrawnParts parts = partsOf(symbol);
    return parts.lowered.isEmpty() ? parts.letter : parts.letter + "<sub>" + parts.lowered + "</sub>";
}

} // namespace fortitor
