// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/plan/option_trial.h"

#include "app/bench/read/before_after.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "jobs/edits.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace fortitor {
OptionTrial::OptionTrial(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("optionTrial");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 4);
    column->setSpacing(6);
    table_ = label({});
    table_->setObjectName("trialTable");
    table_->setTextFormat(Qt::RichText);
    table_->setFont(figureFont(12));
    column->addWidget(table_);
    auto* row = new QHBoxLayout;
    reason_ = new QLineEdit;
    reason_->setObjectName("trialReason");
    reason_->setPlaceholderText("The set is judged already: why change it?");
    accept_ = button("Accept", "primary", "trialAccept");
    auto* drop = button("Drop it", "link", "trialDrop");
    row->addWidget(reason_, 1);
    row->addWidget(accept_);
    row->addWidget(drop);
    row->addStretch();
    column->addLayout(row);
    connect(accept_, &QPushButton::clicked, this, &OptionTrial::accept);
    connect(reason_, &QLineEdit::returnPressed, this, &OptionTrial::accept);
    connect(drop, &QPushButton::clicked, this, &OptionTrial::drop);
    // Another specimen or job is another question.
    for (auto signal : {&Session::currentChanged, &Session::opened})
        connect(&session, signal, this, [this] {
            if (!session_.hasSpecimen() || session_.jobId() != job_ || session_.specimen().label != specimen_)
                this->drop();
        });
    hide();
}

void OptionTrial::propose(const std::string& option, const std::string& value, const QString& words, bool forJob)
{
    option_ = option;
    value_ = value;
    forJob_ = forJob;
    job_ = session_.jobId();
    specimen_ = session_.hasSpecimen() ? session_.specimen().label : "";
    after_.reset();
    if (!session_.hasSpecimen() || !session_.record(session_.current()) || !session_.specimenOutcome().outcome) {
        accept();
        return;
    }
    after_ = session_.preview(session_.current(), option, value);
    if (!after_) {
        accept(); // what can't be read is told by the job itself
        return;
    }
    table_->setText(QString("<b>%1</b>, tried on %2%3")
                        .arg(words.toHtmlEscaped(), q(session_.specimen().label).toHtmlEscaped(),
                             forJob ? " · accepting it changes the whole job" : "")
                    + beforeAfter(*session_.job().method, *session_.specimenOutcome().outcome, *after_));
    reason_->clear();
    reason_->setVisible(session_.judged());
    show();
    (session_.judged() ? static_cast<QWidget*>(reason_) : accept_)->setFocus();
    emit changed();
}

void OptionTrial::accept()
{
    if (option_.empty())
        return;
    const bool compared = after_.has_value();
    const std::string why = s(reason_->text().trimmed());
    if (compared && session_.judged() && why.empty()) {
        reason_->setFocus();
        return;
    }
    const std::string option = std::exchange(option_, {});
    after_.reset();
    hide();
    session_.apply(forJob_ ? edits::option(session_.document(), option, value_, why)
                           : edits::specimenOption(session_.document(), session_.current(), option, value_, why));
    emit changed();
}

void OptionTrial::drop()
{
    if (option_.empty())
        return;
    option_.clear();
    after_.reset();
    hide();
    emit changed();
}

} // namespace fortitor
