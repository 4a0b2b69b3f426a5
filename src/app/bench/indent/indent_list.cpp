// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/indent/indent_list.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "units/quantity.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>

namespace fortitor {
namespace {

constexpr int lineHigh = 23;

} // namespace

IndentList::IndentList(QWidget* parent) : QWidget(parent)
{
    setObjectName("indentList");
    setMinimumHeight(2 * lineHigh);
    setAccessibleName("Readings of this piece");
}

void IndentList::show(const Desk& desk, std::vector<QString> texts)
{
    if (desk.indents.size() != indents_.size())
        back_ = 0;
    indents_ = desk.indents;
    texts_ = std::move(texts);
    update();
}

void IndentList::setChosen(std::optional<size_t> indent)
{
    chosen_ = indent;
    update();
}

size_t IndentList::inSight() const
{
    return static_cast<size_t>(std::max(1, height() / lineHigh));
}

size_t IndentList::first() const
{
    const size_t last = indents_.size() - std::min(back_, indents_.size());
    return last - std::min(last, inSight());
}

QPointF IndentList::spotOf(size_t indent) const
{
    return {20, (static_cast<double>(indent) - static_cast<double>(first()) + 0.5) * lineHigh};
}

void IndentList::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    if (indents_.empty()) {
        painter.setPen(p.quiet);
        painter.setFont(wordFont(12));
        painter.drawText(rect(), Qt::AlignTop | Qt::AlignLeft | Qt::TextWordWrap,
                         "None yet. Enter takes the first one.");
        return;
    }
    const QFont figures = figureFont(12);
    for (size_t i = first(); i < std::min(first() + inSight(), indents_.size()); ++i) {
        const PieceIndent& one = indents_[i];
        const int y = static_cast<int>(i - first()) * lineHigh;
        const QRectF row(0, y, width(), lineHigh);
        if (chosen_ == i)
            painter.fillRect(row, p.accentTint);
        painter.setFont(figures);
        painter.setPen(p.quiet);
        painter.drawText(QRectF(4, y, 28, lineHigh), Qt::AlignVCenter | Qt::AlignLeft, QString::number(one.number));
        painter.setPen(one.counts() ? p.ink : p.quiet);
        if (one.fromSurface)
            painter.drawText(QRectF(32, y, 72, lineHigh), Qt::AlignVCenter | Qt::AlignLeft,
                             q(formatFixed(*one.fromSurface, 2)) + " mm");
        const double from = one.fromSurface ? 108 : 32;
        const QString number = !one.value() ? QString("–") : q(one.reading.notation).section(' ', 0, 0);
        painter.drawText(row.adjusted(0, 0, -20, 0), Qt::AlignVCenter | Qt::AlignRight, number);
        const double room = width() - from - 20 - QFontMetricsF(figures).horizontalAdvance(number) - 10;
        painter.drawText(QRectF(from, y, room, lineHigh), Qt::AlignVCenter | Qt::AlignLeft,
                         QFontMetricsF(figures).elidedText(i < texts_.size() ? texts_[i] : QString(), Qt::ElideRight,
                                                           room));
        const bool marked =
            std::ranges::any_of(one.reading.remarks, [](const Remark& r) { return r.severity != Severity::Note; });
        if (marked) { // the same mark as a caution in the margin
            painter.setRenderHint(QPainter::Antialiasing);
            painter.setPen(Qt::NoPen);
            painter.setBrush(p.accent);
            const QPointF at(width() - 9, y + lineHigh / 2.0);
            painter.drawPolygon(QPolygonF{at + QPointF(0, -5), at + QPointF(5, 4), at + QPointF(-5, 4)});
        } else if (!one.counts()) {
            painter.setPen(QPen(p.quiet, 1));
            painter.drawLine(QPointF(30, y + lineHigh / 2.0), QPointF(width() - 20, y + lineHigh / 2.0));
        }
    }
}

void IndentList::mousePressEvent(QMouseEvent* event)
{
    const size_t i = first() + static_cast<size_t>(std::max(0.0, event->position().y())) / lineHigh;
    if (i < indents_.size())
        emit indentChosen(i);
}

void IndentList::wheelEvent(QWheelEvent* event)
{
    const size_t most = indents_.size() - std::min(indents_.size(), inSight());
    if (event->angleDelta().y() > 0)
        back_ = std::min(back_ + 1, most);
    else
        back_ -= std::min<size_t>(back_, 1);
    update();
}

} // namespace fortitor
