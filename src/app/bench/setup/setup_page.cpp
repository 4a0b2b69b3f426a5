// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/setup/setup_page.h"

#include "jobs/json_at.h"
#include "app/bench/setup/frame_dialog.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/busy.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "jobs/rehearsed.h"
#include "methods/common/stress_strain.h"

#include <QCoreApplication>
#include <QDate>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollArea>
#include <QScrollBar>
#include <QSettings>

#include <cmath>
#include <span>

namespace fortitor {
namespace {

/// A label that shows it already is not laid out again.
void setTextOf(QLabel* label, const QString& text)
{
    if (label->text() != text)
        label->setText(text);
}

struct Choice {
    const char* key; ///< in the job's "instruments"
    const char* kind; ///< of the instrument list
    const char* words;
};
constexpr Choice choices[] = {{"force", "cell", "load cell"},
                              {"grips", "grips", "grips"},
                              {"platens", "platens", "platens"},
                              {"fixture", "fixture", "fixture"},
                              {"extensometer", "extensometer", "extensometer"},
                              {"calliper", "calliper", "calliper"}};

/// A ring that fills with a tick.
class Tick : public QWidget {
public:
    Tick() { setFixedSize(20, 20); }
    void set(bool done)
    {
        if (done != done_) {
            done_ = done;
            update();
        }
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(done_ ? pal().ink : pal().hair, 1.6));
        painter.setBrush(done_ ? QBrush(pal().ink) : Qt::NoBrush);
        painter.drawEllipse(QPointF(10, 10), 7.5, 7.5);
        if (done_) {
            painter.setPen(QPen(pal().surface, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            const QPointF check[] = {{6.5, 10}, {9, 12.6}, {13.6, 7.4}};
            painter.drawPolyline(check, 3);
        }
    }

private:
    bool done_ = false;
};

/// What a person ticks where nothing but the person can see it.
bool byPerson(const LiveFrame& frame, const StepSpec& step)
{
    return frame.byHand() && step.watch != "measured" && step.watch != "margins";
}

} // namespace

SetUpPage::SetUpPage(Session& session, LiveFrame& frame, QWidget* parent) : Page(session, parent), frame_(frame)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 16, 24, 16);
    row->setSpacing(28);
    trainRoom_ = new QWidget;
    trainRoom_->setFixedWidth(330);
    row->addWidget(trainRoom_);
    auto* side = new QVBoxLayout;
    side->setSpacing(8);
    row->addLayout(side, 1);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    scroll->setWidget(inside);
    side->addWidget(scroll, 1);
    scroll_ = scroll;
    auto* right = new QVBoxLayout(inside);
    right->setContentsMargins(0, 0, 6, 0);
    right->setSpacing(7);
    right->addWidget(label("Instruments", "head"));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(5);
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
    grid_ = grid;
    auto* frameRow = new QHBoxLayout;
    link_ = label({});
    link_->setObjectName("frameLink");
    rate_ = new QComboBox;
    rate_->setObjectName("frameRate");
    for (const int rate : {50, 100, 200, 500, 1000, 2000, 5000})
        rate_->addItem(QString("%1 /s").arg(rate), rate);
    rate_->setToolTip("Readings a second");
    rate_->setMinimumWidth(64);
    link_->setMinimumWidth(64);
    link_->setWordWrap(false);
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
    right->addLayout(grid);
    right->addSpacing(8);
    right->addWidget(label("Steps", "head"));
    steps_ = new QVBoxLayout;
    steps_->setSpacing(4);
    right->addLayout(steps_);
    read_ = new QHBoxLayout;
    force_ = label({});
    force_->setObjectName("setupForce");
    force_->setTextFormat(Qt::RichText);
    handSet_ = new HandSet(frame);
    // In a room of its own: a figure that changes five times a second lays nothing else out anew.
    forceRoom_ = new QWidget;
    forceRoom_->setFixedSize(150, 50);
    force_->setParent(forceRoom_);
    force_->setGeometry(forceRoom_->rect());
    read_->addWidget(forceRoom_);
    read_->addStretch(1);
    read_->addWidget(handSet_);
    right->addSpacing(6);
    limitsHead_ = label("Limits", "head");
    right->addWidget(limitsHead_);
    limits_ = label({}, "quiet");
    limits_->setWordWrap(true);
    right->addWidget(limits_);
    auto* limitGrid = new QGridLayout;
    limitGrid->setHorizontalSpacing(8);
    limitGrid->setVerticalSpacing(2);
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
    limitGrid_ = limitGrid;
    placeLimits(5);
    right->addLayout(limitGrid);
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
    side->addLayout(last_);
    connect(rehearse_, &QPushButton::clicked, this, &SetUpPage::rehearse);
    connect(next_, &QPushButton::clicked, this, &SetUpPage::loadAsked);
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
        const auto put = [&](QWidget* name, QWidget* field) {
            grid_->addWidget(name, 2 * (place / columns), place % columns);
            grid_->addWidget(field, 2 * (place / columns) + 1, place % columns);
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
        put(frameWords_, frameRow_);
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

/// The steps that belong to the options chosen.
std::string SetUpPage::stepsText() const
{
    std::string text;
    if (session_.hasSpecimen())
        for (const StepSpec& step : session_.job().method->steps)
            if (step.stage == Stage::SetUp
                && stepApplies(step, *session_.job().method, session_.specimen().input.options))
                text += step.watch + step.onlyIf + "/";
    return text;
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
    const auto options =
        session_.hasSpecimen() ? session_.specimen().input.options : std::map<std::string, std::string>{};
    for (const StepSpec& spec : session_.job().method->steps) {
        if (spec.stage != Stage::SetUp || !stepApplies(spec, *session_.job().method, options))
            continue;
        auto* line = new QHBoxLayout;
        line->setSpacing(10);
        auto* tick = new Tick;
        line->addWidget(tick);
        auto* words = label(q(spec.text));
        line->addWidget(words, 1);
        QPushButton* act = nullptr;
        if (byPerson(frame_, spec)) {
            act = button("Done", "", "stepDone");
            act->setMinimumWidth(104);
            connect(act, &QPushButton::clicked, this, [this, text = spec.text] {
                session_.apply(edits::step(session_.document(), session_.current(), text,
                                           !edits::stepDone(session_.document(), session_.current(), text)));
                follow();
            });
            line->addWidget(act);
            if (!spec.safety.empty())
                words->setTextFormat(Qt::RichText),
                    words->setText(q(spec.text) + " <span style='color:" + pal().quiet.name() + "'>" + q(spec.safety)
                                   + "</span>");
            steps_->addLayout(line);
            rows_.push_back({spec, act, tick});
            continue;
        }
        for (const Act& a : acts)
            if (spec.watch == a.watch) {
                act = button(a.words, "", a.name);
                act->setMinimumWidth(104);
                connect(act, &QPushButton::clicked, &frame_, a.call);
                line->addWidget(act);
            }
        if (spec.watch.starts_with("grip-second")) {
            const bool lower = spec.watch == "grip-second-bottom"; // the one that is still open
            act = lower ? button("Close lower", "", "closeBottom") : button("Close top", "", "closeTop");
            act->setMinimumWidth(104);
            connect(act, &QPushButton::clicked, &frame_,
                    lower ? &LiveFrame::closeBottomGrip : &LiveFrame::closeTopGrip);
            auto* ease = button("Ease to zero", "", "easeToZero");
            ease->setMinimumWidth(104);
            connect(ease, &QPushButton::clicked, &frame_, &LiveFrame::easeToZero);
            auto* two = new QBoxLayout(width() < 800 ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
            two->setSpacing(width() < 800 ? 4 : 6);
            two->addWidget(act);
            two->addWidget(ease);
            line->addLayout(two);
        }
        if (spec.watch == "guard-closed") {
            act = button("Close guard", "", "closeGuard");
            act->setMinimumWidth(104);
            connect(act, &QPushButton::clicked, this, [this] { frame_.setGuard(!frame_.shows("guard-closed")); });
            line->addWidget(act);
        }
        steps_->addLayout(line);
        rows_.push_back({spec, act, tick});
    }
    settleLayout(steps_);
}

void SetUpPage::refresh()
{
    if (!session_.isOpen())
        return;
    buildChoices();
    const QString key = QString::number(session_.jobId()) + "/" + QString::number(session_.current())
        + q(objectAt(session_.document().json(), "instruments").dump()
            + objectAt(session_.document().json(), "limits").dump())
        + (session_.hasSpecimen()
               ? q(objectAt(session_.document().json()["specimens"][session_.current()], "dimensions").dump())
                   + q(stepsText())
               : QString());
    const bool hand = frame_.byHand();
    for (QWidget* w :
         std::initializer_list<QWidget*>{frameWords_, frameRow_, forceRoom_, handSet_, limitsHead_, limits_, rehearse_})
        w->setVisible(!hand);
    for (int i = 0; i < 5; ++i) {
        limitNames_[i]->setVisible(!hand);
        limitFields_[static_cast<size_t>(i)].second->setVisible(!hand);
    }
    if ((key != preparedFor_ || (!hand && !frame_.ready() && !frame_.waits() && frame_.strange().isEmpty()))
        && !frame_.running()) {
        if (key.section('{', 0, 0) != preparedFor_.section('{', 0, 0)) // another specimen
            scroll_->verticalScrollBar()->setValue(0);
        preparedFor_ = key;
        trouble_ = frame_.prepare();
        buildSteps();
    }
    limitNames_[0]->setText(q(std::string(kindName(frame_.load()))));
    limitNames_[1]->setText(frame_.load() == Kind::Torque ? "twist" : "travel");
    showLimits();
    showRehearsal();
    follow();
    std::vector<Remark> remarks = frame_.trainRemarks();
    emit pageRemarks(remarks);
    update();
}

void SetUpPage::enter()
{
    for (const Step& step : rows_)
        if (step.act
            && !(session_.hasSpecimen() && byPerson(frame_, step.spec)
                     ? edits::stepDone(session_.document(), session_.current(), step.spec.text)
                     : frame_.shows(step.spec.watch))) {
            step.act->setFocus();
            return;
        }
    next_->setFocus();
}

void SetUpPage::follow()
{
    const bool hand = frame_.byHand();
    for (const Step& step : rows_) {
        const bool own = hand && byPerson(frame_, step.spec);
        const bool done = own ? edits::stepDone(session_.document(), session_.current(), step.spec.text)
                              : frame_.shows(step.spec.watch);
        static_cast<Tick*>(step.tick)->set(done);
        if (own) {
            step.act->setText(done ? "Not yet" : "Done");
            continue;
        }
        if (step.act)
            step.act->setEnabled(frame_.ready() && !frame_.running() && !frame_.linkLost());
        if (step.act && step.spec.watch == "guard-closed")
            step.act->setText(done ? "Open guard" : "Close guard");
    }
    const double load = frame_.sample().force;
    const bool kilo = frame_.load() == Kind::Force && std::abs(load) >= 1000;
    const Unit& unit = displayUnit(frame_.load(), load, units());
    const bool reads = frame_.joined() && std::isfinite(load);
    const QString figure =
        figureHtml(reads ? QString::number(unit.fromBase(load), 'f', kilo && units() == UnitSystem::SI ? 3 : 1) : "–",
                   q(std::string(unit.symbol)), 26);
    setTextOf(force_,
              frame_.asLastHeard()
                  ? "<span style='color:" + pal().quiet.name() + "'>" + figure + "<br>as last heard</span>"
                  : figure);
    const auto weakest = weakestLink(frame_.train());
    setTextOf(limits_,
              weakest ? "The frame stops by itself at these. The weakest link is " + q(weakest->name) + ", "
                      + shownQuantity(weakest->capacity, frame_.load()) + "."
                      : QString("Choose what carries the load: the weakest link sets the stop limit."));
    setTextOf(link_,
              frame_.address().isEmpty() && frame_.client().link() == MachineClient::Link::Joined ? QString("simulated")
                                                                                                  : frame_.linkWords());
    if (const int at = rate_->findData(static_cast<int>(frame_.rate())); at >= 0 && at != rate_->currentIndex())
        rate_->setCurrentIndex(at);
    rate_->setEnabled(!frame_.running());
    handSet_->follow();
    rehearse_->setEnabled(!frame_.running() && frame_.rehearsalPlan().has_value());
    showHolds();
    next_->setEnabled(hand || (trouble_.isEmpty() && frame_.holds().empty()) || frame_.running());
    // The train is painted anew only when it has changed.
    QString painted = frame_.linkWords();
    for (const char* watch : {"grip-top", "grip-bottom", "extensometer-on", "centred"})
        painted += frame_.shows(watch) ? '1' : '0';
    if (painted != painted_)
        update();
    painted_ = painted;
}

/// What holds the start back, a line each; what is not about safety can be set aside, with a reason.
void SetUpPage::showHolds()
{
    const auto holds = frame_.byHand() ? std::vector<HoldBack>{}
        : trouble_.isEmpty()           ? frame_.holds()
                                       : std::vector<HoldBack>{{"trouble", trouble_, true}};
    QString key = height() < 560 ? "low" : "";
    for (const HoldBack& hold : holds)
        key += q(hold.code) + hold.words + "\n";
    for (const auto& [code, reason] : frame_.overruled())
        key += "-" + q(code) + reason;
    if (key == holdsShown_)
        return;
    holdsShown_ = key;
    clearLayout(holds_);
    // On a low page the first two; the steps above show the rest, and these come up as those are done.
    const size_t shown = height() < 560 && holds.size() > 3 ? 2 : holds.size();
    for (const HoldBack& hold : std::span(holds).first(shown)) {
        auto* row = new QHBoxLayout;
        auto* head = label(&hold == &holds.front() ? "Start waits:" : "", "quiet");
        head->setFixedWidth(78);
        head->setWordWrap(false);
        row->addWidget(head);
        auto* words = label(hold.words, "warn");
        words->setObjectName("hold-" + q(hold.code));
        words->setWordWrap(true);
        row->addWidget(words, 1);
        if (!hold.safety) {
            auto* aside = button("Override…", "link", "");
            aside->setObjectName("aside-" + q(hold.code));
            aside->setToolTip("Start all the same, with a reason that stays with the record");
            connect(aside, &QPushButton::clicked, this, [this, hold] {
                bool ok = false;
                const QString why = QInputDialog::getText(this, "Override",
                                                          plain(hold.words + ".\nWhy may the test start all the same?"),
                                                          QLineEdit::Normal, {}, &ok)
                                        .trimmed();
                if (ok && !why.isEmpty())
                    frame_.overrule(hold.code, why);
                follow();
            });
            row->addWidget(aside);
        }
        holds_->addLayout(row);
    }
    if (shown < holds.size())
        holds_->addWidget(label(QString("and %1 more").arg(holds.size() - shown), "quiet"));
    for (const auto& [code, reason] : frame_.overruled())
        holds_->addWidget(label("Overridden: " + q(code) + ", " + reason, "quiet"));
    settleLayout(holds_);
}

void SetUpPage::showLimits()
{
    const StopLimits& limits = frame_.limits();
    const Json own = objectAt(session_.document().json(), "limits");
    const std::map<std::string, QString> proposed{
        {"force", shownQuantity(limits.force, frame_.load())},
        {"travel", shownQuantity(limits.travel, edits::limitKind("travel", frame_.load()))},
        {"extension", limits.extension > 0 ? shownQuantity(limits.extension, Kind::Length) : "none"},
        {"force_drop", limits.forceDrop > 0 ? QString::number(100 * limits.forceDrop, 'f', 0) + " %" : "none"},
        {"time", QString::number(limits.time / 60, 'f', 1) + " min"}};
    for (const auto& [key, field] : limitFields_) {
        field->setPlaceholderText(frame_.limits().force > 0 ? proposed.at(key) : QString("–"));
        const std::string text =
            own.is_object() && own.contains(key) && own[key].is_string() ? own[key].get<std::string>() : "";
        hands::fill(field, q(text));
        field->setEnabled(!frame_.running());
    }
}

void SetUpPage::rehearse()
{
    const auto plan = frame_.rehearsalPlan();
    if (!plan || !session_.hasSpecimen())
        return;
    const size_t index = session_.current();
    Busy busy("Rehearsing on " + QString::number(plan->runs) + " virtual specimens", this);
    const auto result = fortitor::rehearse(*plan, busy.progress());
    if (!result) {
        emit session_.failed(q(result.problem().text()));
        return;
    }
    if (!*result)
        return;
    const Method& method = *session_.job().method;
    const Rehearsal& r = **result;
    const Rehearsed kept{.date = s(QDate::currentDate().toString(Qt::ISODate)),
                         .byTravel = plan->byTravel,
                         .asForce = !method.live.stress,
                         .x = r.x,
                         .low = r.low,
                         .middle = r.middle,
                         .high = r.high,
                         .words = rehearsalWords(r, plan->limits)};
    session_.apply(edits::rehearsal(session_.document(), index, rehearsedJson(kept)));
    showRehearsal();
    QCoreApplication::processEvents(QEventLoop::ExcludeUserInputEvents);
    scroll_->verticalScrollBar()->setValue(scroll_->verticalScrollBar()->maximum());
}

void SetUpPage::showRehearsal()
{
    const auto kept = session_.hasSpecimen() ? rehearsedOf(session_.document().json()["specimens"][session_.current()])
                                             : std::nullopt;
    QStringList words;
    if (kept)
        for (const std::string& w : kept->words)
            words << q(w);
    rehearsed_->setText(
        kept ? QString("Simulated on %1 similar specimens, %2. ").arg(RehearsalPlan{}.runs).arg(q(kept->date))
                + words.join(" ")
             : QString());
    rehearsed_->setVisible(kept.has_value());
}

void SetUpPage::resizeEvent(QResizeEvent*)
{
    trainRoom_->setFixedWidth(width() < 800 || lowAndWide() ? 306 : 330);
    static_cast<QHBoxLayout*>(layout())->setSpacing(lowAndWide() ? 18 : 28);
    placeLimits(width() < 800 ? 3 : 5);
    // On a low screen that is wide enough the reading stands beside the buttons, and the steps have its room.
    QHBoxLayout* row = lowAndWide() ? last_ : read_;
    if (row->indexOf(forceRoom_) < 0) {
        row->insertWidget(0, forceRoom_);
        row->insertWidget(row->count(), handSet_);
    }
    if (session_.isOpen())
        buildChoices();
}

bool SetUpPage::lowAndWide() const
{
    return height() < 620 && width() > 1000;
}

/// So many a row that each can be read whole.
void SetUpPage::placeLimits(int columns)
{
    for (int i = 0; i < 5; ++i) {
        limitGrid_->addWidget(limitNames_[i], 2 * (i / columns), i % columns);
        limitGrid_->addWidget(limitFields_[static_cast<size_t>(i)].second, 2 * (i / columns) + 1, i % columns);
    }
}

void SetUpPage::keyPressEvent(QKeyEvent* event)
{
    if (frame_.running() || !frame_.ready())
        return Page::keyPressEvent(event);
    switch (event->key()) {
    case Qt::Key_Z: frame_.zeroForce(); break;
    case Qt::Key_B: frame_.putExtensometerOn(); break;
    case Qt::Key_P: rehearse(); break;
    default: Page::keyPressEvent(event);
    }
}

QStringList SetUpPage::keys() const
{
    return {"Z|zero force",
            "B|balance the extensometer",
            "Space, Enter|the step in focus",
            "Alt+4|on to Load",
            "P|rehearse",
            "Esc|STOP"};
}

} // namespace fortitor
