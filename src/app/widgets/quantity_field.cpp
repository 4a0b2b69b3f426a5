// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/quantity_field.h"

#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QPainter>
#include <QStyle>

namespace fortitor {

QuantityField::QuantityField(Kind kind, QWidget* parent) : QLineEdit(parent), kind_(kind)
{
    setProperty("kind", "figure");
    setMinimumHeight(36);
    setTextMargins(0, 0, 34, 0);
    connect(this, &QLineEdit::textEdited, this, [this] {
        mark("wrong", false);
        mark("queried", false);
        queried_.clear();
        emit message({});
    });
}

void QuantityField::setStored(const QString& text)
{
    const QString unit = " " + QString::fromUtf8(baseUnit(kind_).symbol.data());
    stored_ = text.endsWith(unit) ? text.chopped(unit.size()) : text;
    if (!hasFocus() || typed() != stored_)
        setText(stored_);
    mark("wrong", false);
    mark("queried", false);
}

void QuantityField::mark(const char* property, bool on)
{
    if (this->property(property).toBool() == on)
        return;
    setProperty(property, on);
    style()->unpolish(this);
    style()->polish(this);
}

bool QuantityField::check(bool insist)
{
    const QString now = typed();
    if (now == stored_)
        return true;
    if (!now.isEmpty()) {
        const auto quantity = parseQuantity(now.toStdString(), kind_, &baseUnit(kind_));
        if (!quantity) {
            mark("wrong", true);
            emit message(QString::fromStdString(quantity.problem().text()));
            return false;
        }
        const QString query = suspicious ? suspicious(*quantity) : QString();
        if (!query.isEmpty() && (queried_ != now || !insist)) {
            queried_ = now;
            mark("queried", true);
            emit message(query + " Enter again keeps it.");
            return false;
        }
    }
    mark("wrong", false);
    mark("queried", false);
    stored_ = now;
    setText(now); // what is kept is taken back in the job, not in the field
    emit message({});
    emit committed(now);
    return true;
}

void QuantityField::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        if (check(true))
            emit goOn();
        return;
    }
    if (event->key() == Qt::Key_Up) {
        emit goBack();
        return;
    }
    if (event->key() == Qt::Key_Escape && typed() != stored_) {
        setText(stored_);
        mark("wrong", false);
        mark("queried", false);
        emit message({});
        return;
    }
    QLineEdit::keyPressEvent(event);
}

void QuantityField::focusInEvent(QFocusEvent* event)
{
    QLineEdit::focusInEvent(event);
    selectAll();
}

void QuantityField::focusOutEvent(QFocusEvent* event)
{
    // Leaving keeps what reads; what is queried or wrong stays marked and unkept.
    if (event->reason() != Qt::PopupFocusReason)
        check(false);
    QLineEdit::focusOutEvent(event);
}

void QuantityField::paintEvent(QPaintEvent* event)
{
    QLineEdit::paintEvent(event);
    const auto quantity = parseNumber(typed().toStdString());
    if (!typed().isEmpty() && !quantity)
        return; // a unit was typed along
    QPainter painter(this);
    painter.setPen(pal().quiet);
    painter.setFont(wordFont(12));
    painter.drawText(rect().adjusted(0, 0, -11, 0), Qt::AlignRight | Qt::AlignVCenter, QString::fromUtf8(baseUnit(kind_).symbol.data()));
}

} // namespace fortitor
