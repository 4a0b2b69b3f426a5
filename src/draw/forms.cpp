// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/forms.h"

#include "draw/part_forms.h"

#include "methods/common/section.h"

#include <QTransform>

#include <algorithm>
#include <vector>

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

/// Boxes in shares of a room.
struct Boxes {
    const QRectF& room;
    QPainterPath path{};
    void add(double left, double top, double wide, double high)
    {
        path.addRect(QRectF(room.left() + left * room.width(), room.top() + top * room.height(), wide * room.width(),
                            high * room.height()));
    }
};

void layOutWaisted(SpecimenDrawing& d, const QRectF& room, const std::string& shape)
{
    d.outline = barPath(room, d.bar.left(), d.bar.right(), d.bar.height() / 2, !isFlat(shape));
}

/// Standing upright: the same outline, turned.
QPainterPath uprightWaisted(const QRectF& room, const std::string& shape)
{
    const QRectF lying(0, 0, room.height(), room.width());
    const QPainterPath path =
        barPath(lying, lying.width() * 0.36, lying.width() * 0.64, room.width() * 0.2, !isFlat(shape));
    QTransform turn;
    turn.translate(room.left(), room.bottom());
    turn.rotate(-90);
    return turn.map(path);
}

void layOutStrip(SpecimenDrawing& d, const QRectF& room, const std::string&)
{
    const double end = (room.width() - d.bar.width()) / 2;
    d.outline = boxPath(QRectF(room.left(), d.bar.top(), room.width(), d.bar.height()));
    for (const double x : {room.left(), room.right() - 0.8 * end})
        d.darker.push_back(boxPath(QRectF(x, d.bar.top() - 6, 0.8 * end, d.bar.height() + 12)));
}

QPainterPath uprightStrip(const QRectF& room, const std::string&)
{
    Boxes b{room};
    b.add(0.28, 0, 0.44, 1);
    b.add(0.18, 0, 0.64, 0.2);
    b.add(0.18, 0.8, 0.64, 0.2);
    return b.path;
}

/// On its supports; the span is what lies between them.
void layOutBeam(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    d.outline = boxPath(QRectF(d.bar.left() - 34, d.bar.top(), d.bar.width() + 68, d.bar.height()));
    for (const double x : {d.bar.left(), d.bar.right()})
        d.darker.push_back(support(x, d.bar.bottom(), 15, 24));
}

QPainterPath uprightBeam(const QRectF& room, const std::string&)
{
    Boxes b{room};
    b.add(-0.3, 0.38, 1.6, 0.14);
    for (const double x : {-0.12, 1.12})
        b.path.addPath(support(room.left() + x * room.width(), room.top() + 0.54 * room.height(), 0.2 * room.width(),
                               0.16 * room.height()));
    return b.path;
}

/// Between the jaws of two chucks.
void layOutShaft(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    d.clear = 24;
    d.outline = boxPath(QRectF(d.bar.left() - 46, d.bar.top(), d.bar.width() + 92, d.bar.height()));
    for (const double x : {d.bar.left() - 58, d.bar.right()})
        for (const double y : {d.bar.top() - 20, d.bar.bottom()})
            d.darker.push_back(boxPath(QRectF(x, y, 58, 20), 2));
}

QPainterPath uprightShaft(const QRectF& room, const std::string&)
{
    Boxes b{room};
    b.add(0.36, 0.1, 0.28, 0.8);
    for (const double y : {0.0, 0.8}) {
        b.add(0.1, y, 0.22, 0.2);
        b.add(0.68, y, 0.22, 0.2);
    }
    return b.path;
}

void layOutSandwich(SpecimenDrawing& d, const QRectF& room, const std::string&)
{
    const double h = room.height();
    d.bar = QRectF(d.bar.left(), d.axis - 0.26 * h, d.bar.width(), 0.52 * h);
    d.outline = boxPath(QRectF(d.bar.left(), room.top() - 10, d.bar.width(), h + 20));
    d.darker.push_back(boxPath(QRectF(d.bar.left(), room.top() - 10, d.bar.width(), d.bar.top() - room.top() + 4)));
    d.darker.push_back(
        boxPath(QRectF(d.bar.left(), d.bar.bottom() + 6, d.bar.width(), room.bottom() + 10 - d.bar.bottom() - 6)));
    for (const double y : {d.bar.top(), d.bar.bottom() - 6})
        d.darker.push_back(boxPath(QRectF(d.bar.left(), y, d.bar.width(), 6)));
}

