// SPDX-License-Identifier: GPL-3.0-or-later
// How the page Read is put together.
#include "app/bench/read/read_page.h"

#include "app/bench/read/told_column.h"
#include "app/bench/read/zone_bar.h"

#include "jobs/json_at.h"
#include "app/bench/measure/note_picker.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "jobs/edits.h"
#include "methods/common/figures.h"

#include <QScrollArea>
#include <QVBoxLayout>

namespace fortitor {

ReadPage::ReadPage(Session& session, QWidget* parent) : Page(session, parent)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 4, 18, 6);
    column->setSpacing(8);
    column->addLayout(buildTools());
    typedRow_ = new QHBoxLayout;
    typedRow_->setSpacing(8);
    column->addLayout(typedRow_);
    plot_ = new CurvePlot(session);
    buildLimitTable();
    auto* picture = new QHBoxLayout;
    picture->setSpacing(10);
    picture->addWidget(plot_, 1);
    views_ = new PlotView;
    views_->setObjectName("readViews");
    views_->hide();
    picture->addWidget(views_, 1);
    picture->addWidget(choicesTable_);
    told_ = new ToldColumn;
    told_->hide();
    picture->addWidget(told_);
    column->addLayout(picture, 1);
    zones_ = new ZoneBar(session, views_);
    column->addWidget(zones_);
    whatIf_ = new WhatIfPanel(session);
    column->addWidget(whatIf_);
    trial_ = new OptionTrial(session);
    column->addWidget(trial_);
    working_ = new WorkingDrawer(session);
    column->addWidget(working_);
    cardScroll_ = buildCards();
    column->addWidget(cardScroll_);
    connectPlot();
    connect(whatIf_, &WhatIfPanel::changed, this, &ReadPage::refresh);
    connect(trial_, &OptionTrial::changed, this, &ReadPage::refresh);
    connect(&preview_, &LatestOutcome::ready, this,
            [this](const std::shared_ptr<std::optional<Outcome>>& outcome) { showMoving(std::move(*outcome)); });
    connect(&Units::instance(), &Units::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

/// What is drawn, and the options to try, above the curve.
QHBoxLayout* ReadPage::buildTools()
{
    auto* tools = new QHBoxLayout;
    tools->setSpacing(8);
    view_ = new QComboBox;
    view_->setObjectName("curveView");
    view_->addItems({"stress and strain", "load and extension", "true curve"});
    view_->setToolTip("What is drawn (V)");
    option_ = new QComboBox;
    option_->setObjectName("readOption");
    option_->setToolTip("An option of the method, tried on this specimen");
    choice_ = new QComboBox;
    choice_->setObjectName("readChoice");
    choice_->setMinimumWidth(110);
    choice_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    auto* optionWord = label("option", "quiet");
    optionWord->setWordWrap(false);
    ask_ = button("What if…", "link", "readWhatIf");
    ask_->setToolTip("What if a reading, a dimension or an option were otherwise: try a value (W)");
    connect(ask_, &QPushButton::clicked, this, [this] { whatIf_->open(); });
    viewChoice_ = new QComboBox;
    viewChoice_->setObjectName("readViewChoice");
    viewChoice_->setToolTip("What is drawn");
    viewChoice_->hide();
    tools->addWidget(viewChoice_);
    tools->addWidget(view_);
    tools->addWidget(ask_);
    tools->addStretch();
    noteRow_ = new QWidget;
    notes_ = new QHBoxLayout(noteRow_);
    notes_->setContentsMargins(0, 0, 0, 0);
    notes_->setSpacing(8);
    tools->addWidget(noteRow_);
    tools->addWidget(optionWord);
    tools->addWidget(option_);
    tools->addWidget(choice_);
    choosers_ = {optionWord, option_, choice_};
    connect(option_, &QComboBox::activated, this, &ReadPage::buildChoices);
    connect(choice_, &QComboBox::activated, this, &ReadPage::tryOption);
    connect(viewChoice_, &QComboBox::activated, this, &ReadPage::refresh);
    return tools;
}

/// What each reading as the limit would give, where a test is read in steps.
void ReadPage::buildLimitTable()
{
    choicesTable_ = new QTableWidget;
    choicesTable_->setObjectName("limitTable");
    choicesTable_->setFixedWidth(262);
    choicesTable_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    choicesTable_->setSelectionBehavior(QAbstractItemView::SelectRows);
    choicesTable_->setSelectionMode(QAbstractItemView::SingleSelection);
    choicesTable_->verticalHeader()->hide();
    choicesTable_->verticalHeader()->setDefaultSectionSize(24);
    choicesTable_->setShowGrid(false);
    choicesTable_->setToolTip(
        "What each reading as the limit would give. Enter or a click asks what if; it is kept with a reason.");
    const auto chooseRow = [this](int row) {
        const Outcome* outcome = session_.hasSpecimen() && session_.specimenOutcome().outcome
            ? &*session_.specimenOutcome().outcome
            : nullptr;
        if (outcome && row >= 0 && row < static_cast<int>(outcome->choices.size()))
            whatIf_->ask(outcome->choices[static_cast<size_t>(row)].option,
                         outcome->choices[static_cast<size_t>(row)].value);
    };
    connect(choicesTable_, &QTableWidget::cellClicked, this, [chooseRow](int row, int) { chooseRow(row); });
    connect(choicesTable_, &QTableWidget::cellActivated, this, [chooseRow](int row, int) { chooseRow(row); });
}

/// The figures in a row that scrolls.
QWidget* ReadPage::buildCards()
{
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFixedHeight(124);
    scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    cardRow_ = new QHBoxLayout(inside);
    cardRow_->setContentsMargins(0, 0, 0, 0);
    cardRow_->setSpacing(10);
    scroll->setWidget(inside);
    return scroll;
}

void ReadPage::connectPlot()
{
    connect(view_, &QComboBox::activated, this, [this](int i) { plot_->setView(static_cast<CurvePlot::View>(i)); });
    connect(plot_, &CurvePlot::viewChanged, view_, &QComboBox::setCurrentIndex);
    connect(plot_, &CurvePlot::moved, this, &ReadPage::handleMoved);
    connect(plot_, &CurvePlot::markChosen, this, &ReadPage::chooseSymbol);
    connect(plot_, &CurvePlot::backToAutomatic, this, &ReadPage::backToAutomatic);
}

/// What was chosen by hand on the curve is dropped, in one step that can be undone.
void ReadPage::backToAutomatic()
{
    if (!session_.hasSpecimen())
        return;
    if (session_.judged()) {
        emit session_.failed("The set is judged. Open the judgement again on Judge before going back to automatic.");
        return;
    }
    const size_t i = session_.current();
    const Json options = objectAt(session_.document().json()["specimens"][i], "options");
    CommandBuilder builder(session_.document(), session_.specimen().label + ": back to automatic");
    for (const OptionSpec& spec : session_.job().method->options)
        if (spec.onCurve() && options.contains(spec.key))
            builder.set("/specimens/" + std::to_string(i) + "/options/" + spec.key, std::nullopt);
    session_.apply(builder.take());
}

void ReadPage::buildChoices()
{
    const OptionSpec* spec = session_.job().method->findOption(s(option_->currentData().toString()));
    if (!spec)
        return hands::fill(choice_, {}, -1);
    const auto& options = session_.specimen().input.options;
    const auto it = options.find(spec->key);
    const std::string& now = it == options.end() || it->second.empty() ? spec->fallback : it->second;
    std::vector<hands::Item> items;
    int current = 0;
    for (const std::string& c : spec->choices) {
        if (c == now)
            current = static_cast<int>(items.size());
        items.push_back({q(spec->shown(c)), q(c)});
    }
    hands::fill(choice_, items, current);
    choice_->setToolTip(q(spec->help));
}

/// The pickers of the method, made once for it.
/// Free words: a small field of their own.
void ReadPage::addTypedNote(const NoteSpec& note)
{
    auto* edit = lineEdit(("note-" + note.key).c_str(), {});
    edit->setToolTip(q(note.help));
    edit->setMinimumWidth(60);
    hands::onKept(edit, this, [this, key = note.key](const QString& typed, hands::Answered answered) {
        return session_.apply(edits::note(session_.document(), session_.current(), key, s(typed)), std::move(answered));
    });
    auto* cell = new QVBoxLayout;
    cell->setSpacing(1);
    cell->addWidget(label(q(note.label), "quiet"));
    cell->addWidget(edit);
    typedRow_->addLayout(cell);
    typedNotes_.emplace_back(note.key, edit);
}

void ReadPage::buildNotes()
{
    clearLayout(notes_);
    clearLayout(typedRow_);
    pickers_.clear();
    typedNotes_.clear();
    for (const NoteSpec& note : session_.job().method->notes) {
        if (note.stage != Stage::Read)
            continue;
        if (note.choices.empty()) {
            addTypedNote(note);
            continue;
        }
        auto* pick = new NotePicker(note);
        connect(pick, &NotePicker::picked, this, [this, key = note.key](const QString& choice) {
            session_.apply(edits::note(session_.document(), session_.current(), key, s(choice)));
        });
        notes_->addWidget(pick);
        pickers_.emplace_back(note.key, pick);
    }
    settleLayout(notes_);
}

} // namespace fortitor
