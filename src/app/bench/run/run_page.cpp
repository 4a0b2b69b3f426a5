// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/run/run_page.h"

#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"

#include <QApplication>
#include <QDateTime>
#include <QSettings>
#include <QVBoxLayout>

#include <fmt/format.h>

namespace fortitor {
namespace {

constexpr double paces[] = {1, 100, 1e4, 1e5};

QString clockWords(const QDateTime& at)
{
    const QDateTime now = QDateTime::currentDateTime();
    return at.date() == now.date() ? at.toString("HH:mm") : at.toString("ddd d MMM HH:mm");
}

} // namespace

RunPage::RunPage(Session& session, LiveFrame& frame, QWidget* parent) : Page(session, parent), rig_(session, frame)
{
    setObjectName("runPage");
    build();
    connect(&rig_, &RigWork::changed, this, &RunPage::showRig);
    connect(&rig_, &RigWork::refused, this, [this](const QString& why) { say(why, true); });
    connect(&rig_, &RigWork::ended, this, &RunPage::ended);
    connect(&rig_, &RigWork::paused, this, [this](size_t specimen, double cycles) {
        session_.apply(edits::note(session_.document(), specimen, fatigueKeys::soFar, fmt::format("{:.0f}", cycles)));
    });
    connect(&ticks_, &QTimer::timeout, this, [this] {
        if (isVisible())
            showRig();
    });
    ticks_.start(1000);
}

void RunPage::build()
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(24, 14, 20, 12);
    column->setSpacing(6);
    title_ = label({}, "head");
    title_->setObjectName("runTitle");
    facts_ = label({}, "quiet");
    facts_->setObjectName("runFacts");
    facts_->setWordWrap(true);
    column->addWidget(title_);
    column->addWidget(facts_);
    lanes_ = new RunLanes;
    connect(lanes_, &RunLanes::chosen, this, [this](size_t lane) { session_.setCurrent(lane); });
    scroll_ = new QScrollArea;
    scroll_->setWidget(lanes_);
    scroll_->setWidgetResizable(true);
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setFocusPolicy(Qt::NoFocus);
    column->addWidget(scroll_, 1);
    column->addWidget(hairline());
    rigWords_ = label({}, "quiet");
    rigWords_->setObjectName("rigWords");
    rigWords_->setWordWrap(true);
    column->addWidget(rigWords_);
    message_ = label({}, "warn");
    message_->setObjectName("runMessage");
    message_->setWordWrap(true);
    message_->hide();
    column->addWidget(message_);
    column->addLayout(buildFields());
    caution_ = label({});
    caution_->setObjectName("runCaution");
    caution_->setTextFormat(Qt::RichText);
    caution_->setWordWrap(true);
    caution_->setAutoFillBackground(true);
    caution_->setMargin(7);
    column->addWidget(caution_);
    column->addLayout(buildActions());
}

QLineEdit* RunPage::noteField(QHBoxLayout* row, const char* key, const QString& words, const QString& unit, int wide)
{
    auto* edit = lineEdit((std::string("run-") + key).c_str(), {});
    edit->setPlaceholderText(unit);
    edit->setMinimumHeight(34);
    edit->setMinimumWidth(wide);
    auto* cell = new QVBoxLayout;
    cell->setSpacing(1);
    cell->addStretch();
    cell->addWidget(label(words, "quiet"));
    cell->addWidget(edit);
    row->addLayout(cell, wide);
    return edit;
}