QPainterPath uprightSandwich(const QRectF& room, const std::string&)
{
    Boxes b{room};
    b.add(0, 0, 1, 0.26);
    b.add(0, 0.3, 1, 0.08);
    b.add(0.08, 0.38, 0.84, 0.24);
    b.add(0, 0.62, 1, 0.08);
    b.add(0, 0.74, 1, 0.26);
    return b.path;
}

/// Under compression it stands between platens; it is drawn lying, they left and right of it.
void betweenPlatens(SpecimenDrawing& d, const QRectF& room, double round)
{
    d.outline = boxPath(d.bar, round);
    for (const double x : {d.bar.left() - 22, d.bar.right() + 6})
        d.darker.push_back(boxPath(QRectF(x, d.axis - room.height() * 0.5, 16, room.height())));
}

void layOutColumn(SpecimenDrawing& d, const QRectF& room, const std::string&)
{
    betweenPlatens(d, room, 0);
}

QPainterPath uprightColumn(const QRectF& room, const std::string&)
{
    Boxes b{room};
    b.add(-0.2, 0, 1.4, 0.08);
    b.add(-0.2, 0.92, 1.4, 0.08);
    b.add(0.15, 0.12, 0.7, 0.76);
    return b.path;
}

void layOutShell(SpecimenDrawing& d, const QRectF& room, const std::string&)
{
    betweenPlatens(d, room, 12);
    for (const double x : {d.bar.left() + 12, d.bar.right() - 18})
        d.darker.push_back(boxPath(QRectF(x, d.bar.top() - 3, 6, d.bar.height() + 6), 2));
}

QPainterPath uprightShell(const QRectF& room, const std::string&)
{
    Boxes b{room};
    b.add(-0.2, 0, 1.4, 0.08);
    b.add(-0.2, 0.92, 1.4, 0.08);
    b.path.addRoundedRect(QRectF(room.left(), room.top() + 0.12 * room.height(), room.width(), 0.76 * room.height()),
                          0.2 * room.width(), 0.2 * room.width());
    return b.path;
}

/// A piece with indents on its face.
QPainterPath uprightIndented(const QRectF& room, const std::string&)
{
    QPainterPath path;
    path.setFillRule(Qt::OddEvenFill);
    path.addRoundedRect(QRectF(room.left() - 0.3 * room.width(), room.top() + 0.16 * room.height(), 1.6 * room.width(),
                               0.68 * room.height()),
                        2, 2);
    for (const double share : {0.1, 0.5, 0.9}) {
        const QPointF at(room.left() + share * room.width(), room.center().y());
        const double half = 0.14 * room.width();
        path.addPolygon(QPolygonF{at + QPointF(0, -half), at + QPointF(half, 0), at + QPointF(0, half),
                                  at + QPointF(-half, 0), at + QPointF(0, -half)});
    }
    return path;
}

/// How a notch looks: V, U, slot with a hole at its end; none.
enum class Notch { V, U, Hole, None };

/// A bar with a notch in the middle of its upper side, `deep` and at most 2·`half` wide.
QPainterPath notchedPath(const QRectF& bar, Notch notch, double deep, double half)
{
    const double x = bar.center().x(), y = bar.top();
    QPainterPath path(bar.topLeft());
    switch (notch) {
    case Notch::None: break;
    case Notch::V:
        path.lineTo(x - half, y);
        path.lineTo(x, y + deep);
        path.lineTo(x + half, y);
        break;
    case Notch::U:
        path.lineTo(x - half, y);
        path.lineTo(x - half, y + deep - half);
        path.arcTo(QRectF(x - half, y + deep - 2 * half, 2 * half, 2 * half), 180, 180);
        path.lineTo(x + half, y);
        break;
    case Notch::Hole:
        path.lineTo(x - 0.35 * half, y);
        path.lineTo(x - 0.35 * half, y + deep - 1.9 * half);
        path.arcTo(QRectF(x - half, y + deep - 2 * half, 2 * half, 2 * half), 110, 320);
        path.lineTo(x + 0.35 * half, y);
        break;
    }
    path.lineTo(bar.topRight());
    path.lineTo(bar.bottomRight());
    path.lineTo(bar.bottomLeft());
    path.closeSubpath();
    return path;
}

