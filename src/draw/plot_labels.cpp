// SPDX-License-Identifier: GPL-3.0-or-later
// The words in a plot: limits, names of curves, the legend, each where no curve runs.
// How a plot is painted.
#include "draw/plot.h"
#include "draw/plot_labels.h"

#include <QFontMetricsF>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace fortitor {
namespace {

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

} // namespace

void paintLimit(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, const PlotLimit& l,
                std::vector<QRectF>& taken, double scale)
{
    QColor line = p.stop;
    line.setAlpha(130);
    painter.setPen(l.mark        ? QPen(p.accent, 1.4 * scale, Qt::DashLine)
                       : l.quiet ? QPen(p.quiet, scale, Qt::DashLine)
                                 : QPen(line, scale));
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
        for (const double share : {1.0, 0.3, 0.2, 0.02, 0.5, 0.7}) {
            const QPointF at(std::min(area.right() - wide - 4, area.left() + share * area.width()), y + below * scale);
            constexpr double low = 136; // px: nothing stands at the right of a lower one
            if (area.height() > low && at.x() + wide > area.left() + plot.wordsUpTo * area.width() && share > 0.02)
                continue;
            // No more than the words take: a wider box leaves no free place in a low window.
            size_t under = readingsIn({at.x() - 4, at.y() - 12 * scale, wide + 8, 17 * scale}, plot, chart);
            for (const PlotLimit& other : plot.limits) { // nor across another line
                const double across = chart.py(other.at * plot.y.factor);
                under +=
                    &other != &l && !other.onX && across > at.y() - 12 * scale && across < at.y() + 5 * scale ? 8 : 0;
            }
            for (const QRectF& words : taken) // nor over other words
                under += words.intersects({at.x(), at.y() - 11 * scale, wide, 14 * scale}) ? 40 : 0;
            if (under < fewest) {
                fewest = under;
                best = at;
            }
        }
    painter.setPen(p.quiet);
    if (!l.symbol.isEmpty())
        drawSymbol(&painter, best, l.symbol, font);
    painter.drawText(best + QPointF(symbol, 0), l.words);
    taken.emplace_back(best.x(), best.y() - 11 * scale, wide, 14 * scale);
}

namespace {

std::optional<QPointF> endOf(const Plot& plot, const Chart& chart, const PlotSeries& s)
{
    const size_t n = std::min(s.x.size(), s.y.size());
    if (n == 0)
        return std::nullopt;
    const QPointF end = chart.at(s.x[n - 1] * plot.x.factor, s.y[n - 1] * plot.y.factor);
    return chart.area().contains(end) ? std::optional(end) : std::nullopt;
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

} // namespace

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

/// Widest that a name may be so that all of them stand beside the axis title; the short ones keep their own.
static double nameRoom(const QFontMetricsF& metrics, const Plot& plot, double room, double apart)
{
    double low = 0, high = room;
    for (int step = 0; step < 20; ++step) {
        const double half = (low + high) / 2;
        double sum = 0;
        for (const PlotSeries& s : plot.series)
            sum += std::min(half, metrics.horizontalAdvance(s.label)) + apart;
        (sum <= room ? low : high) = half;
    }
    return low;
}

void paintNamesInARow(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, double scale)
{
    painter.setFont(wordFont(11 * scale));
    const QFontMetricsF metrics(painter.font());
    const double y = chart.area().top() - 10 * scale, apart = 25 * scale;
    const double title = metrics.horizontalAdvance(plot.y.title) + 16 * scale;
    const double room = nameRoom(metrics, plot, chart.area().width() - title, apart);
    double x = chart.area().right();
    for (auto s = plot.series.rbegin(); s != plot.series.rend() && x > chart.area().left() + title; ++s) {
        const QString name = metrics.elidedText(s->label, Qt::ElideRight, room + 1);
        x -= metrics.horizontalAdvance(name) + apart;
        painter.setPen(penOf(p, *s, 1.2 * scale));
        painter.drawLine(QPointF(x, y), QPointF(x + 13 * scale, y));
        painter.setPen(p.ink);
        painter.drawText(QPointF(x + 17 * scale, y + 4 * scale), name);
    }
}

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

} // namespace fortitor
