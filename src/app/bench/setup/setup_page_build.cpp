// SPDX-License-Identifier: GPL-3.0-or-later
// How the page Set up is put together.
#include "app/bench/setup/setup_page.h"

#include "jobs/json_at.h"
#include "app/bench/setup/frame_dialog.h"
#include "app/bench/setup/setup_parts.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/busy.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "jobs/rehearsed.h"
#include "methods/common/stress_strain.h"

#include <QHBoxLayout>
#include <QScrollArea>

#include <cmath>
#include <span>

namespace fortitor {
namespace {

QPushButton* wideButton(const QString& words, const char* name)
{
    auto* made = button(words, "", name);
    made->setMinimumWidth(104);
    return made;
}

} // namespace
/// What measures and holds, a list each.
void SetUpPage::buildInstruments()
{
    grid_ = new QGridLayout;
    grid_->setHorizontalSpacing(10);
    grid_->setVerticalSpacing(5);
    for (int i = 0; i < chooseable; ++i) {
        choices_[i] = new QComboBox;
        choices_[i]->setObjectName(QString("choose-") + choices[i].key);
        choices_[i]->setMinimumWidth(96);
        names_[i] = label(choices[i].words, "quiet");
        connect(choices_[i], &QComboBox::activated, this, [this, i](int index) {
            const QVariant chosen = choices_[i]->itemData(index);
            auto body = parseJson(chosen.toString().toStdString(), "instrument");
            if (body && session_.isOpen()) {
                session_.apply(edits::instrument(session_.document(), choices[i].key, *body));
                preparedFor_.clear();
                refresh();
            }
        });
    }
}

/// The frame, its rate, and whether it is used at all.
void SetUpPage::buildFrameRow()
{
    auto* frameRow = new QHBoxLayout;
    link_ = label({});
    link_->setObjectName("frameLink");
    rate_ = new QComboBox;
    rate_->setObjectName("frameRate");
    for (const int rate : {50, 100, 200, 500, 1000, 2000, 5000})
        rate_->addItem(QString("%1 /s").arg(rate), rate);
    rate_->setToolTip("Readings a second");
    rate_->setMinimumWidth(84);
    link_->setMinimumWidth(64);
    auto* where = button("Other…", "link", "frameAddress");
    where->setToolTip("Join a frame that listens on this machine, or go back to the simulated one");
    frameRow->addWidget(link_, 1);
    frameRow->addWidget(where);
    frameRow->addWidget(rate_);
    frameRow->setSpacing(6);
    frameRow_ = new QWidget;
    frameRow_->setLayout(frameRow);
    frameRow->setContentsMargins(0, 0, 0, 0);
    frameWords_ = label("frame", "quiet");
    connect(where, &QPushButton::clicked, this, [this] {
        FrameDialog dialog(frame_, this);
        if (dialog.exec() != QDialog::Accepted)
            return;
        frame_.setAddress(dialog.address(), dialog.token());
        rememberFrame(dialog.address(), dialog.token());
        preparedFor_.clear();
        refresh();
    });
    connect(rate_, &QComboBox::activated, this, [this] {
        frame_.setRate(rate_->currentData().toDouble());
        preparedFor_.clear();
        refresh();
    });
    wayWords_ = label("test", "quiet");
    way_ = new QComboBox;
    way_->setObjectName("setupWay");
    way_->setToolTip("Read the instruments yourself at each step, or let the frame run and record");
    connect(way_, &QComboBox::activated, this, [this](int index) {
        frame_.setByHand(index == 0);
        preparedFor_.clear();
        refresh();
    });
}

/// The force as it is now, and the crosshead by hand.
void SetUpPage::buildForce()
{
    read_ = new QHBoxLayout;
    force_ = label({});
    force_->setObjectName("setupForce");
    force_->setTextFormat(Qt::RichText);
    handSet_ = new HandSet(frame_);
    // In a room of its own: a figure that changes five times a second lays nothing else out anew.
    forceRoom_ = new QWidget;
    forceRoom_->setFixedSize(150, 50);
    force_->setParent(forceRoom_);
    force_->setGeometry(forceRoom_->rect());
    read_->addWidget(forceRoom_);
    read_->addStretch(1);
    read_->addWidget(handSet_);
}

void SetUpPage::buildLimits()
{
    limitGrid_ = new QGridLayout;
    limitGrid_->setHorizontalSpacing(8);
    limitGrid_->setVerticalSpacing(2);
    constexpr std::pair<const char*, const char*> limitKinds[] = {{"force", "force"},
                                                                  {"travel", "travel"},
                                                                  {"extension", "extension"},
                                                                  {"force_drop", "force drop"},
                                                                  {"time", "time"}};
    for (int i = 0; i < 5; ++i) {
        const auto& [limitKey, limitWords] = limitKinds[i];
        auto* field = new QLineEdit;
        field->setObjectName(QString("limit-") + limitKey);
        field->setMinimumWidth(40);
        field->setToolTip("Where the frame stops by itself. Empty: as proposed.");
        limitNames_[i] = label(limitWords, "quiet");
        limitFields_.emplace_back(limitKey, field);
        hands::onKept(field, this, [this, key = std::string(limitKey)](const QString& text, hands::Answered answered) {
            if (!session_.isOpen())
                return false;
            const auto weakest = weakestLink(frame_.train());
            const bool kept = session_.apply(edits::limit(session_.document(), key, s(text),
                                                          key == "force" && weakest ? weakest->capacity : 0),
                                             std::move(answered));
            preparedFor_.clear();
            refresh();
            return kept;
        });
    }
    placeLimits(5);
}

void SetUpPage::buildLast()
{
    last_ = new QHBoxLayout;
    next_ = button("On to Load", "primary", "setupNext");
    rehearse_ = button("Rehearse", "", "rehearse");
    rehearse_->setToolTip(
        "The same run, simulated on similar specimens: what to expect, how long, what would stop it (P)");
    for (QPushButton* b : {next_, rehearse_}) {
        b->setMinimumHeight(38);
        b->setMinimumWidth(118);
        last_->addWidget(b);
    }
    last_->addStretch();
    connect(rehearse_, &QPushButton::clicked, this, &SetUpPage::rehearse);
    connect(next_, &QPushButton::clicked, this, &SetUpPage::loadAsked);
}

SetUpPage::SetUpPage(Session& session, LiveFrame& frame, QWidget* parent) : Page(session, parent), frame_(frame)
{
    buildInstruments();
    buildFrameRow();
    buildForce();
    buildLimits();
    buildLast();
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 16, 24, 16);
    row->setSpacing(28);
    trainRoom_ = new QWidget;
    trainRoom_->setFixedWidth(330);
    row->addWidget(trainRoom_);
    auto* side = new QVBoxLayout;
    side->setSpacing(8);
    row->addLayout(side, 1);
    scroll_ = new QScrollArea;
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    scroll_->setWidget(inside);
    side->addWidget(scroll_, 1);
    auto* right = new QVBoxLayout(inside);
    right->setContentsMargins(0, 0, 6, 0);
    right->setSpacing(7);
    right->addWidget(label("Instruments", "head"));
    right->addLayout(grid_);
    right->addSpacing(8);
    right->addWidget(label("Steps", "head"));
    steps_ = new QVBoxLayout;
    steps_->setSpacing(4);
    right->addLayout(steps_);
    daily_ = new DailyView(session_, frame_);
    right->addWidget(daily_);
    balance_ = new BalanceView;
    balance_->hide();
    right->addWidget(balance_);
    connect(balance_, &BalanceView::easeAsked, this, [this](Corner c) { frame_.easeCorner(static_cast<int>(c)); });
    right->addSpacing(6);
    limitsHead_ = label("Limits", "head");
    right->addWidget(limitsHead_);
    limits_ = label({}, "quiet");
    limits_->setWordWrap(true);
    right->addWidget(limits_);
    right->addLayout(limitGrid_);
    right->addSpacing(4);
    rehearsed_ = label({}, "quiet");
    rehearsed_->setObjectName("rehearsed");
    rehearsed_->setWordWrap(true);
    right->addWidget(rehearsed_);
    right->addStretch();
    side->addWidget(hairline());
    side->addLayout(read_);
    holds_ = new QVBoxLayout;
    holds_->setSpacing(0);
    side->addLayout(holds_);
    side->addLayout(last_);
    connect(&frame, &LiveFrame::updated, this, [this] {
        if (isVisible())
            follow();
    });
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void SetUpPage::buildChoices()
{
    const Json tools = objectAt(session_.document().json(), "instruments");
    const auto instruments = session_.logbook().instruments();
    const Method& method = *session_.job().method;
    const bool hand = frame_.byHand();
    const bool bothWays = method.intake.has(Intake::By::Steps) && method.intake.has(Intake::By::Frame);
    const auto wants = [&](const Choice& choice) {
        if (std::string_view(choice.kind) == "extensometer")
            return !hand && !method.train.extensometer.empty();
        return std::string_view(choice.kind) == "calliper"
            || std::ranges::find(method.train.links, choice.key, &LinkSpec::key) != method.train.links.end();
    };
    const int columns = lowAndWide() ? 3 : 2;
    if (const QString key = q(method.id) + QString::number(columns) + (hand ? "hand" : ""); choicesFor_ != key) {
        choicesFor_ = key;
        for (int c = 0; c < 3; ++c)
            grid_->setColumnStretch(c, c < columns ? 1 : 0);
        int place = 0;
        const auto put = [&](QWidget* name, QWidget* field, bool toTheEnd = false) {
            const int span = toTheEnd ? columns - place % columns : 1;
            grid_->addWidget(name, 2 * (place / columns), place % columns, 1, span);
            grid_->addWidget(field, 2 * (place / columns) + 1, place % columns, 1, span);
            ++place;
        };
        for (int i = 0; i < chooseable; ++i) {
            choices_[i]->setVisible(wants(choices[i]));
            names_[i]->setVisible(wants(choices[i]));
            if (wants(choices[i]))
                put(names_[i], choices_[i]);
        }
        wayWords_->setVisible(bothWays);
        way_->setVisible(bothWays);
        if (bothWays)
            put(wayWords_, way_);
        put(frameWords_, frameRow_, true);
    }
    hands::fill(way_, {{"by hand, in steps"}, {"on the frame"}}, hand ? 0 : 1);
    way_->setEnabled(!frame_.running() && (!session_.hasSpecimen() || session_.specimen().recordId.empty()));
    for (int i = 0; i < chooseable; ++i) {
        const std::string kind = choices[i].kind;
        const Json now = objectAt(tools, choices[i].key);
        const QString name = q(textAt(now, "name"));
        std::vector<hands::Item> items;
        if (name.isEmpty())
            items.push_back({kind == "fixture" ? "none" : "choose…"});
        int at = name.isEmpty() ? 0 : -1;
        for (const InstrumentRow& row : instruments) {
            if (row.kind != choices[i].kind)
                continue;
            if (kind == "cell" && !parseQuantity(textAt(row.body, "capacity"), method.train.load))
                continue; // a torque cell reads no force, nor the other way round
            const QString extra =
                q(textAt(row.body, "capacity", textAt(row.body, "travel", textAt(row.body, "error"))));
            if (row.name == name)
                at = static_cast<int>(items.size());
            items.push_back({row.name + (extra.isEmpty() ? "" : ", " + extra), q(row.body.dump())});
        }
        if (at < 0) {
            at = static_cast<int>(items.size());
            items.push_back({name, q(now.dump())});
        }
        hands::fill(choices_[i], items, at);
    }
}

void SetUpPage::buildSteps()
{
    const QString key = q(session_.job().method->id + "/" + stepsText())
        + QString("/%1/%2/%3/%4")
              .arg(session_.hasSpecimen())
              .arg(width() < 800)
              .arg(Theme::instance().dark())
              .arg(frame_.byHand());
    if (key == stepsFor_)
        return;
    stepsFor_ = key;
    clearLayout(steps_);
    rows_.clear();
    const auto options =
        session_.hasSpecimen() ? session_.specimen().input.options : std::map<std::string, std::string>{};
    for (const StepSpec& spec : session_.job().method->steps) {
        if (spec.stage != Stage::SetUp || !stepApplies(spec, *session_.job().method, options))
            continue;
        auto* line = new QHBoxLayout;
        line->setSpacing(10);
        auto* tick = new StepTick;
        line->addWidget(tick);
        auto* words = label(q(spec.text));
        line->addWidget(words, 1);
        const bool person = byPerson(frame_, spec);
        if (person && !spec.safety.empty()) {
            words->setTextFormat(Qt::RichText);
            words->setText(q(spec.text) + " <span style='color:" + pal().quiet.name() + "'>" + q(spec.safety)
                           + "</span>");
        }
        QPushButton* act = person ? doneButton(spec, line) : frameButton(spec, line);
        steps_->addLayout(line);
        rows_.push_back({spec, act, tick});
    }
    settleLayout(steps_);
}

/// Ticks a step that a person does; with the next press it is open again.
QPushButton* SetUpPage::doneButton(const StepSpec& spec, QHBoxLayout* line)
{
    auto* act = wideButton("Done", "stepDone");
    connect(act, &QPushButton::clicked, this, [this, text = spec.text] {
        session_.apply(edits::step(session_.document(), session_.current(), text,
                                   !edits::stepDone(session_.document(), session_.current(), text)));
        follow();
    });
    line->addWidget(act);
    return act;
}

/// Has the frame do what a step watches for; nothing where it comes by itself.
QPushButton* SetUpPage::frameButton(const StepSpec& spec, QHBoxLayout* line)
{
    struct Act {
        const char* watch;
        const char* words;
        const char* name;
        void (LiveFrame::*call)();
    };
    static constexpr Act acts[] = {{"force-zeroed", "Zero", "zeroForce", &LiveFrame::zeroForce},
                                   {"grip-top", "Close top", "closeTop", &LiveFrame::closeTopGrip},
                                   {"grip-bottom", "Close lower", "closeBottom", &LiveFrame::closeBottomGrip},
                                   {"extensometer-on", "On, balance", "extensometerOn", &LiveFrame::putExtensometerOn},
                                   {"centred", "Centred", "centred", &LiveFrame::setCentred}};
    const auto& links = session_.job().method->train.links;
    const bool pins = links.size() > 1 && links[1].form == LinkSpec::Form::Grips && links[1].kind == "fixture";
    const char* top = pins ? "Pin in, top" : "Close top";
    const char* below = pins ? "Pin in, lower" : "Close lower";
    for (const Act& a : acts)
        if (spec.watch == a.watch) {
            const std::string_view watch = a.watch;
            auto* act = wideButton(watch == "grip-top" ? top : watch == "grip-bottom" ? below : a.words, a.name);
            connect(act, &QPushButton::clicked, &frame_, a.call);
            line->addWidget(act);
            return act;
        }
    if (spec.watch == "guard-closed") {
        auto* act = wideButton("Close guard", "closeGuard");
        connect(act, &QPushButton::clicked, this, [this] { frame_.setGuard(!frame_.shows("guard-closed")); });
        line->addWidget(act);
        return act;
    }
    if (!spec.watch.starts_with("grip-second"))
        return nullptr;
    const bool lower = spec.watch == "grip-second-bottom"; // the one that is still open
    auto* act = lower ? wideButton(below, "closeBottom") : wideButton(top, "closeTop");
    connect(act, &QPushButton::clicked, &frame_, lower ? &LiveFrame::closeBottomGrip : &LiveFrame::closeTopGrip);
    auto* ease = wideButton("Ease to zero", "easeToZero");
    connect(ease, &QPushButton::clicked, &frame_, &LiveFrame::easeToZero);
    auto* two = new QBoxLayout(width() < 800 ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    two->setSpacing(width() < 800 ? 4 : 6);
    two->addWidget(act);
    two->addWidget(ease);
    line->addLayout(two);
    return act;
}

} // namespace fortitor
