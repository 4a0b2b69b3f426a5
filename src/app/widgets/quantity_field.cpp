// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/quantity_field.h"

#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QPainter>
#include <QPointer>
#include <QStyle>

#include <utility>

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

void QuantityField::setStored(const QString& place, const QString& text)
{
    const QString unit = " " + QString::fromUtf8(baseUnit(kind_).symbol.data());
    const QString stored = text.endsWith(unit) ? text.chopped(unit.size()) : text;
    if (place == place_) {
        const bool mine = typing();
        stored_ = stored;
        if (mine && typing())
            return; // a person's, until it is kept or dropped
        if (typed() != stored_)
            setText(stored_);
        mark("wrong", false);
        mark("queried", false);
        return;
    }
    putAside();
    place_ = place;
    stored_ = stored;
    hands::showKeeping(this, keeping_.contains(place_));
    queried_.clear();
    mark("wrong", false);
    mark("queried", false);
    const auto draft = drafts_->find(place_);
    if (draft == drafts_->end()) {
        if (typed() != stored_ || isModified())
            setText(stored_);
        if (hasFocus())
            selectAll();
        return;
    }
    setText(draft->second);
    drafts_->erase(draft);
    query();
}

void QuantityField::putAside()
{
    if (!place_.isEmpty() && typing())
        (*drafts_)[place_] = typed();
}

/// Marks what stands there as it would be when left, without keeping it.
void QuantityField::query()
{
    const auto quantity = parseQuantity(typed().toStdString(), kind_, &baseUnit(kind_));
    if (!quantity && !typed().isEmpty()) {
        mark("wrong", true);
        emit message(QString::fromStdString(quantity.problem().text()));
    } else if (typing()) {
        queried_ = typed();
        mark("queried", true);
        const QString words = quantity && suspicious ? suspicious(*quantity) : QString();
        emit message((words.isEmpty() ? "Typed and not kept." : words) + " Enter keeps it.");
    }
}

void QuantityField::leave()
{
    check(false);
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
    if (now == stored_) {
        mark("wrong", false);
        mark("queried", false);
        return true;
    }
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
    const QString before = std::exchange(stored_, now);
    ++keeping_[place_];
    hands::showKeeping(this, true);
    const auto hear = [self = QPointer(this), drafts = drafts_, place = place_, now, before](bool kept) {
        if (self)
            self->answered(place, now, before, kept);
        else if (!kept)
            (*drafts)[place] = now;
    };
    if (!keep)
        hear(true);
    else if (!keep(now, hear)) {
        hear(false);
        return false;
    }
    mark("wrong", false);
    mark("queried", false);
    if (text() != now || isModified())
        setText(now); // what is kept is taken back in the job, not in the field
    emit message({});
    return true;
}

void QuantityField::answered(const QString& place, const QString& text, const QString& before, bool kept)
{
    if (--keeping_[place] <= 0)
        keeping_.erase(place);
    if (place != place_) {
        if (!kept)
            (*drafts_)[place] = text; // it is there again when one comes back
        return;
    }
    if (!keeping_.contains(place))
        hands::showKeeping(this, false);
    if (kept || typed() != text)
        return;
    stored_ = before;
    mark("wrong", true);
    emit message("Not kept. Enter tries again.");
}

void QuantityField::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
        if (check(true)) {
            emit goOn();
            if (hasFocus())
                selectAll(); // nowhere to go: what is typed next takes its place
        }
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
    painter.drawText(rect().adjusted(0, 0, -11, 0), Qt::AlignRight | Qt::AlignVCenter,
                     QString::fromUtf8(baseUnit(kind_).symbol.data()));
}

} // namespace fortitor
