// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/indent/piece_map.h"

#include "app/bench/indent/length_text.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "units/quantity.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr double around = 14; // px round the piece
constexpr double scaleRoom = 30; // px below it for the bar
constexpr double rootRunsOut = 0.14; // of a tooth's width, where it widens into its gear
constexpr double leastDrawn = 9; // px an indent is drawn across at least

} // namespace

PieceMap::PieceMap(QWidget* parent) : QWidget(parent)
{
    setObjectName("pieceMap");
    setMouseTracking(true);
    setMinimumSize(260, 180);
    setAccessibleName("The piece with its indents");
}

void PieceMap::show(const Desk& desk, std::optional<double> layer)
{
    desk_ = desk;
    layer_ = layer;
    settle();
    update();
}

void PieceMap::setChosen(std::optional<size_t> indent)
{
    chosen_ = indent;
    update();
}

void PieceMap::setPlanning(bool on)
{
    planning_ = on;
    setCursor(on ? Qt::CrossCursor : Qt::ArrowCursor);
}

/// The whole face where it is known; else what stands on it with room about.
QRectF PieceMap::extent() const
{
    const PieceSize& size = desk_->size;
    if (!desk_->traverse) {
        const auto corners = outlineOf(size);
        if (!corners.empty()) {
            const double half = corners[2][0], wide = corners[3][1];
            const double body = size.seen == PieceSize::Seen::Tooth ? 0.3 * half : 0; // of the gear
            const double about = size.mounted ? 0.25 * std::max(half, wide) : 0;
            const double root = body > 0 ? rootRunsOut * 2 * wide : 0;
            return QRectF(-half - body, -wide - root, 2 * half + body, 2 * (wide + root))
                .adjusted(-about, -about, about, about);
        }
        if (size.diameter) {
            const double half = *size.diameter / 2 * (size.mounted ? 1.25 : 1);
            return {-half, -half, 2 * half, 2 * half};
        }
    }
    QRectF all;
    bool any = false;
    const auto take = [&](double x, double y) {
        all = any ? all.united(QRectF(x, y, 1e-9, 1e-9)) : QRectF(x, y, 1e-9, 1e-9);
        any = true;
    };
    for (const PieceIndent& one : desk_->indents)
        if (one.x && one.y)
            take(*one.x, *one.y);
    for (const Spot& place : desk_->places)
        take(place.x, place.y);
    for (const IndentPlace& old : desk_->used)
        take(old.x, old.y);
    if (!any)
        all = QRectF(-5, desk_->traverse ? 0 : -3, 10, 6);
    const double about = std::max({3 * desk_->across, 0.12 * std::max(all.width(), all.height()), 0.05});
    all.adjust(-about, -about, about, about);
    if (desk_->traverse)
        all.setTop(0);
    return all;
}

void PieceMap::settle()
{
    if (!desk_)
        return;
    room_ = extent();
    const double wide = std::max(1.0, width() - 2 * around);
    const double high = std::max(1.0, height() - 2 * around - scaleRoom);
    perMm_ = std::min(wide / room_.width(), high / room_.height());
    if (desk_->traverse) // the surface runs on to both sides
        room_.adjust(-(wide / perMm_ - room_.width()) / 2, 0, (wide / perMm_ - room_.width()) / 2, 0);
    const QPointF centre(width() / 2.0, around + high / 2);
    origin_ = centre - QPointF(room_.center().x() * perMm_, room_.center().y() * perMm_);
}

QPointF PieceMap::spotOf(double x, double y) const
{
    return origin_ + QPointF(x * perMm_, y * perMm_);
}

Spot PieceMap::placeAt(QPointF at) const
{
    const QPointF mm = (at - origin_) / perMm_;
    Spot place{.x = mm.x(), .y = mm.y()};
    if (desk_->traverse)
        place.depth = mm.y();
    return place;
}