/// The notched bar with the sizes of its section, and that section beside it.
void layOutNotch(SpecimenDrawing& d, Notch notch, double share, bool clamped)
{
    const double deep = share * d.bar.height();
    d.outline =
        notchedPath(d.bar, notch, deep, (notch == Notch::V ? 0.5 : 0.09) * (notch == Notch::V ? deep : d.bar.height()));
    const double x = d.bar.center().x();
    if (clamped) // up to the notch
        for (const double y : {d.bar.top() - 14, d.bar.bottom()})
            d.darker.push_back(boxPath(QRectF(d.bar.left() - 10, y, x - d.bar.left() + 10, 14), 2));
    else
        for (const double left : {d.bar.left() + 0.12 * d.bar.width(), d.bar.right() - 0.12 * d.bar.width() - 26})
            d.darker.push_back(boxPath(QRectF(left, d.bar.bottom() + 2, 26, 14), 2));
    const double root = d.bar.top() + deep;
    d.lengths.push_back(
        {{x, root + 2}, {x, d.bar.bottom() - 2}, notch == Notch::None ? "full height" : "height under the notch"});
    const double wide = 0.9 * d.bar.height();
    d.face = QRectF(d.bar.right() + 44, root, wide, d.bar.bottom() - root);
    d.lengths.push_back({{d.face.left(), d.face.bottom() + 10}, {d.face.right(), d.face.bottom() + 10}, "its width"});
}

void layOutNotched(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    layOutNotch(d, Notch::V, 0.2, false);
}

void layOutDeepU(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    layOutNotch(d, Notch::U, 0.5, false);
}

void layOutShallowU(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    layOutNotch(d, Notch::U, 0.2, false);
}

void layOutHole(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    layOutNotch(d, Notch::Hole, 0.5, false);
}

void layOutPlainBar(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    layOutNotch(d, Notch::None, 0, false);
}

void layOutClamped(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    layOutNotch(d, Notch::V, 0.2, true);
}

/// A small bar between two heads, pulled by the blow; `deep` grooves on both sides.
QPainterPath pulledPath(const QRectF& bar, double deep)
{
    const double neck = 0.28 * bar.height();
    const double left = bar.left() + 0.3 * bar.width(), right = bar.right() - 0.3 * bar.width();
    const double x = bar.center().x(), mid = bar.center().y();
    QPainterPath path(bar.topLeft());
    const auto side = [&](double sign, bool forwards) {
        std::vector<QPointF> points{{left, mid + sign * bar.height() / 2}, {left + 8, mid + sign * neck},
                                    {x - deep, mid + sign * neck},         {x, mid + sign * (neck - deep)},
                                    {x + deep, mid + sign * neck},         {right - 8, mid + sign * neck},
                                    {right, mid + sign * bar.height() / 2}};
        if (!forwards)
            std::ranges::reverse(points);
        for (const QPointF& p : points)
            path.lineTo(p);
    };
    side(-1, true);
    path.lineTo(bar.topRight());
    path.lineTo(bar.bottomRight());
    side(1, false);
    path.lineTo(bar.bottomLeft());
    path.closeSubpath();
    return path;
}

void layOutPulled(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    d.outline = pulledPath(d.bar, 0);
}

void layOutGrooved(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    d.outline = pulledPath(d.bar, 0.12 * d.bar.height());
}

QRectF lyingIn(const QRectF& room)
{
    const double high = 0.36 * room.height();
    return {room.left() - 0.35 * room.width(), room.center().y() - high / 2, 1.7 * room.width(), high};
}

