// SPDX-License-Identifier: GPL-3.0-or-later
// How a plot is painted.
#include "draw/plot.h"

#include <QFontMetricsF>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace fortitor {
namespace {

constexpr Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::DashDotLine};
QPen penOf(const Palette& p, size_t kind, double width)
{
    return QPen(p.data[kind % p.data.size()], width, styles[kind / p.data.size() % 4]);
}

QPen penOf(const Palette& p, const PlotSeries& s, double scale)
{
    if (s.aside)
        return {p.hair, 1.4 * scale, Qt::DashLine};
    return penOf(p, s.kind, (s.strong ? 2.6 : s.thin ? 1.3 : 1.6) * scale);
}

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
        if (!(v > 0) || !std::isfinite(v))
            continue;
        const size_t c = i % columns;
        const size_t r = i / columns;
        const QRectF box(chart.at(cells.xEdges[c] * xAxis.factor, cells.yEdges[r + 1] * yAxis.factor),
                         chart.at(cells.xEdges[c + 1] * xAxis.factor, cells.yEdges[r] * yAxis.factor));
        // Few counts still show: by their logarithm.
        QColor shade = p.data[0];
        shade.setAlphaF(static_cast<float>(0.15 + 0.85 * std::log1p(v) / std::log1p(most)));
        painter.fillRect(box, shade);
    }
    painter.restore();
}

/// How many readings of the curves, about, stand in a box.
size_t readingsIn(const QRectF& box, const Plot& plot, const Chart& chart)
{
    constexpr size_t most = 6000; // of all curves; 700 of one tell enough
    const size_t asked = std::clamp<size_t>(most / std::max<size_t>(1, plot.series.size()), 60, 700);
    size_t under = 0;
    for (const PlotSeries& s : plot.series) {
        const size_t n = std::min(s.x.size(), s.y.size());
        for (size_t i = 0; i < n; i += std::max<size_t>(1, n / asked))
            under += box.contains(chart.at(s.x[i] * plot.x.factor, s.y[i] * plot.y.factor));
    }
    return under;
}

/// A line across, with its words along it, above or below, where no curve stands.
void paintLimit(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, const PlotLimit& l,
                double scale)
{
    QColor line = p.stop;
    line.setAlpha(130);
    painter.setPen(l.mark ? QPen(p.accent, 1.4 * scale, Qt::DashLine) : QPen(line, scale));
    const QRectF& area = chart.area();
    const QFont font = wordFont(11 * scale);
    painter.setFont(font);
    if (l.onX) {
        const double x = chart.px(l.at * plot.x.factor);
        painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
        painter.setPen(p.quiet);
        painter.drawText(QPointF(x + 4, area.top() + 12), l.words);
        return;
    }
    const double y = std::round(chart.py(l.at * plot.y.factor)) + 0.5;
    painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y));
    const double symbol = l.symbol.isEmpty() ? 0 : drawSymbol(nullptr, {}, l.symbol, font);
    const double wide = symbol + QFontMetricsF(font).horizontalAdvance(l.words);
    QPointF best;
    size_t fewest = SIZE_MAX;
    for (const double below : {-5.0, 14.0})
        for (const double share : {1.0, 0.3, 0.02, 0.5, 0.7}) {
            const QPointF at(std::min(area.right() - wide - 4, area.left() + share * area.width()), y + below * scale);
            // No more than the words take: a wider box leaves no free place in a low window.
            const size_t under = readingsIn({at.x() - 4, at.y() - 12 * scale, wide + 8, 17 * scale}, plot, chart);
            if (under < fewest) {
                fewest = under;
                best = at;
            }
        }
    painter.setPen(p.quiet);
    if (!l.symbol.isEmpty())
        drawSymbol(&painter, best, l.symbol, font);
    painter.drawText(best + QPointF(symbol, 0), l.words);
}

std::optional<QPointF> endOf(const Plot& plot, const Chart& chart, const PlotSeries& s)
{
    const size_t n = std::min(s.x.size(), s.y.size());
    if (n == 0)
        return std::nullopt;
    const QPointF end = chart.at(s.x[n - 1] * plot.x.factor, s.y[n - 1] * plot.y.factor);
    return chart.area().contains(end) ? std::optional(end) : std::nullopt;
}

void paintEnd(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, const PlotSeries& s,
              const QColor& colour, double scale)
{
    const auto end = endOf(plot, chart, s);
    if (!end)
        return;
    painter.setPen(QPen(colour, 1.6 * scale));
    painter.setBrush(p.surface);
    drawShape(painter, s.kind, *end, 4 * scale);
}

