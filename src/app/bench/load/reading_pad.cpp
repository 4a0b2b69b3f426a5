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
#include <QClipboard>
#include <QDateTime>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QPainter>
#include <QSettings>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr int leftWide = 318;

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

/// "1 400" → as a person keys it: no grouping, no more digits than the step has.
QString targetText(double base, const Unit& unit)
{
    QString text = QString::number(unit.fromBase(base), 'f', 4);
    while (text.contains('.') && (text.endsWith('0') || text.endsWith('.')))
        text.chop(1);
    return text == "-0" ? "0" : text;
}

/// What the simulated bench would load for the specimen at hand; nullptr where it has nothing like it.
const CatalogueEntry* benchEntry(const Session& session)
{
    const SpecimenInput& input = session.specimen().input;
    return entryFor(session.job().method->id, session.job().materialName, noteOf(input, "direction"), input.shape,
                    input.options);
}

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
    left->addStretch();
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

    connect(again_, &QPushButton::clicked, this, [this] { tryLostAgain(); });
    connect(sheet_, &PadSheet::cellChosen, this, &ReadingPad::goTo);
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
    setSound(sound_);
}

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
    instruments_->setVisible(benchEntry(session_) != nullptr);
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
    const CatalogueEntry* entry = benchEntry(session_);
    if (!entry)
        return say("The simulated bench knows no specimen of this material.");
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
    const int x = 24 + leftWide + 12;
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
