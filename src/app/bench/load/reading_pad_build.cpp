// SPDX-License-Identifier: GPL-3.0-or-later
// How the pad is put together.
#include "app/bench/load/reading_pad.h"

#include "jobs/json_at.h"
#include "app/model/live_frame.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "draw/chart.h"
#include "methods/common/figures.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QSettings>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// Holds a label that changes at every reading: what is around it is not laid out anew for that.
class Held : public QWidget {
public:
    Held(QLabel* label, int high) : label_(label)
    {
        label_->setParent(this);
        setFixedHeight(high);
    }

protected:
    void resizeEvent(QResizeEvent*) override { label_->setGeometry(rect()); }

private:
    QLabel* label_;
};

} // namespace

ReadingPad::ReadingPad(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("readingPad");
    setAttribute(Qt::WA_OpaquePaintEvent);
    sound_ = QSettings().value("padTick", true).toBool();
    build();
    connect(&Units::instance(), &Units::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

void ReadingPad::build()
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 16, 18, 14);
    row->setSpacing(26);
    auto* left = new QVBoxLayout;
    left->setSpacing(6);
    auto* holder = new QWidget;
    holder->setFixedWidth(leftWide);
    holder->setLayout(left);
    left->setContentsMargins(0, 0, 0, 0);
    row->addWidget(holder);
    buildFields(left);
    left->addStretch();
    buildButtons(left);

    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    row->addLayout(right, 1);
    plot_ = new PadPlot(session_);
    result_ = label({}, "quiet");
    result_->setObjectName("padResult");
    result_->setTextFormat(Qt::RichText);
    sheet_ = new PadSheet;
    right->addWidget(new Held(result_, 22));
    right->addWidget(plot_, 1);
    right->addWidget(sheet_);
    connect(sheet_, &PadSheet::cellChosen, this, &ReadingPad::goTo);
    setSound(sound_);
}

/// What is asked for, its fields, and what is wrong with what was typed.
void ReadingPad::buildFields(QVBoxLayout* left)
{
    head_ = label({}, "quiet");
    target_ = label({});
    target_->setObjectName("padTarget");
    target_->setTextFormat(Qt::RichText);
    plan_ = label({}, "quiet");
    plan_->setObjectName("padPlan");
    plan_->setWordWrap(true);
    for (QWidget* w : std::initializer_list<QWidget*>{new Held(head_, 20), new Held(target_, 62), plan_})
        left->addWidget(w);
    left->addSpacing(4);
    fieldRows_ = new QVBoxLayout;
    fieldRows_->setSpacing(6);
    left->addLayout(fieldRows_);
    message_ = label({}, "warn");
    message_->setObjectName("padMessage");
    message_->setWordWrap(true);
    message_->setMinimumHeight(40);
    message_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    left->addWidget(message_);
    again_ = button("Keep them now", "", "padAgain");
    again_->hide();
    left->addWidget(again_, 0, Qt::AlignLeft);
    why_ = new QLineEdit;
    why_->setObjectName("padWhy");
    why_->setPlaceholderText("Why? misread, digits exchanged … Enter keeps both");
    why_->hide();
    connect(why_, &QLineEdit::returnPressed, this, [this] {
        if (why_->text().trimmed().isEmpty())
            return say("A reading that is corrected later keeps its reason.");
        waits_ = false;
        why_->hide();
        keep(channel_, waiting_, s(why_->text().trimmed()));
    });
    left->addWidget(why_);
    connect(again_, &QPushButton::clicked, this, [this] { tryLostAgain(); });
}

