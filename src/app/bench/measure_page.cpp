// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/measure_page.h"

#include "app/bench/note_picker.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"
#include "draw/note_drawing.h"
#include "jobs/edits.h"
#include "methods/common/cure.h"
#include "methods/common/figures.h"
#include "methods/common/section.h"
#include "plan/load_train.h"

#include <QDateTime>
#include <QFontMetricsF>
#include <QPainter>

#include <algorithm>

namespace fortitor {
namespace {

constexpr int fieldWidth = 122;

} // namespace

MeasurePage::MeasurePage(Session& session, QWidget* parent) : Page(session, parent)
{
    setObjectName("measurePage");
    head_ = label({}, "", this);
    hint_ = label("Type 10.02, 10,02 or 0.3945 in. Enter goes on to the next place, then to the next specimen.", "quiet", this);
    message_ = label({}, "warn", this);
    message_->setObjectName("measureMessage");
    message_->hide();
    before_ = button("before the test", "segment", "measureBefore", this);
    afterButton_ = button("after the break", "segment", "measureAfter", this);
    shape_ = new QComboBox(this);
    shape_->setObjectName("measureShape");
    shape_->setToolTip("Section of this specimen");
    fracture_ = new QComboBox(this);
    fracture_->setObjectName("fracture");
    connect(before_, &QPushButton::clicked, this, [this] { after_ = false; refresh(); enter(); });
    connect(afterButton_, &QPushButton::clicked, this, [this] { after_ = true; refresh(); enter(); });
    connect(shape_, &QComboBox::activated, this, [this](int i) {
        if (session_.hasSpecimen())
            session_.apply(edits::shape(session_.document(), session_.current(), session_.job().method->shapes[static_cast<size_t>(i)]));
    });
    connect(fracture_, &QComboBox::activated, this, [this](int i) {
        if (session_.hasSpecimen())
            session_.apply(edits::note(session_.document(), session_.current(), "fracture", i == 0 ? "" : s(fracture_->itemText(i))));
    });
    notes_ = new QWidget(this);
    noteRow_ = new QHBoxLayout(notes_);
    noteRow_->setContentsMargins(0, 0, 0, 0);
    noteRow_->setSpacing(8);
    minute_.setInterval(20000);
    connect(&minute_, &QTimer::timeout, this, [this] { if (isVisible()) refresh(); });
    minute_.start();
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

/// What is looked at and named before the test: pickers, short words, the adhesive with its clock.
void MeasurePage::buildNotes()
{
    const Method& method = *session_.job().method;
    const SpecimenInput& input = session_.specimen().input;
    QString key = q(method.id + "/" + session_.specimen().label);
    for (const NoteSpec& note : method.notes)
        key += "/" + q(noteOf(input, note.key));
    key += q(noteOf(input, "bonded")) + QString::number(session_.jobId()) + QString::number(static_cast<int>(QDateTime::currentSecsSinceEpoch() / 60));
    if (key == notesFor_)
        return;
    notesFor_ = key;
    clearLayout(noteRow_);
    const auto take = [this](const std::string& name, const QString& value) { session_.apply(edits::note(session_.document(), session_.current(), name, s(value))); };
    for (const NoteSpec& note : method.notes) {
        if (note.stage != Stage::Measure)
            continue;
        if (note.key == "adhesive") {
            buildCure();
            continue;
        }
        if (!note.choices.empty()) {
            auto* pick = new NotePicker(note);
            pick->setCurrent(q(noteOf(input, note.key)));
            connect(pick, &NotePicker::picked, this, [take, name = note.key](const QString& choice) { take(name, choice); });
            noteRow_->addWidget(pick);
            continue;
        }
        auto* edit = new QLineEdit(q(noteOf(input, note.key)));
        edit->setObjectName("note-" + q(note.key));
        edit->setPlaceholderText(q(note.label));
        edit->setToolTip(q(note.label + (note.help.empty() ? "" : ". " + note.help)));
        edit->setMaximumWidth(150);
        edit->setMinimumHeight(30);
        connect(edit, &QLineEdit::editingFinished, this, [take, edit, name = note.key] {
            if (edit->isModified()) {
                edit->setModified(false);
                take(name, edit->text().trimmed());
            }
        });
        noteRow_->addWidget(edit);
    }
    noteRow_->addStretch();
    settleLayout(noteRow_);
}

void MeasurePage::buildCure()
{
    const SpecimenInput& input = session_.specimen().input;
    auto* list = new QComboBox;
    list->setObjectName("note-adhesive");
    list->setToolTip("Adhesives with their strength and hours of cure are kept under Instruments");
    list->addItem("adhesive…");
    for (const InstrumentRow& row : session_.logbook().instruments())
        if (row.kind == "adhesive") {
            list->addItem(row.name + ", " + q(row.body.value("cure", "24 h")), q(row.body.value("cure", "24 h")));
            list->setItemData(list->count() - 1, row.name, Qt::UserRole + 1);
            if (row.name == q(noteOf(input, "adhesive")))
                list->setCurrentIndex(list->count() - 1);
        }
    connect(list, &QComboBox::activated, this, [this, list](int i) {
        session_.apply(CommandBuilder(session_.document(), s("adhesive: " + list->itemText(i)))
                           .set("/specimens/" + std::to_string(session_.current()) + "/notes/adhesive", i == 0 ? std::nullopt : std::optional<Json>(s(list->itemData(i, Qt::UserRole + 1).toString())))
                           .set("/specimens/" + std::to_string(session_.current()) + "/notes/cure", i == 0 ? std::nullopt : std::optional<Json>(s(list->itemData(i).toString())))
                           .take());
    });
    noteRow_->addWidget(list);
    auto* bonded = button(noteOf(input, "bonded").empty() ? "Bonded now" : "Bonded anew", "", "bondedNow");
    bonded->setToolTip("Starts the cure clock of this specimen");
    connect(bonded, &QPushButton::clicked, this, [this] { session_.apply(edits::note(session_.document(), session_.current(), "bonded", s(QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm")))); });
    noteRow_->addWidget(bonded);
    QString words = "the cure clock is not started";
    if (const auto clock = cureClock(input); !clock)
        words = q(clock.problem().text());
    else if (*clock) {
        const double left = (*clock)->readyAt() - wallClock(s(QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm:ss"))).value_or(0);
        words = left <= 0 ? QString("cured, bonded %1").arg(q(noteOf(input, "bonded"))) : QString("cures for another %1 h %2 min").arg(static_cast<int>(left / 3600)).arg(static_cast<int>(left / 60) % 60);
    }
    auto* clock = label(words, "quiet");
    clock->setObjectName("cureClock");
    clock->setWordWrap(false);
    noteRow_->addWidget(clock);
}

QString MeasurePage::rawText(const FieldSpec& field, size_t index) const
{
    const Json::json_pointer path("/specimens/" + std::to_string(session_.current()) + "/dimensions/" + field.key);
    const Json& json = session_.document().json();
    if (!json.contains(path))
        return {};
    const Json& value = json.at(path);
    if (value.is_string())
        return index == 0 ? q(value.get<std::string>()) : QString();
    return value.is_array() && index < value.size() && value[index].is_string() ? q(value[index].get<std::string>()) : QString();
}

void MeasurePage::dropPlaces()
{
    for (Place& p : places_) {
        p.edit->hide();
        p.edit->deleteLater();
    }
    places_.clear();
}

void MeasurePage::build()
{
    const std::string shape = session_.specimen().input.shape;
    const QString key = q(shape) + (after_ ? "/after" : "/before") + q(session_.job().method->id);
    if (key == builtFor_)
        return;
    builtFor_ = key;
    dropPlaces();
    int row = 0;
    for (const FieldSpec& field : session_.job().method->fields) {
        if (field.afterBreak != after_ || (!field.shape.empty() && field.shape != shape))
            continue;
        const bool onDrawing = field.readings > 1 && !after_;
        for (int i = 0; i < field.readings; ++i) {
            auto* edit = new QuantityField(field.kind, this);
            edit->setObjectName(q(field.key) + (field.readings > 1 ? QString("-%1").arg(i + 1) : QString()));
            edit->setToolTip(q(field.help));
            edit->setWhatsThis(q(field.label + ". " + field.help));
            edit->installEventFilter(this);
            edit->show();
            places_.push_back({field, static_cast<size_t>(i), edit, onDrawing, row});
        }
        if (onDrawing)
            ++row;
    }
    for (size_t k = 0; k < places_.size(); ++k) {
        QuantityField* edit = places_[k].edit;
        edit->suspicious = [this, k](const Quantity& typed) { return suspicion(places_[k], typed); };
        connect(edit, &QuantityField::committed, this, [this, k](const QString& text) {
            session_.apply(edits::reading(session_.document(), session_.current(), places_[k].field, places_[k].index, s(text)));
        });
        connect(edit, &QuantityField::goOn, this, [this, k] { advance(k + 1); });
        connect(edit, &QuantityField::goBack, this, [this, k] {
            if (k > 0)
                places_[k - 1].edit->setFocus();
        });
        connect(edit, &QuantityField::message, this, [this](const QString& words) {
            message_->setText(words);
            message_->setVisible(!words.isEmpty());
            message_->raise();
        });
    }
    for (size_t k = 1; k < places_.size(); ++k)
        setTabOrder(places_[k - 1].edit, places_[k].edit);
    arrange();
}

QString MeasurePage::suspicion(const Place& place, const Quantity& typed) const
{
    const Specimen& specimen = session_.specimen();
    const auto against = [&](double other, const QString& whose) -> QString {
        const double factor = slipFactor(typed.base, other);
        if (factor == 0)
            return {};
        return QString("That is %1 times %2 (%3). A slip of the point or the unit?").arg(factor, 0, 'g', 3).arg(whose, q(formatQuantity(other, baseUnit(place.field.kind), 4)));
    };
    // Other places of this bar, then the same place of the bars of the lot.
    for (const Place& other : places_)
        if (other.field.key == place.field.key && other.index != place.index)
            if (const auto v = parseQuantity(s(rawText(other.field, other.index)), place.field.kind, &baseUnit(place.field.kind)))
                if (const QString words = against(v->base, QString("reading %1").arg(other.index + 1)); !words.isEmpty())
                    return words;
    for (const Specimen& other : session_.job().specimens) {
        const auto it = other.input.dimensions.find(place.field.key);
        if (other.label == specimen.label || it == other.input.dimensions.end())
            continue;
        if (const QString words = against(it->second.front().base, q(other.label)); !words.isEmpty())
            return words;
        break;
    }
    return {};
}

void MeasurePage::advance(size_t from)
{
    const bool drawnPlace = from > 0 && places_[from - 1].onDrawing;
    if (from < places_.size() && (!drawnPlace || places_[from].onDrawing)) {
        places_[from].edit->setFocus();
        return;
    }
    // All places of this bar are read: the next bar, unless its lengths still wait.
    if (from < places_.size() && std::any_of(places_.begin() + static_cast<std::ptrdiff_t>(from), places_.end(), [](const Place& p) { return p.field.needed && p.edit->typed().isEmpty(); })) {
        places_[from].edit->setFocus();
        return;
    }
    if (session_.current() + 1 < session_.job().specimens.size()) {
        session_.setCurrent(session_.current() + 1);
        enter();
    }
}

SpecimenDrawing MeasurePage::drawing() const
{
    const auto length = [&](const char* key) {
        const auto it = session_.specimen().input.dimensions.find(key);
        return it == session_.specimen().input.dimensions.end() || it->second.empty() ? 0 : it->second.front().base;
    };
    const std::string& shape = session_.specimen().input.shape;
    const std::string& form = session_.job().method->form;
    const double across = length(form == "beam" ? "depth" : shape == "round" ? "diameter" : shape == "tube" ? "outer_diameter" : "width");
    const double h = std::clamp(height() * 0.2, 84.0, 130.0);
    const bool low = height() < 560;
    const QRectF room(60, low ? (noteRow_->count() > 1 ? 165 : 150) : height() * 0.305, width() - 120, h);
    const double along = length(form == "column" || form == "shell" ? "height" : form == "strip" ? "grip_distance" : form == "beam" ? "span" : form == "shaft" ? "gauge_length" : "parallel_length");
    SpecimenDrawing d = layOutBar(room, form, shape, along, length("gauge_length"), across);
    if (form == "beam") {
        const bool four = optionOr(session_.specimen().input, "loading", "three-point") == "four-point";
        putLoads(d, length("span"), four ? std::optional(length("load_span")) : std::nullopt);
    }
    return d;
}

void MeasurePage::arrange()
{
    if (!session_.hasSpecimen())
        return;
    head_->setWordWrap(false);
    head_->setGeometry(24, 14, width() - 420, 22);
    hint_->setGeometry(24, 36, width() - 48, 20);
    before_->setGeometry(width() - 266, 10, 122, 30);
    afterButton_->setGeometry(width() - 144, 10, 122, 30);
    shape_->setGeometry(width() - (before_->isVisibleTo(this) ? 400 : 146), 10, 124, 30);
    message_->setGeometry(24, 56, width() - 48, 20);
    const SpecimenDrawing d = drawing();
    const int low = height() - (height() < 560 ? 152 : 178);
    int x = 24;
    for (Place& p : places_) {
        if (p.onDrawing) {
            const double centre = d.places[std::min(p.index, d.places.size() - 1)].x();
            const double spread = (static_cast<double>(p.index) - 1) * std::max(0.0, fieldWidth + 8 - (d.places[1].x() - d.places[0].x()));
            const int y = p.row == 0 ? static_cast<int>(d.outline.boundingRect().top() - d.clear) - 84 : static_cast<int>(d.outline.boundingRect().top() - d.clear) - 84 + 40;
            p.edit->setGeometry(static_cast<int>(centre + spread) - fieldWidth / 2, y - (p.row == 0 && places_.size() > 3 && std::ranges::any_of(places_, [](const Place& o) { return o.row == 1 && o.onDrawing; }) ? 8 : 0), fieldWidth, 36);
        } else if (after_) {
            p.edit->setGeometry(24 + (x - 24), low - 12, 150, 36);
            x += 168;
        } else {
            p.edit->setGeometry(x, low, 132, 34);
            x += 152;
        }
    }
    notes_->setVisible(!after_);
    const bool tight = height() < 560 && noteRow_->count() > 1;
    hint_->setVisible(!tight);
    notes_->setGeometry(24, tight ? 36 : 58, width() - 48, 34);
    fracture_->setVisible(after_ && session_.job().method->findNote("fracture"));
    fracture_->setGeometry(std::min(x, width() - 190), low - 10, 178, 32);
}

void MeasurePage::fill()
{
    for (Place& p : places_)
        p.edit->setStored(rawText(p.field, p.index));
}

void MeasurePage::refresh()
{
    const bool has = session_.hasSpecimen();
    for (QWidget* w : std::initializer_list<QWidget*>{head_, hint_, before_, afterButton_, shape_, notes_})
        w->setVisible(has);
    const bool halves = session_.isOpen() && std::ranges::any_of(session_.job().method->fields, &FieldSpec::afterBreak);
    after_ = after_ && halves;
    before_->setVisible(has && halves);
    afterButton_->setVisible(has && halves);
    shape_->setVisible(has && session_.job().method->shapes.size() > 1);
    if (!has) {
        dropPlaces();
        builtFor_.clear();
        fracture_->hide();
        update();
        return;
    }
    before_->setChecked(!after_);
    afterButton_->setChecked(after_);
    const Specimen& specimen = session_.specimen();
    shape_->clear();
    for (const std::string& shape : session_.job().method->shapes)
        shape_->addItem(q(shape));
    shape_->setCurrentText(q(specimen.input.shape));
    head_->setText(headText());
    fracture_->clear();
    if (const NoteSpec* note = session_.job().method->findNote("fracture")) {
        fracture_->addItem("fracture: not noted");
        for (const std::string& c : note->choices)
            fracture_->addItem(q(c));
    }
    const auto fracture = specimen.input.notes.find("fracture");
    fracture_->setCurrentIndex(fracture == specimen.input.notes.end() ? 0 : std::max(0, fracture_->findText(q(fracture->second))));
    buildNotes();
    build();
    arrange();
    fill();
    update();
}

QString MeasurePage::headText() const
{
    const bool wide = width() > 800;
    if (after_)
        return wide ? "Halves fitted together: the length between the marks, and the neck two ways" : "Halves fitted together, and the neck";
    const std::string& shape = session_.specimen().input.shape;
    QStringList names;
    for (const FieldSpec& f : session_.job().method->fields)
        if (f.readings > 1 && !f.afterBreak && (f.shape.empty() || f.shape == shape))
            names << q(f.label);
    if (names.isEmpty())
        return "Height between the faces; look for dents before the test";
    const QString list = names.size() > 1 ? names[0] + " and " + names[1].toLower() : names[0];
    return list + " at three places" + (shape == "round" && wide ? ", two ways each if it looks oval" : "");
}

void MeasurePage::enter()
{
    for (Place& p : places_)
        if (p.edit->typed().isEmpty()) {
            p.edit->setFocus();
            return;
        }
    if (!places_.empty())
        places_.front().edit->setFocus();
}

bool MeasurePage::goTo(const QString& field)
{
    if (!session_.hasSpecimen())
        return false;
    const FieldSpec* spec = session_.job().method->findField(s(field));
    if (!spec)
        return false;
    after_ = spec->afterBreak;
    refresh();
    for (Place& p : places_)
        if (q(p.field.key) == field) {
            p.edit->setFocus();
            return true;
        }
    return true;
}

void MeasurePage::resizeEvent(QResizeEvent*)
{
    arrange();
}

bool MeasurePage::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::FocusIn || event->type() == QEvent::FocusOut)
        update();
    return Page::eventFilter(watched, event);
}

void MeasurePage::paintSummary(QPainter& painter) const
{
    const Palette& p = pal();
    const int y = height() - (height() < 560 ? 94 : 104);
    painter.setPen(p.hair);
    painter.drawLine(24, y - 14, width() - 24, y - 14);
    painter.setPen(p.quiet);
    painter.setFont(wordFont(12));
    painter.drawText(QPointF(24, y + 8), after_ ? "section at the neck" : "section now");
    const Method& method = *session_.job().method;
    const bool block = method.form == "sandwich";
    const auto section = block ? Expected<std::optional<Term>>(std::optional<Term>()) : sectionTerm(session_.specimen().input, after_ ? "final_" : "", "So");
    const auto blockArea = block ? loadedArea(method, session_.specimen().input) : std::nullopt;
    const bool known = blockArea || (section && *section);
    const double area = blockArea ? *blockArea : known ? (*section)->value() : 0;
    painter.setPen(known ? p.ink : p.quiet);
    const QFont big = figureFont(27);
    painter.setFont(big);
    const Unit& unit = displayUnit(Kind::Area, area, units());
    const QString value = known ? q(formatSignificant(unit.fromBase(area), 4)) : QString("–");
    painter.drawText(QPointF(24, y + 42), value);
    painter.setFont(wordFont(13));
    painter.setPen(p.quiet);
    const QString school = optionOr(session_.specimen().input, "area_from", "mean") == "least" ? "least" : "mean";
    painter.drawText(QPointF(24 + QFontMetricsF(big).horizontalAdvance(value) + 10, y + 42), q(std::string(unit.symbol)) + (after_ ? QString() : block ? QString(", width times length") : ", " + school + " of the places"));
    painter.setFont(wordFont(12));
    if (!section)
        painter.drawText(QPointF(24, y + 66), q(section.problem().text()));
    else if (!after_ && block)
        painter.drawText(QPointF(24, y + 66), "the area that the blocks pull on");
    else if (!after_)
        painter.drawText(QPointF(24, y + 66), "school: " + school + (school == "mean" ? " (" + q(method.standards) + ")" : QString()) + ", changed on Plan");
    else if (const auto& outcome = session_.specimenOutcome().outcome) {
        QString words;
        for (const char* symbol : {"A", "Z"})
            if (const Result* r = outcome->find(symbol); r && r->value)
                words += (words.isEmpty() ? "" : "   ") + QString("%1 = %2 %").arg(symbol).arg(r->unit->fromBase(*r->value), 0, 'f', 1);
        painter.setPen(p.ink);
        painter.drawText(QPointF(24, y + 66), words);
    }
    if (after_)
        return;

    // Spread of the readings of the first kind, against the one per cent that is queried.
    std::vector<double> values;
    for (const Place& place : places_)
        if (place.onDrawing && place.row == 0)
            if (const auto v = parseQuantity(s(rawText(place.field, place.index)), place.field.kind, &baseUnit(place.field.kind)))
                values.push_back(v->base);
    const double left = width() * 0.52;
    painter.setPen(p.quiet);
    painter.drawText(QPointF(left, y + 8), "spread");
    if (values.size() < 2)
        return;
    const auto [lo, hi] = std::ranges::minmax(values);
    double mean = 0;
    for (double v : values)
        mean += v / static_cast<double>(values.size());
    const double half = std::max(0.006 * mean, (hi - lo) * 0.7);
    const double lineLeft = left + 60;
    const double lineRight = width() - 40;
    const auto x = [&](double v) { return lineLeft + (v - mean + half) / (2 * half) * (lineRight - lineLeft); };
    painter.setPen(QPen(p.hair, 1.5));
    painter.drawLine(QPointF(lineLeft, y + 4), QPointF(lineRight, y + 4));
    painter.setPen(QPen(p.stop, 1.2, Qt::DotLine));
    for (double limit : {mean - 0.005 * mean, mean + 0.005 * mean})
        painter.drawLine(QPointF(x(limit), y - 6), QPointF(x(limit), y + 14));
    painter.setPen(Qt::NoPen);
    painter.setBrush(p.ink);
    for (double v : values)
        painter.drawEllipse(QPointF(x(v), y + 4), 4.5, 4.5);
    painter.setPen(p.quiet);
    painter.setFont(figureFont(11));
    const QFontMetricsF metrics(painter.font());
    const QString low = q(formatSignificant(lo, 4));
    const QString high = q(formatSignificant(hi, 4));
    painter.drawText(QPointF(x(lo) - metrics.horizontalAdvance(low) / 2 - (hi > lo ? 12 : 0), y + 28), low);
    if (hi > lo)
        painter.drawText(QPointF(x(hi) - metrics.horizontalAdvance(high) / 2 + 12, y + 28), high);
    painter.setFont(wordFont(12));
    painter.drawText(QPointF(left, y + 52), QString("%1 % of the mean; 1 % would be queried").arg((hi - lo) / mean * 100, 0, 'f', 1));
    const Instruments& tools = session_.specimen().input.instruments;
    painter.drawText(QPointF(left, y + 76), "calliper: " + q(tools.calliperName) + " · measured by " + session_.who());
}

void MeasurePage::paintEvent(QPaintEvent*)
{
    const Palette& p = pal();
    QPainter painter(this);
    painter.fillRect(rect(), p.surface);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!session_.hasSpecimen()) {
        painter.setPen(p.quiet);
        painter.setFont(wordFont(13));
        painter.drawText(rect(), Qt::AlignCenter, "No specimens yet. Add one with + above (Insert on the tags).");
        return;
    }
    const SpecimenDrawing d = drawing();
    std::vector<bool> done(3, false);
    int active = -1;
    for (const Place& place : places_) {
        if (!place.onDrawing)
            continue;
        if (place.index < 3)
            done[place.index] = done[place.index] || !place.edit->typed().isEmpty();
        if (place.edit->hasFocus())
            active = static_cast<int>(place.index);
    }
    const auto words = [&](const char* key, const QString& name, const QString& unknown) {
        const auto it = session_.specimen().input.dimensions.find(key);
        return it == session_.specimen().input.dimensions.end() || it->second.empty() ? unknown : name + " " + q(formatQuantity(it->second.front().base, baseUnit(Kind::Length), 4));
    };
    SpecimenDrawing shown = d;
    if (after_)
        shown.places.clear();
    const std::string& form = session_.job().method->form;
    const auto lengths = [&](int row) -> QString {
        if (form == "waisted" && session_.job().method->findField("gauge_length"))
            return row == 0 ? (after_ ? words("final_gauge_length", "Lu between marks", "Lu between marks?") : words("gauge_length", "L₀ between marks", "L₀ between marks?")) : after_ ? QString() : words("parallel_length", "parallel length", "parallel length?");
        if (form == "column" || form == "shell")
            return row == 0 ? QString() : words("height", "height", "height?");
        if (form == "beam")
            return row == 1 ? words("span", "span", "span?") : d.loads.size() == 2 ? words("load_span", "load span", "load span?") : QString();
        if (form == "shaft")
            return row == 0 ? QString() : words("gauge_length", "length of the twist", "length of the twist?");
        if (form == "sandwich")
            return row == 0 ? QString() : words("width", "width", "width?") + " · " + words("length", "length", "length?");
        return row == 0 && !session_.job().method->findField("extensometer_gauge_length") ? QString() : row == 0 ? words("extensometer_gauge_length", "extensometer", "extensometer?") : words("grip_distance", "between the grips", "between the grips?");
    };
    // Beads or fibres lie as the note says; along the bar is across the page here.
    const double degrees = session_.job().method->findNote("direction") && !after_ ? directionDegrees(noteOf(session_.specimen().input, "direction")).value_or(-1) : -1;
    paintBar(painter, p, shown, done, active, lengths(0), lengths(1));
    if (form == "beam" && !after_) {
        const SpecimenInput& input = session_.specimen().input;
        paintWood(painter, p, d, noteOf(input, "rings"), noteOf(input, "grain"), noteOf(input, "knots"));
    }
    if (degrees >= 0 && form != "shaft") {
        QColor faint = p.data[0];
        faint.setAlpha(90);
        paintDirection(painter, d.outline, degrees == 45 ? 45 : degrees + 90, faint, 14);
    }
    if (after_) {
        // The break: a ragged line through the middle.
        const double x = d.bar.center().x();
        QPolygonF crack;
        for (int i = 0; i <= 8; ++i)
            crack << QPointF(x + (i % 2 ? 5 : -5), d.bar.top() - 4 + i * (d.bar.height() + 8) / 8);
        painter.setPen(QPen(p.surface, 7));
        painter.drawPolyline(crack);
        painter.setPen(QPen(p.ink, 1.4));
        painter.drawPolyline(crack.translated(-4, 0));
        painter.drawPolyline(crack.translated(4, 0));
    }
    // Numbered places and the lines down from their fields.
    for (const Place& place : places_) {
        if (!place.onDrawing) {
            painter.setFont(wordFont(11.5));
            painter.setPen(p.quiet);
            painter.drawText(QPointF(place.edit->x() + 1, place.edit->y() - 7), q(place.field.label) + (place.field.readings > 1 ? QString(" %1").arg(place.index + 1) : QString()));
            continue;
        }
        if (place.index == 0) {
            painter.setFont(wordFont(12));
            painter.setPen(p.quiet);
            const double right = place.edit->x() - 12;
            painter.drawText(QRectF(24, place.edit->y(), right - 24, place.edit->height()), Qt::AlignRight | Qt::AlignVCenter, q(place.field.label));
        }
        if (place.row != 0)
            continue;
        const double x = d.places[place.index].x();
        const double y = d.outline.boundingRect().top() - d.clear - (places_.size() > 3 && std::ranges::any_of(places_, [](const Place& o) { return o.row == 1 && o.onDrawing; }) ? -2 : 24);
        const bool now = active == static_cast<int>(place.index);
        painter.setPen(QPen(p.hair, 1.2));
        painter.drawLine(QPointF(x, y), QPointF(x, d.bar.top() - 10));
        painter.setPen(QPen(now ? p.accent : p.ink, 1.3));
        painter.setBrush(now ? p.accent : p.surface);
        painter.drawEllipse(QPointF(x, y), 10, 10);
        painter.setPen(now ? (p.dark ? p.paper : QColor(Qt::white)) : p.ink);
        painter.setFont(wordFont(11, QFont::DemiBold));
        painter.drawText(QRectF(x - 10, y - 10, 20, 20), Qt::AlignCenter, QString::number(place.index + 1));
    }
    paintSummary(painter);
}

QStringList MeasurePage::keys() const
{
    return {"Enter|take the reading, next place, next specimen", "↑|the place before", "Esc|what stood there before", "Ctrl+← Ctrl+→|the specimen before, the next one", "Ctrl+Z|take back"};
}

} // namespace fortitor
