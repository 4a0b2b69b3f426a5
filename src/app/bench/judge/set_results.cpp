// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/judge/set_results.h"

#include "app/theme/units.h"
#include "app/widgets/basics.h"

#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {

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
    plot_->setMinimumHeight(200);
    column->insertWidget(0, plot_, 1);
    connect(plot_, &PlotView::pointChosen, this, [this](const QString& label) {
        for (size_t i = 0; i < session_.job().specimens.size(); ++i)
            if (q(session_.job().specimens[i].label) == label)
                session_.setCurrent(i);
    });
    hide();
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
    if (!set->views.empty())
        plot_->show(plotOf(set->views.front(), units()));
    plot_->setChosen(session_.hasSpecimen() ? q(session_.specimen().label) : QString());
    const bool same = std::ranges::equal(cards_, set->results, [](const ResultCard* card, const Result& r) {
        return card->symbol() == q(r.symbol);
    });
    if (!same) {
        clearLayout(row_);
        cards_.clear();
        for (const Result& r : set->results) {
            auto* card = new ResultCard(q(r.symbol));
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
