// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/strike/look_row.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "draw/note_drawing.h"

#include <QKeyEvent>
#include <QPainter>

namespace fortitor {

LookRow::LookRow(const NoteSpec& note, QWidget* parent) : QWidget(parent), note_(note)
{
    setObjectName("look-" + q(note.key));
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(58);
    setToolTip(q(note.help));
    setAccessibleName(q(note.label));
}

void LookRow::setCurrent(const std::string& choice)
{
    current_ = choice;
    update();
}

QRectF LookRow::boxOf(size_t i) const
{
    const double gap = 6;
    const auto n = static_cast<double>(note_.choices.size());
    const double wide = std::min(92.0, (width() - gap * (n - 1)) / n);
    return {static_cast<double>(i) * (wide + gap) + 1, 1, wide - 2, height() - 2.0};
}

void LookRow::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    for (size_t i = 0; i < note_.choices.size(); ++i) {
        const QRectF box = boxOf(i);
        const bool chosen = note_.choices[i] == current_;
        painter.setPen(QPen(chosen ? p.accent : hasFocus() ? p.quiet : p.hair, chosen ? 2 : 1));
        painter.setBrush(p.surface);
        painter.drawRect(box);
        paintNote(painter, p, note_, note_.choices[i], QRectF(box.center().x() - 16, box.top() + 3, 32, 32));
        painter.setFont(wordFont(11));
        painter.setPen(chosen ? p.accentText : p.ink);
        painter.drawText(box.adjusted(2, 36, -2, -2), Qt::AlignCenter, q(note_.choices[i]));
        painter.setFont(figureFont(10));
        painter.setPen(p.quiet);
        painter.drawText(box.adjusted(4, 3, 0, 0), Qt::AlignLeft | Qt::AlignTop, QString::number(i + 1));
    }
}

void LookRow::pick(size_t i)
{
    if (i >= note_.choices.size())
        return;
    emit picked(q(note_.choices[i]));
    emit goOn();
}

void LookRow::mousePressEvent(QMouseEvent* event)
{
    for (size_t i = 0; i < note_.choices.size(); ++i)
        if (boxOf(i).contains(event->position()))
            return pick(i);
}

void LookRow::keyPressEvent(QKeyEvent* event)
{
    if (event->key() >= Qt::Key_1 && event->key() <= Qt::Key_9)
        return pick(static_cast<size_t>(event->key() - Qt::Key_1));
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        return emit goOn();
    if (event->key() == Qt::Key_Backspace || event->key() == Qt::Key_Delete)
        return emit picked({});
    QWidget::keyPressEvent(event);
}

void LookRow::focusInEvent(QFocusEvent* event)
{
    QWidget::focusInEvent(event);
    update();
}

void LookRow::focusOutEvent(QFocusEvent* event)
{
    QWidget::focusOutEvent(event);
    update();
}

} // namespace fortitor
