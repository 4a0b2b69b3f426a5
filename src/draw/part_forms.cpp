// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/part_forms.h"

#include <QPainterPathStroker>
#include <QTransform>

#include <algorithm>

namespace fortitor {
namespace {

/// A part in a lying box: its outline with its openings, and where its sizes are taken.
struct DrawnPart {
    QPainterPath outline{};
    QRectF opening{}; ///< the eye that a pin goes through
    QRectF pin{};
    QPointF bowFrom{}, bowTo{}; ///< across the material that is bent
};

/// A rod bent along a line.
QPainterPath rod(const QPainterPath& line, double thick)
{
    QPainterPathStroker stroker;
    stroker.setWidth(thick);
    stroker.setCapStyle(Qt::FlatCap);
    stroker.setJoinStyle(Qt::RoundJoin);
    QPainterPath path = stroker.createStroke(line).simplified();
    path.setFillRule(Qt::OddEvenFill);
    return path;
}

QRectF pinIn(const QRectF& opening, double share)
{
    const double size = share * opening.height();
    return {opening.left(), opening.center().y() - size / 2, size, size};
}

DrawnPart eyeIn(const QRectF& box)
{
    DrawnPart p;
    const double h = box.height(), thick = 0.2 * h;
    const QRectF ring(box.left(), box.top(), h, h);
    p.opening = ring.adjusted(thick, thick, -thick, -thick);
    QPainterPath outer;
    outer.addEllipse(ring);
    QPainterPath shank;
    const double y = box.center().y();
    shank.addRect(QRectF(ring.right() - 0.5 * thick, y - 0.16 * h, box.right() - ring.right() + 0.5 * thick, 0.32 * h));
    shank.addRect(QRectF(ring.right() + 0.1 * h, y - 0.32 * h, 0.13 * h, 0.64 * h)); // collar
    p.outline = outer.united(shank);
    QPainterPath hole;
    hole.addEllipse(p.opening);
    p.outline = p.outline.subtracted(hole);
    p.pin = pinIn(p.opening, 0.5);
    p.bowFrom = {ring.center().x(), ring.top()};
    p.bowTo = {ring.center().x(), ring.top() + thick};
    return p;
}

DrawnPart hookIn(const QRectF& box)
{
    DrawnPart p;
    const double h = box.height(), thick = 0.22 * h;
    const QRectF bend(box.left() + thick / 2, box.top() + thick / 2, h - thick, h - thick);
    QPainterPath line(QPointF(box.right(), box.center().y()));
    line.lineTo(bend.right() + 0.25 * h, box.center().y());
    line.cubicTo(bend.right() + 0.1 * h, box.center().y(), bend.right(), bend.top(), bend.center().x(), bend.top());
    line.arcTo(bend, 90, 205);
    p.outline = rod(line, thick);
    p.opening = bend.adjusted(thick / 2, thick / 2, -thick / 2, -thick / 2);
    p.pin = pinIn(p.opening, 0.5);
    p.bowFrom = {bend.left() - thick / 2, bend.center().y()};
    p.bowTo = {bend.left() + thick / 2, bend.center().y()};
    return p;
}

DrawnPart linkIn(const QRectF& box)
{
    DrawnPart p;
    const double thick = 0.22 * box.height();
    const double half = box.height() / 2;
    QPainterPath outer, inner;
    outer.addRoundedRect(box, half, half);
    p.opening = box.adjusted(thick, thick, -thick, -thick);
    inner.addRoundedRect(p.opening, half - thick, half - thick);
    p.outline = outer.subtracted(inner);
    p.pin = pinIn(p.opening, 0.55);
    p.bowFrom = {box.center().x(), box.top()};
    p.bowTo = {box.center().x(), box.top() + thick};
    return p;
}

DrawnPart shackleIn(const QRectF& box)
{
    DrawnPart p;
    const double h = box.height(), thick = 0.19 * h;
    const QRectF bend(box.left() + thick / 2, box.top() + thick / 2, h - thick, h - thick);
    QPainterPath line(QPointF(box.right() - 0.12 * h, bend.top()));
    line.lineTo(bend.center().x(), bend.top());
    line.arcTo(bend, 90, 180);
    line.lineTo(box.right() - 0.12 * h, bend.bottom());
    p.outline = rod(line, thick);
    const double x = box.right() - 0.26 * h;
    QPainterPath bolt;
    bolt.addRect(QRectF(x, box.top() - 0.1 * h, 0.16 * h, 1.2 * h));
    bolt.addRect(QRectF(x - 0.06 * h, box.top() - 0.2 * h, 0.28 * h, 0.12 * h));
    p.outline = p.outline.united(bolt);
    p.pin = QRectF(x, box.center().y() - 0.08 * h, 0.16 * h, 0.16 * h);
    p.opening = QRectF(bend.left() + thick / 2, bend.top() + thick / 2, x - bend.left() - thick / 2, h - 2 * thick);
    p.bowFrom = {bend.left() - thick / 2, bend.center().y()};
    p.bowTo = {bend.left() + thick / 2, bend.center().y()};
    return p;
}

DrawnPart strapIn(const QRectF& box)
{
    DrawnPart p;
    const double h = 0.7 * box.height(), thick = 0.09 * box.height();
    const QRectF loop(box.left(), box.center().y() - h / 2, box.width(), h);
    QPainterPath outer, inner, seam;
    outer.addRoundedRect(loop, h / 2, h / 2);
    p.opening = loop.adjusted(thick, thick, -thick, -thick);
    inner.addRoundedRect(p.opening, h / 2 - thick, h / 2 - thick);
    p.outline = outer.subtracted(inner);
    seam.addRect(QRectF(loop.center().x() - 0.5 * h, loop.top() - thick, h, 2 * thick)); // sewn over
    p.outline = p.outline.united(seam);
    p.pin = pinIn(p.opening, 0.6);
    p.bowFrom = {loop.left() + 0.3 * loop.width(), loop.top()};
    p.bowTo = {loop.left() + 0.3 * loop.width(), loop.top() + thick};
    return p;
}

DrawnPart chainIn(const QRectF& box)
{
    DrawnPart p;
    const double h = 0.6 * box.height(), thick = 0.2 * h, long_ = 0.42 * box.width();
    const double step = (box.width() - long_) / 2;
    const QRectF first(box.left(), box.center().y() - h / 2, long_, h);
    p = linkIn(first);
    const DrawnPart last = linkIn(first.translated(2 * step, 0));
    QPainterPath edge; // the link between, seen from its edge
    edge.addRoundedRect(QRectF(box.left() + step, box.center().y() - thick / 2, long_, thick), thick / 2, thick / 2);
    p.outline = p.outline.united(last.outline).united(edge);
    return p;
}

using PartIn = DrawnPart (*)(const QRectF&);

void layOut(SpecimenDrawing& d, const QRectF& room, PartIn partIn, double length)
{
    const double high = 0.92 * room.height();
    const double wide = std::min(length * high, 0.6 * room.width());
    const QRectF box(room.center().x() - wide / 2, d.axis - high / 2, wide, high);
    const DrawnPart part = partIn(box);
    d.outline = part.outline;
    d.bar = box;
    QPainterPath pin;
    pin.addEllipse(part.pin);
    d.darker.push_back(pin);
    d.places.clear();
    d.pull = true;
    const QRectF& eye = part.opening;
    const double left = box.left() - 34, below = box.bottom() + 16;
    d.lengths.push_back({{eye.left(), below}, {eye.right(), below}, "eye, along", "along"});
    d.lengths.push_back({{left, eye.top()}, {left, eye.bottom()}, "across", "across", true});
    d.lengths.push_back({part.bowFrom, part.bowTo, "bow", "bow", part.bowFrom.x() < box.left() + 4});
    d.lengths.push_back({part.pin.topLeft() + QPointF(0, part.pin.height() / 2),
                         part.pin.topRight() + QPointF(0, part.pin.height() / 2), "pin", "pin"});
}

QPainterPath upright(const QRectF& room, PartIn partIn, double length)
{
    const double wide = std::min(room.height(), length * 1.15 * room.width());
    const double high = wide / length;
    const QRectF lying(0, 0, wide, high);
    QTransform turn;
    turn.translate(room.center().x() + high / 2, room.center().y() - wide / 2);
    turn.rotate(90);
    QPainterPath path = turn.map(partIn(lying).outline);
    path.setFillRule(Qt::OddEvenFill);
    return path;
}

constexpr double eyeLong = 1.9, hookLong = 2, linkLong = 2, shackleLong = 1.35, strapLong = 4.2, chainLong = 3.6;

} // namespace

void layOutEye(SpecimenDrawing& d, const QRectF& room, const std::string&)
{
    layOut(d, room, eyeIn, eyeLong);
}

void layOutHook(SpecimenDrawing& d, const QRectF& room, const std::string&)
{
    layOut(d, room, hookIn, hookLong);
}

void layOutLink(SpecimenDrawing& d, const QRectF& room, const std::string&)
{
    layOut(d, room, linkIn, linkLong);
}

void layOutShackle(SpecimenDrawing& d, const QRectF& room, const std::string&)
{
    layOut(d, room, shackleIn, shackleLong);
}

void layOutStrap(SpecimenDrawing& d, const QRectF& room, const std::string&)
{
    layOut(d, room, strapIn, strapLong);
}

void layOutChain(SpecimenDrawing& d, const QRectF& room, const std::string&)
{
    layOut(d, room, chainIn, chainLong);
}

QPainterPath uprightEye(const QRectF& room, const std::string&)
{
    return upright(room, eyeIn, eyeLong);
}

QPainterPath uprightHook(const QRectF& room, const std::string&)
{
    return upright(room, hookIn, hookLong);
}

QPainterPath uprightLink(const QRectF& room, const std::string&)
{
    return upright(room, linkIn, linkLong);
}

QPainterPath uprightShackle(const QRectF& room, const std::string&)
{
    return upright(room, shackleIn, shackleLong);
}

QPainterPath uprightStrap(const QRectF& room, const std::string&)
{
    return upright(room, strapIn, 2.4);
}

QPainterPath uprightChain(const QRectF& room, const std::string&)
{
    return upright(room, chainIn, 2.6);
}

} // namespace fortitor
