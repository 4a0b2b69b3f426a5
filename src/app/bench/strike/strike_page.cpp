// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/strike/strike_page.h"

#include "app/bench/strike/patch_dialog.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/document.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"

#include <QApplication>
#include <QDateTime>
#include <QKeyEvent>
#include <QScrollArea>
#include <QSettings>
#include <QShortcut>

#include <algorithm>

namespace fortitor {
namespace {

constexpr double longestWay = 5; // s

} // namespace

StrikePage::StrikePage(Session& session, LiveFrame& frame, QWidget* parent)
    : Page(session, parent), pendulum_(session, frame, false)
{
    setObjectName("strikePage");
    build();
    connect(&ticks_, &QTimer::timeout, this, &StrikePage::showClock);
    connect(&bathTicks_, &QTimer::timeout, this, [this] {
        if (isVisible())
            showBath();
    });
    bathTicks_.start(1000);
    connect(&pendulum_, &PendulumWork::changed, this, &StrikePage::showPendulum);
    connect(&pendulum_, &PendulumWork::refused, this, [this](const QString& why) { say(why, true); });
    connect(&pendulum_, &PendulumWork::swung, this, &StrikePage::swung);
    connect(&Units::instance(), &Units::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

QString StrikePage::here() const
{
    return QString::number(session_.jobId()) + "/" + q(session_.specimen().label);
}

void StrikePage::refresh()
{
    const PageSpec* page = session_.hasSpecimen() ? session_.job().method->pageOf(Stage::Load) : nullptr;
    if (!page || page->page != "strike")
        return;
    buildNotes();
    desk_ = strikeDesk(session_.specimen().input);
    if (const QString now = here(); std::exchange(standsAt_, now) != now) {
        energy_->setText(drafts_[now]);
        queried_.clear();
        running_ = false;
        took_ = 0;
        ticks_.stop();
        say({});
    }
    fill();
    photos_->refresh();
    showClock();
    showBath();
    tried();
}

void StrikePage::fill()
{
    const SpecimenInput& input = session_.specimen().input;
    const std::string temperature = noteOf(input, impactKeys::temperature);
    const std::string planned = noteOf(input, impactKeys::planned);
    title_->setText(q(session_.specimen().label)
                    + (!temperature.empty()   ? " at " + q(temperature)
                           : !planned.empty() ? ", planned at " + q(planned)
                                              : QString()));
    for (LookRow* row : looks_)
        row->setCurrent(noteOf(input, row->key()));
    for (const auto& [key, edit] : words_)
        hands::fill(edit, q(noteOf(input, key)));
    way_->setText(byAngle_ ? "Rise angle, °" : "Absorbed energy, J");
    energy_->setPlaceholderText(byAngle_ ? "°" : "J");
    resolution_->setText(byAngle_ ? QString() : q(desk_.resolutionWords));
    const DailyJudged swings = judgeDaily(session_, daily_.gather(session_));
    const bool left =
        std::ranges::any_of(session_.job().specimens, [](const Specimen& one) { return one.input.readings.empty(); });
    reminder_->setVisible(left && (!swings.today || !swings.within));
    reminder_->setText(swings.words.empty() ? QString("Free swing") : q(swings.words.front()));
    facts_->setText(QString("free swing&nbsp;&nbsp; <b>%1</b><br>section under the notch&nbsp;&nbsp; "
                            "<b>%2</b><br>bath&nbsp;&nbsp; <b>%3</b>")
                        .arg(q(desk_.lossWords).toHtmlEscaped(), q(desk_.sectionWords).toHtmlEscaped(),
                             q(desk_.bathWords).toHtmlEscaped()));
    caution_->setText("<b>Nobody in the swing?</b> Both sides of the frame, guard closed. Pieces fly. Local rules and "
                      "the machine's manual decide.");
    QPalette tint = caution_->palette();
    tint.setColor(QPalette::Window, pal().accentTint);
    caution_->setPalette(tint);
    if (!desk_.trouble.empty())
        say(q(desk_.trouble), true);
    take_->setEnabled(desk_.trouble.empty());
    showPendulum();
}

void StrikePage::showPendulum()
{
    const QString next = pendulum_.nextStep();
    release_->setText(next.isEmpty() ? QString("…") : next);
    release_->setEnabled(desk_.trouble.empty() && !next.isEmpty());
    const PendulumStatus* now = pendulum_.status();
    const QString words = pendulum_.words();
    pendulumWords_->setText(words.isEmpty() ? QString() : "Simulated: " + words);
    guard_->setVisible(now);
    guard_->setText(now && now->guard ? "Open the guard" : "Close the guard");
    picture_->showLive(pendulum_.busy() ? now : nullptr);
}

void StrikePage::startClock()
{
    clock_.start();
    running_ = true;
    ticks_.start(100);
    showClock();
    energy_->setFocus();
}

void StrikePage::showClock()
{
    const double seconds = running_ ? static_cast<double>(clock_.elapsed()) / 1000 : took_;
    const bool late = seconds > longestWay;
    bathWords_->setVisible(seconds <= 0);
    if (seconds <= 0) {
        const std::string kept =
            session_.hasSpecimen() ? noteOf(session_.specimen().input, impactKeys::way) : std::string();
        clockWords_->setText("bath to blow&nbsp; " + (kept.empty() ? QString("–") : q(kept)));
        return;
    }
    clockWords_->setText(QString("<span style='font-size:24px;%3'>%1</span> s of 5%2")
                             .arg(seconds, 0, 'f', 1)
                             .arg(late ? ": too long" : "", late ? "color:" + pal().stop.name() : QString()));
}

void StrikePage::intoBath()
{
    keepNote(impactKeys::bathIn, s(QDateTime::currentDateTime().toString(Qt::ISODate)));
    showBath();
    energy_->setFocus();
}

/// What is left of the time in the bath.
void StrikePage::showBath()
{
    if (!session_.hasSpecimen())
        return;
    const SpecimenInput& input = session_.specimen().input;
    const bool struck = !input.readings.empty();
    const QDateTime in = QDateTime::fromString(q(noteOf(input, impactKeys::bathIn)), Qt::ISODate);
    const double least = leastBath(input);
    intoBath_->setVisible(!struck);
    QString words;
    if (struck) {
        const std::string kept = noteOf(input, impactKeys::bathTime);
        words = "in the bath&nbsp; " + (kept.empty() ? QString("–") : q(kept).toHtmlEscaped());
    } else if (!in.isValid()) {
        words = QString("bath&nbsp; %1 min at least").arg(least / 60, 0, 'f', 0);
    } else {
        const auto been = in.secsTo(QDateTime::currentDateTime());
        const auto left = static_cast<qint64>(least) - been;
        const auto clock = [](qint64 t) { return QString("%1:%2").arg(t / 60).arg(t % 60, 2, 10, QChar('0')); };
        words = left > 0 ? QString("<span style='font-size:24px'>%1</span> still to stay").arg(clock(left))
                         : QString("<span style='font-size:24px'>%1</span> in the bath, ready").arg(clock(been));
    }
    const bool counts = !struck && in.isValid();
    clockWords_->setVisible(!counts || running_ || took_ > 0); // one large figure at a time
    if (bathWords_->text() != words)
        bathWords_->setText(words);
}

/// The number as it comes about.
void StrikePage::tried()
{
    if (!session_.hasSpecimen())
        return;
    const SpecimenInput& input = session_.specimen().input;
    const QString typed = energy_->text().trimmed();
    if (energy_->isModified())
        drafts_[standsAt_] = energy_->text();
    const Expected<Outcome> outcome =
        typed.isEmpty() ? Expected<Outcome>(Problem{}) : tryBlow(input, byAngle_ ? "rise_angle" : "energy", s(typed));
    const Outcome* shown = outcome                              ? &*outcome
        : typed.isEmpty() && session_.specimenOutcome().outcome ? &*session_.specimenOutcome().outcome
                                                                : nullptr;
    picture_->show(
        desk_, typed.isEmpty() ? riseOf(input) : [&]() -> std::optional<double> {
            SpecimenInput other = input;
            auto read = parseQuantity(s(typed), byAngle_ ? Kind::Angle : Kind::Energy,
                                      byAngle_ ? findUnit("°", Kind::Angle) : findUnit("J", Kind::Energy));
            if (!read)
                return std::nullopt;
            other.readings = {{byAngle_ ? "rise_angle" : "energy", {*read}}};
            return riseOf(other);
        }());
    QString words;
    if (shown && !shown->readings.empty()) {
        words = "<b>" + q(shown->readings.front().notation).toHtmlEscaped() + "</b>";
        for (const Result& r : shown->results)
            if (r.value && r.symbol != session_.job().method->leads)
                words += " · " + q(formatQuantity(*r.value, *r.unit, 3)).toHtmlEscaped();
    } else if (shown && !typed.isEmpty()) {
        for (const Remark& r : shown->remarks)
            if (r.severity == Severity::Reject && !r.symbols.empty())
                words = q(r.text).toHtmlEscaped();
    } else if (!typed.isEmpty()) {
        words = q(outcome.problem().text()).toHtmlEscaped();
    }
    result_->setText(words);
}

void StrikePage::keepNote(const std::string& key, const std::string& value)
{
    session_.apply(edits::note(session_.document(), session_.current(), key, value));
}

/// The shear share from the sides of the bright patch.
void StrikePage::askPatch()
{
    const SpecimenInput& input = session_.specimen().input;
    const double width = meanLength(input, impactKeys::width), ligament = meanLength(input, impactKeys::ligament);
    if (!(width > 0) || !(ligament > 0))
        return say("Measure width and height under the notch first: the share is of that face.", true);
    PatchDialog dialog(width, ligament, this);
    if (dialog.exec() == QDialog::Accepted && dialog.share())
        keepNote(impactKeys::shear, s(QString("%1 %").arg(100 * *dialog.share(), 0, 'f', 0)));
}

/// The reading and what goes with it, in one step.
void StrikePage::keepBlow(size_t index, const std::string& name, const std::string& text,
                          const std::map<std::string, std::string>& notes)
{
    const std::string path = "/specimens/" + std::to_string(index);
    CommandBuilder builder(session_.document(), "blow on " + session_.job().specimens[index].label + ": " + text);
    builder.set(path + "/readings", Json{{name, Json::array({text})}});
    for (const auto& [key, value] : notes)
        builder.set(path + "/notes/" + key, Json(value));
    if (session_.apply(builder.take())) {
        drafts_.erase(standsAt_);
        energy_->clear();
        if (QSettings().value("padTick", true).toBool())
            QApplication::beep();
    }
}

/// What the clocks say of a blow.
std::map<std::string, std::string> StrikePage::timesOf(const SpecimenInput& input)
{
    std::map<std::string, std::string> notes{
        {session_.job().method->intake.stamp, s(QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm"))}};
    if (running_) {
        took_ = static_cast<double>(clock_.elapsed()) / 1000;
        running_ = false;
        ticks_.stop();
    }
    if (const QDateTime in = QDateTime::fromString(q(noteOf(input, impactKeys::bathIn)), Qt::ISODate);
        in.isValid() && noteOf(input, impactKeys::bathTime).empty())
        notes[impactKeys::bathTime] =
            s(QString("%1 min").arg(static_cast<double>(in.secsTo(QDateTime::currentDateTime())) / 60, 0, 'f', 1));
    if (took_ > 0 && took_ < 60)
        notes[impactKeys::way] = s(QString("%1 s").arg(took_, 0, 'f', 1));
    return notes;
}

/// Enter on the energy keeps it; on an empty field that is read already it goes on.
void StrikePage::take()
{
    const QString typed = energy_->text().trimmed();
    const SpecimenInput& input = session_.specimen().input;
    if (typed.isEmpty()) {
        if (input.readings.empty())
            return say("Key the energy first; I works the simulated pendulum.", true);
        return goOn();
    }
    const std::string name = byAngle_ ? "rise_angle" : "energy";
    const auto outcome = tryBlow(input, name, s(typed));
    if (!outcome)
        return say(q(outcome.problem().text()), true);
    for (const Remark& r : outcome->remarks)
        if (r.severity == Severity::Reject && !r.symbols.empty() && outcome->readings.empty())
            return say(q(r.text) + " " + q(r.advice), true);
    if (!input.readings.empty() && queried_ != typed) {
        queried_ = typed;
        return say(
            "This piece is struck already. Enter once more puts this energy in place of it; the journal keeps both.",
            true);
    }
    std::map<std::string, std::string> notes = timesOf(input);
    const std::string planned = noteOf(input, impactKeys::planned);
    if (noteOf(input, impactKeys::temperature).empty() && !planned.empty()) {
        if (queried_ != typed) {
            queried_ = typed;
            return say("No temperature is noted. Enter once more keeps the blow at " + q(planned) + ", as planned.",
                       true);
        }
        notes[impactKeys::temperature] = planned;
    }
    queried_.clear();
    const auto read = parseNumber(s(typed));
    keepBlow(session_.current(), name, s(typed) + (read ? (byAngle_ ? " °" : " J") : ""), notes);
    say({});
    if (!looks_.empty())
        looks_.front()->setFocus();
}

/// From look to look, then through the fields, then to the next piece.
void StrikePage::goOn()
{
    std::vector<QWidget*> way(looks_.begin(), looks_.end());
    for (size_t i = afterLooks_; i < words_.size(); ++i)
        way.push_back(words_[i].second);
    QWidget* now = focusWidget();
    const auto at = std::ranges::find(way, now);
    const auto next = at == way.end() ? way.begin() : std::next(at);
    if (now == energy_ || (at != way.end() && next == way.end())) {
        const size_t piece = session_.current() + 1;
        if (piece < session_.job().specimens.size()) {
            session_.setCurrent(piece);
            energy_->setFocus();
        } else {
            say("That was the last piece.");
        }
        return;
    }
    if (next != way.end()) {
        (*next)->setFocus();
        fields_->ensureWidgetVisible(*next);
    }
}

/// What the simulated pendulum showed, kept with what is seen of the halves.
void StrikePage::swung(double reading, const QString& label, const std::map<std::string, std::string>& seen)
{
    const auto& all = session_.job().specimens;
    const auto at = std::ranges::find(all, s(label), &Specimen::label);
    if (at == all.end() || !at->input.readings.empty())
        return say("The blow on " + label + " is not kept: the piece is gone, or struck already.", true);
    std::map<std::string, std::string> notes = timesOf(at->input);
    notes.insert(seen.begin(), seen.end());
    if (noteOf(at->input, impactKeys::temperature).empty())
        notes[impactKeys::temperature] = noteOf(at->input, impactKeys::planned);
    byAngle_ = false;
    keepBlow(static_cast<size_t>(at - all.begin()), "energy", s(QString::number(reading, 'g', 6)) + " J", notes);
    say({});
}

void StrikePage::say(const QString& words, bool wrong)
{
    message_->setText(words);
    message_->setVisible(!words.isEmpty());
    energy_->mark(wrong && !words.isEmpty() ? "wrong" : "");
}

void StrikePage::enter()
{
    energy_->setFocus();
}

/// Space starts the clock from every field; Enter goes on.
bool StrikePage::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (watched == energy_ && key->key() == Qt::Key_Space && !(key->modifiers() & Qt::ControlModifier)) {
            startClock();
            return true;
        }
        if (watched != energy_ && (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter)) {
            const bool passed = Page::eventFilter(watched, event);
            QMetaObject::invokeMethod(this, &StrikePage::goOn, Qt::QueuedConnection);
            return passed;
        }
    }
    return Page::eventFilter(watched, event);
}

QStringList StrikePage::keys() const
{
    return {"Space|out of the bath: the clock runs", "Enter|keep the energy, then on to the next",
            "1…9|how it broke, how it looks",        "I|next step of the simulated pendulum",
            "Ctrl+← Ctrl+→|another piece",           "Ctrl+Z|undo"};
}

} // namespace fortitor
