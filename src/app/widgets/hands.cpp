// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/hands.h"

#include "app/theme/theme.h"
#include "app/widgets/quantity_field.h"

#include <QAbstractItemView>
#include <QApplication>
#include <QComboBox>
#include <QCompleter>
#include <QLineEdit>
#include <QPainter>
#include <QPointer>
#include <QTimer>

namespace fortitor::hands {
namespace {

constexpr int lookAgain = 60; // ms

bool inside(const QWidget* area, const QWidget* widget)
{
    // A popup belongs to who opened it: its parents are followed across windows.
    for (const QWidget* w = widget; w; w = w->parentWidget())
        if (w == area)
            return true;
    return false;
}

/// What the mouse is held down in; nullptr while it is not.
const QWidget* heldIn()
{
    if (QApplication::mouseButtons() == Qt::NoButton)
        return nullptr;
    const QWidget* grabber = QWidget::mouseGrabber();
    return grabber ? grabber : QApplication::widgetAt(QCursor::pos());
}

void put(QComboBox* box, const std::vector<Item>& items, int current)
{
    bool same = box->count() == static_cast<int>(items.size());
    for (int i = 0; same && i < box->count(); ++i)
        same = box->itemText(i) == items[static_cast<size_t>(i)].text
            && box->itemData(i) == items[static_cast<size_t>(i)].data;
    const bool quiet = box->blockSignals(true);
    if (!same) {
        box->clear();
        for (const Item& item : items)
            box->addItem(item.text, item.data);
    }
    if (box->currentIndex() != current)
        box->setCurrentIndex(current);
    box->blockSignals(quiet);
    if (!same)
        box->updateGeometry();
    box->update();
}

class KeepingLine : public QWidget {
public:
    explicit KeepingLine(QWidget* field) : QWidget(field)
    {
        setObjectName("beingKept");
        setAttribute(Qt::WA_TransparentForMouseEvents);
        setAccessibleName("being kept");
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter painter(this);
        painter.setPen(QPen(pal().ink, 2, Qt::DotLine));
        painter.drawLine(3, 1, width() - 3, 1);
    }
};

} // namespace

void showKeeping(QWidget* field, bool on)
{
    auto* line = field->findChild<QWidget*>("beingKept", Qt::FindDirectChildrenOnly);
    if (!line && on)
        line = new KeepingLine(field);
    if (!line)
        return;
    line->setGeometry(1, field->height() - 5, field->width() - 2, 3);
    line->setVisible(on);
}

bool typing(const QLineEdit* edit)
{
    if (const auto* quantity = qobject_cast<const QuantityField*>(edit))
        return quantity->typing();
    return edit->isModified() && !edit->isReadOnly();
}

bool on(const QWidget* area)
{
    if (const QWidget* popup = QApplication::activePopupWidget(); popup && inside(area, popup))
        return true;
    if (const QWidget* held = heldIn(); held && inside(area, held))
        return true;
    if (area->property("held").toBool())
        return true;
    // An editor inside a table is open until it is closed, typed in or not.
    if (const auto* edit = qobject_cast<QLineEdit*>(QApplication::focusWidget()); edit && inside(area, edit)
        && edit->parentWidget() && qobject_cast<QAbstractItemView*>(edit->parentWidget()->parentWidget()))
        return true;
    for (const QLineEdit* edit : area->findChildren<QLineEdit*>())
        if (typing(edit) && edit->isVisibleTo(area))
            return true;
    return false;
}

void fill(QLineEdit* edit, const QString& text)
{
    if (typing(edit) || edit->text() == text)
        return;
    edit->setText(text);
    showKeeping(edit, false);
}

void onKept(QLineEdit* edit, QObject* owner, Keep keep)
{
    QObject::connect(edit, &QLineEdit::editingFinished, owner, [edit, keep = std::move(keep)] {
        if (!edit->isModified())
            return;
        const QString text = edit->text();
        const int cursor = edit->cursorPosition();
        edit->setText(text); // from here on it is taken back in the job, not in the field
        edit->setCursorPosition(cursor);
        const auto count = [](QLineEdit* field, int by) {
            const int under = field->property("beingKept").toInt() + by;
            field->setProperty("beingKept", under);
            showKeeping(field, under > 0);
        };
        count(edit, 1);
        const Answered answered = [field = QPointer(edit), text, count](bool kept) {
            if (!field)
                return;
            count(field, -1);
            if (!kept && field->text() == text) // else it has gone on
                field->setModified(true);
        };
        if (!keep(text.trimmed(), answered))
            answered(false);
    });
}

void fill(QComboBox* box, const std::vector<Item>& items, int current)
{
    whenFree(box, "items", [box, items, current] { put(box, items, current); });
}

void whenFree(QWidget* area, const char* name, std::function<void()> act)
{
    struct Waiting : QObject {
        using QObject::QObject;
        std::function<void()> act;
    };
    const QString key = QString("whenFree-") + name;
    auto* waiting = static_cast<Waiting*>(area->findChild<QObject*>(key, Qt::FindDirectChildrenOnly));
    if (!on(area)) {
        delete waiting; // an older one; this one knows better
        return act();
    }
    if (waiting) {
        waiting->act = std::move(act);
        return;
    }
    waiting = new Waiting(area);
    waiting->setObjectName(key);
    waiting->act = std::move(act);
    auto* timer = new QTimer(waiting);
    timer->setInterval(lookAgain);
    QObject::connect(timer, &QTimer::timeout, waiting, [area, waiting] {
        if (on(area))
            return;
        const auto now = std::move(waiting->act);
        waiting->setObjectName({});
        waiting->deleteLater();
        now();
    });
    timer->start();
}

void finish()
{
    auto* edit = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    if (!edit || !typing(edit))
        return;
    if (auto* quantity = qobject_cast<QuantityField*>(edit))
        quantity->leave();
    else
        emit edit->editingFinished();
}

void groundPopup(QCompleter* completer)
{
    completer->popup()->setObjectName("suggestions");
}

} // namespace fortitor::hands
