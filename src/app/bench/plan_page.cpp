// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/plan_page.h"

#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"
#include "jobs/edits.h"
#include "jobs/pad.h"
#include "methods/display.h"
#include "plan/load_train.h"
#include "reference/tables.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QFormLayout>
#include <QGridLayout>
#include <QKeyEvent>
#include <QScrollArea>

namespace fortitor {
namespace {

QLineEdit* lineEdit(const char* name, const QString& hint)
{
    auto* made = new QLineEdit;
    made->setObjectName(name);
    made->setPlaceholderText(hint);
    made->setMinimumHeight(32);
    return made;
}

void setIfIdle(QLineEdit* edit, const QString& text)
{
    if (!edit->hasFocus() || !edit->isModified())
        edit->setText(text);
}

} // namespace

PlanPage::PlanPage(Session& session, QWidget* parent) : Page(session, parent)
{
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    outer->addWidget(scroll);
    auto* inside = new QWidget;
    scroll->setWidget(inside);
    auto* grid = new QHBoxLayout(inside);
    grid->setContentsMargins(24, 18, 24, 18);
    grid->setSpacing(28);
    auto* left = new QVBoxLayout;
    left->setSpacing(8);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    grid->addLayout(left, 10);
    grid->addLayout(right, 9);

    left->addWidget(label("The job", "head"));
    number_ = lineEdit("jobNumber", "J-0101");
    title_ = lineEdit("jobTitle", "Rigger tube, incoming lot");
    material_ = lineEdit("jobMaterial", "6082-T6, steel S355 …");
    direction_ = lineEdit("jobDirection", "along the tube, at mid length");
    QStringList names;
    for (const PublishedMaterial& m : publishedMaterials())
        names << q(m.name + " " + m.state);
    for (const WoodSpecies& w : woodSpecies())
        names << q(w.name);
    auto* completer = new QCompleter(names, this);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    material_->setCompleter(completer);
    completer->popup()->installEventFilter(this);
    material_->installEventFilter(this);
    auto* form = new QGridLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(6);
    method_ = new QComboBox;
    method_->setObjectName("jobMethod");
    for (const Method& m : methodRegistry())
        method_->addItem(q(m.name + " · " + m.standards), q(m.id));
    connect(method_, &QComboBox::activated, this, [this] {
        const Method* chosen = findMethod(s(method_->currentData().toString()));
        if (session_.isOpen() && chosen && chosen != session_.job().method)
            session_.apply(edits::method(session_.document(), *chosen));
    });
    const std::pair<const char*, QLineEdit*> rows[] = {{"number", number_}, {"title", title_}, {"material and state", material_}, {"place and direction", direction_}};
    int row = 0;
    for (const auto& [name, edit] : rows) {
        form->addWidget(label(name, "quiet"), row, 0);
        form->addWidget(edit, row++, 1);
    }
    form->addWidget(label("method", "quiet"), row, 0);
    form->addWidget(method_, row++, 1);
    form->setColumnMinimumWidth(0, 120);
    left->addLayout(form);
    published_ = label({}, "quiet");
    left->addWidget(published_);
    connect(number_, &QLineEdit::editingFinished, this, [this] { if (session_.isOpen() && s(number_->text()) != session_.job().number) session_.apply(edits::head(session_.document(), "number", s(number_->text()))); });
    connect(title_, &QLineEdit::editingFinished, this, [this] { if (session_.isOpen() && s(title_->text()) != session_.job().title) session_.apply(edits::head(session_.document(), "title", s(title_->text()))); });
    connect(material_, &QLineEdit::editingFinished, this, [this] { if (session_.isOpen() && s(material_->text()) != session_.job().materialName) session_.apply(edits::material(session_.document(), s(material_->text()))); });
    connect(direction_, &QLineEdit::editingFinished, this, [this] {
        if (session_.isOpen() && s(direction_->text()) != session_.document().json()["material"].value("direction", ""))
            session_.apply(CommandBuilder(session_.document(), "direction: " + s(direction_->text())).set("/material/direction", s(direction_->text())).take());
    });

    left->addSpacing(14);
    left->addWidget(label("What is wanted", "head"));
    requirements_ = new QVBoxLayout;
    requirements_->setSpacing(6);
    left->addLayout(requirements_);
    left->addSpacing(14);
    left->addWidget(label("Worked out", "head"));
    forecast_ = label({});
    forecast_->setObjectName("forecast");
    forecast_->setTextFormat(Qt::RichText);
    left->addWidget(forecast_);
    left->addStretch();

    right->addWidget(label("Schools", "head"));
    right->addWidget(label("The first of each is the usual one. A change works every figure out anew.", "quiet"));
    schools_ = new QVBoxLayout;
    schools_->setSpacing(6);
    right->addLayout(schools_);
    trial_ = new SchoolTrial(session);
    right->addWidget(trial_);
    connect(trial_, &SchoolTrial::changed, this, [this] {
        if (!trial_->onTrial()) {
            builtFor_.clear(); // what was dropped goes back to what stands
            refresh();
        }
    });
    right->addStretch();
}

void PlanPage::buildRequirements()
{
    clearLayout(requirements_);
    const Job& job = session_.job();
    for (const Requirement& r : job.requirements) {
        auto* row = new QHBoxLayout;
        row->setSpacing(8);
        auto* name = label(symbolHtml(q(r.symbol)));
        name->setTextFormat(Qt::RichText);
        name->setFixedWidth(40);
        row->addWidget(name);
        addLimitFields(row, r.symbol, {{{"at least", "min", r.min, ""}, {"at most", "max", r.max, ""}}}, &edits::requirement);
        auto* out = button("take out", "link", "requirementOut");
        row->addWidget(out);
        if (!r.meanMin && !r.boundMin && lotShown_ != q(r.symbol)) {
            auto* lot = button("of the lot…", "link", ("lot-" + r.symbol).c_str());
            lot->setToolTip("What the mean and the lower bound of the whole lot are to reach");
            connect(lot, &QPushButton::clicked, this, [this, symbol = q(r.symbol)] {
                lotShown_ = symbol;
                builtFor_.clear();
                refresh();
                if (auto* field = findChild<QLineEdit*>("mean_min-" + symbol))
                    field->setFocus();
            });
            row->addWidget(lot);
        }
        row->addStretch();
        connect(out, &QPushButton::clicked, this, [this, symbol = r.symbol] { session_.apply(edits::noRequirement(session_.document(), symbol)); });
        requirements_->addLayout(row);
        addLotRow(r);
    }
    auto* add = new QHBoxLayout;
    auto* symbol = new QComboBox;
    symbol->setObjectName("requirementSymbol");
    for (const ResultSpec& spec : job.method->results)
        if (std::ranges::find(job.requirements, spec.symbol, &Requirement::symbol) == job.requirements.end())
            symbol->addItem(q(spec.symbol + ", " + spec.name), q(spec.symbol));
    symbol->setFixedWidth(170);
    auto* least = lineEdit("requirementMin", "at least, 290 MPa");
    least->setFixedWidth(128);
    auto* go = button("Add", "", "requirementAdd");
    add->addWidget(symbol);
    add->addWidget(least);
    add->addWidget(go);
    add->addStretch();
    requirements_->addLayout(add);
    const auto take = [this, symbol, least] {
        if (!least->text().trimmed().isEmpty())
            session_.apply(edits::requirement(session_.document(), s(symbol->currentData().toString()), s(least->text().trimmed()), ""));
    };
    connect(go, &QPushButton::clicked, this, take);
    connect(least, &QLineEdit::returnPressed, this, take);
}

/// Two limits of a symbol that are kept together, each with its word before it.
void PlanPage::addLimitFields(QHBoxLayout* row, const std::string& symbol, const std::array<LimitField, 2>& limits, KeepLimits keep)
{
    const ResultSpec spec = specFor(*session_.job().method, symbol);
    std::array<QLineEdit*, 2> edits{};
    for (size_t k = 0; k < 2; ++k) {
        const LimitField& limit = limits[k];
        auto* word = label(limit.words, "quiet");
        word->setWordWrap(false);
        row->addWidget(word);
        const auto shown = showValue(spec, limit.now, 0, RoundingRule::FourDigits);
        edits[k] = lineEdit((std::string(limit.key) + "-" + symbol).c_str(), "–");
        edits[k]->setText(limit.now ? QString::number(shown.value, 'g', 6) + " " + q(shown.unit) : QString());
        edits[k]->setFixedWidth(92);
        edits[k]->setToolTip(limit.help);
        row->addWidget(edits[k]);
    }
    for (QLineEdit* edit : edits)
        connect(edit, &QLineEdit::editingFinished, this, [this, symbol, keep, edits] {
            if (!session_.isOpen() || (!edits[0]->isModified() && !edits[1]->isModified()))
                return;
            for (QLineEdit* one : edits)
                one->setModified(false);
            session_.apply(keep(session_.document(), symbol, s(edits[0]->text().trimmed()), s(edits[1]->text().trimmed())));
        });
}

/// A second row for what is wanted of the lot, where it is or was asked for.
void PlanPage::addLotRow(const Requirement& r)
{
    if (!r.meanMin && !r.boundMin && lotShown_ != q(r.symbol))
        return;
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addSpacing(48);
    addLimitFields(row, r.symbol, {{{"lot: mean at least", "mean_min", r.meanMin, "The mean of all that count"}, {"lower bound at least", "lower_bound_min", r.boundMin, "90 % of all lie above it, with 95 % confidence"}}}, &edits::lotRequirement);
    row->addStretch();
    requirements_->addLayout(row);
}

void PlanPage::buildSchools()
{
    clearLayout(schools_);
    const Json options = session_.document().json().value("options", Json::object());
    for (const OptionSpec& spec : session_.job().method->options) {
        if (!spec.onPlan())
            continue;
        auto* row = new QHBoxLayout;
        row->setSpacing(10);
        auto* name = label(q(spec.label), "quiet");
        name->setFixedWidth(124);
        name->setToolTip(q(spec.help));
        row->addWidget(name);
        const QString now = options.contains(spec.key) && options[spec.key].is_string() ? q(options[spec.key].get<std::string>()) : QString();
        if (!spec.choices.empty()) {
            auto* box = new QComboBox;
            box->setMinimumWidth(96);
            box->setObjectName("option-" + q(spec.key));
            box->setToolTip(q(spec.help));
            for (const std::string& choice : spec.choices)
                box->addItem(q(choice));
            if (!now.isEmpty())
                box->setCurrentText(now);
            connect(box, &QComboBox::activated, this, [this, box, key = spec.key, first = spec.choices.front()] {
                const std::string chosen = s(box->currentText());
                trial_->propose(key, chosen == first ? "" : chosen, box->toolTip().isEmpty() ? box->currentText() : q(session_.job().method->findOption(key)->label) + ": " + box->currentText(), true);
            });
            row->addWidget(box, 1);
        } else {
            auto* edit = lineEdit(("option-" + spec.key).c_str(), spec.fallback.empty() ? QString(spec.key == "steps" ? "from the material" : "none") : q(spec.fallback));
            edit->setText(now);
            edit->setToolTip(q(spec.help));
            connect(edit, &QLineEdit::editingFinished, this, [this, edit, key = spec.key] {
                if (!edit->isModified())
                    return;
                edit->setModified(false);
                trial_->propose(key, s(edit->text().trimmed()), q(session_.job().method->findOption(key)->label) + ": " + (edit->text().trimmed().isEmpty() ? QString("as usual") : edit->text().trimmed()), true);
            });
            row->addWidget(edit, 1);
        }
        schools_->addLayout(row);
    }
}

void PlanPage::showForecast()
{
    const Job& job = session_.job();
    QString text;
    const auto line = [&](const QString& name, const QString& value) { text += QString("<tr><td style='padding-right:14px;color:%1'>%2</td><td>%3</td></tr>").arg(pal().quiet.name(), name, value); };
    const auto n = job.specimens.size();
    line("specimens", QString("%1, the method asks for at least %2").arg(n).arg(job.method->leastSpecimens));
    if (session_.hasSpecimen()) {
        const SpecimenInput& input = session_.specimen().input;
        const ExpectedLoad expected = expectedLoad(*job.method, input);
        const QString who = q(session_.specimen().label);
        const Kind kind = job.method->loadKind;
        line((kind == Kind::Torque ? "greatest torque, " : "greatest force, ") + who, expected.maximum ? shownQuantity(*expected.maximum, kind) + " · " + q(expected.basis) : q(expected.basis));
        if (expected.yield)
            line("yields near", shownQuantity(*expected.yield, kind));
        if (const auto rates = planRates(job.method->rates, input, expected)) {
            const Unit& perMinute = *findUnit("mm/min");
            line("crosshead", job.method->rates.changeAt > 0 ? QString("%1 to yield, then %2").arg(q(formatQuantity(rates->yieldSpeed, perMinute, 2)), q(formatQuantity(rates->afterSpeed, perMinute, 2))) : q(formatQuantity(rates->yieldSpeed, perMinute, 2)));
            line("rate", q(job.method->rates.words));
            line("time on the frame", QString("about %1 min a specimen, %2 min for all").arg(rates->wholeTime / 60, 0, 'f', 1).arg(rates->wholeTime / 60 * static_cast<double>(n), 0, 'f', 0));
        } else if (job.method->loadKind == Kind::Torque) {
            if (const auto steps = padPlan(*job.method, input, units()))
                line("steps", q(planText(*steps) + " · " + steps->words));
        } else if (job.method->rates.edge > 0) {
            line("crosshead", "needs span and depth, on Measure");
        } else {
            line("crosshead", "needs the parallel length, on Measure");
        }
    }
    forecast_->setText("<table cellspacing='3'>" + text + "</table>");
}

void PlanPage::refresh()
{
    if (!session_.isOpen())
        return;
    const Job& job = session_.job();
    setIfIdle(number_, q(job.number));
    setIfIdle(title_, q(job.title));
    setIfIdle(material_, q(job.materialName));
    const Json material = session_.document().json().value("material", Json::object());
    setIfIdle(direction_, q(material.value("direction", "")));
    method_->setCurrentIndex(method_->findData(q(job.method->id)));
    const bool begun = std::ranges::any_of(job.specimens, [](const Specimen& one) { return !one.recordId.empty() || one.readings; });
    method_->setEnabled(!begun);
    method_->setToolTip(begun ? "Specimens have records already; the method stays." : "The test method of this job");
    const PublishedMaterial* row = findPublishedMaterial(job.materialName);
    const auto giga = [](std::optional<double> v) { return v ? QString::number(*v / 1000, 'g', 4) + " GPa" : QString("–"); };
    const auto mega = [](std::optional<double> v) { return v ? QString::number(*v, 'g', 4) + " MPa" : QString("–"); };
    const auto wood = row ? std::nullopt : findWoodSpecies(job.materialName);
    if (wood)
        published_->setText(QString("Mean of %1, clear wood at 12 %: MOE %2, MOR %3, along the grain %4, %5 kg/m³. Grade, knots, slope of grain and moisture lower or raise them: a guide, never a limit.").arg(q(wood->name), giga(wood->modulus), mega(wood->rupture), mega(wood->compression)).arg(wood->density, 0, 'f', 0));
    else
        published_->setText(row ? QString("Typical of %1, %2: E %3, yield %4, Rm %5, A %6. A guide, never a limit.").arg(q(row->name), q(row->state), giga(row->youngsModulus), mega(row->yield), mega(row->strength), row->elongation ? QString::number(*row->elongation * 100, 'g', 3) + " %" : "–")
                            : job.materialName.empty() ? QString("Name the material to see typical values and to size the load cell.") : QString("No row of the reference table fits this name; typical values and the expected load are not known."));
    // Rows are made anew only when what they show has changed, so that a field being typed in stays.
    const QString key = q(session_.document().json().value("requirements", Json::array()).dump() + session_.document().json().value("options", Json::object()).dump()) + QString::number(session_.jobId()) + q(job.method->id);
    if (key != builtFor_) {
        builtFor_ = key;
        buildRequirements();
        buildSchools();
        settleLayout(requirements_);
        settleLayout(schools_);
    }
    showForecast();
}

bool PlanPage::goTo(const QString& field)
{
    if (QWidget* widget = findChild<QWidget*>("option-" + field)) {
        widget->setFocus();
        return true;
    }
    return false;
}

bool PlanPage::eventFilter(QObject* watched, QEvent* event)
{
    // Tab leaves the field with what was typed, also while suggestions are open.
    const int key = event->type() == QEvent::KeyPress ? static_cast<QKeyEvent*>(event)->key() : 0;
    if ((watched == material_ || watched == material_->completer()->popup()) && (key == Qt::Key_Tab || key == Qt::Key_Backtab)) {
        material_->completer()->popup()->hide();
        (key == Qt::Key_Tab ? direction_ : title_)->setFocus(key == Qt::Key_Tab ? Qt::TabFocusReason : Qt::BacktabFocusReason);
        return true;
    }
    return Page::eventFilter(watched, event);
}

QStringList PlanPage::keys() const
{
    return {"Tab|the next field", "Ctrl+Z|take back", "Insert on the tags|one more specimen"};
}

} // namespace fortitor
