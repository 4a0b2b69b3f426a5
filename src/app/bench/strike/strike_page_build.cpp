// SPDX-License-Identifier: GPL-3.0-or-later
// How the page Strike is put together.
#include "app/bench/strike/strike_page.h"

#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"

#include <QScrollArea>

namespace fortitor {

void StrikePage::build()
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 16, 20, 14);
    row->setSpacing(22);
    auto* left = new QVBoxLayout;
    left->setSpacing(4);
    row->addLayout(left, 1);
    title_ = label({}, "head");
    title_->setObjectName("strikeTitle");
    hint_ = label("Out of the bath to the blow within 5 s. Space starts the clock as you take the piece.", "quiet");
    hint_->setWordWrap(true);
    picture_ = new PendulumPicture;
    facts_ = label({}, "quiet");
    facts_->setObjectName("strikeFacts");
    facts_->setTextFormat(Qt::RichText);
    facts_->setWordWrap(true);
    reminder_ = button({}, "link", "strikeReminder");
    reminder_->setToolTip("Goes to Set up, where the free swing is kept");
    reminder_->setFocusPolicy(Qt::TabFocus);
    connect(reminder_, &QPushButton::clicked, this, &StrikePage::setUpAsked);
    left->addWidget(title_);
    left->addWidget(hint_);
    left->addWidget(reminder_, 0, Qt::AlignLeft);
    // At the height of the energy; the column of fields has no room to spare.
    message_ = label({}, "warn");
    message_->setObjectName("strikeMessage");
    message_->setWordWrap(true);
    message_->hide();
    left->addWidget(message_);
    left->addWidget(picture_, 1);
    auto* live = new QHBoxLayout;
    pendulumWords_ = label({}, "quiet");
    pendulumWords_->setObjectName("pendulumWords");
    guard_ = button({}, "link", "pendulumGuard");
    guard_->setFocusPolicy(Qt::TabFocus);
    connect(guard_, &QPushButton::clicked, this, [this] {
        if (const PendulumStatus* now = pendulum_.status())
            pendulum_.setGuard(!now->guard);
    });
    live->addWidget(pendulumWords_, 1);
    live->addWidget(guard_);
    left->addLayout(live);
    photos_ = new PhotoRow(session_);
    connect(photos_, &PhotoRow::told, this, [this](const QString& words) { say(words, true); });
    auto* below = new QHBoxLayout;
    below->addWidget(facts_, 1);
    below->addWidget(photos_, 0, Qt::AlignBottom);
    left->addLayout(below);
    auto* panel = new QWidget;
    panel->setFixedWidth(314); // the fields and, in a low window, their bar
    row->addWidget(panel);
    auto* side = new QVBoxLayout(panel);
    side->setContentsMargins(0, 0, 0, 0);
    side->setSpacing(6);
    buildSide(side);
}

void StrikePage::buildSide(QVBoxLayout* outer)
{
    // In a low window the fields scroll; the caution and what ends the blow stay.
    fields_ = new QScrollArea;
    fields_->setWidgetResizable(true);
    fields_->setFrameShape(QFrame::NoFrame);
    fields_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    fields_->setFocusPolicy(Qt::NoFocus);
    auto* inside = new QWidget;
    auto* side = new QVBoxLayout(inside);
    side->setContentsMargins(0, 0, 0, 0);
    side->setSpacing(6);
    fields_->setWidget(inside);
    outer->addWidget(fields_, 1);
    intoBath_ = button("Into bath", "", "strikeIntoBath");
    intoBath_->setToolTip("Notes when this piece went in; the time that it must stay counts down");
    bath_ = button("Out", "", "strikeBath");
    bath_->setToolTip("Out of the bath: starts the clock (Space); the blow stops it");
    bathWords_ = label({});
    bathWords_->setObjectName("strikeBathClock");
    clockWords_ = label({});
    clockWords_->setObjectName("strikeClock");
    auto* clocks = new QVBoxLayout;
    clocks->setSpacing(0);
    for (QLabel* words : {bathWords_, clockWords_}) {
        words->setTextFormat(Qt::RichText);
        clocks->addWidget(words);
    }
    auto* clock = new QHBoxLayout;
    clock->addLayout(clocks, 1);
    for (QPushButton* b : {intoBath_, bath_}) {
        b->setFocusPolicy(Qt::TabFocus);
        clock->addWidget(b);
    }
    connect(intoBath_, &QPushButton::clicked, this, &StrikePage::intoBath);
    side->addLayout(clock);
    connect(bath_, &QPushButton::clicked, this, &StrikePage::startClock);
    auto* head = new QHBoxLayout;
    way_ = button({}, "link", "strikeWay");
    way_->setFocusPolicy(Qt::TabFocus);
    way_->setToolTip("Read the dial, or the angle it rose to");
    resolution_ = label({}, "quiet");
    head->addWidget(way_);
    head->addStretch();
    head->addWidget(resolution_);
    side->addLayout(head);
    energy_ = new PadField("strikeEnergy");
    energy_->installEventFilter(this);
    side->addWidget(energy_);
    connect(way_, &QPushButton::clicked, this, [this] {
        byAngle_ = !byAngle_;
        energy_->clear();
        refresh();
        energy_->setFocus();
    });
    connect(energy_, &PadField::taken, this, &StrikePage::take);
    connect(energy_, &PadField::instruments, this, [this] { pendulum_.step(); });
    connect(energy_, &QLineEdit::textChanged, this, &StrikePage::tried);
    noteRows_ = new QVBoxLayout;
    noteRows_->setSpacing(6);
    side->addLayout(noteRows_);
    result_ = label({});
    result_->setObjectName("strikeResult");
    result_->setTextFormat(Qt::RichText);
    result_->setWordWrap(true);
    side->addWidget(result_);
    side->addStretch(1);
    caution_ = label({});
    caution_->setObjectName("strikeCaution");
    caution_->setTextFormat(Qt::RichText);
    caution_->setWordWrap(true);
    caution_->setAutoFillBackground(true);
    caution_->setMargin(8);
    outer->addWidget(caution_);
    auto* ends = new QHBoxLayout;
    take_ = button("Keep it  ↵", "primary", "strikeTake");
    release_ = button({}, "", "strikeRelease");
    release_->setToolTip("The next step of the simulated pendulum (I)");
    toRead_ = button("Read", "link", "strikeToRead");
    for (QPushButton* b : {take_, release_, toRead_})
        b->setFocusPolicy(Qt::TabFocus);
    ends->addWidget(take_);
    ends->addWidget(release_);
    ends->addStretch();
    ends->addWidget(toRead_);
    outer->addLayout(ends);
    connect(take_, &QPushButton::clicked, this, &StrikePage::take);
    connect(release_, &QPushButton::clicked, this, [this] { pendulum_.step(); });
    connect(toRead_, &QPushButton::clicked, this, &StrikePage::readAsked);
}

