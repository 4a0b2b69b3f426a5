// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/measure/measure_page.h"

#include "jobs/json_at.h"
#include "app/bench/measure/cure_row.h"
#include "app/bench/measure/note_picker.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "draw/chart.h"
#include "draw/note_drawing.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"
#include "methods/common/section.h"
#include "plan/load_train.h"

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
    hint_ = label("Type 10.02, 10,02 or 0.3945 in. Enter goes on to the next place, then to the next specimen.",
                  "quiet", this);
    message_ = label({}, "warn", this);
    message_->setObjectName("measureMessage");
    message_->hide();
    before_ = button("before the test", "segment", "measureBefore", this);
    afterButton_ = button("after the break", "segment", "measureAfter", this);
    shape_ = new QComboBox(this);
    shape_->setObjectName("measureShape");
    shape_->setToolTip("Section of this specimen");
    connect(before_, &QPushButton::clicked, this, [this] {
        after_ = false;
        refresh();
        enter();
    });
    connect(afterButton_, &QPushButton::clicked, this, [this] {
        after_ = true;
        refresh();
        enter();
    });
    connect(shape_, &QComboBox::activated, this, [this](int i) {
        if (session_.hasSpecimen())
            session_.apply(edits::shape(session_.document(), session_.current(),
                                        session_.job().method->shapes[static_cast<size_t>(i)]));
    });
    notes_ = new QWidget(this);
    noteRow_ = new QHBoxLayout(notes_);
    noteRow_->setContentsMargins(0, 0, 0, 0);
    noteRow_->setSpacing(8);
    afterNotes_ = new QWidget(this);
    afterRow_ = new QHBoxLayout(afterNotes_);
    afterRow_->setContentsMargins(0, 0, 0, 0);
    afterRow_->setSpacing(8);
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

/// What is looked at and named: before the test, and on the broken pieces. Made anew for another method only; what they
/// show is filled in.
void MeasurePage::buildNotes()
{
    const Method& method = *session_.job().method;
    if (q(method.id) == notesFor_)
        return;
    notesFor_ = q(method.id);
    clearLayout(noteRow_);
    clearLayout(afterRow_);
    cure_ = nullptr;
    const auto take = [this](const std::string& name, const QString& value, hands::Answered answered) {
        return session_.apply(edits::note(session_.document(), session_.current(), name, s(value)),
                              std::move(answered));
    };
    for (const NoteSpec& note : method.notes) {
        const bool before = note.stage == Stage::Measure;
        QHBoxLayout* row = before ? noteRow_ : afterRow_;
        if (note.by == NoteSpec::By::Cure) {
            cure_ = new CureRow(session_, note);
            row->addWidget(cure_);
        } else if (!note.choices.empty()) {
            auto* pick = new NotePicker(note);
            pick->setObjectName(noteName(note));
            connect(pick, &NotePicker::picked, this,
                    [take, name = note.key](const QString& choice) { take(name, choice, {}); });
            row->addWidget(pick);
        } else {
            auto* edit = new QLineEdit;
            edit->setObjectName(noteName(note));
            edit->setPlaceholderText(q(note.label));
            edit->setToolTip(q(note.label + (note.help.empty() ? "" : ". " + note.help)));
            edit->setMaximumWidth(150);
            edit->setMinimumHeight(30);
            hands::onKept(edit, this, [take, name = note.key](const QString& text, hands::Answered answered) {
                return take(name, text, std::move(answered));
            });
            row->addWidget(edit);
        }
    }
    for (QHBoxLayout* row : {noteRow_, afterRow_}) {
        row->addStretch();
        settleLayout(row);
    }
}

/// Those of the broken pieces stand on Read as well, under the plain name.
QString MeasurePage::noteName(const NoteSpec& note)
{
    return (note.stage == Stage::Measure ? "note-" : "after-") + q(note.key);
}

void MeasurePage::fillNotes()
{
    const SpecimenInput& input = session_.specimen().input;
    for (const NoteSpec& note : session_.job().method->notes) {
        const QString now = q(noteOf(input, note.key));
        QWidget* row = note.stage == Stage::Measure ? notes_ : afterNotes_;
        if (auto* pick = row->findChild<NotePicker*>(noteName(note)))
            pick->setCurrent(now);
        else if (auto* edit = row->findChild<QLineEdit*>(noteName(note)))
            hands::fill(edit, now);
    }
    if (cure_)
        cure_->fill();
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
    return value.is_array() && index < value.size() && value[index].is_string() ? q(value[index].get<std::string>())
                                                                                : QString();
}

