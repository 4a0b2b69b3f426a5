// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/plate_drawing.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double usualLength = 150, usualWidth = 100; // mm
constexpr double besideIt = 52; ///< px: half of what the words beside the plate take
constexpr double windowLength = 125, windowWidth = 75;

void dimension(QPainter& painter, const QPointF& a, const QPointF& b, const QString& words)
{
    painter.drawLine(a, b);
    const QPointF along = (b - a) / std::max(1.0, std::hypot(b.x() - a.x(), b.y() - a.y()));
    const QPointF across(-along.y(), along.x());
    for (const auto& [tip, way] : {std::pair(a, 1.0), std::pair(b, -1.0)}) {
        const QPointF arrow[] = {tip, tip + way * 7 * along + 3 * across, tip + way * 7 * along - 3 * across};
        painter.drawPolygon(arrow, 3);
    }
    const QFontMetricsF metrics(painter.font());
    const double wide = metrics.horizontalAdvance(words);
    if (std::abs(along.x()) > 0.5)
        painter.drawText(QPointF((a.x() + b.x() - wide) / 2, a.y() - 5), words);
    else
        painter.drawText(QPointF(a.x() + 8, (a.y() + b.y()) / 2 + metrics.ascent() / 2 - 1), words);
}

} // namespace

void paintPlate(QPainter& painter, const Palette& palette, const QRectF& room, const StruckPlate& plate)
{
    const double length = plate.length > 0 ? plate.length : usualLength;
    const double width = plate.width > 0 ? plate.width : usualWidth;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double scale = std::min((room.width() - 2 * besideIt) / length, (room.height() - 58) / width);
    if (!(scale > 0)) {
        painter.restore();
        return;
    }
    const QPointF middle = room.center() + QPointF(-besideIt / 2, 8);
    const auto box = [&](double along, double across) {
        return QRectF(middle.x() - along * scale / 2, middle.y() - across * scale / 2, along * scale, across * scale);
    };
    const QRectF whole = box(length, width);
    painter.setPen(QPen(palette.ink, 1.6));
    painter.setBrush(palette.metal);
    painter.drawRect(whole);
    QPen dashed(palette.quiet, 1);
    dashed.setDashPattern({5, 4});
    painter.setPen(dashed);
    painter.setBrush(Qt::NoBrush);
    const QRectF window = box(std::min(windowLength, length), std::min(windowWidth, width));
    painter.drawRect(window);
    painter.setFont(wordFont(11));
    painter.setPen(palette.quiet);
    painter.drawText(window.bottomLeft() + QPointF(6, -6), "free window 125 × 75 mm");
    // Where the striker comes down.
    painter.setPen(QPen(palette.quiet, 1));
    painter.drawLine(middle - QPointF(10, 0), middle + QPointF(10, 0));
    painter.drawLine(middle - QPointF(0, 10), middle + QPointF(0, 10));
    if (plate.damageLength > 0 || plate.damageWidth > 0) {
        const double along = plate.damageLength > 0 ? plate.damageLength : plate.damageWidth;
        const double across = plate.damageWidth > 0 ? plate.damageWidth : plate.damageLength;
        const QRectF hurt = box(along, across);
        QColor tint = palette.accent;
        tint.setAlpha(70);
        painter.setBrush(tint);
        painter.setPen(QPen(palette.accent, 1.4));
        painter.drawEllipse(hurt);
        if (plate.dent > 0) {
            tint.setAlpha(150);
            painter.setBrush(tint);
            painter.setPen(Qt::NoPen);
            const double core = std::min({8.0, along / 2, across / 2}) * scale;
            painter.drawEllipse(middle, core / 2, core / 2);
        }
        painter.setPen(QPen(palette.ink, 1));
        painter.setBrush(palette.ink);
        painter.setFont(wordFont(12));
        if (plate.damageLength > 0)
            dimension(painter, {hurt.left(), hurt.top() - 10}, {hurt.right(), hurt.top() - 10},
                      QString("%1 mm").arg(plate.damageLength, 0, 'f', 0));
        if (plate.damageWidth > 0)
            dimension(painter, {hurt.right() + 12, hurt.top()}, {hurt.right() + 12, hurt.bottom()},
                      QString("%1 mm").arg(plate.damageWidth, 0, 'f', 0));
    }
    painter.setFont(wordFont(12));
    QStringList words;
    if (plate.dent > 0)
        words << QString("dent %1 mm").arg(plate.dent, 0, 'f', 2);
    if (!plate.front.isEmpty())
        words << "struck face: " + plate.front;
    if (!plate.back.isEmpty())
        words << "back: " + plate.back;
    painter.setPen(words.isEmpty() ? palette.quiet : palette.ink);
    painter.drawText(QPointF(whole.left(), whole.top() - 8),
                     words.isEmpty() ? QString("No damage noted yet") : words.join("   ·   "));
    painter.setPen(QPen(palette.quiet, 1));
    painter.setBrush(palette.quiet);
    dimension(painter, {whole.left(), whole.bottom() + 20}, {whole.right(), whole.bottom() + 20},
              plate.length > 0 ? QString("%1 mm").arg(length, 0, 'f', 1) : QString("length not measured"));
    dimension(painter, {whole.right() + 14, whole.top()}, {whole.right() + 14, whole.bottom()},
              plate.width > 0 ? QString("%1 mm").arg(width, 0, 'f', 1) : QString("not measured"));
    painter.restore();
}

} // namespace fortitor
