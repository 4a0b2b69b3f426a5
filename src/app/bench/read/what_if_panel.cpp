// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/read/what_if_panel.h"

#include "app/bench/read/before_after.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"

#include <QCompleter>
#include <QDateTime>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

namespace fortitor {

WhatIfPanel::WhatIfPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("whatIf");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 4);
    column->setSpacing(6);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    auto* head = label("What if", "head");
    head->setWordWrap(false);
    what_ = new QComboBox;
    what_->setObjectName("whatIfItem");
    what_->setEditable(true);
    what_->setInsertPolicy(QComboBox::NoInsert);
    what_->completer()->setFilterMode(Qt::MatchContains);
    what_->completer()->setCompletionMode(QCompleter::PopupCompletion);
    hands::groundPopup(what_->completer());
    what_->setMinimumWidth(210);
    what_->setToolTip("A reading, a dimension or a choice; type to find it");
    auto* were = label("were", "quiet");
    were->setWordWrap(false);
    value_ = new QLineEdit;
    value_->setObjectName("whatIfValue");
    value_->setFixedWidth(130);
    value_->setToolTip("Enter tries it; empty takes it out");
    choice_ = new QComboBox;
    choice_->setObjectName("whatIfChoice");
    choice_->setMinimumWidth(130);
    changes_ = label({}, "quiet");
    changes_->setObjectName("whatIfChanges");
    for (QWidget* w : std::initializer_list<QWidget*>{head, what_, were, value_, choice_})
        row->addWidget(w);
    row->addWidget(changes_, 1);
    column->addLayout(row);
    figures_ = label({});
    figures_->setObjectName("whatIfFigures");
    figures_->setTextFormat(Qt::RichText);
    figures_->setFont(figureFont(12));
    figures_->setMinimumHeight(64);
    column->addWidget(figures_);
    auto* last = new QHBoxLayout;
    reason_ = new QLineEdit;
    reason_->setObjectName("whatIfReason");
    reason_->setPlaceholderText("Reason for keeping; it stays with the specimen");
    keep_ = button("Keep it", "primary", "whatIfKeep");
    auto* away = button("Throw it away", "link", "whatIfDrop");
    away->setToolTip("The specimen stays as it is (Esc)");
    last->addWidget(reason_, 1);
    last->addWidget(keep_);
    last->addWidget(away);
    column->addLayout(last);
    connect(what_, &QComboBox::currentIndexChanged, this, &WhatIfPanel::showItem);
    connect(value_, &QLineEdit::returnPressed, this, &WhatIfPanel::tryIt);
    connect(choice_, &QComboBox::activated, this, &WhatIfPanel::tryIt);
    connect(reason_, &QLineEdit::returnPressed, this, &WhatIfPanel::keep);
    connect(keep_, &QPushButton::clicked, this, &WhatIfPanel::keep);
    connect(away, &QPushButton::clicked, this, &WhatIfPanel::drop);
    for (auto signal : {&Session::currentChanged, &Session::opened, &Session::changed})
        connect(&session, signal, this, &WhatIfPanel::follow);
    hide();
}

namespace {

QString atHand(const Session& session)
{
    return session.hasSpecimen() ? QString::number(session.jobId()) + "/" + q(session.specimen().label) : QString();
}

} // namespace

/// The specimen has changed under the copy: the copy stays, on the specimen as it stands now. Another
/// specimen is another question.
void WhatIfPanel::follow()
{
    if (!copy_)
        return;
    if (atHand(session_) != openFor_ || !session_.record(session_.current()) || !session_.specimenOutcome().outcome)
        return drop();
    copy_ = copy_->onto(session_.document(), units());
    const auto items = whatIfItems(session_.document(), session_.current());
    const bool same = std::ranges::equal(items, items_, {}, &WhatIfItem::label, &WhatIfItem::label);
    items_ = items;
    if (!same)
        hands::whenFree(this, "items", [this] {
            if (copy_)
                fill();
        });
    workOut();
}