void MeasurePage::dropPlaces()
{
    for (Place& p : places_) {
        p.edit->putAside();
        p.edit->hide();
        p.edit->deleteLater();
    }
    places_.clear();
    messages_.clear();
    tellMessage();
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
            edit->setDrafts(drafts_);
            edit->show();
            places_.push_back({field, static_cast<size_t>(i), edit, onDrawing, row});
        }
        if (onDrawing)
            ++row;
    }
    for (size_t k = 0; k < places_.size(); ++k) {
        QuantityField* edit = places_[k].edit;
        edit->suspicious = [this, k](const Quantity& typed) { return suspicion(places_[k], typed); };
        edit->keep = [this, k](const QString& text, hands::Answered answered) {
            return session_.apply(edits::reading(session_.document(), session_.current(), places_[k].field,
                                                 places_[k].index, s(text)),
                                  std::move(answered));
        };
        connect(edit, &QuantityField::goOn, this, [this, k] { advance(k + 1); });
        connect(edit, &QuantityField::goBack, this, [this, k] {
            if (k > 0)
                places_[k - 1].edit->setFocus();
        });
        connect(edit, &QuantityField::message, this, [this, edit](const QString& words) {
            messages_[edit] = words;
            tellMessage();
        });
    }
    for (size_t k = 1; k < places_.size(); ++k)
        setTabOrder(places_[k - 1].edit, places_[k].edit);
    arrange();
}

/// What the field at hand has to say comes first; what another still waits for is not forgotten.
void MeasurePage::tellMessage()
{
    QString words;
    for (const auto& [field, says] : messages_)
        if (!says.isEmpty() && (words.isEmpty() || field->hasFocus()))
            words = says;
    message_->setText(words);
    message_->setVisible(!words.isEmpty());
    message_->raise();
    hint_->setVisible(words.isEmpty() && !tight_);
}

QString MeasurePage::placeName(const Place& place) const
{
    return QString::number(session_.jobId()) + "/" + q(session_.specimen().label) + "/" + q(place.field.key) + "/"
        + QString::number(place.index);
}

QString MeasurePage::suspicion(const Place& place, const Quantity& typed) const
{
    std::vector<double> onThePiece;
    for (const Place& other : places_)
        if (other.field.key == place.field.key && other.index != place.index)
            if (const auto v =
                    parseQuantity(s(rawText(other.field, other.index)), place.field.kind, &baseUnit(place.field.kind)))
                onThePiece.push_back(v->base);
    std::vector<double> before;
    for (size_t i = 0; i < session_.job().specimens.size(); ++i) {
        const auto& dimensions = session_.job().specimens[i].input.dimensions;
        const auto it = dimensions.find(place.field.key);
        if (i != session_.current() && it != dimensions.end() && !it->second.empty())
            before.push_back(it->second[std::min(place.index, it->second.size() - 1)].base);
    }
    return q(readingQuery(typed.base, onThePiece, before, baseUnit(place.field.kind)));
}

void MeasurePage::advance(size_t from)
{
    const bool drawnPlace = from > 0 && places_[from - 1].onDrawing;
    if (from < places_.size() && (!drawnPlace || places_[from].onDrawing)) {
        places_[from].edit->setFocus();
        return;
    }
    // All places of this bar are read: the next bar, unless its lengths still wait.
    if (from < places_.size()
        && std::any_of(places_.begin() + static_cast<std::ptrdiff_t>(from), places_.end(),
                       [](const Place& p) { return p.field.needed && p.edit->typed().isEmpty(); })) {
        places_[from].edit->setFocus();
        return;
    }
    if (session_.current() + 1 < session_.job().specimens.size()) {
        session_.setCurrent(session_.current() + 1);
        enter();
    }
}

/// The size across that fits the shape and was measured first.
double MeasurePage::drawnAcross() const
{
    const Method& method = *session_.job().method;
    const SpecimenInput& input = session_.specimen().input;
    for (const std::string& key : method.drawing.across)
        for (const FieldSpec& field : method.fields)
            if (field.key == key && (field.shape.empty() || field.shape == input.shape))
                if (const double size = firstLength(input, key); size > 0)
                    return size;
    return 0;
}