QPainterPath uprightNotched(const QRectF& room, const std::string&)
{
    const QRectF bar = lyingIn(room);
    return notchedPath(bar, Notch::V, 0.4 * bar.height(), 0.25 * bar.height());
}

QPainterPath uprightU(const QRectF& room, const std::string&)
{
    const QRectF bar = lyingIn(room);
    return notchedPath(bar, Notch::U, 0.5 * bar.height(), 0.14 * bar.height());
}

QPainterPath uprightPlainBar(const QRectF& room, const std::string&)
{
    return notchedPath(lyingIn(room), Notch::None, 0, 0);
}

QPainterPath uprightPulled(const QRectF& room, const std::string&)
{
    return pulledPath(lyingIn(room), 0);
}

/// A plate from above, with the place where it is struck.
void layOutPlate(SpecimenDrawing& d, const QRectF&, const std::string&)
{
    d.outline = boxPath(d.bar);
    d.outline.addEllipse(d.bar.center(), 5, 5);
}

QPainterPath uprightPlate(const QRectF& room, const std::string&)
{
    QPainterPath path;
    path.setFillRule(Qt::OddEvenFill);
    path.addRect(QRectF(room.left(), room.top() + 0.04 * room.height(), room.width(), 0.92 * room.height()));
    const double half = 0.16 * room.width();
    path.addEllipse(room.center(), half, 1.3 * half);
    return path;
}

/// No piece: what a gauge saw, a few strokes of it.
QPainterPath uprightSignal(const QRectF& room, const std::string&)
{
    const QRectF box = lyingIn(room).adjusted(0, -0.3 * room.height(), 0, 0.14 * room.height());
    constexpr double heights[] = {0.6, 1, 0.75, 0.9};
    const double wide = box.width() / static_cast<double>(std::size(heights));
    QPainterPath path(box.bottomLeft());
    double x = box.left();
    for (const double height : heights) {
        const double top = box.bottom() - height * box.height();
        path.cubicTo(x + 0.3 * wide, box.bottom(), x + 0.3 * wide, top, x + 0.5 * wide, top);
        path.cubicTo(x + 0.7 * wide, top, x + 0.7 * wide, box.bottom(), x + wide, box.bottom());
        x += wide;
    }
    path.closeSubpath();
    return path;
}

constexpr Form forms[] = {
    {"waisted", 12, layOutWaisted, uprightWaisted},
    {"strip", 12, layOutStrip, uprightStrip},
    {"beam", 5, layOutBeam, uprightBeam},
    {"shaft", 12, layOutShaft, uprightShaft},
    {"sandwich", 12, layOutSandwich, uprightSandwich},
    {"column", 12, layOutColumn, uprightColumn},
    {"shell", 12, layOutShell, uprightShell},
    {"indented", 12, layOutColumn, uprightIndented},
    {"notched", 30, layOutNotched, uprightNotched, false},
    {"notched-deep-u", 30, layOutDeepU, uprightU, false},
    {"notched-u", 30, layOutShallowU, uprightU, false},
    {"notched-hole", 30, layOutHole, uprightU, false},
    {"plain-bar", 30, layOutPlainBar, uprightPlainBar, false},
    {"clamped", 30, layOutClamped, uprightNotched, false},
    {"pulled", 30, layOutPulled, uprightPulled, false},
    {"pulled-grooved", 30, layOutGrooved, uprightPulled, false},
    {"part-eye", 30, layOutEye, uprightEye, false},
    {"part-hook", 30, layOutHook, uprightHook, false},
    {"part-link", 30, layOutLink, uprightLink, false},
    {"part-shackle", 30, layOutShackle, uprightShackle, false},
    {"part-strap", 30, layOutStrap, uprightStrap, false},
    {"part-chain", 30, layOutChain, uprightChain, false},
    {"plate", 60, layOutPlate, uprightPlate, true, 0.55},
    {"signal", 12, layOutColumn, uprightSignal},
};

} // namespace

const Form& formNamed(const std::string& name)
{
    const auto it = std::ranges::find_if(forms, [&](const Form& form) { return name == form.name; });
    return it == std::end(forms) ? forms[0] : *it;
}

} // namespace fortitor
