// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/stress_sketch.h"

#include <QFontMetricsF>
#include <QPolygonF>

#include <algorithm>

namespace fortitor {

void paintStressProfile(QPainter& painter, const Palette& palette, const QRectF& room, const StressProfile& profile,
                        const std::vector<StressProfile>& others)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF plot = room.adjusted(4, 6, -40, -18);
    double most = 1e-9;
    for (const StressProfile& p : others)
        most = std::max(most, *std::ranges::max_element(p.stress));
    most = std::max(most, *std::ranges::max_element(profile.stress));
    const auto at = [&](double radius, double stress) {
        return QPointF(plot.left() + radius * plot.width(), plot.bottom() - stress / most * plot.height());
    };
    const auto line = [&](const StressProfile& p) {
        QPolygonF out;
        for (size_t i = 0; i < p.radius.size(); ++i)
            out << at(p.radius[i], p.stress[i]);
        return out;
    };
    // The wall that carries, along the foot.
    painter.fillRect(QRectF(at(profile.radius.front(), 0), QPointF(plot.right(), plot.bottom() + 5)), palette.metal);
    QPolygonF filled = line(profile);
    filled << at(1, 0) << at(profile.radius.front(), 0);
    QColor tint = palette.data[0];
    tint.setAlpha(60);
    painter.setPen(Qt::NoPen);
    painter.setBrush(tint);
    painter.drawPolygon(filled);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(palette.quiet, 1, Qt::DashLine));
    for (const StressProfile& p : others)
        painter.drawPolyline(line(p));
    painter.setPen(QPen(palette.data[0], 2));
    painter.drawPolyline(line(profile));
    painter.setPen(QPen(palette.ink, 1.2));
    painter.drawLine(at(0, 0), at(1, 0));
    painter.drawLine(at(1, 0), at(1, 1.0 * most));
    painter.setFont(figureFont(10.5));
    painter.drawText(at(1, profile.stress.back()) + QPointF(5, 4), QString::number(profile.stress.back(), 'f', 0));
    painter.setFont(wordFont(10));
    painter.setPen(palette.quiet);
    painter.drawText(QPointF(plot.left(), plot.bottom() + 15), "axis");
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance("surface");
    painter.drawText(QPointF(plot.right() - wide, plot.bottom() + 15), "surface");
    painter.drawText(QPointF(plot.right() + 5, plot.bottom() + 15), "MPa");
    painter.restore();
}

} // namespace fortitor
