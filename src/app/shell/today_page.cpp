// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/indent/block_dialog.h"
#include "app/bench/run/rig_work.h"
#include "app/shell/lists.h"
#include "app/shell/tables.h"

#include "jobs/json_at.h"
#include "app/shell/calibration_dialog.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/busy.h"
#include "app/widgets/hands.h"
#include "methods/common/cure.h"
#include "methods/fatigue_sn/run_desk.h"
#include "reference/tables.h"
#include "units/quantity.h"

#include <QDate>
#include <QDateTime>
#include <QHBoxLayout>
#include <QScrollArea>

namespace fortitor {

TodayPage::TodayPage(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("todayPage");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    auto* inside = new QWidget;
    scroll->setWidget(inside);
    outer->addWidget(scroll);
    list_ = new QVBoxLayout(inside);
    list_->setContentsMargins(28, 22, 28, 16);
    list_->setSpacing(0);
}

/// A line of the list; what stands there already in the same words stays.
void TodayPage::line(const QString& words, const QString& more, const QString& action, std::function<void()> act)
{
    wanted_.push_back({words + "\x1f" + more + "\x1f" + action,
                       [this, words, more, action, act = std::move(act)] { addLine(words, more, action, act); }});
}

void TodayPage::say(const QString& words, const char* kind, int above, int below)
{
    wanted_.push_back({QString(kind) + words, [this, words, kind, above, below] {
                           list_->addSpacing(above);
                           list_->addWidget(label(words, kind));
                           list_->addSpacing(below);
                           if (qstrcmp(kind, "head") == 0)
                               list_->addWidget(hairline());
                       }});
}

void TodayPage::addLine(const QString& words, const QString& more, const QString& action,
                        const std::function<void()>& act)
{
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 10, 0, 10);
    auto* text = label(words);
    text->setMinimumWidth(360);
    row->addWidget(text);
    row->addWidget(label(more, "quiet"), 1);
    auto* go = button(action, "link", "todayGo");
    connect(go, &QPushButton::clicked, this, act);
    row->addWidget(go);
    list_->addLayout(row);
    list_->addWidget(hairline());
}

