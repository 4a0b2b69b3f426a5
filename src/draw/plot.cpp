// SPDX-License-Identifier: GPL-3.0-or-later
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

bool flagged(const std::vector<char>& flags, size_t i)
{
    return i < flags.size() && flags[i];
}

struct Extent {
    double low = std::numeric_limits<double>::infinity();
    double high = -std::numeric_limits<double>::infinity();

    void see(double v, Scale scale)
    {
        if (!std::isfinite(Chart::onScale(scale, v)))
            return;
        low = std::min(low, v);
        high = std::max(high, v);
    }
    void see(std::span<const double> values, const PlotAxis& axis)
    {
        for (const double v : values)
            see(v * axis.factor, axis.scale);
    }
};

void fitAxis(PlotAxis& axis, const Extent& extent)
{
    if (!(extent.low <= extent.high)) {
        axis.low = axis.scale == Scale::Log ? 1 : axis.scale == Scale::Probit ? 0.005 : 0;
        axis.high = axis.scale == Scale::Log ? 1000 : axis.scale == Scale::Probit ? 0.995 : 1;
        return;
    }
    if (axis.scale == Scale::Log) {
        const double room = std::max(1.15, std::pow(extent.high / extent.low, 0.06));
        axis.low = extent.low / room;
        axis.high = extent.high * room;
        return;
    }
    if (axis.scale == Scale::Probit) {
        axis.low = std::min(0.01, 0.6 * extent.low);
        axis.high = std::max(0.99, 1 - 0.6 * (1 - extent.high));
        return;
    }
    const bool fromZero = axis.fromZero && extent.low >= 0 && extent.low < 0.6 * extent.high;
    std::tie(axis.low, axis.high) = roomyRange(fromZero ? 0 : extent.low, extent.high);
}

