// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/specimen_drawing.h"

#include "draw/forms.h"
#include "draw/note_drawing.h"

#include <QFontMetricsF>

#include <algorithm>
#include <cstdlib>

namespace fortitor {
namespace {

void arrowed(QPainter& painter, double x1, double x2, double y)
{
    painter.drawLine(QPointF(x1, y), QPointF(x2, y));
    for (const auto& [x, d] : {std::pair{x1, 6.0}, std::pair{x2, -6.0}}) {
        painter.drawLine(QPointF(x, y), QPointF(x + d, y - 3));
        painter.drawLine(QPointF(x, y), QPointF(x + d, y + 3));
    }
}

/// Upright ones have their words to the right, level ones below.
void paintLengths(QPainter& painter, const Palette& palette, const SpecimenDrawing& d, const std::string& place)
{
    const QFontMetricsF metrics(painter.font());
    if (!d.face.isEmpty()) {
        painter.setPen(QPen(palette.ink, 1.4));
        painter.setBrush(palette.metal);
        painter.drawRect(d.face);
    }
    for (const DrawnLength& length : d.lengths) {
        const bool now = !place.empty() && length.place == place;
        painter.setPen(QPen(now ? palette.accent : palette.ink, now ? 2 : 1.2));
        const bool level = std::abs(length.from.y() - length.to.y()) < 1;
        if (level) {
            arrowed(painter, length.from.x(), length.to.x(), length.from.y());
            painter.drawText(QPointF((length.from.x() + length.to.x() - metrics.horizontalAdvance(length.words)) / 2,
                                     length.from.y() + metrics.ascent() + 4),
                             length.words);
            continue;
        }
        painter.drawLine(length.from, length.to);
        for (const auto& [tip, way] : {std::pair{length.from, 6.0}, std::pair{length.to, -6.0}})
            for (const double side : {-3.0, 3.0})
                painter.drawLine(tip, tip + QPointF(side, way));
        painter.drawText(length.before ? QPointF(length.to.x() - 9 - metrics.horizontalAdvance(length.words),
                                                 (length.from.y() + length.to.y()) / 2 + 4)
                                       : length.to + QPointF(9, -7), // clear of the centre line
                         length.words);
    }
}

} // namespace

SpecimenDrawing layOutBar(const QRectF& room, const std::string& form, const std::string& shape, double parallelLength,
                          double gaugeLength, double across)
{
    const Form& shapeOf = formNamed(form);
    SpecimenDrawing d;
    d.axis = room.center().y();
    const double parallel = parallelLength > 0 ? parallelLength : gaugeLength > 0 ? 1.2 * gaugeLength : 60;
    const double gauge = gaugeLength > 0 ? std::min(gaugeLength, parallel) : parallel / 1.2;
    const double size = across > 0 ? across : 10;
    const double barWidth = room.width() * 0.5;
    const double scale = barWidth / parallel;
    const double barHalf = std::clamp(size * scale / 2, shapeOf.leastHalf, room.height() * shapeOf.mostHalf);
    const double left = room.center().x() - barWidth / 2;
    d.bar = QRectF(left, d.axis - barHalf, barWidth, 2 * barHalf);
    shapeOf.layOut(d, room, shape);
    d.calliperAlong = shapeOf.calliperAlong;
    d.markLeft = room.center().x() - gauge * scale / 2;
    d.markRight = room.center().x() + gauge * scale / 2;
    for (double share : {0.08, 0.5, 0.92})
        d.places.emplace_back(d.markLeft + share * (d.markRight - d.markLeft), d.axis);
    return d;
}

void paintBar(QPainter& painter, const Palette& palette, const SpecimenDrawing& d, const std::vector<bool>& done,
              int active, const QString& gaugeWords, const QString& parallelWords, const std::string& place)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(palette.ink, 1.6));
    painter.setBrush(palette.metal);
    painter.drawPath(d.outline);
    painter.setBrush(palette.hair);
    for (const QPainterPath& part : d.darker)
        painter.drawPath(part);
    painter.setBrush(palette.ink);
    for (const double x : d.loads) {
        const QPointF nose[] = {{x, d.bar.top()}, {x - 8, d.bar.top() - 10}, {x + 8, d.bar.top() - 10}};
        painter.drawPolygon(nose, 3);
        painter.drawRect(QRectF(x - 3, d.bar.top() - 22, 6, 12));
    }
    if (!d.loads.empty()) {
        // The dial that reads the middle.
        const QPointF dial(d.bar.center().x(), d.bar.bottom() + 20);
        painter.setPen(QPen(palette.ink, 1.4));
        painter.setBrush(palette.surface);
        painter.drawLine(QPointF(dial.x(), d.bar.bottom()), dial);
        painter.drawEllipse(dial, 9, 9);
        painter.drawLine(dial, dial + QPointF(5, -5));
    }
    QPen centre(palette.quiet, 1);
    centre.setDashPattern({12, 3, 2, 3});
    painter.setPen(centre);
    const QRectF box = d.outline.boundingRect();
    painter.drawLine(QPointF(box.left() - 20, d.axis), QPointF(box.right() + 20, d.axis));

    if (d.pull)
        for (const auto& [x, way] : {std::pair(box.left() - 100, -1.0), {box.right() + 26, 1.0}}) {
            painter.setPen(QPen(palette.quiet, 2));
            painter.drawLine(QPointF(x, d.axis), QPointF(x + 30 * way, d.axis));
            for (const double side : {-5.0, 5.0})
                painter.drawLine(QPointF(x + 30 * way, d.axis), QPointF(x + 21 * way, d.axis + side));
        }
    for (size_t i = 0; d.calliperAlong && i < d.places.size(); ++i) {
        const bool now = static_cast<int>(i) == active;
        const QColor colour = now ? palette.accent : i < done.size() && done[i] ? palette.data[0] : palette.quiet;
        painter.setPen(QPen(colour, now ? 2 : 1.4));
        painter.setBrush(colour);
        const double x = d.places[i].x();
        painter.drawLine(QPointF(x, d.bar.top()), QPointF(x, d.bar.bottom()));
        for (const auto& [y, s] : {std::pair{d.bar.top(), -8.0}, std::pair{d.bar.bottom(), 8.0}}) {
            const QPointF triangle[] = {{x, y}, {x - 5, y + s}, {x + 5, y + s}};
            painter.drawPolygon(triangle, 3);
        }
    }

    const QFont font = wordFont(12);
    const QFontMetricsF metrics(font);
    painter.setFont(font);
    paintLengths(painter, palette, d, place);
    const double y1 = box.bottom() + 26;
    const double y2 = box.bottom() + 62;
    painter.setPen(QPen(palette.quiet, 1));
    if (!gaugeWords.isEmpty()) {
        for (double x : {d.markLeft, d.markRight})
            painter.drawLine(QPointF(x, d.bar.bottom() + 10), QPointF(x, y1 + 6));
        arrowed(painter, d.markLeft, d.markRight, y1);
    }
    if (!parallelWords.isEmpty()) {
        painter.setPen(QPen(palette.hair, 1));
        for (double x : {d.bar.left(), d.bar.right()})
            painter.drawLine(QPointF(x, d.bar.bottom() + 4), QPointF(x, y2 + 6));
        painter.setPen(QPen(palette.quiet, 1));
        arrowed(painter, d.bar.left(), d.bar.right(), y2);
    }
    painter.setPen(palette.ink);
    painter.drawText(QPointF((d.markLeft + d.markRight - metrics.horizontalAdvance(gaugeWords)) / 2, y1 - 6),
                     gaugeWords);
    painter.setPen(palette.quiet);
    painter.drawText(QPointF((d.bar.left() + d.bar.right() - metrics.horizontalAdvance(parallelWords)) / 2, y2 + 18),
                     parallelWords);
    painter.restore();
}

