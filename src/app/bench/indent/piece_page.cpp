// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/indent/piece_page.h"

#include "app/bench/indent/length_text.h"
#include "app/model/tester_work.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "jobs/edits.h"
#include "jobs/json_at.h"
#include "jobs/single_readings.h"
#include "methods/common/figures.h"
#include "units/nearest.h"

#include <QHBoxLayout>
#include <QSignalBlocker>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

constexpr size_t mostPlaces = 2000;

QLineEdit* smallField(const char* name, const QString& hint, const QString& tip)
{
    auto* edit = lineEdit(name, hint);
    edit->setFixedWidth(82);
    edit->setToolTip(tip);
    return edit;
}

} // namespace

PiecePage::PiecePage(Session& session, QWidget* parent) : Page(session, parent)
{
    setObjectName("piecePage");
    build();
}

void PiecePage::build()
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 16, 20, 14);
    row->setSpacing(22);
    auto* left = new QVBoxLayout;
    left->setSpacing(6);
    row->addLayout(left, 1);
    title_ = label({}, "head");
    title_->setObjectName("pieceTitle");
    head_ = new QHBoxLayout;
    head_->addWidget(title_, 1);
    left->addLayout(head_);
    rule_ = label({}, "quiet");
    rule_->setObjectName("pieceRule");
    rule_->setWordWrap(true);
    left->addWidget(rule_);
    map_ = new PieceMap;
    map_->setPlanning(true);
    left->addWidget(map_, 1);
    connect(map_, &PieceMap::placeAsked, this, &PiecePage::addPlace);
    connect(map_, &PieceMap::plannedChosen, this, &PiecePage::takePlaceOut);
    message_ = label({}, "warn");
    message_->setObjectName("pieceMessage");
    message_->setMinimumHeight(20);
    message_->setWordWrap(true);
    left->addWidget(message_);
    buildPlans(left);

    auto* side = new QWidget;
    side->setFixedWidth(250);
    row->addWidget(side);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(label("The piece", "head"));
    shape_ = new QComboBox;
    shape_->setObjectName("pieceShape");
    shape_->setToolTip("What kind of piece it is");
    column->addWidget(shape_);
    connect(shape_, &QComboBox::activated, this, [this](int i) {
        session_.apply(edits::shape(session_.document(), session_.current(), s(shape_->itemData(i).toString())));
    });
    sizeRows_ = new QVBoxLayout;
    sizeRows_->setSpacing(6);
    column->addLayout(sizeRows_);
    column->addStretch();
    next_ = button("To the indents", "primary", "pieceToIndent");
    connect(next_, &QPushButton::clicked, this, &PiecePage::indentAsked);
    column->addWidget(next_, 0, Qt::AlignLeft);
}

/// A traverse or a grid in a line each.
void PiecePage::buildPlans(QVBoxLayout* under)
{
    first_ = smallField("planFirst", "0.15 mm", "Depth of the first indent below the surface");
    step_ = smallField("planStep", "0.1 mm", "How much deeper each one lies");
    count_ = smallField("planCount", "12", "How many");
    auto* traverse = button("Plan the traverse", "", "planTraverse");
    traverse->setToolTip("From the surface inwards, in as many rows as keep the distance");
    columns_ = smallField("planColumns", "5", "How many beside each other");
    rows_ = smallField("planRows", "1", "How many rows");
    pitch_ = smallField("planPitch", "", "From centre to centre; empty: the least the rule allows");
    auto* grid = button("Plan the grid", "", "planGrid");
    clear_ = button("Clear the plan", "link", "planClear");
    free_ = button("Next free place", "", "planFree");
    free_->setToolTip("The one nearest to the middle that keeps its distance to edges, indents and earlier checks");
    connect(free_, &QPushButton::clicked, this, [this] {
        if (!desk_)
            return;
        const auto place = nextFree(*desk_);
        place ? addPlace(place->x, place->y)
              : say(desk_->across > 0 ? "No free place is left on this face."
                                      : "State the expected hardness on Plan: the size of the indents is not known.");
    });
    const auto line = [&](std::initializer_list<std::pair<const char*, QWidget*>> parts) {
        auto* row = new QHBoxLayout;
        row->setSpacing(6);
        for (const auto& [words, widget] : parts) {
            if (*words != '\0')
                row->addWidget(label(words, "quiet"));
            row->addWidget(widget);
        }
        row->addStretch();
        under->addLayout(row);
    };
    line({{"first", first_}, {"step", step_}, {"number", count_}});
    line({{"columns", columns_}, {"rows", rows_}, {"apart", pitch_}});
    line({{"", traverse}, {"", grid}, {"", free_}});
    head_->addWidget(clear_);
    connect(traverse, &QPushButton::clicked, this, &PiecePage::planRow);
    connect(grid, &QPushButton::clicked, this, &PiecePage::planGridNow);
    connect(clear_, &QPushButton::clicked, this, [this] { keepPlaces({}, "plan of indents cleared"); });
    for (QLineEdit* edit : {first_, step_, count_})
        connect(edit, &QLineEdit::returnPressed, this, &PiecePage::planRow);
    for (QLineEdit* edit : {columns_, rows_, pitch_})
        connect(edit, &QLineEdit::returnPressed, this, &PiecePage::planGridNow);
}

