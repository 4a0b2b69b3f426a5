// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/specimen_drawing.h"

#include <QFontMetricsF>

#include <algorithm>

namespace fortitor {
namespace {

/// Half of a bar's outline along the axis: head, shoulder, parallel part, mirrored.
QPainterPath barPath(const QRectF& room, double barLeft, double barRight, double barHalf, bool curvedShoulder)
{
    const double mid = room.center().y();
    const double headHalf = room.height() / 2;
    const double shoulder = std::min(70.0, (barLeft - room.left()) * 0.45);
    QPainterPath path;
    path.moveTo(room.left(), mid - headHalf);
    const auto into = [&](double fromX, double toX, double fromY, double toY) {
        if (curvedShoulder)
            path.cubicTo((fromX + toX) / 2, fromY, (fromX + toX) / 2, toY, toX, toY);
        else
            path.lineTo(toX, toY);
    };
    path.lineTo(barLeft - shoulder, mid - headHalf);
    into(barLeft - shoulder, barLeft, mid - headHalf, mid - barHalf);
    path.lineTo(barRight, mid - barHalf);
    into(barRight, barRight + shoulder, mid - barHalf, mid - headHalf);
    path.lineTo(room.right(), mid - headHalf);
    path.lineTo(room.right(), mid + headHalf);
    path.lineTo(barRight + shoulder, mid + headHalf);
    into(barRight + shoulder, barRight, mid + headHalf, mid + barHalf);
    path.lineTo(barLeft, mid + barHalf);
    into(barLeft, barLeft - shoulder, mid + barHalf, mid + headHalf);
    path.lineTo(room.left(), mid + headHalf);
    path.closeSubpath();
    return path;
}

void arrowed(QPainter& painter, double x1, double x2, double y)
{
    painter.drawLine(QPointF(x1, y), QPointF(x2, y));
    for (const auto& [x, d] : {std::pair{x1, 6.0}, std::pair{x2, -6.0}}) {
        painter.drawLine(QPointF(x, y), QPointF(x + d, y - 3));
        painter.drawLine(QPointF(x, y), QPointF(x + d, y + 3));
    }
}

} // namespace

SpecimenDrawing layOutBar(const QRectF& room, const std::string& shape, double parallelLength, double gaugeLength, double across)
{
    SpecimenDrawing d;
    d.axis = room.center().y();
    const double parallel = parallelLength > 0 ? parallelLength : gaugeLength > 0 ? 1.2 * gaugeLength : 60;
    const double gauge = gaugeLength > 0 ? std::min(gaugeLength, parallel) : parallel / 1.2;
    const double size = across > 0 ? across : 10;
    const double barWidth = room.width() * 0.5;
    const double scale = barWidth / parallel;
    const double barHalf = std::clamp(size * scale / 2, 12.0, room.height() * 0.32);
    const double left = room.center().x() - barWidth / 2;
    d.bar = QRectF(left, d.axis - barHalf, barWidth, 2 * barHalf);
    d.outline = barPath(room, d.bar.left(), d.bar.right(), barHalf, shape != "rectangular");
    d.markLeft = room.center().x() - gauge * scale / 2;
    d.markRight = room.center().x() + gauge * scale / 2;
    for (double share : {0.08, 0.5, 0.92})
        d.places.emplace_back(d.markLeft + share * (d.markRight - d.markLeft), d.axis);
    return d;
}

void paintBar(QPainter& painter, const Palette& palette, const SpecimenDrawing& d, const std::vector<bool>& done, int active, const QString& gaugeWords, const QString& parallelWords)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(palette.ink, 1.6));
    painter.setBrush(palette.metal);
    painter.drawPath(d.outline);
    QPen centre(palette.quiet, 1);
    centre.setDashPattern({12, 3, 2, 3});
    painter.setPen(centre);
    const QRectF box = d.outline.boundingRect();
    painter.drawLine(QPointF(box.left() - 20, d.axis), QPointF(box.right() + 20, d.axis));

    for (size_t i = 0; i < d.places.size(); ++i) {
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
    const double y1 = box.bottom() + 26;
    const double y2 = box.bottom() + 62;
    painter.setPen(QPen(palette.quiet, 1));
    for (double x : {d.markLeft, d.markRight})
        painter.drawLine(QPointF(x, d.bar.bottom() + 10), QPointF(x, y1 + 6));
    arrowed(painter, d.markLeft, d.markRight, y1);
    if (!parallelWords.isEmpty()) {
        painter.setPen(QPen(palette.hair, 1));
        for (double x : {d.bar.left(), d.bar.right()})
            painter.drawLine(QPointF(x, d.bar.bottom() + 4), QPointF(x, y2 + 6));
        painter.setPen(QPen(palette.quiet, 1));
        arrowed(painter, d.bar.left(), d.bar.right(), y2);
    }
    painter.setPen(palette.ink);
    painter.drawText(QPointF((d.markLeft + d.markRight - metrics.horizontalAdvance(gaugeWords)) / 2, y1 - 6), gaugeWords);
    painter.setPen(palette.quiet);
    painter.drawText(QPointF((d.bar.left() + d.bar.right() - metrics.horizontalAdvance(parallelWords)) / 2, y2 + 18), parallelWords);
    painter.restore();
}

QPainterPath silhouette(const std::string& shape, const QRectF& room)
{
    // Standing upright: the same outline, turned.
    const QRectF lying(0, 0, room.height(), room.width());
    const double barHalf = room.width() * 0.2;
    QPainterPath path = barPath(lying, lying.width() * 0.36, lying.width() * 0.64, barHalf, shape != "rectangular");
    QTransform turn;
    turn.translate(room.left(), room.bottom());
    turn.rotate(-90);
    return turn.map(path);
}

} // namespace fortitor