void WhatIfPanel::open()
{
    if (!session_.hasSpecimen() || !session_.record(session_.current()) || !session_.specimenOutcome().outcome)
        return;
    openFor_ = atHand(session_);
    copy_.emplace(session_.document(), session_.current());
    after_.reset();
    fill();
    reason_->clear();
    workOut();
    show();
    what_->setFocus();
    what_->lineEdit()->selectAll();
}

void WhatIfPanel::ask(const std::string& option, const std::string& value)
{
    open();
    for (size_t i = 0; copy_ && i < items_.size(); ++i)
        if (items_[i].sort == WhatIfItem::Sort::Option && items_[i].key == option) {
            what_->setCurrentIndex(static_cast<int>(i));
            value_->setText(q(value));
            tryIt();
            reason_->setFocus();
        }
}

void WhatIfPanel::drop()
{
    if (!copy_)
        return;
    copy_.reset();
    after_.reset();
    hide();
    emit changed();
}

void WhatIfPanel::fill()
{
    items_ = whatIfItems(session_.document(), session_.current());
    what_->blockSignals(true);
    what_->clear();
    for (const WhatIfItem& item : items_)
        what_->addItem(q(item.label));
    what_->blockSignals(false);
    showItem();
}

void WhatIfPanel::showItem()
{
    const int i = what_->currentIndex();
    if (i < 0 || i >= static_cast<int>(items_.size()))
        return;
    const WhatIfItem& item = items_[static_cast<size_t>(i)];
    choice_->setVisible(!item.choices.empty());
    value_->setVisible(item.choices.empty());
    choice_->clear();
    for (const auto& [key, words] : item.choices)
        choice_->addItem(q(words), q(key));
    choice_->setCurrentIndex(std::max(0, choice_->findData(q(item.now))));
    value_->setText(q(item.now));
    value_->selectAll();
}

void WhatIfPanel::tryIt()
{
    const int i = what_->currentIndex();
    if (!copy_ || i < 0 || i >= static_cast<int>(items_.size()))
        return;
    const WhatIfItem& item = items_[static_cast<size_t>(i)];
    const auto ok =
        copy_->change(item, s(item.choices.empty() ? value_->text().trimmed() : choice_->currentData().toString()),
                      units());
    if (!ok) {
        figures_->setText(q(ok.problem().text()).toHtmlEscaped());
        return;
    }
    workOut();
}

void WhatIfPanel::workOut()
{
    QStringList words;
    for (const WhatIf::Change& c : copy_->changes())
        words << q(c.item.label) + " " + (c.item.now.empty() ? "–" : q(c.item.now)) + " → "
                + (c.now.empty() ? "–" : q(c.now));
    changes_->setText(words.join("; "));
    after_.reset();
    keep_->setEnabled(!words.isEmpty());
    if (words.isEmpty()) {
        figures_->setText(
            "Choose a reading, a dimension or an option, and try a value. Nothing of the specimen changes until it "
            "is kept.");
    } else if (auto outcome = copy_->outcome(session_.record(session_.current())); !outcome) {
        figures_->setText(q(outcome.problem().text()).toHtmlEscaped());
    } else if (outcome->problem) {
        figures_->setText(q(outcome->problem->text()).toHtmlEscaped());
    } else {
        after_ = std::move(outcome->outcome);
        figures_->setText(beforeAfter(*session_.job().method, *session_.specimenOutcome().outcome, *after_));
    }
    emit changed();
}

void WhatIfPanel::keep()
{
    if (!copy_)
        return;
    const auto command = copy_->keep(s(session_.who()), s(QDateTime::currentDateTime().toString(Qt::ISODate)),
                                     s(reason_->text().trimmed()));
    if (!command) {
        figures_->setText(q(command.problem().text()).toHtmlEscaped());
        reason_->setFocus();
        return;
    }
    if (session_.apply(*command))
        drop();
}

void WhatIfPanel::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Escape)
        return drop();
    QWidget::keyPressEvent(event);
}

} // namespace fortitor