void paintPoints(QPainter& painter, const Palette& p, const Chart& chart, const PlotSeries& s, const PlotAxis& xAxis,
                 const PlotAxis& yAxis, double scale)
{
    for (size_t i = 0; i < std::min(s.x.size(), s.y.size()); ++i) {
        const QPointF at = chart.at(s.x[i] * xAxis.factor, s.y[i] * yAxis.factor);
        if (!std::isfinite(at.x()) || !std::isfinite(at.y()) || !chart.area().adjusted(-1, -1, 1, 1).contains(at))
            continue;
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

/// A long curve from its tree, in the window of the chart.
void paintLong(QPainter& painter, const Chart& chart, const PlotSeries& s, const PlotAxis& xAxis, const PlotAxis& yAxis,
               const QPen& pen)
{
    const QRectF a = chart.area();
    const ExtentTree::Window window{chart.xAt(a.left()) / xAxis.factor, chart.xAt(a.right()) / xAxis.factor,
                                    chart.yAt(a.bottom()) / yAxis.factor, chart.yAt(a.top()) / yAxis.factor};
    const double cell = (window.x1 - window.x0) / std::max(1.0, a.width());
    const double rise = (window.y1 - window.y0) / std::max(1.0, a.height());
    // Far outside a point only has to keep its side.
    const QRectF reach = a.adjusted(-4 * a.width(), -4 * a.height(), 4 * a.width(), 4 * a.height());
    QPolygonF line;
    painter.save();
    painter.setClipRect(a, Qt::IntersectClip);
    painter.setPen(pen);
    const auto flush = [&] {
        painter.drawPolyline(line);
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
        size_t under = 0;
        for (const PlotSeries& s : plot.series) {
            const size_t n = std::min(s.x.size(), s.y.size());
            const size_t every = std::max<size_t>(1, n / 700);
            for (size_t i = 0; i < n; i += every)
                under += box.contains(chart.at(s.x[i] * plot.x.factor, s.y[i] * plot.y.factor));
        }
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

std::string quoted(const QString& text)
{
    std::string out = "\"";
    for (const char c : text.toStdString())
        out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

PlotAxis axisOf(const ViewAxis& axis, double greatest, UnitSystem system)
{
    const Unit& unit = displayUnit(axis.kind, greatest, system);
    const QString name = QString::fromStdString(axis.title);
    const bool share = axis.scale == Scale::Probit;
    return {.title = share           ? name + ", %"
                : unit.symbol == "1" ? name
                                     : name + ", " + QString::fromStdString(std::string(unit.symbol)),
            .factor = share ? 1 : 1 / unit.factor,
            .scale = axis.scale};
}

double greatestOf(std::span<const double> values)
{
    double most = 0;
    for (const double v : values)
        most = std::isfinite(v) ? std::max(most, std::abs(v)) : most;
    return most;
}

struct PlotMaker {
    UnitSystem system;
    Plot plot{};

    std::span<const double> hold(std::vector<double> values)
    {
        plot.held.push_back(std::make_shared<const std::vector<double>>(std::move(values)));
        return *plot.held.back();
    }
    template <class Point> PlotSeries pointsOf(const std::vector<Point>& points)
    {
        PlotSeries s;
        s.joined = false;
        std::vector<double> x, y;
        for (const Point& p : points) {
            x.push_back(p.x);
            y.push_back(p.y);
            s.names.push_back(QString::fromStdString(p.label));
            s.left.push_back(p.left);
        }
        s.x = hold(std::move(x));
        s.y = hold(std::move(y));
        return s;
    }
    void operator()(const CurveView& view)
    {
        plot.x = axisOf({view.xAxis.title, view.xAxis.kind}, greatestOf(view.x), system);
        plot.y = axisOf({view.yAxis.title, view.yAxis.kind}, greatestOf(view.y), system);
        PlotSeries s{.x = view.x, .y = view.y, .label = QString::fromStdString(view.label)};
        if (view.x.size() > treeFrom)
            s.tree = std::make_shared<ExtentTree>(view.x, view.y);
        plot.series.push_back(std::move(s));
    }
    void operator()(const ScatterView& view)
    {
        PlotSeries points = pointsOf(view.points);
        for (const ScatterPoint& p : view.points)
            points.open.push_back(p.open);
        points.label = "readings";
        plot.x = axisOf(view.xAxis, greatestOf(points.x), system);
        plot.y = axisOf(view.yAxis, greatestOf(points.y), system);
        size_t kind = 0;
        for (const FittedLine& line : view.lines) {
            ++kind;
            if (!line.low.empty())
                plot.bands.push_back({line.x, line.low, line.high, kind});
            plot.series.push_back(
                {.x = line.x, .y = line.y, .label = QString::fromStdString(line.label), .kind = kind, .thin = true});
        }
        plot.series.push_back(std::move(points));
    }
    void operator()(const MapView& view)
    {
        PlotSeries points = pointsOf(view.points);
        plot.x = axisOf(view.xAxis, greatestOf(points.x), system);
        plot.y = axisOf(view.yAxis, greatestOf(points.y), system);
        if (!view.outline.empty()) {
            std::vector<double> x, y;
            for (const auto& [a, b] : view.outline) {
                x.push_back(a);
                y.push_back(b);
            }
            x.push_back(x.front());
            y.push_back(y.front());
            plot.series.push_back({.x = hold(std::move(x)), .y = hold(std::move(y)), .kind = 7, .thin = true});
        }
        plot.series.push_back(std::move(points));
    }
    void operator()(const MatrixView& view)
    {
        plot.x = axisOf(view.xAxis, greatestOf(view.xEdges), system);
        plot.y = axisOf(view.yAxis, greatestOf(view.yEdges), system);
        plot.cells = PlotCells{view.xEdges, view.yEdges, view.cells};
    }
};

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

void Plot::fit()
{
    Extent xs, ys;
    for (const PlotSeries& s : series) {
        if (s.tree) {
            const ExtentTree::Box box = s.tree->whole();
            for (const double v : {box.x0, box.x1})
                xs.see(v * x.factor, x.scale);
            for (const double v : {box.y0, box.y1})
                ys.see(v * y.factor, y.scale);
            continue;
        }
        xs.see(s.x, x);
        ys.see(s.y, y);
    }
    for (const PlotBand& b : bands) {
        ys.see(b.low, y);
        ys.see(b.high, y);
    }
    if (cells) {
        xs.see(cells->xEdges, x);
        ys.see(cells->yEdges, y);
    }
    for (const PlotLimit& l : limits)
        (l.onX ? xs : ys).see(l.at * (l.onX ? x : y).factor, (l.onX ? x : y).scale);
    fitAxis(x, xs);
    fitAxis(y, ys);
}

QRectF Plot::areaIn(const QRectF& room, double scale) const
{
    return room.adjusted(56 * scale, 26 * scale, -18 * scale, -44 * scale);
}

Chart Plot::chartIn(const QRectF& room, double scale) const
{
    return {areaIn(room, scale), x.low, x.high, y.low, y.high, x.scale, y.scale};
}

void Plot::paint(QPainter& painter, const Palette& p, const QRectF& room, const Chart& chart, double scale,
                 bool quick) const
{
    painter.save();
    painter.setClipRect(room, Qt::IntersectClip);
    chart.drawAxes(painter, p, x.title, y.title, scale);
    painter.setRenderHint(QPainter::Antialiasing);
    if (cells)
        paintCells(painter, p, chart, *cells, x, y);
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
        painter.setBrush(tint);
        painter.drawPolygon(ground);
    }
    painter.setFont(wordFont(11 * scale));
    for (const PlotLimit& l : limits) {
        QColor line = p.stop;
        line.setAlpha(130);
        painter.setPen(QPen(line, scale));
        const QPointF at = chart.at((l.onX ? l.at : 0) * x.factor, (l.onX ? 0 : l.at) * y.factor);
        if (l.onX)
            painter.drawLine(QPointF(at.x(), chart.area().top()), QPointF(at.x(), chart.area().bottom()));
        else
            painter.drawLine(QPointF(chart.area().left(), at.y()), QPointF(chart.area().right(), at.y()));
        painter.setPen(p.quiet);
        painter.drawText(l.onX ? QPointF(at.x() + 4, chart.area().top() + 12)
                               : QPointF(chart.area().left() + 6, at.y() - 4),
                         l.words);
    }
    painter.restore();
    for (const PlotSeries& s : series) {
        painter.setBrush(Qt::NoBrush);
        if (!s.joined) {
            paintPoints(painter, p, chart, s, x, y, scale);
            continue;
        }
        const QPen pen =
            quick ? QPen(p.data[s.kind % p.data.size()], 1) : penOf(p, s.kind, (s.thin ? 1.3 : 1.6) * scale);
        painter.setRenderHint(QPainter::Antialiasing, !quick);
        if (s.tree && chart.linear())
            paintLong(painter, chart, s, x, y, pen);
        else
            chart.drawCurve(painter, s.x, s.y, pen, x.factor, y.factor);
        painter.setRenderHint(QPainter::Antialiasing);
        if (s.thin || s.x.empty() || s.y.empty())
            continue;
        const QPointF end = chart.at(s.x[std::min(s.x.size(), s.y.size()) - 1] * x.factor,
                                     s.y[std::min(s.x.size(), s.y.size()) - 1] * y.factor);
        if (!chart.area().contains(end))
            continue;
        painter.setPen(QPen(pen.color(), 1.6 * scale));
        painter.setBrush(p.surface);
        drawShape(painter, s.kind, end, 4 * scale);
        if (!legend && !s.label.isEmpty()) {
            painter.setFont(wordFont(11 * scale));
            painter.setPen(p.ink);
            const double wide = QFontMetricsF(painter.font()).horizontalAdvance(s.label);
            painter.drawText(QPointF(std::min(end.x() + 7 * scale, chart.area().right() - wide), end.y() - 6 * scale),
                             s.label);
        }
    }
    if (legend)
        paintLegend(painter, p, chart, *this, scale);
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

std::string Plot::csv() const
{
    // Series side by side, each with its own x.
    std::string out;
    size_t rows = 0;
    for (const PlotSeries& s : series) {
        const bool named = !s.names.empty();
        out += (out.empty() ? "" : ",") + (named ? std::string("label,") : std::string())
            + quoted((s.label.isEmpty() ? QString() : s.label + " ") + x.title) + ","
            + quoted((s.label.isEmpty() ? QString() : s.label + " ") + y.title);
        rows = std::max(rows, std::min(s.x.size(), s.y.size()));
    }
    out += "\n";
    for (size_t i = 0; i < rows; ++i) {
        std::string line;
        for (const PlotSeries& s : series) {
            line += &s == &series.front() ? "" : ",";
            const bool here = i < std::min(s.x.size(), s.y.size());
            if (!s.names.empty())
                line += (here && i < s.names.size() ? quoted(s.names[i]) : std::string()) + ",";
            line += here ? fmt::format("{},{}", s.x[i] * x.factor, s.y[i] * y.factor) : std::string(",");
        }
        out += line + "\n";
    }
    if (cells) {
        const size_t columns = cells->xEdges.empty() ? 0 : cells->xEdges.size() - 1;
        out = quoted(x.title) + ",to," + quoted(y.title) + ",to,count\n";
        for (size_t i = 0; columns > 0 && i < cells->values.size() && i / columns + 1 < cells->yEdges.size(); ++i)
            out += fmt::format("{},{},{},{},{}\n", cells->xEdges[i % columns] * x.factor,
                               cells->xEdges[i % columns + 1] * x.factor, cells->yEdges[i / columns] * y.factor,
                               cells->yEdges[i / columns + 1] * y.factor, cells->values[i]);
    }
    return out;
}

Plot plotOf(const View& view, UnitSystem system)
{
    PlotMaker maker{system};
    std::visit(maker, view);
    for (const std::string& words : viewTroubles(view))
        maker.plot.troubles.push_back(QString::fromStdString(words));
    maker.plot.fit();
    return std::move(maker.plot);
}

} // namespace fortitor