QHBoxLayout* RunPage::buildFields()
{
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    range_ = noteField(row, "range", "Range, MPa", "MPa", 76);
    range_->setToolTip("Greatest less least stress. Before the run it is the level that is planned.");
    hands::onKept(range_, this, [this](const QString& typed, hands::Answered answered) {
        return keepRange(typed, std::move(answered));
    });
    for (const auto& [key, words, unit, wide] :
         {std::tuple(fatigueKeys::ratio, "R", "0.1", 52), std::tuple(fatigueKeys::frequency, "Frequency", "Hz", 66)}) {
        auto* edit = noteField(row, key, words, unit, wide);
        hands::onKept(edit, this, [this, name = std::string(key)](const QString& typed, hands::Answered answered) {
            const bool bare = name == fatigueKeys::frequency && parseNumber(s(typed));
            return session_.apply(edits::note(session_.document(), session_.current(), name,
                                              s(bare ? typed + " Hz" : typed)),
                                  std::move(answered));
        });
        notes_.emplace_back(key, edit);
    }
    auto* cell = new QVBoxLayout;
    cell->setSpacing(1);
    cell->addStretch();
    cell->addWidget(label("Cycles", "quiet"));
    cycles_ = new PadField("runCycles");
    cycles_->setPlaceholderText("cycles");
    cycles_->setToolTip("As the counter shows: 412000, 412 000 or 4.12e5. Enter keeps it.");
    cycles_->setMinimumWidth(150);
    cell->addWidget(cycles_);
    row->addLayout(cell, 170);
    connect(cycles_, &PadField::taken, this, &RunPage::take);
    connect(cycles_, &PadField::instruments, this, [this] { step_->click(); });
    connect(cycles_, &QLineEdit::textChanged, this, [this] {
        if (cycles_->isModified())
            drafts_[standsAt_] = cycles_->text();
    });
    auto* ends = new QVBoxLayout;
    ends->setSpacing(1);
    ends->addStretch();
    ends->addWidget(label("End", "quiet"));
    end_ = new LookRow(*fatigueSn().findNote(fatigueKeys::outcome));
    end_->setMinimumWidth(230);
    connect(end_, &LookRow::picked, this, [this](const QString& choice) {
        // An end that is put right keeps its piece at hand; a new one leads on.
        corrected_ = !noteOf(session_.specimen().input, fatigueKeys::outcome).empty();
        keepNote(fatigueKeys::outcome, s(choice));
    });
    connect(end_, &LookRow::goOn, this, &RunPage::goOn);
    ends->addWidget(end_);
    row->addLayout(ends, 260);
    return row;
}

QHBoxLayout* RunPage::buildActions()
{
    auto* row = new QHBoxLayout;
    take_ = button("Keep it  ↵", "primary", "runTake");
    step_ = button({}, "", "runStep");
    step_->setToolTip("The next step of the simulated frame (I)");
    pace_ = new QComboBox;
    pace_->setObjectName("runPace");
    for (const double pace : paces)
        pace_->addItem(pace == 1 ? QString("as in life") : q(cyclesText(pace)) + " × life", pace);
    pace_->setCurrentIndex(2);
    pace_->setToolTip("How many times faster than life the simulated frame counts");
    all_ = button("R and Hz for all that wait", "link", "runForAll");
    all_->setToolTip("Notes R and the frequency of this piece for all pieces that are not run yet");
    watch_ = button("Crack record …", "link", "runWatch");
    watch_->setToolTip(
        "Takes in what watched this piece: cycles with strains along the toe or a potential, or a field of "
        "displacements");
    toJudge_ = button("Judge", "link", "runToJudge");
    for (QPushButton* b : {take_, step_, all_, watch_, toJudge_})
        b->setFocusPolicy(Qt::TabFocus);
    row->addWidget(take_);
    row->addWidget(step_);
    row->addWidget(pace_);
    row->addStretch();
    row->addWidget(all_);
    row->addWidget(watch_);
    row->addWidget(toJudge_);
    connect(watch_, &QPushButton::clicked, this, &RunPage::importAsked);
    connect(take_, &QPushButton::clicked, this, &RunPage::take);
    connect(step_, &QPushButton::clicked, this, [this] {
        say({});
        rig_.step();
    });
    rig_.setPace(paces[2]);
    connect(pace_, &QComboBox::activated, this, [this] { rig_.setPace(pace_->currentData().toDouble()); });
    connect(all_, &QPushButton::clicked, this, &RunPage::forAll);
    connect(toJudge_, &QPushButton::clicked, this, &RunPage::judgeAsked);
    return row;
}

void RunPage::refresh()
{
    const PageSpec* page = session_.hasSpecimen() ? session_.job().method->pageOf(Stage::Load) : nullptr;
    if (!page || page->page != "run")
        return;
    if (const QString now = QString::number(session_.jobId()) + "/" + q(session_.specimen().label);
        std::exchange(standsAt_, now) != now) {
        cycles_->setText(drafts_[now]);
        queried_.clear();
        say({});
    }
    fill();
}