/// Bonded specimens that are not loaded yet: how long their adhesive still cures.
bool TodayPage::listCures()
{
    bool any = false;
    const double now = wallClock(s(QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm:ss"))).value_or(0);
    for (const JobRow& row : session_.logbook().jobs()) {
        const Method* method = findMethod(s(row.method));
        const bool bonds =
            method && std::ranges::find(method->notes, NoteSpec::By::Cure, &NoteSpec::by) != method->notes.end();
        if (!bonds || row.judged >= row.specimens)
            continue;
        const auto body = session_.logbook().loadJob(row.id);
        const auto job = body ? readJob(*body) : Expected<Job>(body.problem());
        if (!job)
            continue;
        for (const Specimen& specimen : job->specimens) {
            const auto clock = cureClock(specimen.input);
            if (!clock || !*clock || !specimen.recordId.empty() || specimen.keyed())
                continue;
            const double left = (*clock)->readyAt() - now;
            line(row.number + " " + q(specimen.label),
                 left <= 0 ? QString("cured: ready to load")
                           : QString("cures for another %1 h %2 min")
                                 .arg(static_cast<int>(left / 3600))
                                 .arg(static_cast<int>(left / 60) % 60),
                 "Open", [this, id = row.id] { emit openAsked(id); });
            any = true;
            due_ += left <= 0 ? 1 : 0;
        }
    }
    return any;
}

/// The fatigue run under way: how far, when it will end; or why it stopped.
bool TodayPage::listRun()
{
    const RigStatus* now = frame_ && frame_->joined() ? &frame_->client().rig() : nullptr;
    using State = RigStatus::State;
    if (!now || (now->state != State::Running && now->state != State::Stopped))
        return false;
    const QString label = q(now->label), number = label.section(" / ", 0, 0), piece = label.section(" / ", 1);
    for (const JobRow& row : session_.logbook().jobs()) {
        if (row.number != number)
            continue;
        const auto body = session_.logbook().loadJob(row.id);
        const auto job = body ? readJob(*body) : Expected<Job>(body.problem());
        if (!job)
            return false;
        std::vector<const SpecimenInput*> inputs;
        std::vector<bool> counts;
        int at = 0;
        for (const Specimen& specimen : job->specimens) {
            at = q(specimen.label) == piece ? static_cast<int>(inputs.size()) : at;
            inputs.push_back(&specimen.input);
            counts.push_back(specimen.excludedBecause.empty());
        }
        const RunDesk desk = runDesk(inputs, counts);
        QString words = q(cyclesText(now->cycles)) + " cycles";
        const auto ends = [&](double cycles, const char* what) {
            if (now->frequency > 0 && cycles > now->cycles)
                words += QString(", %1 %2").arg(
                    what,
                    QDateTime::currentDateTime()
                        .addMSecs(static_cast<qint64>(1000 * (cycles - now->cycles) / (now->frequency * now->pace)))
                        .toString("ddd HH:mm"));
        };
        if (now->state == State::Running) {
            if (const double mean = desk.lanes[static_cast<size_t>(at)].expected; mean < desk.stops.runOut)
                ends(mean, "mean life at");
            ends(desk.stops.runOut, "run-out at");
        } else {
            words += ", stopped, because " + stopWords(now->stop);
            ++due_;
        }
        line(label, "Simulated frame: " + words, "Open", [this, id = row.id, at] { emit pieceAsked(id, at); });
        return true;
    }
    return false;
}

/// Testers that are out of their limits, or drift towards them.
void TodayPage::listTesters()
{
    constexpr size_t ofLate = 60; // jobs: the day begins without reading them all
    const auto rows = session_.testerRows(ofLate);
    bool head = false;
    for (const auto& [tester, scale] : checkedTesters(rows)) {
        const auto own = workOf(rows, tester, scale);
        const auto works = worksOf(checksAmong(own));
        const BlockHistory history = blockHistory(works);
        const size_t doubted = rowsInDoubt(own).size();
        if (works.back().within && !history.drifts && doubted == 0)
            continue;
        if (!std::exchange(head, true))
            say("Testers on their blocks", "head", 22, 4);
        QString words = works.back().within && !history.drifts ? QString() : q(history.words.front());
        if (doubted > 0)
            words += (words.isEmpty() ? "" : " ") + QString("%1 read in doubt.").arg(doubted);
        ++due_;
        line((tester.empty() ? QString("tester not noted") : q(tester)) + " · " + q(scale), words, "See",
             [this, tester, scale] {
                 BlockDialog dialog(session_, tester, scale, this);
                 if (dialog.exec() == QDialog::Accepted && dialog.asked())
                     emit pieceAsked(dialog.asked()->job, dialog.asked()->specimen);
             });
    }
}

void TodayPage::refresh()
{
    wanted_.clear();
    due_ = 0;
    say(QDate::currentDate().toString("dddd, d MMMM"), "title", 0, 18);
    const auto jobs = session_.logbook().jobs();
    say("Specimens waiting", "head", 0, 4);
    bool any = false;
    for (const JobRow& job : jobs) {
        if (job.judged >= job.specimens)
            continue;
        int unmeasured = 0;
        int untested = 0;
        int open = 0;
        for (const SpecimenRow& row : session_.logbook().specimens(job.number, 2000))
            if (row.job == job.id && row.verdict != "pass" && row.verdict != "fail")
                ++(row.stage == 0 ? unmeasured : row.stage == 1 ? untested : open);
        QStringList words;
        if (unmeasured)
            words << QString("%1 to measure").arg(unmeasured);
        if (untested)
            words << QString("%1 to load").arg(untested);
        if (open)
            words << QString("%1 with remarks or no verdict").arg(open);
        line(job.number + "  " + job.title, words.join(", "), "Open", [this, id = job.id] { emit openAsked(id); });
        any = true;
    }
    if (!any)
        say(jobs.empty() ? "No jobs yet. Make the first one with Ctrl+N."
                         : "Nothing waits: every specimen of every job is judged.",
            "quiet", 8, 0);
    say("Fatigue run", "head", 22, 4);
    if (!listRun())
        wanted_.pop_back(); // its heading
    say("Adhesive curing", "head", 22, 4);
    if (!listCures())
        say("Nothing cures.", "quiet", 8, 0);
    listTesters();
    say("Calibrations running out", "head", 22, 4);
    any = false;
    for (const InstrumentRow& row : session_.logbook().instruments()) {
        const QDate date = QDate::fromString(row.due, Qt::ISODate);
        if (!date.isValid())
            continue;
        const auto days = QDate::currentDate().daysTo(date);
        if (days > 30)
            continue;
        ++due_;
        line(row.name,
             days < 0 ? QString("ran out %1 days ago, on %2").arg(-days).arg(row.due)
                      : QString("in %1 days, on %2").arg(days).arg(row.due),
             "Instruments", [this] { emit instrumentsAsked(); });
        any = true;
    }
    if (!any)
        say("None within 30 days.", "quiet", 8, 0);
    QString shown;
    for (const auto& [key, make] : wanted_)
        shown += key + "\n";
    if (shown == shown_)
        return;
    shown_ = shown;
    clearLayout(list_);
    for (const auto& [key, make] : wanted_)
        make();
    list_->addStretch();
    settleLayout(list_);
}

} // namespace fortitor
