// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/indent/block_dialog.h"

#include "app/shell/tables.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "methods/common/figures.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <numeric>

namespace fortitor {
namespace {

constexpr size_t mostMarked = 400; // checks that have a mark each

QString testerWords(const std::string& tester, const std::string& scale)
{
    return (tester.empty() ? QString("tester not noted") : q(tester)) + " · " + q(scale);
}

QString signedFixed(double v)
{
    return (v > 0 ? "+" : "") + q(formatFixed(v, 2));
}

QString dayOf(const std::string& when)
{
    const QDateTime at = QDateTime::fromString(q(when), Qt::ISODate);
    return at.isValid() ? at.toString("d MMM yyyy, HH:mm") : QString("time not kept");
}

} // namespace

Plot plotOfChecks(const std::vector<TesterWork>& checks, const BlockHistory& history)
{
    Plot plot;
    auto x = std::make_shared<std::vector<double>>(checks.size());
    auto y = std::make_shared<std::vector<double>>();
    std::iota(x->begin(), x->end(), 1.0);
    PlotSeries points{.label = "checks", .joined = false};
    PlotSeries line{.kind = 0, .thin = true, .quiet = true};
    auto markedX = std::make_shared<std::vector<double>>(), markedY = std::make_shared<std::vector<double>>();
    const bool each = checks.size() <= mostMarked;
    for (size_t i = 0; i < checks.size(); ++i) {
        y->push_back(checks[i].error);
        if (!each && checks[i].within)
            continue; // a line shows them
        markedX->push_back((*x)[i]);
        markedY->push_back(checks[i].error);
        points.left.push_back(!checks[i].within);
        points.names.push_back(dayOf(checks[i].when) + ", " + signedFixed(checks[i].error));
    }
    line.x = *x;
    line.y = *y;
    if (!each)
        line.tree = std::make_shared<ExtentTree>(line.x, line.y);
    points.x = *markedX;
    points.y = *markedY;
    plot.held = {x, y, markedX, markedY};
    plot.series = {line, points};
    plot.names = Plot::Names::None;
    plot.x.title = "check";
    plot.y.title = checks.empty() ? QString("error") : "error, " + q(checks.back().scale);
    if (!checks.empty()) {
        const double limit = checks.back().errorLimit;
        plot.limits = {{.at = limit, .words = "limit +" + q(formatSignificant(limit, 3))},
                       {.at = -limit, .words = "limit −" + q(formatSignificant(limit, 3))},
                       {.at = history.chart.mean, .mark = true, .words = "mean " + signedFixed(history.chart.mean)}};
        if (checks.size() > 1)
            plot.bands.push_back({.x = {1, static_cast<double>(checks.size())},
                                  .low = {history.chart.lower, history.chart.lower},
                                  .high = {history.chart.upper, history.chart.upper},
                                  .quiet = true});
    }
    plot.fit();
    for (const PlotLimit& one : plot.limits) {
        plot.y.low = std::min(plot.y.low, one.at * 1.15);
        plot.y.high = std::max(plot.y.high, one.at * 1.15);
    }
    return plot;
}

BlockDialog::BlockDialog(Session& session, const std::string& tester, const std::string& scale, QWidget* parent)
    : QDialog(parent), session_(session)
{
    setObjectName("blockDialog");
    setWindowTitle("Checks on reference blocks");
    resize(860, 600);
    build();
    all_ = session_.testerRows();
    testers_ = checkedTesters(all_);
    for (const auto& [name, on] : testers_)
        which_->addItem(testerWords(name, on));
    for (size_t i = 0; i < testers_.size(); ++i)
        if (testers_[i].first == tester && (testers_[i].second == scale || scale.empty())) {
            which_->setCurrentIndex(static_cast<int>(i));
            break;
        }
    connect(which_, &QComboBox::currentIndexChanged, this, &BlockDialog::showOne);
    showOne();
}

void BlockDialog::build()
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 14);
    column->setSpacing(8);
    auto* head = new QHBoxLayout;
    which_ = new QComboBox;
    which_->setObjectName("blockWhich");
    which_->setMinimumWidth(240);
    head->addWidget(label("Tester and scale", "quiet"));
    head->addWidget(which_);
    head->addStretch();
    column->addLayout(head);
    plot_ = new PlotView;
    plot_->setObjectName("blockPlot");
    plot_->setMinimumHeight(220);
    column->addWidget(plot_, 3);
    column->addWidget(
        label("Shaded: mean ± 3 standard deviations by the moving range of two (ISO 7870-2). Crossed: out "
              "of the limits.",
              "quiet"));
    words_ = label({});
    words_->setObjectName("blockWords");
    words_->setWordWrap(true);
    column->addWidget(words_);
    table_ = plainTable({"when", "job", "specimen", "stamped", "error", "spread", ""}, "blockTable");
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    column->addWidget(table_, 2);
    auto* ends = new QHBoxLayout;
    auto* see = button("Open", "primary", "blockOpen");
    see->setToolTip("Opens the chosen piece or block");
    auto* done = button("Close", "", "blockClose");
    ends->addStretch();
    ends->addWidget(see);
    ends->addWidget(done);
    column->addLayout(ends);
    connect(done, &QPushButton::clicked, this, &QDialog::reject);
    connect(see, &QPushButton::clicked, this, [this] { go(table_->currentRow()); });
    connect(table_, &QTableWidget::cellDoubleClicked, this, [this](int row, int) { go(row); });
}

