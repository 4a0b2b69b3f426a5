// SPDX-License-Identifier: GPL-3.0-or-later
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

#include <QHeaderView>
#include <QKeyEvent>

namespace fortitor {

void ReadPage::tryOption()
{
    if (!session_.hasSpecimen())
        return;
    const std::string key = s(option_->currentData().toString());
    trial_->propose(key, s(choice_->currentData().toString()), option_->currentText() + ": " + choice_->currentText(),
                    false);
}

void ReadPage::fillNotes()
{
    for (const auto& [key, pick] : pickers_)
        pick->setCurrent(q(noteOf(session_.specimen().input, key)));
    for (const auto& [key, edit] : typedNotes_)
        hands::fill(edit, q(noteOf(session_.specimen().input, key)));
}

bool ReadPage::goTo(const QString& field)
{
    for (const auto& [key, edit] : typedNotes_)
        if (q(key) == field) {
            edit->setFocus();
            return true;
        }
    return false;
}

std::vector<std::string> ReadPage::symbolsOf(const Outcome& outcome) const
{
    std::vector<std::string> symbols;
    const auto notApplicable = [&](const std::string& symbol) {
        return std::ranges::any_of(outcome.remarks, [&](const Remark& r) {
            return r.code == "not-applicable" && std::ranges::find(r.symbols, symbol) != r.symbols.end();
        });
    };
    for (const Result& r : outcome.results) {
        const ResultSpec spec = specFor(*session_.job().method, r.symbol);
        if (r.value || (spec.headline && !notApplicable(r.symbol)))
            symbols.push_back(r.symbol);
    }
    // Headlines first; what was asked for counts as one.
    std::ranges::stable_partition(symbols, [&](const std::string& symbol) {
        return specFor(*session_.job().method, symbol).headline
            || std::ranges::find(session_.job().requirements, symbol, &Requirement::symbol)
            != session_.job().requirements.end();
    });
    return symbols;
}

void ReadPage::showOutcome(const Outcome& outcome)
{
    const auto symbols = symbolsOf(outcome);
    const bool same = cards_.size() == symbols.size()
        && std::equal(cards_.begin(), cards_.end(), symbols.begin(),
                      [](const ResultCard* card, const std::string& symbol) { return card->symbol() == q(symbol); });
    if (!same) {
        clearLayout(cardRow_);
        cards_.clear();
        for (const std::string& symbol : symbols) {
            auto* card = new ResultCard(q(symbol));
            card->setFixedWidth(124);
            connect(card, &ResultCard::chosen, this, &ReadPage::chooseSymbol);
            cardRow_->addWidget(card);
            cards_.push_back(card);
        }
        cardRow_->addStretch();
        settleLayout(cardRow_);
    }
    const Job& job = session_.job();
    for (ResultCard* card : cards_) {
        const std::string symbol = s(card->symbol());
        const auto& published = session_.specimen().input.published;
        const auto it = published.find(specFor(*job.method, symbol).publishedKey());
        std::optional<double> min;
        std::optional<double> max;
        for (const Requirement& r : job.requirements)
            if (r.symbol == symbol) {
                min = r.min;
                max = r.max;
            }
        card->show(specFor(*job.method, symbol), *outcome.find(symbol),
                   it == published.end() ? std::nullopt : std::optional(it->second), min, max);
        card->setChosen(card->symbol() == chosen_);
        const ResultSpec spec = specFor(*job.method, symbol);
        const std::string why = whyMissing(outcome, symbol);
        card->setToolTip(
            q(why.empty() ? symbolText(symbol) + ", " + spec.name + (spec.help.empty() ? "" : ". " + spec.help) : why));
    }
    if (std::ranges::find(symbols, s(chosen_)) == symbols.end())
        chosen_ = symbols.empty()
            ? QString()
            : q(std::ranges::find(symbols, job.method->leads) != symbols.end() ? job.method->leads : symbols.front());
}

void ReadPage::chooseSymbol(const QString& symbol)
{
    chosen_ = symbol;
    for (ResultCard* card : cards_)
        card->setChosen(card->symbol() == symbol);
    plot_->pointAt(symbol);
    if (session_.hasSpecimen() && session_.specimenOutcome().outcome)
        working_->show(symbol, *session_.specimenOutcome().outcome);
}

void ReadPage::refresh()
{
    if (plot_->dragging()) {
        // A handle is in somebody's hand: it is let go first.
        if (!moving_)
            plot_->showOutcome(session_.hasSpecimen() && session_.specimenOutcome().outcome
                                   ? &*session_.specimenOutcome().outcome
                                   : nullptr);
        return hands::whenFree(plot_, "refresh", [this] { refresh(); });
    }
    preview_.drop();
    // Let go, and not worked out yet: what was seen last stays until it is.
    if (moving_ && session_.hasSpecimen() && movingOf_ == atHand() && session_.worksOn(session_.current()))
        return;
    moving_.reset();
    if (session_.isOpen() && builtFor_ != q(session_.job().method->id + session_.job().method->variant)) {
        builtFor_ = q(session_.job().method->id + session_.job().method->variant);
        option_->clear();
        for (const OptionSpec& spec : session_.job().method->options)
            if (spec.onPlan() && !spec.choices.empty() && spec.role == OptionSpec::Role::Figures)
                option_->addItem(q(spec.label), q(spec.key));
        buildNotes();
        plot_->showOutcome(nullptr); // what it showed belongs to another job
        plot_->setView(CurvePlot::View::StressStrain);
    }
    for (QWidget* w : choosers_)
        w->setVisible(session_.hasSpecimen() && option_->count() > 0);
    if (session_.hasSpecimen()) {
        if (!trial_->onTrial())
            buildChoices();
        fillNotes();
    }
    const bool has = session_.hasSpecimen() && session_.specimenOutcome().outcome.has_value();
    const Outcome* outcome = has ? &*session_.specimenOutcome().outcome : nullptr;
    // On a low screen the side copy's own table stands for the slips.
    cardScroll_->setVisible(!whatIf_->isOpen() || height() > 560);
    if (has && outcome->curve()) {
        const auto& [x, y] = outcome->curve()->other;
        view_->setItemText(0,
                           q(outcome->curve()->yAxis.kind == Kind::Stress
                                 ? "stress and strain"
                                 : outcome->curve()->yAxis.title + " and " + outcome->curve()->xAxis.title));
        view_->setItemText(1, y.kind == Kind::Torque ? q(y.title + " and " + x.title) : QString("load and extension"));
    }
    if (has && trial_->onTrial()) {
        // What is tried is drawn; what stands now is drawn beside it.
        plot_->showOutcome(trial_->after(), outcome);
        working_->hide();
        showOutcome(*trial_->after());
        return;
    }
    showChoices(outcome);
    told_->show(outcome ? outcome->told : std::vector<ToldGroup>());
    ask_->setVisible(has && session_.record(session_.current()));
    if (has && whatIf_->isOpen()) {
        plot_->showOutcome(whatIf_->after() ? whatIf_->after() : outcome, whatIf_->after() ? outcome : nullptr);
        working_->hide();
        showOutcome(whatIf_->after() ? *whatIf_->after() : *outcome);
        return;
    }
    plot_->showOutcome(outcome);
    showViews(outcome);
    view_->setVisible(has && outcome->curve() && loadExtension(*outcome->curve()));
    working_->setVisible(has && session_.hasRecord(session_.current()));
    if (!has) {
        clearLayout(cardRow_);
        cards_.clear();
        return;
    }
    showOutcome(*outcome);
    if (!chosen_.isEmpty())
        chooseSymbol(chosen_);
}

/// A scatter, a map or a matrix, where there is no curve.
void ReadPage::showViews(const Outcome* outcome)
{
    // A figure that is one of many is seen among them.
    const auto& set = session_.outcome().set;
    const bool among = outcome && outcome->views.empty() && set && !set->views.empty();
    const std::vector<View>* shown = among ? &set->views : outcome ? &outcome->views : nullptr;
    const bool any = shown && !outcome->curve() && !shown->empty();
    showCurves(any ? nullptr : outcome);
    zones_->show(any && !among ? outcome : nullptr);
    plot_->setVisible(!any);
    views_->setVisible(any);
    if (!any)
        return;
    viewChoice_->setVisible(shown->size() > 1);
    std::vector<hands::Item> items;
    for (const View& view : *shown)
        items.push_back({q(viewName(view))});
    const int chosen = std::clamp(viewChoice_->currentIndex(), 0, static_cast<int>(items.size()) - 1);
    hands::fill(viewChoice_, items, chosen);
    Plot plot = plotOf((*shown)[static_cast<size_t>(chosen)], units());
    ZoneBar::colour(plot, *outcome);
    views_->show(std::move(plot));
    views_->setChosen(among ? q(session_.specimen().label) : QString());
}

/// Of several curves the one that is chosen.
void ReadPage::showCurves(const Outcome* outcome)
{
    std::vector<hands::Item> items;
    if (outcome)
        for (const View& view : outcome->views)
            if (std::holds_alternative<CurveView>(view))
                items.push_back({q(viewName(view))});
    viewChoice_->setVisible(items.size() > 1);
    const int chosen =
        items.size() > 1 ? std::clamp(viewChoice_->currentIndex(), 0, static_cast<int>(items.size()) - 1) : 0;
    if (items.size() > 1)
        hands::fill(viewChoice_, items, chosen);
    plot_->setCurve(static_cast<size_t>(chosen));
}

/// What each other reading as the limit would give.
void ReadPage::showChoices(const Outcome* outcome)
{
    const bool any = outcome && !outcome->choices.empty() && width() > 700;
    choicesTable_->setVisible(any);
    if (!any)
        return;
    const auto& rows = outcome->choices;
    const auto& figures = rows.front().figures;
    choicesTable_->clear();
    choicesTable_->setColumnCount(static_cast<int>(figures.size()) + 1);
    choicesTable_->setRowCount(static_cast<int>(rows.size()));
    QStringList heads{"limit at"};
    for (const auto& [symbol, base] : figures) {
        const ShownFigure shown =
            showValue(specFor(*session_.job().method, symbol), base, 0, RoundingRule::StepsToEven, units());
        heads << q(symbolText(symbol)) + "\n" + q(shown.unit);
    }
    choicesTable_->setHorizontalHeaderLabels(heads);
    for (int r = 0; r < static_cast<int>(rows.size()); ++r) {
        const StepChoice& choice = rows[static_cast<size_t>(r)];
        const auto put = [&](int c, const QString& text) {
            auto* item = new QTableWidgetItem(text);
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            item->setFont(figureFont(12, choice.now ? QFont::Bold : QFont::Normal));
            if (choice.now)
                item->setForeground(pal().accentText);
            choicesTable_->setItem(r, c, item);
        };
        put(0, choice.now ? "▸ " + q(choice.value) : q(choice.value));
        for (int c = 0; c < static_cast<int>(figures.size()); ++c) {
            const auto& [symbol, base] = choice.figures[static_cast<size_t>(c)];
            put(c + 1,
                q(showValue(specFor(*session_.job().method, symbol), base, 0, RoundingRule::StepsToEven, units())
                      .text));
        }
    }
    choicesTable_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
}

void ReadPage::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_W && ask_->isVisible())
        return whatIf_->open();
    Page::keyPressEvent(event);
}