/// A field for each size of the piece, and what it is.
void PiecePage::buildSizes()
{
    const Method& method = *session_.job().method;
    const std::string& shape = session_.specimen().input.shape;
    const QString now = q(method.id + "/" + method.variant + "/" + shape);
    if (builtFor_ == now)
        return;
    builtFor_ = now;
    clearLayout(sizeRows_);
    sizes_.clear();
    picks_.clear();
    words_.clear();
    QWidget* before = shape_;
    const auto line = [&](const std::string& words, QWidget* widget) {
        auto* row = new QHBoxLayout;
        auto* name = label(q(words));
        name->setFixedWidth(96);
        name->setWordWrap(true);
        row->addWidget(name);
        row->addWidget(widget, 1);
        sizeRows_->addLayout(row);
        setTabOrder(before, widget);
        before = widget;
    };
    for (const FieldSpec& field : method.fields) {
        if (!field.shape.empty() && field.shape != shape)
            continue;
        auto* edit = new QuantityField(field.kind);
        edit->setObjectName(q(field.key));
        edit->setToolTip(q(field.help));
        edit->setMinimumHeight(32);
        edit->keep = [this, field](const QString& text, hands::Answered answered) {
            return session_.apply(edits::reading(session_.document(), session_.current(), field, 0, s(text)),
                                  std::move(answered));
        };
        connect(edit, &QuantityField::message, this, &PiecePage::say);
        connect(edit, &QuantityField::goOn, this, [edit] { edit->nextInFocusChain()->setFocus(); });
        line(field.label, edit);
        sizes_[field.key] = edit;
    }
    for (const NoteSpec& note : method.notes) {
        if (note.stage != Stage::Measure)
            continue;
        const auto take = [this, key = note.key](const QString& value, hands::Answered answered) {
            return session_.apply(edits::note(session_.document(), session_.current(), key, s(value)),
                                  std::move(answered));
        };
        if (!note.choices.empty()) {
            auto* pick = new NotePicker(note);
            pick->setObjectName("note-" + q(note.key));
            connect(pick, &NotePicker::picked, this, [take](const QString& choice) { take(choice, {}); });
            line(note.label, pick);
            picks_[note.key] = pick;
        } else {
            auto* edit = lineEdit(("note-" + note.key).c_str(), {});
            edit->setToolTip(q(note.help));
            hands::onKept(edit, this, take);
            line(note.label, edit);
            words_[note.key] = edit;
        }
    }
    settleLayout(sizeRows_);
}

QString PiecePage::storedText(const std::string& key) const
{
    const Json& specimen = session_.document().json()["specimens"][session_.current()];
    const Json sizes = objectAt(specimen, "dimensions");
    if (!sizes.contains(key))
        return {};
    const Json& value = sizes[key];
    const Json& one = value.is_array() && !value.empty() ? value.front() : value;
    return one.is_string() ? q(one.get<std::string>()) : QString();
}