void BlockDialog::showOne()
{
    const int at = which_->currentIndex();
    if (at < 0) {
        words_->setText("No reference block is checked yet. State its number on Measure, under Reference block, and "
                        "read it on Indent.");
        return;
    }
    const auto& [tester, scale] = testers_[static_cast<size_t>(at)];
    const auto own = workOf(all_, tester, scale);
    const auto checks = checksAmong(own);
    const auto works = worksOf(checks);
    const BlockHistory history = blockHistory(works);
    plot_->show(plotOfChecks(works, history));
    QStringList words;
    for (const std::string& one : history.words)
        words << q(one);
    const auto doubted = rowsInDoubt(own);
    if (!doubted.empty())
        words << QString("%1 %2 read after the last good check before one that was out of its limits; marked below.")
                     .arg(doubted.size())
                     .arg(doubted.size() == 1 ? "piece was" : "pieces were");
    words_->setText(words.join(" "));
    list(own, checks);
}

/// What is in doubt first, then the checks, the newest first.
void BlockDialog::list(const std::vector<TesterRow>& own, const std::vector<TesterRow>& checks)
{
    listed_ = rowsInDoubt(own);
    const size_t doubted = listed_.size();
    listed_.insert(listed_.end(), checks.rbegin(), checks.rend());
    table_->setRowCount(static_cast<int>(listed_.size()));
    for (size_t i = 0; i < listed_.size(); ++i) {
        const int r = static_cast<int>(i);
        const TesterRow& row = listed_[i];
        const bool check = i >= doubted;
        put(table_, r, 0, dayOf(row.work.when));
        put(table_, r, 1, row.number);
        put(table_, r, 2, row.label);
        put(table_, r, 3, check ? q(formatSignificant(row.work.block, 4)) : QString(), true);
        put(table_, r, 4, check ? signedFixed(row.work.error) : QString(), true);
        put(table_, r, 5, check ? q(formatFixed(row.work.spread, 2)) : QString(), true);
        auto* state = put(table_, r, 6,
                          !check                ? "× read in doubt"
                              : row.work.within ? "within"
                                                : "× out of its limits");
        state->setForeground(check && row.work.within ? pal().quiet : pal().stop);
    }
    for (int c = 3; c < 6; ++c)
        table_->horizontalHeaderItem(c)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    if (!listed_.empty())
        table_->setCurrentCell(0, 0);
}

void BlockDialog::go(int row)
{
    if (row < 0 || static_cast<size_t>(row) >= listed_.size())
        return;
    asked_ = listed_[static_cast<size_t>(row)];
    accept();
}

} // namespace fortitor
