// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/indent/indent_page.h"

#include "app/model/live_frame.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "app/bench/indent/length_text.h"
#include "app/bench/indent/picture_panel.h"
#include "app/bench/measure/note_picker.h"
#include "jobs/edits.h"
#include "jobs/json_at.h"
#include "jobs/single_readings.h"
#include "methods/common/figures.h"
#include "methods/hardness/block.h"
#include "methods/hardness/block_history.h"
#include "methods/hardness/notation.h"
#include "sim/catalogue.h"
#include "sim/indented_piece.h"

#include <QApplication>
#include <QDateTime>
#include <QPointer>
#include <QSettings>
#include <QTimer>

#include <algorithm>

namespace fortitor {
namespace {

const QString pictureTip = "Ends found on a picture, or placed by hand (Alt+P)";

} // namespace

/// The method as the piece at hand is tested: one that stands apart from the others may have another scale.
const Method& IndentPage::methodHere() const
{
    return *findMethod(session_.job().method->id, session_.specimen().input.options);
}

std::map<std::string, std::string> IndentPage::typed() const
{
    std::map<std::string, std::string> all;
    for (size_t i = 0; i < fields_.size(); ++i)
        all[ways_[way_].names[i]] = s(fields_[i]->text().trimmed());
    return all;
}

std::optional<Spot> IndentPage::place() const
{
    return desk_ ? desk_->next() : std::nullopt;
}

/// What was keyed of an indent, as it was keyed.
QString IndentPage::textsOf(size_t row) const
{
    QStringList words;
    const Json& specimen = session_.document().json()["specimens"][session_.current()];
    const Json readings = objectAt(specimen, "readings");
    for (const PadChannel& column : session_.job().method->intake.columns) {
        if (column.role != PadChannel::Role::Figure || !readings.contains(column.name))
            continue;
        const Json& list = readings[column.name];
        if (row < list.size() && list[row].is_string())
            words << q(list[row].get<std::string>()).replace(" um", " µm");
    }
    return words.join("   ");
}

void IndentPage::refresh()
{
    if (!session_.hasSpecimen() || !session_.job().method->intake.has(Intake::By::Readings))
        return;
    const SpecimenInput& input = session_.specimen().input;
    auto desk = deskOf(input);
    side_->setVisible(static_cast<bool>(desk));
    map_->setVisible(desk && !byPicture_ && !showsKept_);
    if (!desk)
        picture_->hide();
    trouble_->setVisible(!desk);
    if (!desk) {
        profile_->hide();
        trouble_->setText("Nothing can be read yet. " + q(desk.problem().text()) + "\nState it on Plan.");
        title_->setText("Indent");
        return;
    }
    desk_ = std::move(*desk);
    const std::string here = std::to_string(session_.jobId()) + "/" + session_.specimen().label;
    const bool other = here != standsAt_;
    if (other)
        putAside();
    standsAt_ = here;
    const std::string looksAt = here + "/" + testedScale(desk_->setting) + "/" + stampedOn(input) + "/"
        + noteOf(input, session_.job().method->intake.machine);
    if (std::exchange(lookedAt_, looksAt) != looksAt)
        lookAtTester();
    desk_->used = used_;
    buildWays(other);
    if (other) {
        chosen_.reset();
        queried_.clear();
        message_->clear();
        why_->hide();
        const auto draft = drafts_.find(draftName());
        for (size_t i = 0; i < fields_.size(); ++i)
            fields_[i]->setText(draft != drafts_.end() && i < draft->second.size() ? draft->second[i] : QString());
    }
    picture_->setSetting(desk_->setting);
    if (other)
        showPicturePanel(false);
    showAround();
    if (other && refitted_)
        say("Indenter, ball or force is another one than with the last piece on this tester: the first readings only "
            "seat it and are set aside.");
    if (other && isVisible())
        enter(); // the next figure can be typed at once
}

/// What is half typed waits until its piece comes back.
void IndentPage::putAside()
{
    std::vector<QString> texts;
    for (const PadField* field : fields_)
        texts.push_back(field->text());
    if (std::ranges::any_of(texts, [](const QString& text) { return !text.isEmpty(); }))
        drafts_[draftName()] = std::move(texts);
    else
        drafts_.erase(draftName());
}

/// The ways of reading that belong to the scale; what the piece was begun with stays.
void IndentPage::buildWays(bool otherPiece)
{
    const std::string now(desk_->setting.scale->name);
    const bool otherScale = std::exchange(builtFor_, now) != now;
    if (otherScale) {
        ways_ = entryWays(desk_->setting.scale->by);
        clearLayout(wayRow_);
        const std::string last =
            s(QSettings().value("indentWay/" + q(std::string(desk_->setting.scale->name))).toString());
        way_ = 0;
        for (size_t i = 0; i < ways_.size(); ++i) {
            auto* b = button(q(ways_[i].words), "link", ("indent-way-" + ways_[i].names.front()).c_str());
            b->setFocusPolicy(Qt::TabFocus);
            connect(b, &QPushButton::clicked, this, [this, i] { chooseWay(i); });
            wayRow_->addWidget(b);
            if (ways_[i].words == last)
                way_ = i;
        }
        wayPicture_ = nullptr;
        if (desk_->setting.scale->by != HardnessScale::By::Rockwell) {
            wayPicture_ = button("picture", "link", "indent-way-picture");
            wayPicture_->setFocusPolicy(Qt::TabFocus);
            connect(wayPicture_, &QPushButton::clicked, this, &IndentPage::choosePicture);
            wayRow_->addWidget(wayPicture_);
        }
        wayRow_->addStretch();
    }
    const size_t before = way_;
    if (otherScale || otherPiece)
        if (const auto stands = wayOf(session_.specimen().input, desk_->setting))
            for (size_t i = 0; i < ways_.size(); ++i)
                if (ways_[i].names == stands->names)
                    way_ = i;
    if (otherScale || way_ != before)
        buildFields();
    if (otherScale) {
        buildNotes();
        settleLayout(wayRow_);
    }
    for (const auto& [key, pick] : picks_)
        pick->setCurrent(q(noteOf(session_.specimen().input, key)));
    // One way a piece: the others would part its readings.
    for (int i = 0; i < wayRow_->count(); ++i)
        if (auto* b = qobject_cast<QPushButton*>(wayRow_->itemAt(i)->widget())) {
            const bool mine = b == wayPicture_ ? byPicture_ : !byPicture_ && static_cast<size_t>(i) == way_;
            b->setEnabled(mine || desk_->indents.empty()
                          || (b == wayPicture_ ? picturesWork() : static_cast<size_t>(i) == way_));
            b->setStyleSheet(mine ? "color: " + pal().ink.name() : QString());
            b->setToolTip(b->isEnabled() ? b == wayPicture_ ? pictureTip : QString()
                                         : "This piece was begun in another way; one way a piece.");
        }
}

/// What the method has noted while indents are made, where it bears on this scale.
void IndentPage::buildNotes()
{
    clearLayout(noteRow_);
    picks_.clear();
    for (const NoteSpec& note : session_.job().method->notes) {
        if (note.stage != Stage::Load || note.choices.empty() || desk_->setting.seating == 0)
            continue;
        auto* words = label(q(note.label), "quiet");
        words->setToolTip(q(note.help));
        auto* pick = new NotePicker(note);
        pick->setObjectName("note-" + q(note.key));
        pick->setFocusPolicy(Qt::TabFocus);
        connect(pick, &NotePicker::picked, this, [this, key = note.key](const QString& choice) {
            session_.apply(edits::note(session_.document(), session_.current(), key, s(choice)));
        });
        noteRow_->addWidget(words);
        noteRow_->addWidget(pick);
        picks_.emplace_back(note.key, pick);
    }
    noteRow_->addStretch();
    settleLayout(noteRow_);
}

void IndentPage::chooseWay(size_t way)
{
    showPicturePanel(false);
    way_ = way;
    QSettings().setValue("indentWay/" + q(std::string(desk_->setting.scale->name)), q(ways_[way].words));
    buildFields();
    refresh();
    enter();
}

void IndentPage::buildFields()
{
    clearLayout(fieldRows_);
    fields_.clear();
    for (const std::string& name : ways_[way_].names) {
        const PadChannel* column = methodHere().intake.find(name);
        auto* row = new QHBoxLayout;
        auto* words = label(q(column->label));
        words->setFixedWidth(96);
        words->setWordWrap(true);
        auto* field = new PadField("indent-" + q(name));
        field->scale = {column->kind, column->unit == "1" ? nullptr : findUnit(column->unit, column->kind), 0, 0};
        field->setAccessibleName(q(column->label));
        row->addWidget(words);
        row->addWidget(field, 1);
        fieldRows_->addLayout(row);
        const size_t i = fields_.size();
        fields_.push_back(field);
        connect(field, &QLineEdit::textChanged, this, &IndentPage::showTried);
        connect(field, &PadField::taken, this, [this, i] { take(i); });
        connect(field, &PadField::missed, this,
                [this] { say("A reading that failed is made again at another place."); });
        connect(field, &PadField::instruments, this, &IndentPage::fromTester);
        connect(field, &PadField::back, this, [this, i] {
            if (i > 0)
                fields_[i - 1]->setFocus();
            else if (!desk_->indents.empty())
                choose(chosen_ ? *chosen_ - std::min<size_t>(*chosen_, 1) : desk_->indents.size() - 1);
        });
        connect(field, &PadField::on, this, [this, i] {
            if (i + 1 < fields_.size())
                fields_[i + 1]->setFocus();
            else
                choose(chosen_ && *chosen_ + 1 < desk_->indents.size() ? std::optional(*chosen_ + 1) : std::nullopt);
        });
    }
    settleLayout(fieldRows_);
}

void IndentPage::enter()
{
    for (PadField* field : fields_)
        if (field->text().isEmpty())
            return field->setFocus();
    if (!fields_.empty())
        fields_.front()->setFocus();
}

void IndentPage::say(const QString& words, const char* state)
{
    message_->setText(words);
    for (PadField* field : fields_)
        if (field->hasFocus())
            field->mark(words.isEmpty() ? "" : state);
}

/// The number as it comes about while the figures are typed.
void IndentPage::showTried()
{
    if (!desk_ || !session_.hasSpecimen())
        return;
    const TriedIndent tried = tryIndent(session_.specimen().input, ways_[way_], typed(), place());
    const QString unit = q(std::string(desk_->setting.unit->symbol));
    if (!tried.indent) {
        tried_->setText(figureHtml("–", unit, 30));
        triedWords_->setText(tried.problem && !typed().begin()->second.empty() ? q(tried.problem->text()) : QString());
        return;
    }
    const PieceIndent& one = *tried.indent;
    const QString number = one.value() ? q(one.reading.notation).section(' ', 0, 0) : QString("–");
    tried_->setText(figureHtml(number, one.value() ? q(one.reading.notation).section(' ', 1) : unit, 30));
    QStringList words;
    for (const Remark& r : one.reading.remarks)
        if (r.severity != Severity::Note)
            words << q(r.text);
    if (words.isEmpty()) {
        if (!tried.whole)
            words << "from the first alone";
        words << "depth " + lengthText(one.reading.depth)
              << "next one " + lengthText(leastApart(desk_->setting, one.reading.across)) + " away";
    }
    if (byPicture_ && picture_->reading() && picture_->reading()->budget.expanded > 0)
        words.prepend("± " + q(formatSignificant(picture_->reading()->budget.expanded, 2)));
    triedWords_->setText(words.join(" · "));
}

void IndentPage::take(size_t i)
{
    if (chosen_)
        choose(std::nullopt);
    if (fields_[i]->text().trimmed().isEmpty())
        return say("Nothing typed.");
    if (i + 1 < fields_.size() && !byPicture_) {
        const TriedIndent tried = tryIndent(session_.specimen().input, ways_[way_], typed(), place());
        if (tried.problem && tried.field == ways_[way_].names[i])
            return say(q(tried.problem->text()), "wrong");
        say({});
        fields_[i + 1]->setFocus();
        fields_[i + 1]->selectAll();
        return;
    }
    keep();
}

void IndentPage::keep()
{
    if (byPicture_ && !picture_->ready())
        return say(picture_->busy() ? "The picture is still being read." : "No indent is told on a picture yet.");
    const TriedIndent tried = tryIndent(session_.specimen().input, ways_[way_], typed(), place());
    if (tried.problem)
        return say(q(tried.problem->text()), "wrong");
    if (!tried.whole || !tried.indent) {
        for (PadField* field : fields_)
            if (field->text().trimmed().isEmpty()) {
                field->setFocus();
                break;
            }
        return say("One figure is missing.");
    }
    QString all, doubts = q(dialDoubt(*desk_, *tried.indent));
    for (const auto& [name, text] : typed())
        all += q(text) + "/";
    for (const Remark& r : tried.indent->reading.remarks)
        if (r.severity != Severity::Note)
            doubts += (doubts.isEmpty() ? "" : " ") + q(r.text);
    if (!doubts.isEmpty() && queried_ != all) {
        queried_ = all;
        return say(doubts + " Enter again keeps it.", "queried");
    }
    queried_.clear();
    std::map<std::string, std::string> texts;
    std::map<std::string, QString> kept;
    for (size_t k = 0; k < fields_.size(); ++k) {
        const std::string& name = ways_[way_].names[k];
        const PadChannel* column = methodHere().intake.find(name);
        kept[name] = fields_[k]->text();
        texts[name] = withUnit(*column, s(fields_[k]->text().trimmed()));
    }
    const std::string words = "indent " + std::to_string(tried.indent->number) + " of " + session_.specimen().label
        + ": " + (tried.indent->reading.notation.empty() ? "no number" : tried.indent->reading.notation);
    WithReading with = desk_->indents.empty() ? withFirst() : WithReading{};
    if (byPicture_)
        with.picture = picture_->taken(ways_[way_].names);
    LogbookWriter::Work original; // of the picture, kept in the same step
    if (byPicture_)
        original = [job = session_.jobId(), name = picture_->fileName(), bytes = picture_->bytes(),
                    who = session_.who()](Logbook& book) { return book.keepPicture(job, name, bytes, who); };
    const auto command = edits::takeReading(session_.document(), session_.current(), texts, place(), words, with);
    if (!command)
        return say(q(command.problem().text()), "wrong");
    for (PadField* field : fields_)
        field->setText({}); // not clear(): that could be undone by itself
    const bool taken = session_.apply(
        *command,
        [self = QPointer(this), whose = standsAt_, kept](bool was) {
            if (self)
                self->answered(whose, kept, was);
        },
        std::move(original));
    if (!taken)
        return answered(standsAt_, kept, false);
    say({});
    if (byPicture_) {
        picture_->remember(q(tried.indent->reading.notation));
        const bool fromFolder = picture_->fromFile();
        picture_->clear();
        if (fromFolder && !picture_->openNext())
            say("That was the last picture of its folder.");
    }
    fields_.front()->setFocus();
    flash();
}

/// What the logbook did not take stands in the fields again, unless something else is being typed.
void IndentPage::answered(const std::string& whose, const std::map<std::string, QString>& typedBefore, bool kept)
{
    if (kept || whose != standsAt_)
        return;
    const bool free = std::ranges::all_of(fields_, [](const PadField* field) { return field->text().isEmpty(); });
    QStringList words;
    for (size_t k = 0; k < fields_.size(); ++k)
        if (const auto it = typedBefore.find(ways_[way_].names[k]); it != typedBefore.end()) {
            words << it->second;
            if (free)
                fields_[k]->setText(it->second);
        }
    say("The last reading was not kept (" + words.join(", ") + ").", "wrong");
}

/// What the simulated tester would show of the next indent, in the fields: Enter takes it as if it were keyed.
void IndentPage::fromTester()
{
    const std::string scale(desk_->setting.scale->name);
    const IndentedKind* kind = indentedLike(session_.job().materialName, scale);
    if (!kind)
        return say("The simulated tester has no piece for this scale.");
    if (!indentedKind(session_.job().materialName, scale))
        say("Nothing is known here of this material: simulated as hard as " + q(std::string(kind->material)) + ".");
    const IndentedPiece piece = drawPiece(*kind, seedOf(session_.job().number + session_.specimen().label));
    const auto next = place();
    const size_t n = desk_->indents.size();
    const double number = indentedNumber(piece, n, next ? next->depth : std::nullopt);
    if (byPicture_)
        return shootTester(number, n);
    const double uneven = 0.004 * (static_cast<double>(n * 7 % 5) - 2);
    const auto texts = readingsOf(desk_->setting, ways_[way_], number, uneven);
    for (size_t k = 0; k < fields_.size(); ++k)
        if (const auto it = texts.find(ways_[way_].names[k]); it != texts.end())
            fields_[k]->setText(q(it->second));
    keep();
}

/// A sound, and a moment of colour on the number that was taken.
void IndentPage::flash()
{
    if (QSettings().value("padTick", true).toBool())
        QApplication::beep();
    list_->setChosen(desk_->indents.empty() ? std::nullopt : std::optional(desk_->indents.size() - 1));
    constexpr int moment = 350; // ms
    QTimer::singleShot(moment, list_, [this] { list_->setChosen(chosen_); });
}

void IndentPage::choose(std::optional<size_t> indent)
{
    chosen_ = indent;
    map_->setChosen(indent);
    list_->setChosen(indent);
    showPictureOf(indent);
    aside_->setEnabled(!desk_->indents.empty());
    if (indent)
        say(QString("Indent %1: ").arg(*indent + 1)
            + (desk_->indents[*indent].reading.notation.empty() ? QString("no number")
                                                                : q(desk_->indents[*indent].reading.notation)));
    else
        say({});
}

/// The chosen one, or the last.
void IndentPage::setAside()
{
    if (desk_->indents.empty())
        return;
    const size_t row = chosen_.value_or(desk_->indents.size() - 1);
    if (desk_->indents[row].missed)
        return say(QString("Indent %1 does not count already.").arg(row + 1));
    if (!why_->isVisible()) {
        choose(row);
        why_->clear();
        why_->show();
        why_->setFocus();
        return;
    }
    const std::string why = s(why_->text().trimmed());
    if (why.empty())
        return say("A reading that is set aside keeps its reason.");
    const auto command = edits::strikeReading(session_.document(), session_.current(), row, s(session_.who()),
                                              s(QDateTime::currentDateTime().toString(Qt::ISODate)), why);
    if (!command)
        return say(q(command.problem().text()));
    why_->hide();
    if (session_.apply(*command))
        choose(std::nullopt);
    enter();
}

void IndentPage::showAround()
{
    const size_t n = desk_->indents.size();
    const size_t all = std::max(desk_->places.size(), n);
    if (chosen_ && *chosen_ >= n)
        chosen_.reset();
    hint_->setText(byPicture_ || showsKept_
                       ? "Drag an end to put it right, or choose it with 1 to 4 and nudge it with the arrows."
                       : "Enter takes a figure and goes on. Places are planned on Measure.");
    title_->setText(byPicture_                  ? QString("Indent %1, from its picture").arg(n + 1)
                        : desk_->traverse       ? QString("Traverse from the surface, %1 indents").arg(all)
                        : desk_->places.empty() ? QString("Indents without a plan of places")
                        : n >= desk_->places.size()
                        ? QString("All %1 planned indents are made").arg(desk_->places.size())
                        : QString("%1 of %2 planned indents are made").arg(n).arg(desk_->places.size()));
    const auto next = place();
    head_->setText(n < desk_->places.size() ? QString("indent %1 of %2").arg(n + 1).arg(desk_->places.size())
                                            : QString("indent %1").arg(n + 1));
    const bool ball = desk_->setting.scale->by == HardnessScale::By::Brinell;
    const bool rockwell = desk_->setting.scale->by == HardnessScale::By::Rockwell;
    const QString force = rockwell
        ? QString()
        : " " + (ball ? QString::number(desk_->setting.pressed.ball, 'g', 4) + "/" : QString())
            + QString::number(nominalForce(desk_->setting.pressed.force, desk_->setting.scale->by), 'g', 6);
    scale_->setText(figureHtml(q(std::string(desk_->setting.unit->symbol)) + force,
                               next && next->depth ? lengthText(*next->depth) : QString(), 26));
    map_->show(*desk_, desk_->size.layer);
    map_->setChosen(chosen_);
    std::vector<QString> texts;
    for (size_t i = 0; i < n; ++i)
        texts.push_back(textsOf(i));
    list_->show(*desk_, std::move(texts));
    list_->setChosen(chosen_);
    aside_->setEnabled(n > 0);
    const auto& outcome = session_.specimenOutcome().outcome;
    const View* profile = nullptr;
    for (size_t i = 0; outcome && desk_->traverse && i < outcome->views.size() && !profile; ++i)
        if (std::holds_alternative<ScatterView>(outcome->views[i]))
            profile = &outcome->views[i];
    profile_->setVisible(profile && !byPicture_ && !showsKept_ && height() > 430);
    if (profile) {
        Plot plot = plotOf(*profile, units());
        plot.names = Plot::Names::Row;
        profile_->show(std::move(plot));
    }
    showMean();
    showTried();
}

QStringList IndentPage::keys() const
{
    return {"Enter|takes the figure and goes on; behind the last one it takes the indent",
            "I|the next indent by the simulated tester",
            "↑ ↓|back and on through the indents",
            "Alt+P|a picture of the indent; 1 to 4 chooses an end, the arrows nudge it",
            "Alt+A|sets the chosen indent aside, with a reason",
            "Ctrl+Z|takes the last indent back",
            "Ctrl+→|the next piece"};
}

} // namespace fortitor