/// Where readings come from, and where to go when they are there.
void ReadingPad::buildButtons(QVBoxLayout* left)
{
    auto* sources = new QHBoxLayout;
    sources->setSpacing(6);
    instruments_ = button("Instruments  I", "", "padInstruments");
    instruments_->setToolTip(
        "Goes to the next step on the simulated bench and takes what its instruments show (I in an empty field)");
    paste_ = button("Paste", "", "padPaste");
    paste_->setToolTip("A table from the clipboard, a line a step, columns in the order of reading or named (Ctrl+V)");
    file_ = button("File…", "", "padFile");
    file_->setToolTip("The same from a text file");
    sounds_ = button({}, "link", "padSound");
    sounds_->setToolTip("A tick for each reading taken");
    for (QPushButton* b : {instruments_, paste_, file_})
        sources->addWidget(b);
    sources->addStretch();
    sources->addWidget(sounds_);
    left->addLayout(sources);
    auto* ends = new QHBoxLayout;
    ends->setSpacing(8);
    toRead_ = button("Read the curve", "primary", "padToRead");
    next_ = button("Next piece", "", "padNext");
    next_->setToolTip("The next specimen of the job (Ctrl+→)");
    frame_ = button("On the frame", "link", "padFrame");
    frame_->setToolTip("Let the frame hold at each step and record by itself");
    ends->addWidget(toRead_);
    ends->addWidget(next_);
    ends->addStretch();
    ends->addWidget(frame_);
    left->addLayout(ends);
    connect(instruments_, &QPushButton::clicked, this, &ReadingPad::fromInstruments);
    connect(paste_, &QPushButton::clicked, this,
            [this] { fromText(QApplication::clipboard()->text(), "the clipboard"); });
    connect(file_, &QPushButton::clicked, this, &ReadingPad::fromFile);
    connect(toRead_, &QPushButton::clicked, this, &ReadingPad::readAsked);
    connect(next_, &QPushButton::clicked, this, &ReadingPad::nextAsked);
    connect(frame_, &QPushButton::clicked, this, &ReadingPad::frameAsked);
    connect(sounds_, &QPushButton::clicked, this, [this] { setSound(!sound_); });
    for (QPushButton* b : {instruments_, paste_, file_, toRead_, next_, frame_, sounds_, again_})
        b->setFocusPolicy(Qt::TabFocus); // a click leaves the cursor in the field
}

/// A field for each channel that is read; those that may be read too are asked for by a button.
void ReadingPad::buildFields()
{
    const Method& method = *session_.job().method;
    std::string key = method.id;
    for (const PadChannel& c : table_.channels)
        key += "/" + c.name;
    if (key == builtFor_)
        return;
    builtFor_ = key;
    clearLayout(fieldRows_);
    fields_.clear();
    for (size_t c = 0; c < table_.channels.size(); ++c) {
        auto* row = new QHBoxLayout;
        row->setSpacing(10);
        auto* name = label(q(table_.channels[c].label));
        name->setFixedWidth(84);
        name->setWordWrap(true);
        auto* field = new PadField("pad-" + q(table_.channels[c].name));
        row->addWidget(name);
        row->addWidget(field, 1);
        fieldRows_->addLayout(row);
        fields_.push_back(field);
        connect(field, &PadField::taken, this, [this, c] { take(c); });
        connect(field, &PadField::missed, this, [this, c] { skip(c); });
        connect(field, &PadField::instruments, this, &ReadingPad::fromInstruments);
        connect(field, &PadField::back, this, [this, c] {
            c > 0 ? goTo(c - 1, row_) : row_ > 0 ? goTo(fields_.size() - 1, row_ - 1) : goTo(0, 0);
        });
        connect(field, &PadField::on, this, [this, c] {
            if (row_ < table_.rows)
                advance(c);
        });
        connect(field, &PadField::pasted, this, [this](const QString& text) { fromText(text, "the clipboard"); });
    }
    QHBoxLayout* more = nullptr;
    for (const PadChannel& channel : method.intake.columns) {
        if (!channel.optional || table_.indexOf(channel.name))
            continue;
        if (!more) {
            more = new QHBoxLayout;
            fieldRows_->addLayout(more);
        }
        auto* add = button("+ " + q(channel.label).toLower(), "link", ("pad-add-" + channel.name).c_str());
        add->setToolTip("Reads this one too");
        connect(add, &QPushButton::clicked, this, [this, name = channel.name] {
            also_.push_back(name);
            refresh();
            goTo(0, table_.rows);
        });
        more->addWidget(add);
    }
    if (more)
        more->addStretch();
    settleLayout(fieldRows_);
}

} // namespace fortitor
