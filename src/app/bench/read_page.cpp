// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/read_page.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "jobs/edits.h"

#include <QScrollArea>
#include <QVBoxLayout>

namespace fortitor {

ReadPage::ReadPage(Session& session, QWidget* parent) : Page(session, parent)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 4, 18, 6);
    column->setSpacing(8);
    plot_ = new CurvePlot(session);
    column->addWidget(plot_, 1);
    working_ = new WorkingDrawer(session);
    column->addWidget(working_);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFixedHeight(124);
    scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    slipRow_ = new QHBoxLayout(inside);
    slipRow_->setContentsMargins(0, 0, 0, 0);
    slipRow_->setSpacing(10);
    scroll->setWidget(inside);
    column->addWidget(scroll);
    connect(plot_, &CurvePlot::moved, this, &ReadPage::handleMoved);
    connect(plot_, &CurvePlot::markChosen, this, &ReadPage::chooseSymbol);
    connect(plot_, &CurvePlot::backToAutomatic, this, [this] {
        if (!session_.hasSpecimen())
            return;
        const size_t i = session_.current();
        const Json options = session_.document().json()["specimens"][i].value("options", Json::object());
        CommandBuilder builder(session_.document(), session_.specimen().label + ": back to automatic");
        for (const char* key : {"slope", "yield_offset"})
            if (options.contains(key))
                builder.set("/specimens/" + std::to_string(i) + "/options/" + key, std::nullopt);
        session_.apply(builder.take());
    });
}

std::vector<std::string> ReadPage::symbolsOf(const Outcome& outcome) const
{
    std::vector<std::string> symbols;
    const auto notApplicable = [&](const std::string& symbol) {
        return std::ranges::any_of(outcome.remarks, [&](const Remark& r) { return r.code == "not-applicable" && std::ranges::find(r.symbols, symbol) != r.symbols.end(); });
    };
    for (const Result& r : outcome.results) {
        const ResultSpec spec = specFor(*session_.job().method, r.symbol);
        if (r.value || (spec.headline && !notApplicable(r.symbol)))
            symbols.push_back(r.symbol);
    }
    // Headlines first; what was asked for counts as one.
    std::ranges::stable_partition(symbols, [&](const std::string& symbol) {
        return specFor(*session_.job().method, symbol).headline || std::ranges::find(session_.job().requirements, symbol, &Requirement::symbol) != session_.job().requirements.end();
    });
    return symbols;
}

void ReadPage::showOutcome(const Outcome& outcome)
{
    const auto symbols = symbolsOf(outcome);
    const bool same = slips_.size() == symbols.size() && std::equal(slips_.begin(), slips_.end(), symbols.begin(), [](const Slip* slip, const std::string& symbol) { return slip->symbol() == q(symbol); });
    if (!same) {
        clearLayout(slipRow_);
        slips_.clear();
        for (const std::string& symbol : symbols) {
            auto* slip = new Slip(q(symbol));
            slip->setFixedWidth(124);
            connect(slip, &Slip::chosen, this, &ReadPage::chooseSymbol);
            slipRow_->addWidget(slip);
            slips_.push_back(slip);
        }
        slipRow_->addStretch();
        settleLayout(slipRow_);
    }
    const Job& job = session_.job();
    for (Slip* slip : slips_) {
        const std::string symbol = s(slip->symbol());
        const auto& published = session_.specimen().input.published;
        const std::string key = symbol == "Rp0.2" || symbol == "ReH" ? "yield" : symbol;
        const auto it = published.find(key);
        std::optional<double> min;
        std::optional<double> max;
        for (const Requirement& r : job.requirements)
            if (r.symbol == symbol) {
                min = r.min;
                max = r.max;
            }
        slip->show(specFor(*job.method, symbol), *outcome.find(symbol), it == published.end() ? std::nullopt : std::optional(it->second), min, max);
        slip->setChosen(slip->symbol() == chosen_);
    }
    if (std::ranges::find(symbols, s(chosen_)) == symbols.end())
        chosen_ = symbols.empty() ? QString() : q(std::ranges::find(symbols, "Rp0.2") != symbols.end() ? "Rp0.2" : symbols.front());
}

void ReadPage::chooseSymbol(const QString& symbol)
{
    chosen_ = symbol;
    for (Slip* slip : slips_)
        slip->setChosen(slip->symbol() == symbol);
    plot_->pointAt(symbol);
    if (session_.hasSpecimen() && session_.specimenOutcome().outcome)
        working_->show(symbol, *session_.specimenOutcome().outcome);
}

void ReadPage::refresh()
{
    moving_.reset();
    const bool has = session_.hasSpecimen() && session_.specimenOutcome().outcome.has_value();
    const Outcome* outcome = has ? &*session_.specimenOutcome().outcome : nullptr;
    plot_->show(outcome);
    working_->setVisible(has && session_.record(session_.current()));
    if (!has) {
        clearLayout(slipRow_);
        slips_.clear();
        return;
    }
    showOutcome(*outcome);
    if (!chosen_.isEmpty())
        chooseSymbol(chosen_);
}

void ReadPage::handleMoved(const QString& option, const QString& value, bool done)
{
    if (!session_.hasSpecimen())
        return;
    if (done) {
        session_.apply(edits::specimenOption(session_.document(), session_.current(), s(option), s(value), {}));
        return;
    }
    // On its way: the figures follow at once, nothing is kept.
    auto outcome = session_.preview(session_.current(), s(option), s(value));
    if (!outcome)
        return;
    plot_->show(nullptr);
    moving_ = std::move(outcome);
    plot_->show(&*moving_);
    showOutcome(*moving_);
}

QStringList ReadPage::keys() const
{
    return {"Tab|walk the handles, then the slips", "arrows|nudge a handle (Shift coarser)", "R|back to automatic", "M|magnifier", "wheel, 0|zoom, show all", "Space on a slip|how it came about"};
}

} // namespace fortitor
