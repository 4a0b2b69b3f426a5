// SPDX-License-Identifier: GPL-3.0-or-later
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
#include <QFile>
#include <QFileDialog>
#include <QPainter>
#include <QSettings>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

/// "1 400" → as a person keys it: no grouping, no more digits than the step has.
QString targetText(double base, const Unit& unit)
{
    QString text = QString::number(unit.fromBase(base), 'f', 4);
    while (text.contains('.') && (text.endsWith('0') || text.endsWith('.')))
        text.chop(1);
    return text == "-0" ? "0" : text;
}

} // namespace

void ReadingPad::setSound(bool on)
{
    sound_ = on;
    sounds_->setText(on ? "tick on" : "tick off");
    QSettings().setValue("padTick", on);
}

void ReadingPad::tick()
{
    if (sound_)
        QApplication::beep();
    emit ticked();
}

void ReadingPad::say(const QString& words, bool query)
{
    message_->setText(words);
    if (channel_ < fields_.size())
        fields_[channel_]->mark(words.isEmpty() ? "" : query ? "queried" : "wrong");
}

void ReadingPad::refresh()
{
    if (!session_.hasSpecimen() || session_.job().method->intake.columns.empty())
        return;
    const std::string now = std::to_string(session_.jobId()) + "/" + session_.specimen().label;
    const bool other = now != specimen_;
    if (other) {
        specimen_ = now;
        bench_.reset();
        also_.clear();
        waits_ = false;
        why_->hide();
        message_->clear();
    }
    const PadTable before = table_;
    table_ = padTable(session_.document(), session_.current(), also_);
    layLostOver();
    buildFields();
    for (size_t c = 0; c < fields_.size(); ++c)
        fields_[c]->scale = padScale(table_.channels[c], session_.specimen().input, units());
    if (other) {
        goTo(0, table_.rows);
    } else if (typing()) {
        row_ = std::min(row_, table_.rows); // what is being typed stays where it is
        showAround();
    } else {
        // What was taken back is what is read next.
        bool moved = false;
        for (size_t r = before.rows; r-- > 0 && !moved;)
            for (size_t c = 0; c < before.channels.size() && c < table_.channels.size() && !moved; ++c)
                if (before.cells[c][r] && (r >= table_.rows || !table_.cells[c][r]) && (r != row_ || c != channel_)) {
                    showStep(r >= table_.rows ? 0 : c, std::min(r, table_.rows));
                    moved = true;
                }
        if (!moved)
            showStep(std::min(channel_, fields_.size() - 1), std::min(row_, table_.rows));
        if (moved && std::ranges::find(fields_, QApplication::focusWidget()) != fields_.end())
            fields_[channel_]->setFocus();
    }
    instruments_->setVisible(simulatedSpecimen(session_).has_value());
    frame_->setVisible(session_.job().method->intake.has(Intake::By::Frame));
    toRead_->setEnabled(table_.rows >= 2);
    next_->setVisible(session_.current() + 1 < session_.job().specimens.size());
}

void ReadingPad::enter()
{
    if (channel_ < fields_.size())
        fields_[channel_]->setFocus();
}

std::optional<double> ReadingPad::target() const
{
    const auto plan = padPlan(*session_.job().method, session_.specimen().input, units());
    auto taken = table_.values(session_.job().method->intake.stepped);
    taken.resize(std::min(taken.size(), row_));
    return plan ? plan->next(taken) : std::nullopt;
}

bool ReadingPad::isOld(size_t channel) const
{
    return row_ < table_.rows && table_.cells[channel][row_].has_value();
}

void ReadingPad::showTarget()
{
    const Method& method = *session_.job().method;
    const auto stepped = table_.indexOf(method.intake.stepped);
    const auto plan = padPlan(method, session_.specimen().input, units());
    const auto next = target();
    const Unit& unit = *fields_[stepped.value_or(0)]->scale.unit;
    const QString verb = unit.kind == Kind::Angle ? "turn to" : "bring the load to";
    head_->setText(QString("reading %1 · ").arg(row_ + 1)
                   + (row_ < table_.rows && row_ + 1 < table_.rows ? "looked at again" : verb));
    if (next)
        target_->setText(figureHtml(targetText(*next, unit), q(std::string(unit.symbol)), 46));
    else
        target_->setText(figureHtml(plan ? "done" : "–", {}, 46));
    plan_->setText(plan ? "steps " + q(planText(*plan)) + (plan->returns ? ", then the zero again" : "") + " · "
                           + q(plan->words)
                        : q(plan.problem().text()));
    for (size_t c = 0; c < fields_.size(); ++c)
        fields_[c]->setPlaceholderText(stepped && c == *stepped && next && !isOld(c) ? targetText(*next, unit)
                                                                                     : QString());
}

