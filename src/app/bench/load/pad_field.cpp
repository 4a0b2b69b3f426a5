// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/load/pad_field.h"

#include "app/theme/theme.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <QPainter>
#include <QStyle>

namespace fortitor {

PadField::PadField(const QString& name, QWidget* parent) : QLineEdit(parent)
{
    setObjectName(name);
    setProperty("kind", "figure");
    setFont(figureFont(24));
    setMinimumHeight(50);
    setTextMargins(0, 0, 54, 0);
    connect(this, &QLineEdit::textEdited, this, [this] { mark(""); });
}

void PadField::mark(const char* state)
{
    bool changed = false;
    for (const char* one : {"queried", "wrong"}) {
        const bool on = QByteArray(one) == state;
        changed = changed || property(one).toBool() != on;
        setProperty(one, on);
    }
    if (!changed)
        return; // styling is too dear for every keystroke
    style()->unpolish(this);
    style()->polish(this);
    setFont(figureFont(24));
}

void PadField::keyPressEvent(QKeyEvent* event)
{
    const bool plain = !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        return emit taken();
    if (event->key() == Qt::Key_Up)
        return emit back();
    if (event->key() == Qt::Key_Down)
        return emit on();
    const bool fresh = text().isEmpty() || selectedText() == text();
    if (plain && fresh && event->key() == Qt::Key_X)
        return emit missed();
    if (plain && fresh && event->key() == Qt::Key_I)
        return emit instruments();
    if (event->matches(QKeySequence::Paste)) {
        const QString clip = QApplication::clipboard()->text();
        if (clip.contains('\n') || clip.contains('\t'))
            return emit pasted(clip);
    }
    if (event->key() == Qt::Key_Escape && !text().isEmpty()) {
        clear();
        mark("");
        return;
    }
    QLineEdit::keyPressEvent(event);
}

void PadField::paintEvent(QPaintEvent* event)
{
    QLineEdit::paintEvent(event);
    if (!scale.unit)
        return;
    QPainter painter(this);
    painter.setPen(pal().quiet);
    painter.setFont(wordFont(14));
    painter.drawText(rect().adjusted(0, 0, -14, 0), Qt::AlignRight | Qt::AlignVCenter,
                     QString::fromUtf8(scale.unit->symbol.data()));
}

} // namespace fortitor