void PiecePage::fill()
{
    const Specimen& specimen = session_.specimen();
    const QString place = QString::number(session_.jobId()) + "/" + q(specimen.label) + "/";
    for (const auto& [key, edit] : sizes_)
        edit->setStored(place + q(key), storedText(key));
    for (const auto& [key, pick] : picks_)
        pick->setCurrent(q(noteOf(specimen.input, key)));
    for (const auto& [key, edit] : words_)
        hands::fill(edit, q(noteOf(specimen.input, key)));
    std::vector<hands::Item> items;
    int current = 0;
    for (const std::string& shape : session_.job().method->shapes) {
        if (shape == specimen.input.shape)
            current = static_cast<int>(items.size());
        items.push_back({q(shape), q(shape)});
    }
    hands::fill(shape_, items, current);
}

void PiecePage::refresh()
{
    const PageSpec* page = session_.hasSpecimen() ? session_.job().method->pageOf(Stage::Measure) : nullptr;
    if (!page || page->page != "piece")
        return;
    buildSizes();
    fill();
    const QString here = QString::number(session_.jobId()) + "/" + q(session_.specimen().label);
    if (std::exchange(standsAt_, here) != here)
        say({});
    auto desk = deskOf(session_.specimen().input);
    map_->setVisible(static_cast<bool>(desk));
    title_->setText(desk ? q(session_.specimen().label) + ", and where its indents shall stand"
                         : q(session_.specimen().label));
    if (!desk) {
        desk_.reset();
        rule_->setText("No places can be planned yet. " + q(desk.problem().text()) + " State it on Plan.");
        return;
    }
    desk_ = std::move(*desk);
    if (isBlock(session_.specimen().input))
        desk_->used = usedPlaces(session_.testerRows(), session_.specimen().input, session_.jobId(),
                                 static_cast<int>(session_.current()));
    map_->show(*desk_, desk_->size.layer);
    clear_->setEnabled(desk_->places.size() > desk_->indents.size());
    rule_->setText(desk_->across > 0
                       ? QString("An indent is about %1 across: at least %2 apart and %3 from an edge. "
                                 "A click plans one, a click on it takes it out.")
                             .arg(lengthText(desk_->across), lengthText(leastApart(desk_->setting, desk_->across)),
                                  lengthText(leastFromEdge(desk_->setting, desk_->across)))
                       : QString("How large the indents will be is not known: "
                                 "state the expected hardness on Plan, or make the first one."));
    proposeTraverse();
}

/// What a traverse would begin with, in light ink.
void PiecePage::proposeTraverse()
{
    const double edge = desk_->across > 0 ? leastFromEdge(desk_->setting, desk_->across) : 0.15;
    first_->setPlaceholderText(q(formatFixed(std::ceil(edge / 0.05 - 1e-9) * 0.05, 2)) + " mm");
    const double apart = desk_->across > 0 ? leastApart(desk_->setting, desk_->across) : 0;
    pitch_->setPlaceholderText(apart > 0 ? q(formatSignificant(std::ceil(apart * 100) / 100, 3)) + " mm"
                                         : QString("1 mm"));
}

void PiecePage::enter()
{
    if (!sizes_.empty())
        if (const auto& fields = session_.job().method->fields; !fields.empty())
            sizes_[fields.front().key]->setFocus();
}

bool PiecePage::goTo(const QString& field)
{
    if (const auto it = sizes_.find(s(field)); it != sizes_.end()) {
        it->second->setFocus();
        return true;
    }
    return false;
}

void PiecePage::say(const QString& words)
{
    message_->setText(words);
}

std::optional<double> PiecePage::lengthIn(const QLineEdit* edit, const char* what)
{
    const QString text = edit->text().trimmed().isEmpty() ? edit->placeholderText() : edit->text().trimmed();
    const auto read = parseQuantity(s(text), Kind::Length, &baseUnit(Kind::Length));
    if (read && read->base > 0)
        return read->base;
    say(QString("%1: \"%2\" is no length above zero.").arg(what, text));
    return std::nullopt;
}

std::optional<size_t> PiecePage::countIn(const QLineEdit* edit, const char* what)
{
    const QString text = edit->text().trimmed().isEmpty() ? edit->placeholderText() : edit->text().trimmed();
    bool ok = false;
    const int count = text.toInt(&ok);
    if (ok && count > 0 && static_cast<size_t>(count) <= mostPlaces)
        return static_cast<size_t>(count);
    say(QString("%1: \"%2\" is no number from 1 to %3.").arg(what, text).arg(mostPlaces));
    return std::nullopt;
}