/// The place beside a point that is free of shapes and names, and of the curves as far as can be; the nearer first.
QRectF placeBeside(const QPointF& at, const QSizeF& size, const std::vector<QRectF>& taken, const Plot& plot,
                   const Chart& chart, double scale)
{
    QRectF best(QPointF(at.x() + 7 * scale, at.y() - 17 * scale), size);
    size_t fewest = std::numeric_limits<size_t>::max();
    for (const double up : {17.0, 6.0, -5.0, -18.0, 31.0, -31.0})
        for (const double beside : {7 * scale, -7 * scale - size.width()}) {
            const QRectF box(QPointF(at.x() + beside, at.y() - up * scale), size);
            if (std::ranges::any_of(taken, [&](const QRectF& other) { return box.intersects(other); }))
                continue;
            const size_t under = readingsIn(box.adjusted(-1, -1, 1, 1), plot, chart);
            if (under < fewest) {
                fewest = under;
                best = box;
            }
        }
    return best;
}

/// Names at the ends of the curves, beside the shapes and off each other as far as there is room.
void paintNamesAtEnds(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, double scale)
{
    std::vector<std::pair<QPointF, const PlotSeries*>> ends;
    std::vector<QRectF> taken;
    for (const PlotSeries& s : plot.series)
        if (const auto end = endOf(plot, chart, s); end && s.joined && !s.label.isEmpty() && !s.thin && !s.pen) {
            ends.emplace_back(*end, &s);
            taken.emplace_back(end->x() - 5 * scale, end->y() - 5 * scale, 10 * scale, 10 * scale);
        }
    std::ranges::sort(ends, {}, [](const auto& e) { return e.first.y(); });
    painter.setFont(wordFont(11 * scale));
    const QFontMetricsF metrics(painter.font());
    for (const auto& [end, s] : ends) {
        const QSizeF size(metrics.horizontalAdvance(s->label), 13 * scale);
        const QRectF best = placeBeside(end, size, taken, plot, chart, scale);
        taken.push_back(best);
        painter.setPen(s->aside ? p.quiet : p.ink);
        painter.drawText(QPointF(best.left(), best.bottom() - 3 * scale), s->label);
    }
}

/// Names in a row over the axes, from the right.
void paintNamesInARow(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, double scale)
{
    painter.setFont(wordFont(11 * scale));
    const double y = chart.area().top() - 10 * scale;
    double x = chart.area().right();
    for (auto s = plot.series.rbegin(); s != plot.series.rend() && x > chart.area().left() + 80 * scale; ++s) {
        x -= QFontMetricsF(painter.font()).horizontalAdvance(s->label) + 25 * scale;
        painter.setPen(penOf(p, *s, 1.2 * scale));
        painter.drawLine(QPointF(x, y), QPointF(x + 13 * scale, y));
        painter.setPen(p.ink);
        painter.drawText(QPointF(x + 17 * scale, y + 4 * scale), s->label);
    }
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

/// Line, shape and name of each kind, in the corner that the curves leave free.
void paintLegend(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, double scale)
{
    std::vector<const PlotSeries*> entries;
    for (const PlotSeries& s : plot.series)
        if (!s.label.isEmpty()
            && std::ranges::none_of(entries,
                                    [&](const PlotSeries* e) { return e->kind == s.kind && e->label == s.label; })
            && entries.size() < 12)
            entries.push_back(&s);
    if (entries.size() < 2)
        return;
    const QFont font = wordFont(12 * scale);
    double wide = 0;
    for (const PlotSeries* s : entries)
        wide = std::max(wide, QFontMetricsF(font).horizontalAdvance(s->label));
    const QSizeF size(wide + 62 * scale, (20.0 * static_cast<double>(entries.size()) + 6) * scale);
    const QRectF area = chart.area().adjusted(8, 4, -4, -6);
    QRectF best;
    size_t fewest = SIZE_MAX;
    for (const QPointF& corner : {area.bottomRight(), area.topRight(), area.topLeft(), area.bottomLeft()}) {
        const QRectF box(corner.x() > area.center().x() ? corner.x() - size.width() : corner.x(),
                         corner.y() > area.center().y() ? corner.y() - size.height() : corner.y(), size.width(),
                         size.height());
        const size_t under = readingsIn(box, plot, chart);
        if (under < fewest) {
            fewest = under;
            best = box;
        }
    }
    painter.fillRect(best, p.surface);
    double y = best.top() + 4 * scale;
    for (const PlotSeries* s : entries) {
        const double x = best.left() + 8 * scale;
        const QPen pen = penOf(p, s->kind, 1.6 * scale);
        painter.setPen(pen);
        if (s->joined)
            painter.drawLine(QPointF(x, y + 8 * scale), QPointF(x + 30 * scale, y + 8 * scale));
        painter.setPen(QPen(pen.color(), 1.6 * scale));
        painter.setBrush(p.surface);
        if (!s->thin)
            drawShape(painter, s->kind, QPointF(x + 15 * scale, y + 8 * scale), 4 * scale);
        painter.setPen(p.ink);
        painter.setFont(font);
        painter.drawText(QPointF(x + 40 * scale, y + 12 * scale), s->label);
        y += 20 * scale;
    }
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
    }
    for (const PlotLimit& l : limits)
        paintLimit(painter, p, chart, *this, l, scale);
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