SpecimenDrawing MeasurePage::drawing() const
{
    const SpecimenInput& input = session_.specimen().input;
    const Drawing& how = session_.job().method->drawing;
    const bool lowest = height() < 520;
    const double h = lowest ? 80 : std::clamp(height() * 0.2, 84.0, 130.0);
    const bool low = height() < lowPage;
    const QRectF room(60,
                      low ? (noteRow_->count() > 1 ? 165
                                 : lowest          ? 142
                                                   : 150)
                          : height() * 0.305,
                      width() - 120, h);
    SpecimenDrawing d = layOutBar(room, how.form, input.shape, firstLength(input, how.along),
                                  firstLength(input, how.marks), drawnAcross());
    if (const auto loads = how.loads ? how.loads(input) : std::nullopt)
        putLoads(d, loads->span, loads->between);
    return d;
}

void MeasurePage::arrange()
{
    if (!session_.hasSpecimen())
        return;
    head_->setWordWrap(false);
    head_->setGeometry(24, 14, width() - 420, 22);
    head_->setToolTip(head_->text());
    hint_->setGeometry(24, 36, width() - 48, 20);
    before_->setGeometry(width() - 266, 10, 122, 30);
    afterButton_->setGeometry(width() - 144, 10, 122, 30);
    shape_->setGeometry(width() - (before_->isVisibleTo(this) ? 400 : 146), 10, 124, 30);
    message_->setGeometry(hint_->geometry()); // in its place
    const SpecimenDrawing d = drawing();
    const int low = height() - (height() < lowPage ? 152 : 178);
    int x = 24;
    for (Place& p : places_) {
        if (p.onDrawing) {
            const double centre = d.places[std::min(p.index, d.places.size() - 1)].x();
            const double spread = (static_cast<double>(p.index) - 1)
                * std::max(0.0, fieldWidth + 8 - (d.places[1].x() - d.places[0].x()));
            const int y = p.row == 0 ? static_cast<int>(d.outline.boundingRect().top() - d.clear) - 84
                                     : static_cast<int>(d.outline.boundingRect().top() - d.clear) - 84 + 40;
            p.edit->setGeometry(
                static_cast<int>(centre + spread) - fieldWidth / 2,
                y
                    - (p.row == 0 && places_.size() > 3
                               && std::ranges::any_of(places_, [](const Place& o) { return o.row == 1 && o.onDrawing; })
                           ? 8
                           : 0),
                fieldWidth, 36);
        } else if (after_) {
            p.edit->setGeometry(24 + (x - 24), low - 12, 150, 36);
            x += 168;
        } else {
            p.edit->setGeometry(x, low, 132, 34);
            x += 152;
        }
    }
    notes_->setVisible(!after_);
    const bool tight = height() < lowPage && noteRow_->count() > 1;
    tight_ = tight;
    hint_->setVisible(!tight && message_->isHidden());
    notes_->setGeometry(24, tight ? 36 : 58, width() - 48, 34);
    afterNotes_->setVisible(after_);
    const int left = std::min(x, width() - 220);
    afterNotes_->setGeometry(left, low - 11, width() - left - 24, 34);
}

void MeasurePage::fill()
{
    for (Place& p : places_)
        p.edit->setStored(placeName(p), rawText(p.field, p.index));
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
        afterNotes_->hide();
        update();
        return;
    }
    before_->setChecked(!after_);
    afterButton_->setChecked(after_);
    const Specimen& specimen = session_.specimen();
    const auto pick = [](QComboBox* box, std::vector<hands::Item> items, const std::vector<std::string>& choices,
                         const std::string& now) {
        int current = 0;
        for (const std::string& choice : choices) {
            if (choice == now)
                current = static_cast<int>(items.size());
            items.push_back({q(choice), q(choice)});
        }
        hands::fill(box, items, current);
    };
    pick(shape_, {}, session_.job().method->shapes, specimen.input.shape);
    head_->setText(headText());
    buildNotes();
    fillNotes();
    build();
    arrange();
    fill();
    update();
}

QString MeasurePage::headText() const
{
    const Method& method = *session_.job().method;
    if (after_)
        return q(method.drawing.headingAfter);
    if (!method.drawing.heading.empty())
        return q(method.drawing.heading);
    const std::string& shape = session_.specimen().input.shape;
    QStringList names;
    for (const FieldSpec& f : method.fields)
        if (f.readings > 1 && !f.afterBreak && (f.shape.empty() || f.shape == shape))
            names << q(f.label);
    if (names.isEmpty())
        return {};
    const QString list = names.size() > 1 ? names[0] + " and " + names[1].toLower() : names[0];
    return list + " at three places";
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

QStringList MeasurePage::keys() const
{
    return {"Enter|take the reading, next place, next specimen", "↑|the place before", "Esc|what stood there before",
            "Ctrl+← Ctrl+→|the specimen before, the next one", "Ctrl+Z|undo"};
}

} // namespace fortitor
