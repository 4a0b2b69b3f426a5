// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/strike/pendulum_drawing.h"

#include "app/theme/theme.h"

#include <QPainterPath>

#include <cmath>
#include <numbers>

namespace fortitor {
namespace {

using Hit = ImpactGeometry::Hit;

constexpr double usualRelease = 150 * std::numbers::pi / 180; // where it is not stated

/// The notch in the upper edge of a bar, or seen from the striker's side of a clamped one.
void paintPiece(QPainter& painter, QPointF foot, const ImpactGeometry& g)
{
    const Palette& p = pal();
    const QRectF bar = g.hit == Hit::Cantilever ? QRectF(foot.x() - 8, foot.y() - 34, 16, 54)
                                                : QRectF(foot.x() - 36, foot.y() - 4, 72, 18);
    painter.setPen(QPen(p.accent, 1.8));
    painter.setBrush(p.surface);
    painter.drawRect(bar);
    painter.setPen(QPen(p.accent, 1.4));
    if (g.depth > 0 && g.height > 0 && g.hit == Hit::Beam) { // away from the striker: hidden behind the bar, dotted
        const double deep = bar.height() * g.depth / g.height, half = g.angle > 0 ? 0.5 * deep + 1 : 2.5;
        QPolygonF notch{QPointF(foot.x() - half, bar.bottom()),
                        QPointF(foot.x() - (g.angle > 0 ? 0 : half), bar.bottom() - deep),
                        QPointF(foot.x() + (g.angle > 0 ? 0 : half), bar.bottom() - deep),
                        QPointF(foot.x() + half, bar.bottom())};
        painter.drawPolyline(notch);
    } else if (g.depth > 0 && g.hit == Hit::Cantilever) {
        const QPointF tip(bar.left() + bar.width() * 0.3, foot.y());
        painter.drawPolyline(QPolygonF{QPointF(bar.left(), foot.y() - 4), tip, QPointF(bar.left(), foot.y() + 4)});
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(p.ink);
    if (g.hit == Hit::Cantilever) {
        painter.drawRect(QRectF(bar.left() - 22, foot.y(), 22, 20));
        painter.drawRect(QRectF(bar.right(), foot.y(), 22, 20));
    } else {
        for (const double side : {-1.0, 1.0})
            painter.drawRect(QRectF(foot.x() + side * 48 - 24, bar.bottom(), 48, 7));
    }
    painter.setPen(p.quiet);
    painter.setFont(wordFont(12));
    const QString words = g.hit == Hit::Beam && g.depth > 0 ? "notch away from the striker"
        : g.hit == Hit::Beam                                ? "struck in the middle"
        : g.hit == Hit::Cantilever                          ? "notch towards the striker, level with the clamp"
                                                            : "pulled by the hammer";
    painter.drawText(QRectF(foot.x() - 180, bar.bottom() + 12, 360, 18), Qt::AlignHCenter | Qt::AlignVCenter, words);
}

/// The hammer where it is, its lock, and the guard on both sides of the swing.
void paintLive(QPainter& painter, const PendulumStatus& live, const QRectF& circle, const auto& at, double arm)
{
    const Palette& p = pal();
    painter.setBrush(Qt::NoBrush);
    painter.setPen(live.guard ? QPen(p.ink, 2.5) : QPen(p.stop, 1.5, Qt::DashLine));
    for (const double x : {circle.left() - 24, circle.right() + 24})
        painter.drawLine(QPointF(x, circle.top()), QPointF(x, circle.bottom() + 16));
    painter.setPen(QPen(p.ink, 2));
    painter.drawLine(at(0, 0), at(live.angle, arm - 20));
    painter.setBrush(p.accentTint);
    painter.drawEllipse(at(live.angle, arm), 20, 20);
    if (live.hammer != PendulumStatus::Hammer::Raised)
        return;
    painter.setPen(Qt::NoPen);
    painter.setBrush(live.locked ? p.ink : p.stop);
    painter.drawEllipse(at(live.angle, arm), 5, 5);
}

} // namespace

void drawPendulum(QPainter& painter, const QRectF& room, const StrikeDesk& desk, std::optional<double> rise,
                  const PendulumStatus* live)
{
    if (!desk.geometry)
        return;
    const Palette& p = pal();
    painter.setRenderHint(QPainter::Antialiasing);
    const double release = desk.release.value_or(usualRelease);
    const double above = std::max(0.0, -std::cos(release)); // of the arm, over the axis
    const double arm = std::min((room.height() - 64) / (1 + above + 0.15), (room.width() - 60) / 2.1);
    const QPointF axis(room.center().x(), room.top() + 22 + arm * above + 4);
    const auto at = [&](double angle, double length) {
        return axis + QPointF(std::sin(angle), std::cos(angle)) * length;
    };
    const QRectF circle(axis.x() - arm, axis.y() - arm, 2 * arm, 2 * arm);
    const auto degrees = [](double a) { return a * 180 / std::numbers::pi; };
    // Qt counts from three o'clock, against the clock; we from six o'clock.
    painter.setPen(QPen(p.hair, 1.4, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawArc(circle, static_cast<int>(16 * (270 - degrees(release))), static_cast<int>(16 * degrees(release)));
    painter.setPen(QPen(p.quiet, 1.6, live ? Qt::DotLine : Qt::SolidLine));
    painter.drawLine(axis, at(-release, arm - 20));
    painter.setBrush(p.rail);
    painter.drawEllipse(at(-release, arm), 20, 20);
    if (live)
        paintLive(painter, *live, circle, at, arm);
    if (rise) {
        painter.setPen(QPen(p.ink, 1.6));
        painter.setBrush(Qt::NoBrush);
        painter.drawArc(circle, 16 * 270, static_cast<int>(16 * degrees(*rise)));
        painter.drawLine(axis, at(*rise, arm - 20));
        painter.setBrush(p.surface);
        painter.drawEllipse(at(*rise, arm), 20, 20);
        painter.setFont(wordFont(12));
        const QString words = QString("rose to %1°").arg(degrees(*rise), 0, 'f', 1);
        const double wide = QFontMetricsF(painter.font()).horizontalAdvance(words);
        const QPointF end = at(*rise, arm);
        const bool fits = end.y() - 42 > room.top(); // else beside it
        painter.drawText(fits ? QPointF(std::min(end.x() - wide / 2, room.right() - wide), end.y() - 30)
                              : QPointF(std::min(end.x() + 28, room.right() - wide), end.y() + 4),
                         words);
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(p.ink);
    painter.drawEllipse(axis, 6, 6);
    paintPiece(painter, at(0, arm + 4), *desk.geometry);
}

} // namespace fortitor
