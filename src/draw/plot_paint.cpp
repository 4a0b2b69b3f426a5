// SPDX-License-Identifier: GPL-3.0-or-later
// How a plot is painted.
#include "draw/plot.h"
#include "draw/plot_labels.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace fortitor {
namespace {

constexpr Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::DashDotLine};

} // namespace

QPen penOf(const Palette& p, size_t kind, double width)
{
    return QPen(p.data[kind % p.data.size()], width, styles[kind / p.data.size() % 4]);
}

QPen penOf(const Palette& p, const PlotSeries& s, double scale)
{
    if (s.aside)
        return {p.hair, 1.4 * scale, Qt::DashLine};
    if (s.pen) {
        QPen pen = *s.pen;
        pen.setColor(s.quiet ? p.quiet : p.ink);
        pen.setWidthF(pen.widthF() * scale);
        return pen;
    }
    return penOf(p, s.kind, (s.strong ? 2.6 : s.thin ? 1.3 : 1.6) * scale);
}

namespace {

bool flagged(const std::vector<char>& flags, size_t i)
{
    return i < flags.size() && flags[i];
}

void paintPoints(QPainter& painter, const Palette& p, const Chart& chart, const PlotSeries& s, const PlotAxis& xAxis,
                 const PlotAxis& yAxis, double scale)
{
    for (size_t i = 0; i < std::min(s.x.size(), s.y.size()); ++i) {
        const QPointF at = chart.at(s.x[i] * xAxis.factor, s.y[i] * yAxis.factor);
        if (!std::isfinite(at.x()) || !std::isfinite(at.y()) || !chart.area().adjusted(-1, -1, 1, 1).contains(at))
            continue;
        if (s.pen) {
            painter.setPen(QPen(p.ink, s.pen->widthF() * scale));
            painter.setBrush(s.thin ? p.surface : p.ink);
            painter.drawEllipse(at, 3 * scale, 3 * scale);
            continue;
        }
        const bool open = flagged(s.open, i);
        const bool left = flagged(s.left, i);
        painter.setPen(QPen(left ? p.quiet : p.data[s.kind % p.data.size()], 1.5 * scale));
        painter.setBrush(open || left ? p.surface : p.data[s.kind % p.data.size()]);
        const double r = 4 * scale;
        drawShape(painter, s.kind, at, r);
        if (open) {
            painter.drawLine(at + QPointF(r, 0), at + QPointF(3.4 * r, 0));
            painter.drawLine(at + QPointF(3.4 * r, 0), at + QPointF(2.4 * r, -0.7 * r));
            painter.drawLine(at + QPointF(3.4 * r, 0), at + QPointF(2.4 * r, 0.7 * r));
        }
        if (left) {
            painter.drawLine(at + QPointF(-r, -r), at + QPointF(r, r));
            painter.drawLine(at + QPointF(-r, r), at + QPointF(r, -r));
        }
    }
}

/// A long curve from its tree, in the window of the chart, as fine as so many pixels.
void paintLong(QPainter& painter, const Chart& chart, const PlotSeries& s, const PlotAxis& xAxis, const PlotAxis& yAxis,
               const QPen& pen, double pixels)
{
    const QRectF a = chart.area();
    const ExtentTree::Window window{chart.xAt(a.left()) / xAxis.factor, chart.xAt(a.right()) / xAxis.factor,
                                    chart.yAt(a.bottom()) / yAxis.factor, chart.yAt(a.top()) / yAxis.factor};
    const double cell = pixels * (window.x1 - window.x0) / std::max(1.0, a.width());
    const double rise = pixels * (window.y1 - window.y0) / std::max(1.0, a.height());
    // Far outside a point only has to keep its side.
    const QRectF reach = a.adjusted(-4 * a.width(), -4 * a.height(), 4 * a.width(), 4 * a.height());
    QPolygonF line;
    painter.save();
    painter.setClipRect(a, Qt::IntersectClip);
    painter.setPen(pen);
    const auto flush = [&] {
        drawLongLine(painter, line);
        line.clear();
    };
    s.tree->walk(
        window, cell, rise,
        [&](double x, double y) {
            const QPointF at = chart.at(x * xAxis.factor, y * yAxis.factor);
            const QPointF kept(std::clamp(at.x(), reach.left(), reach.right()),
                               std::clamp(at.y(), reach.top(), reach.bottom()));
            if (line.isEmpty() || line.back() != kept)
                line.append(kept);
        },
        flush);
    flush();
    painter.restore();
}

void paintCells(QPainter& painter, const Palette& p, const Chart& chart, const PlotCells& cells, const PlotAxis& xAxis,
                const PlotAxis& yAxis)
{
    double most = 0;
    for (const double v : cells.values)
        most = std::isfinite(v) ? std::max(most, v) : most;
    if (!(most > 0) || cells.xEdges.size() < 2)
        return;
    const size_t columns = cells.xEdges.size() - 1;
    painter.save();
    painter.setClipRect(chart.area());
    painter.setRenderHint(QPainter::Antialiasing, false);
    for (size_t i = 0; i < cells.values.size() && i / columns + 1 < cells.yEdges.size(); ++i) {
        const double v = cells.values[i];
        if (!std::isfinite(v) || !(v > 0 || cells.ground))
            continue;
        const size_t c = i % columns;
        const size_t r = i / columns;
        const QRectF box(chart.at(cells.xEdges[c] * xAxis.factor, cells.yEdges[r + 1] * yAxis.factor),
                         chart.at(cells.xEdges[c + 1] * xAxis.factor, cells.yEdges[r] * yAxis.factor));
        // Few counts still show: by their logarithm.
        QColor shade = p.data[0];
        shade.setAlphaF(
            static_cast<float>(cells.ground ? 0.04 + 0.5 * v : 0.15 + 0.85 * std::log1p(v) / std::log1p(most)));
        painter.fillRect(box, shade);
    }
    painter.restore();
}

void paintBars(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot)
{
    const PlotBars& bars = *plot.bars;
    painter.save();
    painter.setClipRect(chart.area());
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(QPen(p.surface, 1));
    painter.setBrush(p.data[0]);
    for (size_t i = 0; i < bars.heights.size() && i + 1 < bars.edges.size(); ++i)
        if (bars.heights[i] > 0)
            painter.drawRect(QRectF(chart.at(bars.edges[i] * plot.x.factor, bars.heights[i] * plot.y.factor),
                                    chart.at(bars.edges[i + 1] * plot.x.factor, 0)));
    painter.restore();
}

} // namespace