/// Something is typed that is not taken yet, or a reason is waited for.
bool ReadingPad::typing() const
{
    return waits_ || std::ranges::any_of(fields_, [](const PadField* field) { return hands::typing(field); });
}

void ReadingPad::goTo(size_t channel, size_t row)
{
    showStep(channel, row);
    if (isVisible() && !waits_) {
        fields_[channel_]->setFocus();
        fields_[channel_]->selectAll();
    }
}

/// What stands at a step, in the fields and around them.
void ReadingPad::showStep(size_t channel, size_t row)
{
    channel_ = std::min(channel, fields_.size() - 1);
    row_ = std::min(row, table_.rows);
    queried_.clear();
    if (!waits_)
        why_->hide();
    for (size_t c = 0; c < fields_.size(); ++c) {
        const QString text = isOld(c) ? q(*table_.cells[c][row_]) : QString();
        if (fields_[c]->text() != text || fields_[c]->isModified())
            fields_[c]->setText(text);
        fields_[c]->mark("");
    }
    showAround();
}

void ReadingPad::showAround()
{
    showTarget();
    std::vector<std::string> corrected;
    const Json& specimen = session_.document().json()["specimens"][session_.current()];
    if (const auto it = specimen.find("corrections"); it != specimen.end() && it->is_array())
        for (const Json& one : *it)
            corrected.push_back(std::to_string(numberAt(one, "step")) + "/" + textAt(one, "channel"));
    sheet_->show(table_, channel_, row_, std::move(corrected));
    showKeeping();
    plot_->show(table_);
    QString figures;
    int shownFigures = 0;
    constexpr int most = 4;
    if (const auto& outcome = session_.specimenOutcome().outcome; outcome && table_.rows > 0)
        for (const ResultSpec& spec : session_.job().method->results)
            if (const Result* r = spec.headline ? outcome->find(spec.symbol) : nullptr;
                r && r->value && shownFigures < most) {
                ++shownFigures;
                const ShownFigure shown = showFigure(spec, *r, RoundingRule::StepsToEven, units());
                figures += (figures.isEmpty() ? "" : " &nbsp;·&nbsp; ") + symbolHtml(q(spec.symbol)) + " "
                    + q(shown.text) + " " + q(shown.unit);
            }
    result_->setText(figures.isEmpty() ? "figures stand here once the readings give them" : "so far: " + figures);
}

/// The next field; behind the last one the next step.
void ReadingPad::advance(size_t channel)
{
    if (channel + 1 < fields_.size())
        goTo(channel + 1, row_);
    else
        goTo(0, row_ + 1);
}

void ReadingPad::take(size_t c)
{
    channel_ = c;
    QString text = fields_[c]->text().trimmed();
    if (text.isEmpty())
        text = fields_[c]->placeholderText();
    if (text.isEmpty())
        return say("Nothing typed. X marks a missed reading.");
    const auto reading = parseReading(s(text), fields_[c]->scale);
    if (!reading)
        return say(q(reading.problem().text()));
    if (isOld(c) && *table_.cells[c][row_] == reading->text)
        return advance(c);
    const QString doubt = queried_ == text ? QString()
                                           : q(doubtWords(table_, *session_.job().method, table_.channels[c].name, row_,
                                                          reading->base, s(text), fields_[c]->scale));
    if (!doubt.isEmpty()) {
        queried_ = text;
        fields_[c]->selectAll();
        return say(doubt + " Enter again keeps it.", true);
    }
    if (isOld(c) && row_ + 1 < table_.rows)
        return askWhy(c, reading->text);
    keep(c, reading->text, isOld(c) ? "read again at once" : "");
}

void ReadingPad::skip(size_t c)
{
    channel_ = c;
    if (isOld(c) && row_ + 1 < table_.rows)
        return askWhy(c, std::nullopt);
    keep(c, std::nullopt, isOld(c) ? "read again at once" : "");
}

/// A reading corrected later keeps the old one and the reason.
void ReadingPad::askWhy(size_t c, const std::optional<std::string>& text)
{
    waiting_ = text;
    waits_ = true;
    say(QString("%1 was read as %2.").arg(q(table_.channels[c].label), q(*table_.cells[c][row_])), true);
    why_->clear();
    why_->show();
    why_->setFocus();
}

void ReadingPad::keep(size_t c, const std::optional<std::string>& text, const std::string& why)
{
    const size_t row = row_;
    if (!text && row < table_.rows && !table_.cells[c][row]) {
        message_->clear();
        tick();
        return advance(c); // the gap is there already
    }
    // Where the next reading goes is known before the session tells of this one.
    const bool last = c + 1 == fields_.size();
    const Reading reading{specimen_, table_.channels[c].name, row, text, why};
    if (!tryLostAgain() || !handOver(reading))
        return;
    if (lostHere() == 0)
        message_->clear();
    goTo(last ? 0 : c + 1, last ? row + 1 : row);
    tick();
}

