// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/plan/proposal_table.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/scale_ladder.h"
#include "jobs/document.h"

#include <QHeaderView>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace fortitor {

namespace {

/// The same text, or the same quantity in other units: 9.807 N is 1 kgf.
bool sameFigure(const std::string& a, const std::string& b)
{
    if (a == b)
        return true;
    for (const Kind kind : {Kind::Force, Kind::Length, Kind::Energy}) {
        const auto x = parseQuantity(a, kind);
        const auto y = parseQuantity(b, kind);
        if (x && y)
            return std::abs(x->base - y->base) <= 0.005 * std::abs(y->base);
    }
    return false;
}

} // namespace

ProposalTable::ProposalTable(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("proposals");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 14, 0, 0);
    column->setSpacing(6);
    head_ = label({}, "head");
    column->addWidget(head_);
    words_ = label({}, "quiet");
    words_->setObjectName("proposalWords");
    words_->setWordWrap(true);
    column->addWidget(words_);
    beside_ = button("Scales side by side", "link", "proposalLadder");
    beside_->setCheckable(true);
    ladder_ = new ScaleLadder;
    ladder_->hide();
    connect(beside_, &QPushButton::toggled, ladder_, &QWidget::setVisible);
    column->addWidget(beside_, 0, Qt::AlignLeft);
    column->addWidget(ladder_);
    table_ = new QTableWidget;
    table_->setObjectName("proposalTable");
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(24);
    table_->setShowGrid(false);
    connect(table_, &QTableWidget::cellActivated, this, [this](int row, int) { take(row); });
    column->addWidget(table_, 1);
}

bool ProposalTable::isChosen(const Proposal& proposal) const
{
    const auto& options = session_.job().method ? session_.document().json()["options"] : Json::object();
    return std::ranges::all_of(proposal.options, [&](const auto& option) {
        const auto it = options.is_object() ? options.find(option.first) : options.end();
        const std::string now =
            it != options.end() && it->is_string() ? it->template get<std::string>() : std::string();
        return sameFigure(now, option.second);
    });
}

void ProposalTable::refresh()
{
    const bool any = session_.isOpen() && session_.job().method->propose && session_.hasSpecimen();
    setVisible(any);
    if (!any)
        return;
    const ProposalWords& told = session_.job().method->proposals;
    head_->setText(q(told.head));
    table_->setToolTip(q(told.taking));
    table_->setMinimumHeight(told.ladder ? 300 : 176);
    beside_->setVisible(told.ladder);
    ladder_->setVisible(told.ladder && beside_->isChecked());
    const std::string expected = expectedNumber(session_.specimen().input);
    const auto number = parseQuantity(expected, Kind::Hardness);
    const HardnessScale* scale = number ? findHardnessScale(std::string(number->unit->symbol)) : nullptr;
    ladder_->setMark(scale ? onLadder(number->base, *scale) : std::nullopt, "expected, " + q(expected));
    proposals_ = session_.job().method->propose(session_.specimen().input);
    const auto fits = static_cast<size_t>(std::ranges::count(proposals_, true, &Proposal::fits));
    words_->setText(proposals_.size() == 1 && !proposals_.front().why.empty()
                        ? q(proposals_.front().why) + " State what is expected among the options."
                        : QString("For %1: %2 will do, %3; the others fall away for the reason told.")
                              .arg(q(session_.specimen().label))
                              .arg(fits)
                              .arg(q(told.order)));
    QStringList heads{q(told.first)};
    if (!proposals_.empty())
        for (const auto& [name, figure] : proposals_.front().figures)
            heads << q(name);
    table_->clear();
    table_->setColumnCount(static_cast<int>(heads.size()));
    table_->setRowCount(static_cast<int>(proposals_.size()));
    table_->setHorizontalHeaderLabels(heads);
    const int last = static_cast<int>(heads.size()) - 1;
    for (int r = 0; r < table_->rowCount(); ++r) {
        const Proposal& one = proposals_[static_cast<size_t>(r)];
        const bool chosen = isChosen(one);
        const auto put = [&](int c, const QString& text, bool figure) {
            auto* item = new QTableWidgetItem(text);
            item->setFont(figure ? figureFont(12, chosen ? QFont::Bold : QFont::Normal) : wordFont(12));
            item->setForeground(chosen ? pal().accentText : one.fits ? pal().ink : pal().quiet);
            item->setToolTip(one.why.empty() ? q(one.more) : q(one.why + ". " + one.more));
            table_->setItem(r, c, item);
        };
        put(0, (chosen ? "▸ " : "  ") + q(one.name), true);
        if (one.fits || last < 2) {
            for (int c = 1; c <= last; ++c)
                put(c, q(one.figures[static_cast<size_t>(c - 1)].second), true);
            continue;
        }
        put(1, q(one.figures.front().second), true);
        put(2, q(one.why), false);
        if (last > 2)
            table_->setSpan(r, 2, 1, last - 1);
    }
    if (last > 0) {
        table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
        table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
        table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Fixed);
        table_->setColumnWidth(0, 152);
    }
    table_->setVisible(last > 0);
}

void ProposalTable::take(int row)
{
    if (row < 0 || static_cast<size_t>(row) >= proposals_.size())
        return;
    const Proposal& one = proposals_[static_cast<size_t>(row)];
    CommandBuilder builder(session_.document(), "tested by " + one.name.substr(0, one.name.find(',')));
    for (const auto& [key, value] : one.options)
        builder.set("/options/" + key, value.empty() ? std::optional<Json>() : std::optional<Json>(value));
    session_.apply(builder.take());
}

} // namespace fortitor
