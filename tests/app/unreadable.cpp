// SPDX-License-Identifier: GPL-3.0-or-later
#include "unreadable.h"

#include <QAbstractItemView>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>

namespace fortitor::test {
namespace {

bool stickOut(const QWidget& window, const QWidget& w)
{
    for (const QWidget* up = &w; up; up = up->parentWidget())
        if (qobject_cast<const QAbstractScrollArea*>(up) || up->isWindow() != (up == &window))
            return false;
    return !w.isWindow() && !window.rect().contains(QRect(w.mapTo(&window, QPoint()), w.size()));
}

} // namespace

QStringList unreadable(const QWidget& window)
{
    QStringList found;
    const auto cut = [&](const QWidget* w, const QString& text) {
        if (w->isVisible() && !text.isEmpty() && w->width() < w->fontMetrics().horizontalAdvance(text))
            found << "cut: " + text;
    };
    for (const auto* button : window.findChildren<QPushButton*>())
        cut(button, button->text().remove('&'));
    for (const auto* label : window.findChildren<QLabel*>())
        if (!label->wordWrap() && label->textFormat() != Qt::RichText && !label->text().contains('<'))
            for (const QString& line : label->text().split('\n'))
                cut(label, line);
    for (const auto* w : window.findChildren<QWidget*>())
        if (w->isVisible() && stickOut(window, *w))
            found << "outside: " + w->objectName() + " " + w->metaObject()->className();
    for (const auto* area : window.findChildren<QScrollArea*>())
        if (area->isVisible() && area->horizontalScrollBar()->maximum() > 0
            && area->verticalScrollBarPolicy() != Qt::ScrollBarAlwaysOff) // a row of cards is meant to be moved
            found
                << QString("sideways: %1 by %2 px").arg(area->objectName()).arg(area->horizontalScrollBar()->maximum());
    for (const auto* box : window.findChildren<QComboBox*>())
        if (box->isVisible() && box->currentIndex() < 0 && !box->isEditable())
            found << "nothing chosen: " + box->objectName();
    return found;
}

} // namespace fortitor::test