void ReadingPad::fromInstruments()
{
    const Specimen& specimen = session_.specimen();
    const auto made = simulatedSpecimen(session_);
    const CatalogueEntry* entry = made ? findCatalogueEntry(made->name) : nullptr;
    if (!entry)
        return say("The simulated bench has no specimen of this method.");
    if (!tryLostAgain())
        return;
    const PadTable whole = padTable(session_.document(), session_.current(), also_);
    const auto plan = padPlan(*session_.job().method, specimen.input, units());
    if (!plan)
        return say(q(plan.problem().text()));
    const auto next = plan->next(whole.values(session_.job().method->intake.stepped));
    if (!next)
        return say("The plan of steps is done.");
    if (!bench_) {
        const std::uint64_t seed = seedOf(session_.job().number + specimen.label);
        bench_ = steppedBench(*entry, drawSpecimen(*entry, seed), seed);
    }
    if (!bench_ || bench_->broken())
        return say("The piece is broken; nothing more to read.");
    auto seen = bench_->bringTo(*next);
    const bool broke = !seen;
    if (broke)
        seen = bench_->atBreak();
    std::map<std::string, std::string> texts;
    for (const PadChannel& channel : whole.channels)
        if (const auto it = seen->find(channel.name); it != seen->end()) {
            const ReadingScale scale = padScale(channel, specimen.input, units());
            const int digits = scale.kind == Kind::Strain                 ? 0
                : scale.kind == Kind::Length                              ? (scale.unit->factor > 1 ? 4 : 2)
                : scale.kind == Kind::Angle || scale.kind == Kind::Torque ? 1
                : scale.unit->factor >= 1000                              ? 2
                                                                          : 0;
            texts[channel.name] =
                formatFixed(scale.unit->fromBase(it->second), digits) + " " + std::string(scale.unit->symbol);
        }
    const auto command =
        edits::padRow(session_.document(), session_.current(), whole, texts,
                      "reading " + std::to_string(whole.rows + 1) + " of " + specimen.label + " from the instruments");
    if (!command)
        return say(q(command.problem().text()));
    if (!session_.apply(*command))
        return;
    goTo(0, table_.rows);
    say(broke ? QString("It broke on the way to %1. Peak force and travel are stored.")
                    .arg(shownQuantity(*next, findChannelName(session_.job().method->intake.stepped)->kind))
              : QString(),
        true);
    fields_[channel_]->mark("");
    tick();
}

void ReadingPad::fromText(const QString& text, const QString& from)
{
    std::vector<PadChannel> channels = table_.channels;
    const auto sheet = padTableFromText(s(text), channels, session_.specimen().input, units());
    if (!sheet)
        return say(q(sheet.problem().text()));
    if (!tryLostAgain())
        return;
    const auto command = edits::padSheet(session_.document(), session_.current(),
                                         padTable(session_.document(), session_.current(), also_), *sheet, s(from));
    if (!command)
        return say(q(command.problem().text()));
    if (!session_.apply(*command))
        return;
    goTo(0, table_.rows);
    message_->setText(QString("%1 steps imported from %2. Ctrl+Z undoes it.").arg(sheet->rows).arg(from));
    tick();
}

void ReadingPad::fromFile()
{
    const QString path =
        QFileDialog::getOpenFileName(this, "Readings from a text file", QSettings().value("padFolder").toString(),
                                     "Text (*.csv *.txt *.tsv *.dat);;All files (*)");
    if (path.isEmpty())
        return;
    QSettings().setValue("padFolder", QFileInfo(path).path());
    takeFile(path);
}

void ReadingPad::takeFile(const QString& path)
{
    QFile file(path);
    constexpr qint64 most = 4 << 20;
    if (!file.open(QIODevice::ReadOnly) || file.size() > most)
        return say(file.size() > most
                       ? QString("%1 is too long for readings by hand. A record of a frame is dropped on the window.")
                             .arg(QFileInfo(path).fileName())
                       : "The file can't be read: " + file.errorString());
    fromText(QString::fromUtf8(file.readAll()), QFileInfo(path).fileName());
}

void ReadingPad::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), pal().surface);
    painter.setPen(pal().hair);
    const int x = 24 + ReadingPad::leftWide + 12;
    painter.drawLine(x, 18, x, height() - 18);
}

QStringList ReadingPad::keys()
{
    return {"Enter|takes the reading, or the target in light ink, and goes on",
            "X|a missed reading",
            "I|this step from the instruments",
            "↑ ↓|back, on through what was read",
            "Ctrl+V|a pasted table",
            "Ctrl+Z|takes the last reading back",
            "3 rev + 42 div|turns and divisions of the dial"};
}

} // namespace fortitor