/// Behind what was made already.
void PiecePage::keepPlaces(std::vector<Spot> places, const QString& words)
{
    if (!desk_)
        return;
    std::vector<Spot> all(desk_->places.begin(),
                          desk_->places.begin()
                              + static_cast<std::ptrdiff_t>(std::min(desk_->indents.size(), desk_->places.size())));
    all.insert(all.end(), places.begin(), places.end());
    session_.apply(edits::places(session_.document(), session_.current(), all, s(words)));
}

void PiecePage::planRow()
{
    if (!desk_)
        return;
    if (isBlock(session_.specimen().input))
        return say("A reference block has no case to go through: plan a grid, or take the next free place.");
    const auto first = lengthIn(first_, "First");
    const auto step = first ? lengthIn(step_, "Step") : std::nullopt;
    const auto count = step ? countIn(count_, "Number") : std::nullopt;
    if (!count)
        return;
    Desk without = *desk_;
    without.places.resize(std::min(without.places.size(), without.indents.size()));
    const double apart = desk_->across > 0 ? leastApart(desk_->setting, desk_->across) : 0;
    const auto places = planTraverse(*first, *step, *count, apart);
    if (const std::string refused = refusedAt(without, places.front()); !refused.empty())
        return say("The first place: " + q(refused));
    say({});
    keepPlaces(places, QString("traverse of %1 indents planned on %2").arg(*count).arg(q(session_.specimen().label)));
}

void PiecePage::planGridNow()
{
    if (!desk_)
        return;
    const auto columns = countIn(columns_, "Columns");
    const auto rows = columns ? countIn(rows_, "Rows") : std::nullopt;
    const auto pitch = rows ? lengthIn(pitch_, "Apart") : std::nullopt;
    if (!pitch)
        return;
    if (*columns * *rows > mostPlaces)
        return say(QString("%1 places are more than %2.").arg(*columns * *rows).arg(mostPlaces));
    Desk sofar = *desk_;
    sofar.places.resize(std::min(sofar.places.size(), sofar.indents.size()));
    for (const Spot& place : planGrid(0, 0, *columns, *rows, *pitch)) {
        if (const std::string refused = refusedAt(sofar, place); !refused.empty())
            return say(QString("A place at %1, %2: ").arg(lengthText(place.x), lengthText(place.y)) + q(refused));
        sofar.places.push_back(place);
    }
    say({});
    keepPlaces(planGrid(0, 0, *columns, *rows, *pitch),
               QString("grid of %1 indents planned on %2").arg(*columns * *rows).arg(q(session_.specimen().label)));
}

void PiecePage::addPlace(double x, double y)
{
    if (!desk_)
        return;
    const auto hundredth = [](double mm) { return std::round(mm * 100) / 100; };
    Spot place{.x = hundredth(x), .y = hundredth(y)};
    if (desk_->traverse)
        place.depth = place.y;
    if (const std::string refused = refusedAt(*desk_, place); !refused.empty())
        return say("No place here: " + q(refused));
    say({});
    std::vector<Spot> planned(desk_->places.begin()
                                  + static_cast<std::ptrdiff_t>(std::min(desk_->indents.size(), desk_->places.size())),
                              desk_->places.end());
    planned.push_back(place);
    keepPlaces(planned,
               QString("place %1 planned on %2").arg(desk_->places.size() + 1).arg(q(session_.specimen().label)));
}

void PiecePage::takePlaceOut(size_t i)
{
    if (!desk_ || i < desk_->indents.size() || i >= desk_->places.size())
        return;
    std::vector<Spot> planned(desk_->places.begin() + static_cast<std::ptrdiff_t>(desk_->indents.size()),
                              desk_->places.end());
    planned.erase(planned.begin() + static_cast<std::ptrdiff_t>(i - desk_->indents.size()));
    keepPlaces(planned, QString("place %1 of %2 taken out of the plan").arg(i + 1).arg(q(session_.specimen().label)));
}

QStringList PiecePage::keys() const
{
    return {"Enter|keeps a size and goes on", "Tab|sizes, then the plan of places", "Ctrl+Z|takes the plan back",
            "Ctrl+→|the next piece"};
}

} // namespace fortitor
