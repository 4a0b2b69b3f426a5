// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/judge/set_results.h"

#include "app/bench/read/told_column.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"

#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {
namespace {

/// Results that do not apply to the set have no card; the lesser ones only where few stand in the row.
bool belongs(const Outcome& set, const ResultSpec& spec)
{
    constexpr size_t few = 5;
    const bool apart = std::ranges::any_of(set.remarks, [&](const Remark& r) {
        return r.code == "not-applicable" && std::ranges::find(r.symbols, spec.symbol) != r.symbols.end();
    });
    return !apart && (spec.headline || set.results.size() <= few);
}

} // namespace

SetResults::SetResults(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("setResults");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    row_ = new QHBoxLayout;
    row_->setSpacing(10);
    column->addLayout(row_);
    plot_ = new PlotView;
    plot_->setObjectName("setPlot");
    plot_->setMinimumHeight(150);
    told_ = new ToldColumn;
    told_->hide();
    auto* shown = new QHBoxLayout;
    shown->setSpacing(16);
    shown->addWidget(plot_, 1);
    shown->addWidget(told_);
    column->insertLayout(0, shown, 1);
    connect(plot_, &PlotView::pointChosen, this, [this](const QString& label) {
        for (size_t i = 0; i < session_.job().specimens.size(); ++i)
            if (q(session_.job().specimens[i].label) == label)
                session_.setCurrent(i);
    });
    next_ = new QWidget;
    next_->setObjectName("setNext");
    auto* line = new QHBoxLayout(next_);
    line->setContentsMargins(0, 2, 0, 2);
    line->setSpacing(12);
    nextWords_ = label({});
    nextWords_->setObjectName("setNextWords");
    nextWords_->setWordWrap(true);
    nextWords_->setFixedHeight(36);
    nextAct_ = button({}, "", "setNextAct");
    line->addWidget(nextWords_, 1);
    line->addWidget(nextAct_);
    column->insertWidget(1, next_);
    connect(nextAct_, &QPushButton::clicked, this, &SetResults::planNext);
    hide();
}

/// The pieces that are left get what would tell most.
void SetResults::planNext()
{
    const auto& set = session_.outcome().set;
    if (!set || !set->next)
        return;
    const NextStep next = *set->next;
    CommandBuilder builder(session_.document(), next.act);
    for (size_t i = 0; i < session_.job().specimens.size(); ++i)
        if (std::ranges::find(next.labels, session_.job().specimens[i].label) != next.labels.end())
            builder.set("/specimens/" + std::to_string(i) + "/notes/" + next.note, Json(next.value));
    session_.apply(builder.take());
}

void SetResults::refresh()
{
    const auto& set = session_.outcome().set;
    setVisible(set.has_value());
    if (!set)
        return;
    if (!working_) {
        working_ = new WorkingDrawer(session_);
        layout()->addWidget(working_);
    }
    const Job& job = session_.job();
    plot_->setVisible(!set->views.empty());
    if (!set->views.empty()) {
        Plot plot = plotOf(set->views.front(), units());
        plot.names = Plot::Names::Row;
        plot_->show(std::move(plot));
    }
    constexpr int narrow = 800;
    told_->setFixedWidth(width() < narrow ? 196 : 232);
    told_->show(plotted() ? set->told : std::vector<ToldGroup>());
    // Where no result can be had the remarks say why, not a row of dashes.
    const bool any = std::ranges::any_of(set->results, [](const Result& r) { return r.value.has_value(); });
    working_->setVisible(any);
    next_->setVisible(set->next.has_value());
    if (set->next) {
        nextWords_->setText(q(set->next->words));
        nextAct_->setText(q(set->next->act));
        nextAct_->setVisible(!set->next->labels.empty());
    }
    plot_->setChosen(session_.hasSpecimen() ? q(session_.specimen().label) : QString());
    std::vector<const Result*> shown;
    for (const Result& r : set->results)
        if (belongs(*set, specFor(*job.method, r.symbol)))
            shown.push_back(&r);
    const bool same = std::ranges::equal(cards_, shown, [](const ResultCard* card, const Result* r) {
        return card->symbol() == q(r->symbol);
    });
    if (!same) {
        clearLayout(row_);
        cards_.clear();
        for (const Result* r : shown) {
            auto* card = new ResultCard(q(r->symbol));
            card->setFixedSize(132, 104);
            connect(card, &ResultCard::chosen, this, &SetResults::choose);
            row_->addWidget(card);
            cards_.push_back(card);
        }
        row_->addStretch();
        settleLayout(row_);
    }
    for (ResultCard* card : cards_) {
        const std::string symbol = s(card->symbol());
        const auto wanted = std::ranges::find(job.requirements, symbol, &Requirement::symbol);
        const bool limited = wanted != job.requirements.end();
        card->show(specFor(*job.method, symbol), *set->find(symbol), std::nullopt, limited ? wanted->min : std::nullopt,
                   limited ? wanted->max : std::nullopt);
        card->setToolTip(q(whyMissing(*set, symbol)));
        card->setVisible(any);
    }
    if (!set->find(s(chosen_)))
        chosen_ = set->results.empty() ? QString() : q(set->results.front().symbol);
    choose(chosen_);
}

void SetResults::choose(const QString& symbol)
{
    chosen_ = symbol;
    for (ResultCard* card : cards_)
        card->setChosen(card->symbol() == symbol);
    if (const auto& set = session_.outcome().set; set && working_ && !symbol.isEmpty())
        working_->show(symbol, *set);
}

} // namespace fortitor
