// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/specimen_drawing.h"

#include <QFontMetricsF>

#include <algorithm>
#include <cstdlib>

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

QPainterPath boxPath(const QRectF& box, double round = 0)
{
    QPainterPath path;
    path.addRoundedRect(box, round, round);
    return path;
}

/// A wedge whose edge carries from below.
QPainterPath support(double x, double top, double half, double high)
{
    QPainterPath path(QPointF(x, top));
    path.lineTo(x + half, top + high);
    path.lineTo(x - half, top + high);
    path.closeSubpath();
    return path;
}

/// Forms without heads: what stands in place of them is drawn darker.
void layOutForm(SpecimenDrawing& d, const std::string& form, const QRectF& room)
{
    if (form == "strip") {
        const double end = (room.width() - d.bar.width()) / 2;
        d.outline = boxPath(QRectF(room.left(), d.bar.top(), room.width(), d.bar.height()));
        for (double x : {room.left(), room.right() - 0.8 * end})
            d.darker.push_back(boxPath(QRectF(x, d.bar.top() - 6, 0.8 * end, d.bar.height() + 12)));
    } else if (form == "beam") {
        // On its supports; the span is what lies between them.
        d.outline = boxPath(QRectF(d.bar.left() - 34, d.bar.top(), d.bar.width() + 68, d.bar.height()));
        for (double x : {d.bar.left(), d.bar.right()})
            d.darker.push_back(support(x, d.bar.bottom(), 15, 24));
    } else if (form == "shaft") {
        // Between the jaws of two chucks.
        d.clear = 24;
        d.outline = boxPath(QRectF(d.bar.left() - 46, d.bar.top(), d.bar.width() + 92, d.bar.height()));
        for (const double x : {d.bar.left() - 58, d.bar.right()})
            for (const double y : {d.bar.top() - 20, d.bar.bottom()})
                d.darker.push_back(boxPath(QRectF(x, y, 58, 20), 2));
    } else if (form == "sandwich") {
        const double h = room.height();
        d.bar = QRectF(d.bar.left(), d.axis - 0.26 * h, d.bar.width(), 0.52 * h);
        d.outline = boxPath(QRectF(d.bar.left(), room.top() - 10, d.bar.width(), h + 20));
        d.darker.push_back(boxPath(QRectF(d.bar.left(), room.top() - 10, d.bar.width(), d.bar.top() - room.top() + 4)));
        d.darker.push_back(boxPath(QRectF(d.bar.left(), d.bar.bottom() + 6, d.bar.width(), room.bottom() + 10 - d.bar.bottom() - 6)));
        for (double y : {d.bar.top(), d.bar.bottom() - 6})
            d.darker.push_back(boxPath(QRectF(d.bar.left(), y, d.bar.width(), 6)));
    } else {
        // Under compression it stands between platens; it is drawn lying, they left and right of it.
        d.outline = boxPath(d.bar, form == "shell" ? 12 : 0);
        for (double x : {d.bar.left() - 22, d.bar.right() + 6})
            d.darker.push_back(boxPath(QRectF(x, d.axis - room.height() * 0.5, 16, room.height())));
        if (form == "shell")
            for (double x : {d.bar.left() + 12, d.bar.right() - 18})
                d.darker.push_back(boxPath(QRectF(x, d.bar.top() - 3, 6, d.bar.height() + 6), 2));
    }
}

} // namespace

SpecimenDrawing layOutBar(const QRectF& room, const std::string& form, const std::string& shape, double parallelLength, double gaugeLength, double across)
{
    SpecimenDrawing d;
    d.axis = room.center().y();
    const double parallel = parallelLength > 0 ? parallelLength : gaugeLength > 0 ? 1.2 * gaugeLength : 60;
    const double gauge = gaugeLength > 0 ? std::min(gaugeLength, parallel) : parallel / 1.2;
    const double size = across > 0 ? across : 10;
    const double barWidth = room.width() * 0.5;
    const double scale = barWidth / parallel;
    const double barHalf = std::clamp(size * scale / 2, form == "beam" ? 5.0 : 12.0, room.height() * 0.32);
    const double left = room.center().x() - barWidth / 2;
    d.bar = QRectF(left, d.axis - barHalf, barWidth, 2 * barHalf);
    if (form == "waisted")
        d.outline = barPath(room, d.bar.left(), d.bar.right(), barHalf, shape != "rectangular");
    else
        layOutForm(d, form, room);
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
    painter.drawText(QPointF((d.markLeft + d.markRight - metrics.horizontalAdvance(gaugeWords)) / 2, y1 - 6), gaugeWords);
    painter.setPen(palette.quiet);
    painter.drawText(QPointF((d.bar.left() + d.bar.right() - metrics.horizontalAdvance(parallelWords)) / 2, y2 + 18), parallelWords);
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

void paintWood(QPainter& painter, const Palette& palette, const SpecimenDrawing& d, const std::string& rings, const std::string& grain, const std::string& knots)
{
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
        const double degrees = rings == "upright" ? 90 : rings == "at 45°" ? 45 : 0;
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
    const double w = room.width();
    const double h = room.height();
    QPainterPath path;
    const auto box = [&](double left, double top, double wide, double high) { path.addRect(QRectF(room.left() + left * w, room.top() + top * h, wide * w, high * h)); };
    if (form == "strip") {
        box(0.28, 0, 0.44, 1);
        box(0.18, 0, 0.64, 0.2);
        box(0.18, 0.8, 0.64, 0.2);
        return path;
    }
    if (form == "beam") {
        box(-0.3, 0.38, 1.6, 0.14);
        for (double x : {-0.12, 1.12})
            path.addPath(support(room.left() + x * w, room.top() + 0.54 * h, 0.2 * w, 0.16 * h));
        return path;
    }
    if (form == "shaft") {
        box(0.36, 0.1, 0.28, 0.8);
        for (double y : {0.0, 0.8}) {
            box(0.1, y, 0.22, 0.2);
            box(0.68, y, 0.22, 0.2);
        }
        return path;
    }
    if (form == "sandwich") {
        box(0, 0, 1, 0.26);
        box(0, 0.3, 1, 0.08);
        box(0.08, 0.38, 0.84, 0.24);
        box(0, 0.62, 1, 0.08);
        box(0, 0.74, 1, 0.26);
        return path;
    }
    if (form == "column" || form == "shell") {
        box(-0.2, 0, 1.4, 0.08);
        box(-0.2, 0.92, 1.4, 0.08);
        if (form == "shell")
            path.addRoundedRect(QRectF(room.left(), room.top() + 0.12 * h, w, 0.76 * h), 0.2 * w, 0.2 * w);
        else
            box(0.15, 0.12, 0.7, 0.76);
        return path;
    }
    // Standing upright: the same outline, turned.
    const QRectF lying(0, 0, room.height(), room.width());
    const double barHalf = room.width() * 0.2;
    path = barPath(lying, lying.width() * 0.36, lying.width() * 0.64, barHalf, shape != "rectangular");
    QTransform turn;
    turn.translate(room.left(), room.bottom());
    turn.rotate(-90);
    return turn.map(path);
}

} // namespace fortitor