void drawShape(QPainter& painter, size_t kind, const QPointF& at, double r)
{
    switch (kind % 5) {
    case 0: painter.drawEllipse(at, r, r); break;
    case 1: painter.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r)); break;
    case 2: {
        const QPointF t[] = {at + QPointF(0, -r), at + QPointF(r, r), at + QPointF(-r, r)};
        painter.drawPolygon(t, 3);
        break;
    }
    case 3: {
        const QPointF d[] = {at + QPointF(0, -1.3 * r), at + QPointF(1.3 * r, 0), at + QPointF(0, 1.3 * r),
                             at + QPointF(-1.3 * r, 0)};
        painter.drawPolygon(d, 4);
        break;
    }
    default:
        painter.drawLine(at + QPointF(-r, -r), at + QPointF(r, r));
        painter.drawLine(at + QPointF(-r, r), at + QPointF(r, -r));
    }
}

void Plot::paint(QPainter& painter, const Palette& p, const QRectF& room, const Chart& chart, double scale,
                 bool quick) const
{
    painter.save();
    painter.setClipRect(room, Qt::IntersectClip);
    paintGround(painter, p, chart, scale);
    paintSeries(painter, p, chart, scale, quick);
    painter.restore();
}

void Plot::paintGround(QPainter& painter, const Palette& p, const Chart& chart, double scale) const
{
    chart.drawAxes(painter, p, x.title, y.title, scale);
    painter.setRenderHint(QPainter::Antialiasing);
    if (cells)
        paintCells(painter, p, chart, *cells, x, y);
    if (bars)
        paintBars(painter, p, chart, *this);
    painter.save();
    painter.setClipRect(chart.area(), Qt::IntersectClip);
    for (const PlotBand& b : bands) {
        QPolygonF ground;
        for (size_t i = 0; i < std::min(b.x.size(), b.high.size()); ++i)
            ground << chart.at(b.x[i] * x.factor, b.high[i] * y.factor);
        for (size_t i = std::min(b.x.size(), b.low.size()); i-- > 0;)
            ground << chart.at(b.x[i] * x.factor, b.low[i] * y.factor);
        ground.removeIf([](const QPointF& at) { return !std::isfinite(at.x()) || !std::isfinite(at.y()); });
        QColor tint = p.data[b.kind % p.data.size()];
        tint.setAlpha(38);
        painter.setPen(Qt::NoPen);
        painter.setBrush(b.quiet ? p.hairSoft : tint);
        painter.drawPolygon(ground);
        if (!b.words.isEmpty() && !b.x.empty()) {
            const double left = chart.at(b.x.front() * x.factor, 0).x(), right = chart.at(b.x.back() * x.factor, 0).x();
            painter.setFont(wordFont(11 * scale));
            painter.setPen(p.quiet);
            painter.drawText(QRectF(left, chart.area().top() + 4 * scale, std::max(right - left, 60 * scale),
                                    16 * scale),
                             right + 10 > chart.area().right() ? Qt::AlignRight : Qt::AlignHCenter, b.words);
        }
    }
    std::vector<QRectF> taken;
    for (const PlotLimit& l : limits)
        paintLimit(painter, p, chart, *this, l, taken, scale);
    painter.restore();
}

void Plot::paintSeries(QPainter& painter, const Palette& p, const Chart& chart, double scale, bool quick) const
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    for (const PlotSeries& s : series) {
        painter.setBrush(Qt::NoBrush);
        if (!s.joined) {
            paintPoints(painter, p, chart, s, x, y, scale);
            continue;
        }
        QPen pen = s.pen ? *s.pen : quick ? QPen(p.data[s.kind % p.data.size()], 1) : penOf(p, s, scale);
        if (s.pen)
            pen.setColor(s.quiet ? p.quiet : p.ink);
        painter.setRenderHint(QPainter::Antialiasing, !quick);
        if (s.tree && chart.linear())
            paintLong(painter, chart, s, x, y, pen, quick ? 2 : 1);
        else
            chart.drawCurve(painter, s.x, s.y, pen, x.factor, y.factor);
        painter.setRenderHint(QPainter::Antialiasing);
        if (!s.thin && !s.pen)
            paintEnd(painter, p, chart, *this, s, pen.color(), scale);
    }
    switch (names) {
    case Names::Legend: paintLegend(painter, p, chart, *this, scale); break;
    case Names::Ends: paintNamesAtEnds(painter, p, chart, *this, scale); break;
    case Names::Row: paintNamesInARow(painter, p, chart, *this, scale); break;
    case Names::None: break;
    }
    if (!troubles.empty()) {
        painter.setFont(wordFont(11 * scale));
        painter.setPen(p.quiet);
        double at = chart.area().top() + 16 * scale;
        for (const QString& words : troubles) {
            painter.drawText(QPointF(chart.area().left() + 8 * scale, at), words);
            at += 16 * scale;
        }
    }
    painter.restore();
}

} // namespace fortitor