void ReadPage::handleMoved(const QString& option, const QString& value, bool done)
{
    if (!session_.hasSpecimen())
        return;
    if (done)
        preview_.drop();
    if (const auto& now = session_.specimenOutcome().outcome;
        done && now && !now->choices.empty() && now->choices.front().option == s(option)) {
        plot_->showOutcome(&*now);
        whatIf_->ask(s(option), s(value)); // the reason is kept with it
        return;
    }
    if (done && session_.judged()) {
        trial_->propose(s(option), s(value), "Moved by hand", false);
        return;
    }
    if (done) {
        session_.apply(edits::specimenOption(session_.document(), session_.current(), s(option), s(value), {}));
        return;
    }
    // On its way: the figures follow, nothing is kept. A long record takes longer than a picture, so beside them.
    constexpr size_t atOnce = 30000; // rows
    movingOf_ = atHand();
    auto work = session_.previewOf(session_.current(), s(option), s(value));
    const auto record = session_.record(session_.current());
    if (record && record->rows() > atOnce)
        preview_.ask(std::move(work));
    else
        showMoving(work());
}

void ReadPage::showMoving(std::optional<Outcome> outcome)
{
    if (!outcome || !session_.hasSpecimen() || movingOf_ != atHand())
        return;
    const auto shown = std::exchange(moving_, std::move(outcome)); // drawn until the next is
    plot_->showOutcome(&*moving_);
    showOutcome(*moving_);
}

QStringList ReadPage::keys() const
{
    return {"Tab|walk the handles, then the results",
            "arrows|nudge a handle (Shift coarser)",
            "R|back to automatic",
            "W|what-if: try a value",
            "M|magnifier",
            "V|stress–strain, load–extension, true curve",
            "wheel, 0|zoom, show all",
            "Space on a result|how it came about"};
}

} // namespace fortitor
