// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/setup/setup_page.h"

#include "app/model/tester_memory.h"
#include "app/model/tester_work.h"

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

#include <QCoreApplication>
#include <QDate>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QKeyEvent>

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

} // namespace

/// The steps that belong to the options chosen.
std::string SetUpPage::stepsText() const
{
    std::string text;
    if (session_.hasSpecimen())
        for (const StepSpec& step : session_.job().method->steps)
            if (step.stage == Stage::SetUp
                && stepApplies(step, *session_.job().method, session_.specimen().input.options))
                text += step.text + step.watch + step.onlyIf + "/";
    return text;
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
    daily_->refresh();
    trainRoom_->setVisible(!session_.job().method->train.links.empty() || indents() || strikes());
    refitted_ = false;
    if (indents()) {
        const SpecimenInput& input = session_.specimen().input;
        const auto setting = settingOf(input);
        refitted_ = input.readings.empty()
            && fittedOtherwise(session_.testerRows(), s(testerOf(input, *session_.job().method, *setting)), *setting,
                               anvilOf(input), session_.jobId(), static_cast<int>(session_.current()));
    }
    update();
    if (const PageSpec* on = session_.job().method->pageOf(Stage::Load))
        next_->setText("On to " + q(on->verb));
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
        static_cast<StepTick*>(step.tick)->set(done);
        if (own) {
            step.act->setText(done ? "Not yet" : "Done");
            continue;
        }
        if (step.act)
            step.act->setEnabled(frame_.ready() && !frame_.running() && !frame_.linkLost());
        if (step.act && step.spec.watch == "guard-closed")
            step.act->setText(done ? "Open guard" : "Close guard");
    }
    const bool plate =
        session_.job().method->live.balance && !hand && frame_.shows("centred") && frame_.shows("extensometer-on");
    if (plate)
        balance_->show(frame_.balance(), frame_.simulated());
    if (plate != balance_->isVisibleTo(this)) {
        balance_->setVisible(plate);
        QTimer::singleShot(0, this, [this] { scroll_->ensureWidgetVisible(balance_); }); // once it has its place
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
    if (kept)
        words.prepend(QString("Simulated on %1 similar specimens, %2.").arg(RehearsalPlan{}.runs).arg(q(kept->date)));
    if (!frame_.restsOn().empty() && !frame_.byHand() && frame_.address().isEmpty())
        words << q(frame_.restsOn());
    rehearsed_->setText(words.join(" "));
    rehearsed_->setVisible(!words.isEmpty());
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