void putLoads(SpecimenDrawing& d, double span, std::optional<double> loadSpan)
{
    const double middle = d.bar.center().x();
    d.clear = 26;
    if (d.places.size() == 3)
        d.places[1].rx() -= 44; // the nose stands in the middle
    if (!loadSpan || !(span > 0) || !(*loadSpan < span)) {
        d.loads = {middle};
        return;
    }
    const double half = 0.5 * *loadSpan / span * d.bar.width();
    d.loads = {middle - half, middle + half};
    d.markLeft = middle - half;
    d.markRight = middle + half;
}

void paintWood(QPainter& painter, const Palette& palette, const SpecimenDrawing& d, const std::string& rings,
               const std::string& grain, const std::string& knots)
{
    if (rings.empty() && grain.empty() && knots.empty())
        return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    QColor faint = palette.accent;
    faint.setAlpha(120);
    // "1 in 20" rises one over twenty along the beam.
    double slope = 0;
    if (const size_t in = grain.find("in"); in != std::string::npos)
        if (const double over = std::atof(grain.c_str() + in + 2), rise = std::atof(grain.c_str()); over > 0)
            slope = rise / over;
    if (!grain.empty()) {
        painter.setClipPath(d.outline);
        painter.setPen(QPen(faint, 1));
        const QRectF box = d.outline.boundingRect();
        const double run = box.width();
        for (double y = box.top() - slope * run; y < box.bottom() + slope * run; y += 5)
            painter.drawLine(QPointF(box.left(), y + slope * run), QPointF(box.right(), y));
        painter.setClipping(false);
    }
    if (!rings.empty()) {
        // The end, seen along the beam, with its rings.
        const QRectF end(d.outline.boundingRect().left() - 50, d.axis - 15, 30, 30);
        painter.setPen(QPen(palette.ink, 1.2));
        painter.setBrush(palette.metal);
        painter.drawRect(end);
        painter.setClipRect(end);
        painter.setPen(QPen(faint, 1.4));
        painter.setBrush(Qt::NoBrush);
        const double degrees = directionDegrees(rings).value_or(0);
        painter.translate(end.center());
        painter.rotate(degrees);
        for (double y = -24; y <= 24; y += 6)
            painter.drawArc(QRectF(-60, y, 120, 60), 60 * 16, 60 * 16);
        painter.resetTransform();
        painter.setClipping(false);
    }
    if (!knots.empty()) {
        const QPointF knot(d.bar.left() + 0.36 * d.bar.width(), d.axis);
        painter.setPen(QPen(palette.ink, 1.2));
        painter.setBrush(palette.hair);
        painter.drawEllipse(knot, 6, 4);
        painter.setPen(palette.quiet);
        painter.setFont(wordFont(11));
        painter.drawText(QPointF(knot.x() - 20, d.bar.bottom() + 15), QString::fromStdString("knots: " + knots));
    }
    painter.restore();
}

QPainterPath silhouette(const std::string& form, const std::string& shape, const QRectF& room)
{
    return formNamed(form).upright(room, shape);
}

} // namespace fortitor