void RunPage::fill()
{
    std::vector<const SpecimenInput*> inputs;
    std::vector<bool> counts;
    for (size_t i = 0; i < session_.job().specimens.size(); ++i) {
        inputs.push_back(&session_.job().specimens[i].input);
        counts.push_back(session_.job().specimens[i].excludedBecause.empty());
    }
    desk_ = runDesk(inputs, counts);
    lanes_->show(desk_, session_.current());
    const SpecimenInput& input = session_.specimen().input;
    const auto plan = runPlanOf(input, desk_.line);
    title_->setText(
        q(session_.specimen().label)
        + (plan && plan->range ? QString(" at %1 MPa").arg(*plan->range, 0, 'g', 4) : QString(", no level yet")));
    const RunWords words = plan ? runWords(*plan) : RunWords{plan.problem().text(), {}};
    QStringList facts{q(words.forces)};
    if (!words.life.empty())
        facts << q(words.life);
    facts << "run-out at " + q(cyclesText(desk_.stops.runOut));
    facts_->setText(facts.join("  ·  "));
    if (!desk_.trouble.empty())
        say(q(desk_.trouble), true);
    hands::fill(range_, plan && plan->range ? QString::number(*plan->range, 'g', 6) : QString());
    for (const auto& [key, edit] : notes_)
        hands::fill(edit, q(noteOf(input, key)));
    end_->setCurrent(noteOf(input, fatigueKeys::outcome));
    if (!cycles_->isModified() && drafts_[standsAt_].isEmpty()) {
        const double kept = desk_.lanes[session_.current()].cycles;
        cycles_->setPlaceholderText(kept >= 1 ? q(cyclesText(kept)) : QString("cycles"));
    }
    const std::string call = optionOr(input, fatigueKeys::call, "");
    caution_->setText("<b>Nobody reaches in while it runs.</b> Shield closed, stops tried; pressure off and drive "
                      "disabled before hands go in. "
                      + (call.empty() ? QString("State on Plan whom to call when a run stops. ")
                                      : "It stops by itself: call <b>" + q(call).toHtmlEscaped() + "</b>. ")
                      + "Local rules and the machine's manual decide.");
    QPalette tint = caution_->palette();
    tint.setColor(QPalette::Window, pal().accentTint);
    caution_->setPalette(tint);
    scroll_->ensureVisible(0, static_cast<int>(lanes_->laneAt(session_.current()).center().y()), 0, 40);
    showRig();
}

void RunPage::showRig()
{
    const QString next = rig_.nextStep();
    step_->setText(next.isEmpty() ? QString("…") : next);
    step_->setEnabled(!next.isEmpty());
    const RigStatus* now = rig_.status();
    QString words = rig_.words();
    const auto at = rig_.inGrips();
    const bool runs = now && now->state == RigStatus::State::Running && at && *at < desk_.lanes.size();
    if (runs) {
        const RunLane& lane = desk_.lanes[*at];
        const QDateTime out = rig_.reaches(desk_.stops.runOut), mean = rig_.reaches(lane.expected);
        if (mean.isValid() && lane.expected < desk_.stops.runOut)
            words += " · mean life at " + clockWords(mean);
        if (out.isValid())
            words += " · run-out at " + clockWords(out);
    }
    lanes_->showRunning(runs ? *at : SIZE_MAX, now ? now->cycles : 0);
    rigWords_->setVisible(!words.isEmpty());
    rigWords_->setText("Simulated: " + words);
}

void RunPage::keepNote(const std::string& key, const std::string& value)
{
    session_.apply(edits::note(session_.document(), session_.current(), key, value));
}

/// The level that is planned; once the piece was run, what it was run at.
bool RunPage::keepRange(const QString& typed, hands::Answered answered)
{
    const SpecimenInput& input = session_.specimen().input;
    const QString text = parseNumber(s(typed)) ? typed + " MPa" : typed;
    if (!typed.isEmpty()) {
        const auto read = parseQuantity(s(text), Kind::Stress);
        if (!read || !(read->base > 0)) {
            say(read ? QString("A range is above zero.") : q(read.problem().text()), true);
            return false;
        }
    }
    say({});
    if (input.readings.empty())
        return session_.apply(edits::note(session_.document(), session_.current(), fatigueKeys::planned, s(text)),
                              std::move(answered));
    const std::string path = "/specimens/" + std::to_string(session_.current()) + "/readings/";
    CommandBuilder builder(session_.document(), "range of " + session_.specimen().label + ": " + s(text));
    builder.set(path + fatigueKeys::range, Json::array({s(text)}));
    if (input.readings.contains(fatigueKeys::amplitude))
        builder.set(path + fatigueKeys::amplitude, std::nullopt);
    return session_.apply(builder.take(), std::move(answered));
}