/// What is noted of a blow, as the method declares it: choices as drawings, the rest as fields three in a row.
void StrikePage::buildNotes()
{
    const Method& method = *session_.job().method;
    const QString now = q(method.id + "/" + method.variant);
    if (now == builtFor_)
        return;
    builtFor_ = now;
    clearLayout(noteRows_);
    looks_.clear();
    words_.clear();
    QHBoxLayout* pair = nullptr;
    for (const NoteSpec& note : method.notes) {
        if (note.stage != Stage::Load || note.key == method.intake.stamp || note.key == impactKeys::bathIn)
            continue;
        if (!note.choices.empty()) {
            auto* row = new LookRow(note);
            connect(row, &LookRow::picked, this,
                    [this, key = note.key](const QString& choice) { keepNote(key, s(choice)); });
            connect(row, &LookRow::goOn, this, &StrikePage::goOn);
            noteRows_->addWidget(label(q(note.label), "quiet"));
            noteRows_->addWidget(row);
            looks_.push_back(row);
            afterLooks_ = words_.size();
            pair = nullptr;
            continue;
        }
        auto* edit = lineEdit(("note-" + note.key).c_str(), {});
        edit->setToolTip(q(note.label + (note.help.empty() ? "" : ". " + note.help)));
        edit->setMinimumHeight(30);
        edit->installEventFilter(this);
        const QString unit = q(std::string(unitOfNote(note.key)));
        hands::onKept(edit, this, [this, key = note.key, unit](const QString& typed, hands::Answered answered) {
            const QString text = unit.isEmpty() || !parseNumber(s(typed)) ? typed : typed + " " + unit;
            return session_.apply(edits::note(session_.document(), session_.current(), key, s(text)),
                                  std::move(answered));
        });
        if (!pair) {
            pair = new QHBoxLayout;
            pair->setSpacing(8);
            noteRows_->addLayout(pair);
        }
        auto* cell = new QVBoxLayout;
        cell->setSpacing(1);
        auto* name = label(q(note.label), "quiet");
        edit->setPlaceholderText(unit);
        name->setMinimumWidth(1); // three stand in a row; the whole words are in the tip
        name->setToolTip(edit->toolTip());
        if (note.key == impactKeys::shear) {
            auto* patch = button("patch…", "link", "strikePatch");
            patch->setToolTip("Works it out from the sides of the bright patch");
            patch->setFocusPolicy(Qt::NoFocus);
            auto* head = new QHBoxLayout;
            name->setText(q(note.label).section(' ', 0, 0)); // the link stands beside it
            head->addWidget(name, 1);
            head->addWidget(patch);
            cell->addLayout(head);
            connect(patch, &QPushButton::clicked, this, &StrikePage::askPatch);
        } else {
            cell->addWidget(name);
        }
        cell->addWidget(edit);
        pair->addLayout(cell, 1);
        if (pair->count() == 3)
            pair = nullptr;
        words_.emplace_back(note.key, edit);
    }
    settleLayout(noteRows_);
    // From the energy through what is noted, as it stands.
    std::vector<QWidget*> way{energy_};
    for (size_t i = 0; i < afterLooks_; ++i)
        way.push_back(words_[i].second);
    way.insert(way.end(), looks_.begin(), looks_.end());
    for (size_t i = afterLooks_; i < words_.size(); ++i)
        way.push_back(words_[i].second);
    way.insert(way.end(), {take_, release_, toRead_});
    for (size_t i = 1; i < way.size(); ++i)
        setTabOrder(way[i - 1], way[i]);
}

} // namespace fortitor