/// To scale, with the strip along its edges that no indent may stand in.
void PieceMap::paintOutline(QPainter& painter, const QRectF& face, double band) const
{
    const Palette& p = pal();
    const PieceSize& size = desk_->size;
    const QPen rim(p.ink, 1.4), inside(p.quiet, 1, Qt::DotLine);
    if (size.mounted) { // the resin round it
        painter.setPen(QPen(p.hair, 1));
        painter.setBrush(p.hairSoft);
        painter.drawRoundedRect(face, 12, 12);
    }
    painter.setPen(rim);
    painter.setBrush(p.metal);
    const auto corners = outlineOf(size);
    if (corners.empty()) {
        const double radius = *size.diameter / 2 * perMm_;
        painter.drawEllipse(spotOf(0, 0), radius, radius);
        painter.setPen(inside);
        painter.setBrush(Qt::NoBrush);
        if (band > 0 && band * perMm_ < radius)
            painter.drawEllipse(spotOf(0, 0), radius - band * perMm_, radius - band * perMm_);
        return;
    }
    QPolygonF outline;
    for (const auto& [x, y] : corners)
        outline << spotOf(x, y);
    if (size.seen == PieceSize::Seen::Tooth) {
        // The root runs on into the gear, which is broken off.
        const double back = face.left(), out = rootRunsOut * (outline[3].y() - outline[0].y());
        outline.prepend(QPointF(back, outline[0].y() - out));
        outline << QPointF(back, outline.last().y() + out);
        painter.drawPolygon(outline);
        painter.setPen(p.quiet);
        painter.setFont(wordFont(11));
        painter.drawText(QRectF(back + 4, face.center().y() - 8, 60, 16), Qt::AlignLeft | Qt::AlignVCenter, "root");
        painter.drawText(QRectF(face.right() - 64, face.center().y() - 8, 60, 16), Qt::AlignRight | Qt::AlignVCenter,
                         "tip");
    } else {
        painter.drawPolygon(outline);
    }
    painter.setPen(inside);
    painter.setBrush(Qt::NoBrush);
    if (size.seen == PieceSize::Seen::Side) { // only on its crown does it lie level; lines closer where it falls away
        painter.drawLine(spotOf(corners[0][0], 0), spotOf(corners[1][0], 0));
        painter.setPen(QPen(p.hair, 1));
        for (const double share : {0.62, 0.8, 0.92})
            for (const double side : {-1.0, 1.0})
                painter.drawLine(spotOf(corners[0][0], side * share * corners[3][1]),
                                 spotOf(corners[1][0], side * share * corners[3][1]));
        painter.setPen(inside);
    }
    if (!(band > 0))
        return;
    QPolygonF line;
    for (const auto& [x, y] : insideOutline(size, band))
        line << spotOf(x, y);
    painter.drawPolyline(line);
}

void PieceMap::paintPiece(QPainter& painter) const
{
    const Palette& p = pal();
    painter.setPen(QPen(p.ink, 1.4));
    painter.setBrush(p.metal);
    const QRectF face(spotOf(room_.left(), room_.top()), spotOf(room_.right(), room_.bottom()));
    const PieceSize& size = desk_->size;
    const double band = desk_->across > 0 ? leastFromEdge(desk_->setting, desk_->across) : 0;
    if (desk_->traverse) {
        painter.fillRect(face, p.metal);
        painter.drawLine(face.topLeft(), face.topRight());
        painter.setFont(wordFont(11));
        painter.setPen(p.quiet);
        painter.drawText(face.topLeft() + QPointF(6, 14), "surface");
        const auto line = [&](double depth, const QString& words) {
            const double y = spotOf(0, depth).y();
            if (y > face.bottom())
                return;
            painter.setPen(QPen(p.quiet, 1, Qt::DashLine));
            painter.drawLine(QPointF(face.left(), y), QPointF(face.right(), y));
            painter.setPen(p.quiet);
            painter.drawText(QRectF(face.left(), y - 17, face.width() - 6, 16), Qt::AlignRight | Qt::AlignBottom,
                             words);
        };
        if (layer_)
            line(*layer_, "layer, " + lengthText(*layer_));
    } else if (size.diameter || !outlineOf(size).empty()) {
        paintOutline(painter, face, band);
    } else {
        painter.fillRect(face, p.metal); // its edges are not known
        if (desk_->indents.empty()
            || std::ranges::none_of(desk_->indents, [](const PieceIndent& one) { return one.x.has_value(); })) {
            painter.setPen(p.quiet);
            painter.setFont(wordFont(12));
            painter.drawText(face, Qt::AlignCenter | Qt::TextWordWrap,
                             planning_
                                 ? "The face is not known. Key its length and width, or a diameter,\nor plan places "
                                   "freely on it."
                                 : "No places are planned on this piece.");
        }
    }
}

