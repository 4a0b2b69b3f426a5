// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/rail.h"

#include "app/theme/theme.h"
#include "draw/specimen_drawing.h"

#include <QMouseEvent>
#include <QPainter>

namespace fortitor {

Rail::Rail(QStringList places, QWidget* parent)
    : QWidget(parent), places_(std::move(places)), counts_(places_.size(), 0)
{
    setFixedWidth(72);
    setMouseTracking(true);
    setObjectName("rail");
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void Rail::setCurrent(int index)
{
    current_ = index;
    update();
}

void Rail::setCount(int index, int count)
{
    counts_[index] = count;
    update();
}

QRect Rail::cell(int index) const
{
    return {6, 58 + index * 60, width() - 12, 54};
}

QRect Rail::menuCell() const
{
    return {6, height() - 46, width() - 12, 40};
}

void Rail::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), p.rail);
    painter.fillRect(QRect(width() - 1, 0, 1, height()), p.hair);
    painter.setPen(QPen(p.ink, 1.8));
    painter.setBrush(p.surface);
    painter.drawPath(silhouette("waisted", "round", QRectF(28, 11, 16, 28)));
    painter.setPen(QPen(p.accent, 2.4, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(QPointF(36, 18), QPointF(36, 32));
    for (int i = 0; i < places_.size(); ++i) {
        const QRect box = cell(i);
        const bool here = i == current_;
        if (here || i == hovered_) {
            painter.setPen(QPen(here ? p.hair : Qt::transparent, 1));
            painter.setBrush(here ? p.surface : p.hairSoft);
            painter.drawRoundedRect(QRectF(box).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
        }
        painter.save();
        painter.translate(box.center().x() - 9.5, box.top() + 9);
        painter.setPen(QPen(here ? p.ink : p.quiet, 1.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(railIcon(places_[i]));
        painter.restore();
        painter.setFont(wordFont(11, here ? QFont::Medium : QFont::Normal));
        painter.setPen(here ? p.ink : p.quiet);
        painter.drawText(box.adjusted(-6, 34, 6, 0), Qt::AlignHCenter | Qt::AlignTop, places_[i]);
        if (counts_[i] > 0) {
            painter.setBrush(p.accentText);
            painter.setPen(Qt::NoPen);
            const QRectF dot(box.right() - 18, box.top() + 4, 15, 15);
            painter.drawEllipse(dot);
            painter.setPen(p.dark ? p.paper : QColor(Qt::white));
            painter.setFont(wordFont(9.5, QFont::DemiBold));
            painter.drawText(dot, Qt::AlignCenter, counts_[i] > 9 ? "9+" : QString::number(counts_[i]));
        }
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(hovered_ == 100 ? p.ink : p.quiet);
    for (int k = -1; k <= 1; ++k)
        painter.drawEllipse(QPointF(menuCell().center()) + QPointF(k * 7, 0), 2, 2);
}

void Rail::mousePressEvent(QMouseEvent* event)
{
    if (menuCell().contains(event->pos()))
        emit menuAsked(mapToGlobal(menuCell().topRight()));
    for (int i = 0; i < places_.size(); ++i)
        if (cell(i).contains(event->pos()))
            emit chosen(i);
}

void Rail::mouseMoveEvent(QMouseEvent* event)
{
    int over = menuCell().contains(event->pos()) ? 100 : -1;
    for (int i = 0; i < places_.size(); ++i)
        if (cell(i).contains(event->pos()))
            over = i;
    setToolTip(over == 100     ? "Menu (F10)"
                   : over >= 0 ? places_[over] + QString(" (Ctrl+%1)").arg(over + 1)
                               : QString());
    if (over != hovered_) {
        hovered_ = over;
        update();
    }
}

void Rail::leaveEvent(QEvent*)
{
    hovered_ = -1;
    update();
}

} // namespace fortitor
