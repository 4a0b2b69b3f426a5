// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/plan/plan_page.h"

#include "app/bench/plan/arrest_dialog.h"

#include "jobs/json_at.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "draw/chart.h"
#include "draw/note_drawing.h"
#include "jobs/edits.h"
#include "jobs/pad.h"
#include "methods/display.h"
#include "methods/common/run.h"
#include "plan/load_train.h"
#include "reference/tables.h"

#include <QCompleter>
#include <QGridLayout>
#include <QKeyEvent>
#include <QScrollBar>
#include <QTimer>

namespace fortitor {

/// The materials and woods of the reference, offered while one is keyed.
void PlanPage::offerMaterials()
{
    QStringList names;
    for (const PublishedMaterial& m : publishedMaterials())
        names << q(m.name + " " + m.state);
    for (const WoodSpecies& w : woodSpecies())
        names << q(w.name);
    auto* completer = new QCompleter(names, this);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    material_->setCompleter(completer);
    hands::groundPopup(completer);
    completer->popup()->installEventFilter(this);
    material_->installEventFilter(this);
}

/// Number, title, material, direction, method.
QGridLayout* PlanPage::makeJobForm()
{
    number_ = lineEdit("jobNumber", "J-0101");
    title_ = lineEdit("jobTitle", "Rigger tube, incoming lot");
    material_ = lineEdit("jobMaterial", "6082-T6, steel S355 …");
    direction_ = lineEdit("jobDirection", "along the tube, at mid length");
    offerMaterials();
    auto* form = new QGridLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(6);
    method_ = new QComboBox;
    method_->setObjectName("jobMethod");
    for (const Method& m : methodRegistry())
        method_->addItem(q(m.name + " · " + m.standards), q(m.id));
    connect(method_, &QComboBox::activated, this, [this] {
        const Method* chosen = findMethod(s(method_->currentData().toString()));
        if (session_.isOpen() && chosen && chosen->id != session_.job().method->id)
            session_.apply(edits::method(session_.document(), *chosen));
    });
    const std::pair<const char*, QLineEdit*> rows[] = {
        {"number", number_}, {"title", title_}, {"material and state", material_}, {"place and direction", direction_}};
    int row = 0;
    for (const auto& [name, edit] : rows) {
        form->addWidget(label(name, "quiet"), row, 0);
        form->addWidget(edit, row++, 1);
    }
    form->addWidget(label("method", "quiet"), row, 0);
    form->addWidget(method_, row++, 1);
    form->setColumnMinimumWidth(0, 120);
    return form;
}

void PlanPage::connectJobForm()
{
    const auto head = [this](QLineEdit* edit, auto command) {
        hands::onKept(edit, this, [this, command](const QString& text, hands::Answered answered) {
            return session_.isOpen() && session_.apply(command(s(text)), std::move(answered));
        });
    };
    head(number_, [this](const std::string& text) { return edits::head(session_.document(), "number", text); });
    head(title_, [this](const std::string& text) { return edits::head(session_.document(), "title", text); });
    head(material_, [this](const std::string& text) { return edits::material(session_.document(), text); });
    head(direction_, [this](const std::string& text) {
        return CommandBuilder(session_.document(), "direction: " + text).set("/material/direction", text).take();
    });
}

PlanPage::PlanPage(Session& session, QWidget* parent) : Page(session, parent)
{
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    setFocusPolicy(Qt::StrongFocus);
    scroll_ = new QScrollArea;
    scroll_->setWidgetResizable(true);
    outer->addWidget(scroll_);
    auto* inside = new QWidget;
    scroll_->setWidget(inside);
    columns_ = new QHBoxLayout(inside);
    columns_->setContentsMargins(24, 18, 24, 18);
    columns_->setSpacing(28);
    auto* left = new QVBoxLayout;
    left->setSpacing(8);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    columns_->addLayout(left, 10);
    columns_->addLayout(right, 9);

    left->addWidget(label("The job", "head"));
    left->addLayout(makeJobForm());
    connectJobForm();
    published_ = label({}, "quiet");
    left->addWidget(published_);

    left->addSpacing(14);
    left->addWidget(label("What is wanted", "head"));
    requirementRows_ = new QWidget;
    requirements_ = new QVBoxLayout(requirementRows_);
    requirements_->setContentsMargins(0, 0, 0, 0);
    requirements_->setSpacing(6);
    left->addWidget(requirementRows_);
    left->addLayout(makeAddRow());
    spread_ = new SpreadView(session);
    left->addWidget(spread_);
    loads_ = new LoadsView(session);
    left->addWidget(loads_);
    connect(loads_, &LoadsView::arrestAsked, this, [this] {
        ArrestDialog dialog(session_, window());
        dialog.exec();
    });
    proposals_ = new ProposalTable(session);
    left->addWidget(proposals_, 1);
    left->addSpacing(14);
    left->addWidget(label("Worked out", "head"));
    forecast_ = label({});
    forecast_->setObjectName("forecast");
    forecast_->setTextFormat(Qt::RichText);
    left->addWidget(forecast_);
    left->addStretch();

    rules_ = new RulesView(session);
    right->addWidget(rules_);
    right->addWidget(label("Options", "head"));
    right->addWidget(label("The first of each is the usual one. A change works every figure out anew.", "quiet"));
    options_ = new QVBoxLayout;
    options_->setSpacing(6);
    right->addLayout(options_);
    trial_ = new OptionTrial(session);
    right->addWidget(trial_);
    connect(trial_, &OptionTrial::changed, this, [this] {
        if (!trial_->onTrial()) {
            refresh(); // what was dropped goes back to what stands
        }
    });
    right->addStretch();
}

void PlanPage::buildOptions()
{
    clearLayout(options_);
    for (const OptionSpec& spec : session_.job().method->options) {
        if (!spec.onPlan())
            continue;
        auto* row = new QHBoxLayout;
        row->setSpacing(10);
        auto* name = label(q(spec.label), "quiet");
        name->setFixedWidth(124);
        name->setToolTip(q(spec.help));
        row->addWidget(name);
        if (!spec.choices.empty()) {
            auto* box = new QComboBox;
            box->setMinimumWidth(96);
            box->setObjectName("option-" + q(spec.key));
            box->setToolTip(q(spec.help));
            connect(box, &QComboBox::activated, this, [this, box, key = spec.key, first = spec.choices.front()] {
                const std::string chosen = s(box->currentData().toString());
                trial_->propose(key, chosen == first ? "" : chosen,
                                box->toolTip().isEmpty()
                                    ? box->currentText()
                                    : q(session_.job().method->findOption(key)->label) + ": " + box->currentText(),
                                true);
            });
            row->addWidget(box, 1);
        } else {
            auto* edit = lineEdit(("option-" + spec.key).c_str(),
                                  spec.fallback.empty()
                                      ? QString(spec.role == OptionSpec::Role::Steps ? "from the material" : "none")
                                      : q(spec.fallback));
            edit->setToolTip(q(spec.help));
            hands::onKept(edit, this, [this, key = spec.key](const QString& text, const hands::Answered& answered) {
                trial_->propose(key, s(text),
                                q(session_.job().method->findOption(key)->label) + ": "
                                    + (text.isEmpty() ? QString("as usual") : text),
                                true);
                answered(true); // on trial
                return true;
            });
            row->addWidget(edit, 1);
        }
        options_->addLayout(row);
    }
    settleLayout(options_);
}

/// Choices that are known by their drawing.
static void showSketches(QComboBox* box, const OptionSpec& spec)
{
    if (spec.sketches.empty() || box->count() != static_cast<int>(spec.choices.size()))
        return;
    NoteSpec drawn{.key = spec.key, .label = spec.label, .choices = spec.choices, .sketches = spec.sketches};
    box->setIconSize({34, 34});
    for (int i = 0; i < box->count(); ++i) {
        constexpr int size = 34;
        QPixmap pixmap(2 * size, 2 * size);
        pixmap.setDevicePixelRatio(2);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        paintNote(painter, pal(), drawn, s(box->itemData(i).toString()), QRectF(0, 0, size, size));
        painter.end();
        box->setItemIcon(i, QIcon(pixmap));
    }
}

/// What stands, except where another value is on trial.
void PlanPage::fillOptions()
{
    if (trial_->onTrial())
        return;
    const Json options = objectAt(session_.document().json(), "options");
    for (const OptionSpec& spec : session_.job().method->options) {
        const QString now = options.contains(spec.key) && options[spec.key].is_string()
            ? q(options[spec.key].get<std::string>())
            : QString();
        const QString name = "option-" + q(spec.key);
        if (auto* box = findChild<QComboBox*>(name)) {
            std::vector<hands::Item> items;
            int current = 0;
            for (const std::string& choice : spec.choices) {
                if (q(choice) == now)
                    current = static_cast<int>(items.size());
                items.push_back({q(spec.shown(choice)), q(choice)});
            }
            hands::fill(box, items, current);
            showSketches(box, spec);
        } else if (auto* edit = findChild<QLineEdit*>(name)) {
            hands::fill(edit, now);
        }
    }
}

/// Rows are made anew only where other ones are declared; what they show is filled in.
void PlanPage::refreshRows()
{
    const Job& job = session_.job();
    if (job_ != session_.jobId()) {
        job_ = session_.jobId();
        for (QLineEdit* edit : findChildren<QLineEdit*>())
            edit->setModified(false); // typed for another job
        addMin_->clear();
        lotShown_.clear();
    }
    QString rows = q(job.method->id + job.method->variant);
    for (const Requirement& r : job.requirements)
        rows += "/" + q(r.symbol) + (r.meanMin || r.boundMin || lotShown_ == q(r.symbol) ? " lot" : "");
    const auto build = [this, rows] {
        if (rows == requirementsFor_ || !session_.isOpen())
            return;
        requirementsFor_ = rows;
        buildRequirements();
        fillRequirements();
    };
    if (rows != requirementsFor_)
        hands::whenFree(requirementRows_, "rows", build);
    if (optionsFor_ != q(job.method->id + job.method->variant)) {
        optionsFor_ = q(job.method->id + job.method->variant);
        buildOptions();
    }
    fillRequirements();
    fillOptions();
}

void PlanPage::showForecast()
{
    const Job& job = session_.job();
    QString text;
    const auto line = [&](const QString& name, const QString& value) {
        text += QString("<tr><td style='padding-right:14px;color:%1'>%2</td><td>%3</td></tr>")
                    .arg(pal().quiet.name(), name.toHtmlEscaped(), value.toHtmlEscaped());
    };
    const auto n = job.specimens.size();
    line("specimens", QString("%1, the method asks for at least %2").arg(n).arg(job.method->leastSpecimens));
    const Intake& intake = job.method->intake;
    if (session_.hasSpecimen() && (intake.has(Intake::By::Frame) || intake.has(Intake::By::Steps))) {
        const SpecimenInput& input = session_.specimen().input;
        const ExpectedLoad expected = expectedLoad(*job.method, input);
        const QString who = q(session_.specimen().label);
        const QString basis = q(expected.basis);
        const Kind kind = job.method->train.load;
        line((kind == Kind::Torque ? "greatest torque, " : "greatest force, ") + who,
             expected.maximum ? shownQuantity(*expected.maximum, kind) + " · " + basis : basis);
        if (expected.yield)
            line("yields near", shownQuantity(*expected.yield, kind));
        if (const auto rates = planRates(*job.method, input, expected)) {
            const auto speed = [&](double v) { return q(driveSpeedText(v, kind, 2)); };
            line(kind == Kind::Torque ? "drive" : "crosshead",
                 rates->afterSpeed > rates->yieldSpeed
                     ? QString("%1 to yield, then %2").arg(speed(rates->yieldSpeed), speed(rates->afterSpeed))
                     : speed(rates->yieldSpeed));
            line("rate", q(job.method->rates.words));
            line("time on the frame",
                 QString("about %1 min a specimen, %2 min for all")
                     .arg(rates->wholeTime / 60, 0, 'f', 1)
                     .arg(rates->wholeTime / 60 * static_cast<double>(n), 0, 'f', 0));
        } else {
            line("speed", q(missingLength(*job.method)));
        }
        if (intake.has(Intake::By::Steps))
            if (const auto steps = padPlan(*job.method, input, units()))
                line("steps", q(planText(*steps) + " · " + steps->words));
    }
    forecast_->setText("<table cellspacing='3'>" + text + "</table>");
}

void PlanPage::refresh()
{
    if (!session_.isOpen())
        return;
    const Job& job = session_.job();
    hands::fill(number_, q(job.number));
    hands::fill(title_, q(job.title));
    hands::fill(material_, q(job.materialName));
    const Json material = objectAt(session_.document().json(), "material");
    hands::fill(direction_, q(textAt(material, "direction")));
    method_->setCurrentIndex(method_->findData(q(job.method->id)));
    const bool begun =
        std::ranges::any_of(job.specimens, [](const Specimen& one) { return !one.recordId.empty() || one.keyed(); });
    method_->setEnabled(!begun);
    method_->setToolTip(begun ? "Specimens have records already; the method stays." : "The test method of this job");
    const PublishedMaterial* row = findPublishedMaterial(job.materialName);
    const auto giga = [](std::optional<double> v) {
        return v ? QString::number(*v / 1000, 'g', 4) + " GPa" : QString("–");
    };
    const auto mega = [](std::optional<double> v) { return v ? QString::number(*v, 'g', 4) + " MPa" : QString("–"); };
    const auto wood = row ? std::nullopt : findWoodSpecies(job.materialName);
    if (wood)
        published_->setText(
            QString("Mean of %1, clear wood at 12 %: MOE %2, MOR %3, along the grain %4, %5 kg/m³. Grade, knots, "
                    "slope of grain and moisture lower or raise them: a guide, never a limit.")
                .arg(q(wood->name), giga(wood->modulus), mega(wood->rupture), mega(wood->compression))
                .arg(wood->density, 0, 'f', 0));
    else
        published_->setText(
            row ? QString("Typical of %1, %2: E %3, yield %4, Rm %5, A %6. A guide, never a limit.")
                      .arg(q(row->name), q(row->state), giga(row->youngsModulus), mega(row->yield), mega(row->strength),
                           row->elongation ? QString::number(*row->elongation * 100, 'g', 3) + " %" : "–")
                : job.materialName.empty()
                ? QString("Name the material to see typical values and to size the load cell.")
                : QString("No row of the reference table fits this name; typical values and the expected load are not "
                          "known."));
    published_->setVisible(!job.method->reference.empty());
    refreshRows();
    spread_->refresh();
    loads_->refresh();
    rules_->refresh();
    proposals_->refresh();
    showForecast();
}

/// At its top, with the cursor in none of the fields: what is typed by mistake changes no limit.
void PlanPage::enter()
{
    setFocus();
    QTimer::singleShot(0, scroll_, [this] { scroll_->verticalScrollBar()->setValue(0); });
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
    if ((watched == material_ || watched == material_->completer()->popup())
        && (key == Qt::Key_Tab || key == Qt::Key_Backtab)) {
        material_->completer()->popup()->hide();
        (key == Qt::Key_Tab ? direction_ : title_)
            ->setFocus(key == Qt::Key_Tab ? Qt::TabFocusReason : Qt::BacktabFocusReason);
        return true;
    }
    return Page::eventFilter(watched, event);
}

/// In a small window one column stands below the other: what is wanted, with both its limits, takes most of the width.
void PlanPage::resizeEvent(QResizeEvent* event)
{
    constexpr int twoColumns = 840;
    columns_->setDirection(width() < twoColumns ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    Page::resizeEvent(event);
}

QStringList PlanPage::keys() const
{
    return {"Tab|the next field", "Ctrl+Z|undo", "Insert on the tags|one more specimen"};
}

} // namespace fortitor