/// A pyramid leaves a square on its corner, a long one a sliver, a ball and a cone a round one.
void PieceMap::paintIndent(QPainter& painter, QPointF at, double across, const QColor& ink, bool filled) const
{
    using enum HardnessScale::By;
    const double half = std::max(leastDrawn, across * perMm_) / 2;
    painter.setPen(QPen(ink, 1.3));
    painter.setBrush(filled ? QBrush(ink) : QBrush(Qt::NoBrush));
    switch (desk_->setting.scale->by) {
    case Vickers:
        painter.drawPolygon(
            QPolygonF{at + QPointF(0, -half), at + QPointF(half, 0), at + QPointF(0, half), at + QPointF(-half, 0)});
        return;
    case Knoop:
        painter.drawPolygon(QPolygonF{at + QPointF(-half, 0), at + QPointF(0, -half / 3), at + QPointF(half, 0),
                                      at + QPointF(0, half / 3)});
        return;
    case Rockwell:
    case Brinell: break;
    }
    painter.drawEllipse(at, half, half);
}

/// Circles of two indents may touch and no more.
void PieceMap::paintCircle(QPainter& painter, QPointF at, const QColor& ink, bool dashed) const
{
    if (!(desk_->across > 0))
        return;
    const double radius = leastApart(desk_->setting, desk_->across) / 2 * perMm_;
    if (radius < leastDrawn / 2 + 1)
        return;
    painter.setPen(QPen(ink, 1, dashed ? Qt::DashLine : Qt::SolidLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(at, radius, radius);
}

void PieceMap::paintPlanned(QPainter& painter) const
{
    const Palette& p = pal();
    for (size_t i = desk_->indents.size(); i < desk_->places.size(); ++i) {
        const QPointF at = spotOf(desk_->places[i].x, desk_->places[i].y);
        const bool next = i == desk_->indents.size() && !chosen_;
        if (next)
            continue;
        paintCircle(painter, at, p.hair.darker(110), true);
        paintIndent(painter, at, desk_->across, p.quiet, false);
    }
    const auto next = desk_->next();
    if (!next || chosen_)
        return;
    const QPointF at = spotOf(next->x, next->y);
    painter.setPen(QPen(p.accent, 1.8));
    painter.setBrush(Qt::NoBrush);
    const double ring =
        std::max(17.0, desk_->across > 0 ? leastApart(desk_->setting, desk_->across) / 2 * perMm_ : 0.0);
    painter.drawEllipse(at, ring, ring);
    paintIndent(painter, at, desk_->across, p.accent, true);
    painter.setPen(p.accentText);
    painter.setFont(wordFont(12, QFont::DemiBold));
    const QString words = next->depth ? lengthText(*next->depth) + " from the surface"
                                      : QString("next: %1, %2").arg(lengthText(next->x), lengthText(next->y));
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(words);
    if (!next->depth) { // others stand beside it
        const double x = std::clamp(at.x() - wide / 2, around, std::max(around, width() - around - wide));
        painter.drawText(QPointF(x, at.y() - ring - 6 < 14 ? at.y() + ring + 16 : at.y() - ring - 6), words);
        return;
    }
    const bool left = at.x() + ring + 10 + wide > width() - around;
    painter.drawText(QPointF(left ? at.x() - ring - 8 - wide : at.x() + ring + 8, at.y() + 4), words);
}

/// Indents of earlier checks on the same block: pale, and not to be met again.
void PieceMap::paintUsed(QPainter& painter) const
{
    for (const IndentPlace& old : desk_->used) {
        const QPointF at = spotOf(old.x, old.y);
        QColor pale = pal().quiet;
        pale.setAlpha(120);
        paintCircle(painter, at, pal().hair, false);
        paintIndent(painter, at, old.across, pale, true);
    }
}

void PieceMap::paintMade(QPainter& painter) const
{
    const Palette& p = pal();
    for (size_t i = 0; i < desk_->indents.size(); ++i) {
        const PieceIndent& one = desk_->indents[i];
        if (!one.x || !one.y)
            continue;
        const QPointF at = spotOf(*one.x, *one.y);
        const double across = one.reading.across > 0 ? one.reading.across : desk_->across;
        const bool marked =
            std::ranges::any_of(one.reading.remarks, [](const Remark& r) { return r.severity != Severity::Note; });
        paintCircle(painter, at, p.hair, false);
        if (chosen_ == i) {
            painter.setPen(QPen(p.accent, 1.8));
            painter.setBrush(Qt::NoBrush);
            painter.drawEllipse(at, 15, 15);
        }
        paintIndent(painter, at, across, marked ? p.accentText : p.ink, one.counts());
        if (!one.counts()) { // crossed out: it was made, and does not count
            painter.setPen(QPen(p.ink, 1.2));
            painter.drawLine(at + QPointF(-7, -7), at + QPointF(7, 7));
        }
    }
}

void PieceMap::paintScale(QPainter& painter) const
{
    const Palette& p = pal();
    const double bar = roundLength(110 / perMm_);
    const double y = height() - 20;
    const double x = around;
    painter.setPen(QPen(p.ink, 2));
    painter.drawLine(QPointF(x, y), QPointF(x + bar * perMm_, y));
    painter.setPen(p.quiet);
    painter.setFont(wordFont(11));
    painter.drawText(QPointF(x, y + 15), lengthText(bar));
    if (!(desk_->across > 0))
        return;
    const QString words = QString("circles touch at %1, %2 sizes of an indent%3")
                              .arg(lengthText(leastApart(desk_->setting, desk_->across)))
                              .arg(desk_->setting.apart, 0, 'g', 2)
                              .arg(desk_->setting.shopRule ? " (shop rule)" : "");
    painter.drawText(QRectF(x + bar * perMm_ + 12, y + 3, width() - 2 * around - bar * perMm_ - 12, 16),
                     Qt::AlignRight | Qt::AlignVCenter, words);
}

void PieceMap::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), pal().surface);
    if (!desk_)
        return;
    painter.setRenderHint(QPainter::Antialiasing);
    settle();
    paintPiece(painter);
    paintUsed(painter);
    paintPlanned(painter);
    paintMade(painter);
    if (planning_ && hand_ && !madeAt(*hand_) && !plannedAt(*hand_)) {
        const bool refused = !refusedAt(*desk_, placeAt(*hand_)).empty();
        paintCircle(painter, *hand_, refused ? pal().stop : pal().accent, true);
        paintIndent(painter, *hand_, desk_->across, refused ? pal().stop : pal().accent, false);
    }
    paintScale(painter);
}