/// Cycles with the range they were run at, and what goes with them, in one step.
void RunPage::keepRun(size_t index, double cycles, const std::map<std::string, std::string>& notes)
{
    const SpecimenInput& input = session_.job().specimens[index].input;
    const std::string path = "/specimens/" + std::to_string(index);
    CommandBuilder builder(session_.document(),
                           fmt::format("{} cycles on {}", cycles, session_.job().specimens[index].label));
    Json readings;
    const auto keyed = keyedRange(input);
    const auto range = keyed && *keyed ? *keyed : plannedRange(input);
    readings[fatigueKeys::range] = Json::array({fmt::format("{} MPa", range.value_or(0))});
    readings[fatigueKeys::cycles] = Json::array({fmt::format("{:.0f}", cycles)});
    builder.set(path + "/readings", readings);
    for (const auto& [key, value] : notes)
        builder.set(path + "/notes/" + key, value.empty() ? std::nullopt : std::optional(Json(value)));
    if (!session_.apply(builder.take()))
        return;
    if (index == session_.current()) {
        drafts_.erase(standsAt_);
        cycles_->clear();
    }
    if (QSettings().value("padTick", true).toBool())
        QApplication::beep();
}

/// Enter on the cycles keeps them; on an empty field it goes on.
void RunPage::take()
{
    const QString typed = cycles_->text().trimmed();
    const SpecimenInput& input = session_.specimen().input;
    if (typed.isEmpty()) {
        if (input.readings.empty())
            return say("Key the cycles first; I works the simulated frame.", true);
        return end_->setFocus();
    }
    const auto cycles = cyclesTyped(s(typed));
    if (!cycles)
        return say(q(cycles.problem().text()), true);
    const auto keyed = keyedRange(input);
    if (!keyed)
        return say(q(keyed.problem().text()), true);
    if (!*keyed && !plannedRange(input)) {
        say("Key the range first.", true);
        return range_->setFocus();
    }
    if (!input.readings.empty() && queried_ != typed) {
        queried_ = typed;
        return say("This piece was run already. Enter once more puts these cycles in place; the journal keeps both.",
                   true);
    }
    queried_.clear();
    keepRun(session_.current(), *cycles,
            {{fatigueKeys::ended, s(QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm"))}});
    say({});
    end_->setFocus();
}

void RunPage::goOn()
{
    if (std::exchange(corrected_, false))
        return;
    const size_t piece = session_.current() + 1;
    if (piece >= session_.job().specimens.size())
        return say("That was the last piece.");
    session_.setCurrent(piece);
    cycles_->setFocus();
}

void RunPage::forAll()
{
    const SpecimenInput& input = session_.specimen().input;
    CommandBuilder builder(session_.document(), "R and frequency for all that wait");
    size_t changed = 0;
    for (size_t i = 0; i < session_.job().specimens.size(); ++i) {
        const SpecimenInput& other = session_.job().specimens[i].input;
        if (!other.readings.empty())
            continue;
        for (const char* key : {fatigueKeys::ratio, fatigueKeys::frequency})
            if (const std::string value = noteOf(input, key); !value.empty() && noteOf(other, key) != value) {
                builder.set("/specimens/" + std::to_string(i) + "/notes/" + key, Json(value));
                ++changed;
            }
    }
    if (changed > 0)
        session_.apply(builder.take());
}

/// What the frame came to; the piece at hand may be another one by now.
void RunPage::ended(size_t specimen, double cycles, const QString& outcome, const QString& because)
{
    const std::string label = session_.job().specimens[specimen].label;
    keepRun(specimen, cycles,
            {{fatigueKeys::outcome, s(outcome)},
             {fatigueKeys::stopped, s(because)},
             {fatigueKeys::soFar, ""},
             {fatigueKeys::ended, s(QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm"))}});
    const std::string call = optionOr(session_.job().specimens[specimen].input, fatigueKeys::call, "");
    say(q(label) + ": " + because + " after " + q(cyclesText(cycles)) + " cycles."
        + (call.empty() ? QString() : " Call " + q(call) + "."));
}

void RunPage::say(const QString& words, bool wrong)
{
    message_->setText(words);
    message_->setVisible(!words.isEmpty());
    cycles_->mark(wrong && !words.isEmpty() ? "wrong" : "");
}

void RunPage::enter()
{
    cycles_->setFocus();
}

bool RunPage::goTo(const QString& field)
{
    for (const auto& [key, edit] : notes_)
        if (q(key) == field) {
            edit->setFocus();
            return true;
        }
    QWidget* found = field == fatigueKeys::range ? static_cast<QWidget*>(range_)
        : field == fatigueKeys::cycles           ? static_cast<QWidget*>(cycles_)
        : field == fatigueKeys::outcome          ? static_cast<QWidget*>(end_)
                                                 : nullptr;
    if (found)
        found->setFocus();
    return found != nullptr;
}

QStringList RunPage::keys() const
{
    return {"Enter|keep the cycles, then the end", "1 2 3|broken, run-out, elsewhere, and on to the next piece",
            "I|next step of the simulated frame", "Ctrl+← Ctrl+→|another piece", "Ctrl+Z|undo"};
}

} // namespace fortitor
