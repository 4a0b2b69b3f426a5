// SPDX-License-Identifier: GPL-3.0-or-later
// How the page Measure is put together.
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
    const auto inRow = static_cast<int>(std::ranges::count(places_, false, &Place::onDrawing));
    const int step = std::min(after_ ? 168 : 152, (width() - 40) / std::max(1, inRow)); // all stay on the page
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
            p.edit->setGeometry(x, low - 12, step - 18, 36);
            x += step;
        } else {
            p.edit->setGeometry(x, low, step - 20, 34);
            x += step;
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

} // namespace fortitor
