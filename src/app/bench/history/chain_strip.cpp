// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/history/chain_strip.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"

#include <QFontMetricsF>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>

namespace fortitor {
namespace {

constexpr double gap = 14, high = 74;

} // namespace

ChainStrip::ChainStrip(QWidget* parent) : QWidget(parent)
{
    setObjectName("chainStrip");
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(128);
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void ChainStrip::show(std::vector<StripBox> boxes)
{
    boxes_ = std::move(boxes);
    chosen_ = boxes_.empty() ? 0 : std::min(chosen_, boxes_.size() - 1);
    update();
}

void ChainStrip::setChosen(size_t box)
{
    chosen_ = box;
    update();
}

QRectF ChainStrip::boxAt(size_t box) const
{
    const auto n = static_cast<double>(std::max<size_t>(1, boxes_.size()));
    const double wide = (width() - 2 - gap * (n - 1)) / n;
    return {1 + static_cast<double>(box) * (wide + gap), 6, wide, high};
}

void ChainStrip::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    painter.setRenderHint(QPainter::Antialiasing);
    for (size_t k = 0; k < boxes_.size(); ++k) {
        const StripBox& box = boxes_[k];
        const QRectF room = boxAt(k);
        const bool here = k == chosen_;
        painter.setBrush(here ? p.accentTint : p.surface);
        painter.setPen(QPen(here ? p.accent : p.hair, here ? 2 : 1.2, box.off ? Qt::DashLine : Qt::SolidLine));
        painter.drawRect(room);
        if (here && hasFocus()) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(p.accent, 1, Qt::DotLine));
            painter.drawRect(room.adjusted(3, 3, -3, -3));
        }
        paintPicture(painter, box, room.adjusted(6, 8, -6, -8));
        if (k + 1 < boxes_.size()) {
            const QPointF tip(room.right() + gap - 3, room.center().y());
            painter.setPen(QPen(p.quiet, 1));
            painter.drawLine(QPointF(room.right() + 3, tip.y()), tip);
            painter.drawLine(tip, tip + QPointF(-4, -3));
            painter.drawLine(tip, tip + QPointF(-4, 3));
        }
        const auto line = [&](double y, const QString& words, const QFont& font, const QColor& ink) {
            painter.setFont(font);
            painter.setPen(ink);
            painter.drawText(QPointF(room.left(), y),
                             QFontMetricsF(font).elidedText(words, Qt::ElideRight, room.width() + gap - 4));
        };
        line(room.bottom() + 16, box.name, wordFont(12, here ? QFont::DemiBold : QFont::Normal),
             box.off ? p.quiet : p.ink);
        line(room.bottom() + 30, box.off ? QString("off") : box.setting, wordFont(11), p.quiet);
        line(room.bottom() + 43, box.found, wordFont(11), p.quiet);
    }
}

void ChainStrip::paintPicture(QPainter& painter, const StripBox& box, const QRectF& room) const
{
    const Palette& p = pal();
    if (!box.bars.empty()) {
        const double most = std::max(1e-300, *std::ranges::max_element(box.bars));
        const double wide = room.width() / static_cast<double>(box.bars.size());
        QPolygonF shape{room.bottomLeft()};
        for (size_t i = 0; i < box.bars.size(); ++i) {
            const double tall = room.height() * box.bars[i] / most;
            shape << QPointF(room.left() + wide * static_cast<double>(i), room.bottom() - tall)
                  << QPointF(room.left() + wide * static_cast<double>(i + 1), room.bottom() - tall);
        }
        shape << room.bottomRight();
        painter.setPen(Qt::NoPen);
        painter.setBrush(p.data[0]);
        painter.drawPolygon(shape);
        return;
    }
    if (box.x.size() < 2)
        return;
    const auto [low, top] = std::ranges::minmax(box.y);
    const double pad = top > low ? 0 : 1;
    const Chart chart(room, box.x.front(), box.x.back(), low - pad, top + pad);
    painter.setBrush(Qt::NoBrush);
    chart.drawCurve(painter, box.x, box.y, QPen(box.off ? p.quiet : p.ink, 1));
}

void ChainStrip::choose(size_t box)
{
    if (box >= boxes_.size() || box == chosen_)
        return;
    chosen_ = box;
    update();
    emit chosenChanged(box);
}

void ChainStrip::mousePressEvent(QMouseEvent* event)
{
    for (size_t k = 0; k < boxes_.size(); ++k)
        if (boxAt(k).adjusted(0, -4, 0, 50).contains(event->position()))
            choose(k);
}

void ChainStrip::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Left && chosen_ > 0)
        choose(chosen_ - 1);
    else if (event->key() == Qt::Key_Right)
        choose(chosen_ + 1);
    else if (event->key() == Qt::Key_Space && chosen_ < boxes_.size() && boxes_[chosen_].canBeOff)
        emit switched(chosen_);
    else
        QWidget::keyPressEvent(event);
}

bool ChainStrip::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip)
        return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    for (size_t k = 0; k < boxes_.size(); ++k)
        if (boxAt(k).adjusted(0, 0, gap, 50).contains(help->pos())) {
            const StripBox& box = boxes_[k];
            QToolTip::showText(help->globalPos(),
                               box.name
                                   + (box.off                     ? ": off"
                                          : box.setting.isEmpty() ? ""
                                                                  : ": " + box.setting)
                                   + (box.found.isEmpty() ? "" : "\n" + box.found)
                                   + (box.canBeOff ? "\nSpace switches it" : ""));
            return true;
        }
    return QWidget::event(event);
}

} // namespace fortitor