std::optional<size_t> PieceMap::madeAt(QPointF at) const
{
    for (size_t i = 0; desk_ && i < desk_->indents.size(); ++i)
        if (const PieceIndent& one = desk_->indents[i];
            one.x && one.y && QLineF(at, spotOf(*one.x, *one.y)).length() < 9)
            return i;
    return std::nullopt;
}

std::optional<size_t> PieceMap::plannedAt(QPointF at) const
{
    for (size_t i = desk_ ? desk_->indents.size() : 0; desk_ && i < desk_->places.size(); ++i)
        if (QLineF(at, spotOf(desk_->places[i].x, desk_->places[i].y)).length() < 9)
            return i;
    return std::nullopt;
}

void PieceMap::mousePressEvent(QMouseEvent* event)
{
    if (!desk_ || event->button() != Qt::LeftButton)
        return;
    if (const auto made = madeAt(event->position()))
        return emit indentChosen(*made);
    if (const auto planned = plannedAt(event->position()))
        return emit plannedChosen(*planned);
    if (!planning_)
        return;
    const Spot place = placeAt(event->position());
    emit placeAsked(place.x, place.y);
}

void PieceMap::mouseMoveEvent(QMouseEvent* event)
{
    hand_ = event->position();
    if (planning_)
        update();
}

void PieceMap::leaveEvent(QEvent*)
{
    hand_.reset();
    update();
}

bool PieceMap::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip || !desk_)
        return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    QString words;
    if (const auto made = madeAt(help->pos())) {
        const PieceIndent& one = desk_->indents[*made];
        words = QString("indent %1: %2")
                    .arg(one.number)
                    .arg(one.reading.notation.empty() ? QString("no number") : q(one.reading.notation));
        for (const Remark& r : one.reading.remarks)
            words += "\n" + q(r.text);
    } else if (planning_) {
        words = q(refusedAt(*desk_, placeAt(help->pos())));
    }
    words.isEmpty() ? QToolTip::hideText() : QToolTip::showText(help->globalPos(), words, this);
    return true;
}

} // namespace fortitor
