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

#include <algorithm>

namespace fortitor {
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
        discard(p.edit);
    }
    places_.clear();
    messages_.clear();
    tellMessage();
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
    SpecimenDrawing d = layOutBar(room, how.formFor(input), input.shape, firstLength(input, how.along),
                                  firstLength(input, how.marks), drawnAcross());
    if (const auto loads = how.loads ? how.loads(input) : std::nullopt)
        putLoads(d, loads->span, loads->between);
    return d;
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
