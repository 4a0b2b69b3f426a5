// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/judge/judge_page.h"

#include "jobs/json_at.h"
#include "app/bench/judge/key_dialog.h"
#include "app/bench/read/told_column.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/basics.h"
#include "draw/chart.h"
#include "draw/overlay.h"
#include "jobs/edits.h"
#include "report/report.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {

JudgePage::JudgePage(Session& session, QWidget* parent) : Page(session, parent)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(24, 16, 20, 14);
    column->setSpacing(8);
    verdict_ = label({}, "title");
    verdict_->setObjectName("verdict");
    verdict_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    picture_ = new SetPicture(session);
    scatter_ = new ScatterPicture(session);
    stack_ = new QStackedWidget;
    stack_->addWidget(picture_);
    stack_->addWidget(scatter_);
    auto* sides = new QHBoxLayout;
    curvesSide_ = button("curves and values", "segment", "judgeCurves");
    scatterSide_ = button("scatter", "segment", "judgeScatter");
    sides->addWidget(verdict_, 1);
    sides->addWidget(curvesSide_);
    sides->addWidget(scatterSide_);
    column->addLayout(sides);
    told_ = new ToldColumn;
    told_->setFixedWidth(300);
    told_->hide();
    // A widget, not a layout: an empty layout would take its share of the height.
    shown_ = new QWidget;
    auto* shown = new QHBoxLayout(shown_);
    shown->setContentsMargins(0, 0, 0, 0);
    shown->setSpacing(16);
    shown->addWidget(stack_, 1);
    shown->addWidget(told_);
    column->addWidget(shown_, 5);
    set_ = new SetResults(session);
    column->addWidget(set_, 6);
    for (QPushButton* side : {curvesSide_, scatterSide_})
        connect(side, &QPushButton::clicked, this, [this, side] {
            side_ = side == scatterSide_ ? 1 : 0;
            refresh();
        });
    connect(scatter_, &ScatterPicture::specimenChosen, this, [this](size_t index) { session_.setCurrent(index); });
    connect(picture_, &SetPicture::specimenChosen, this, [this](size_t index) { session_.setCurrent(index); });
    buildTable();
    column->addWidget(table_, 4);
    column->addLayout(buildActions());
}

/// A row a specimen, the statistics below.
void JudgePage::buildTable()
{
    table_ = new QTableWidget;
    table_->setObjectName("setTable");
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(25);
    table_->setShowGrid(false);
    table_->setWhatsThis(
        "A row a specimen; the last rows are the statistics of those that count. Choosing a row chooses the specimen.");
    connect(table_, &QTableWidget::cellClicked, this, [this](int r, int) {
        if (session_.isOpen() && r < static_cast<int>(session_.job().specimens.size()))
            session_.setCurrent(static_cast<size_t>(r));
    });
}

/// Approving the set, leaving a specimen out.
QHBoxLayout* JudgePage::buildActions()
{
    auto* row = new QHBoxLayout;
    out_ = button("Leave out with reason…", "link", "judgeExclude");
    reason_ = new QLineEdit;
    reason_->setObjectName("judgeReason");
    reason_->setPlaceholderText("Why? Enter keeps it; both sets of figures stay in the journal");
    reason_->hide();
    hint_ = label({}, "quiet");
    keep_ = button("Approve results", "link", "judgeKeep");
    row->addWidget(keep_);
    row->addWidget(out_);
    row->addWidget(reason_, 1);
    row->addWidget(hint_, 1);
    connect(keep_, &QPushButton::clicked, this, &JudgePage::keep);
    connect(&session_, &Session::kept, this, [this] { // with its signature
        if (isVisible() && session_.isOpen())
            showApproval();
    });
    connect(out_, &QPushButton::clicked, this, &JudgePage::exclude);
    connect(reason_, &QLineEdit::returnPressed, this, [this] {
        if (!session_.hasSpecimen() || reason_->text().trimmed().isEmpty()
            || !session_.apply(edits::exclude(session_.document(), session_.current(), s(reason_->text().trimmed()))))
            return;
        reasons_.erase(reasonFor_);
        reason_->clear();
        reason_->hide();
    });
    return row;
}

/// Whether the approval is signed.
QString JudgePage::approvedHow() const
{
    if (!session_.judged())
        return {};
    const auto signature = session_.logbook().signatureOf(session_.jobId());
    return signature ? "Signed by " + signature->who + " with the key " + keyWords(signature->key) + ", journal line "
            + QString::number(signature->line) + ". "
                     : QString("Not signed. ");
}

void JudgePage::showApproval()
{
    const Json judged = objectAt(session_.document().json(), "judged");
    keep_->setText(session_.judged()
                       ? q("Approved by " + textAt(judged, "who") + ", " + textAt(judged, "when") + ". Open again")
                       : QString("Approve results"));
    keep_->setToolTip(approvedHow() + "From then on moving a handle or changing an option asks for a reason.");
}

void JudgePage::keep()
{
    if (session_.judged()) {
        session_.apply(edits::unjudge(session_.document()));
        return;
    }
    session_.settleWork(); // it stands on all figures
    const auto command = [this] {
        return edits::judge(session_.document(), s(session_.who()),
                            s(QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm")));
    };
    if (session_.logbook().publicKey(session_.who()).isEmpty()) {
        session_.apply(command());
        return;
    }
    KeyDialog dialog(session_, KeyDialog::For::Sign, this);
    if (dialog.exec() == QDialog::Accepted)
        session_.applySigned(command(), dialog.key().signer());
}

void JudgePage::exclude()
{
    if (!session_.hasSpecimen())
        return;
    if (!session_.specimen().excludedBecause.empty()) {
        session_.apply(edits::include(session_.document(), session_.current()));
        return;
    }
    reason_->show();
    reason_->setFocus();
}

/// What was typed for a specimen waits for it; for another one the field is another.
void JudgePage::showReason()
{
    const QString now =
        session_.hasSpecimen() ? QString::number(session_.jobId()) + "/" + q(session_.specimen().label) : QString();
    if (now == reasonFor_)
        return;
    if (!reasonFor_.isEmpty() && !reason_->text().trimmed().isEmpty())
        reasons_[reasonFor_] = reason_->text();
    reasonFor_ = now;
    const auto typed = reasons_.find(now);
    reason_->setText(typed == reasons_.end() ? QString() : typed->second);
    reason_->setVisible(typed != reasons_.end());
    if (typed != reasons_.end())
        reasons_.erase(typed);
}

void JudgePage::fillTable()
{
    ReportChoices shown;
    shown.units = units();
    const Report report = makeReport(session_.job(), session_.outcome(), shown);
    const int columns = static_cast<int>(report.columns.size()) + 2;
    if (table_->columnCount() != columns)
        table_->setColumnCount(columns);
    if (const int rows = static_cast<int>(report.rows.size() + report.statistics.size()); table_->rowCount() != rows)
        table_->setRowCount(rows);
    QStringList heads{"specimen"};
    for (const ReportColumn& c : report.columns)
        heads << q(symbolText(c.symbol)) + (c.unit.empty() ? "" : ", " + q(c.unit));
    heads << "verdict";
    table_->setHorizontalHeaderLabels(heads);
    const auto put = [&](int r, int c, const QString& text, bool quiet, bool figure, bool failed = false) {
        auto* item = table_->item(r, c);
        if (!item)
            table_->setItem(r, c, item = new QTableWidgetItem);
        item->setText(text);
        item->setForeground(failed ? pal().stop : quiet ? pal().quiet : pal().ink);
        item->setFont(figure ? figureFont(12.5) : wordFont(13));
        item->setTextAlignment((figure ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    };
    int r = 0;
    for (const ReportRow& row : report.rows) {
        const bool out = !row.excludedBecause.empty();
        put(r, 0, q(row.label), out, false);
        for (size_t c = 0; c < row.cells.size(); ++c)
            put(r, static_cast<int>(c) + 1, q(row.cells[c].text), out || !row.cells[c].known, true,
                row.cells[c].failed && !out);
        put(r, columns - 1,
            out                         ? "left out: " + q(row.excludedBecause)
                : row.verdict == "fail" ? "× fail"
                                        : q(row.verdict),
            out || row.verdict == "open", false, row.verdict == "fail" && !out);
        ++r;
    }
    for (const auto& [name, texts] : report.statistics) {
        put(r, 0, q(name), true, false);
        for (size_t c = 0; c < texts.size(); ++c)
            put(r, static_cast<int>(c) + 1, q(texts[c]), true, true);
        put(r, columns - 1, {}, true, false);
        ++r;
    }
    for (int c = 0; c < columns; ++c)
        table_->horizontalHeaderItem(c)->setTextAlignment((c == 0 || c == columns - 1 ? Qt::AlignLeft : Qt::AlignRight)
                                                          | Qt::AlignVCenter);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    if (const int here = static_cast<int>(session_.current()); table_->selectionModel()->selectedRows().isEmpty()
        || table_->selectionModel()->selectedRows().front().row() != here)
        table_->selectRow(here); // it scrolls there, so only when another is at hand
}

void JudgePage::refresh()
{
    if (!session_.isOpen())
        return;
    // What goes away goes first: the window would grow for what is never seen together.
    const bool first = side_ == 0;
    const bool plotted = set_->plotted();
    const bool curves = std::ranges::any_of(session_.outcome().specimens, [](const SpecimenOutcome& one) {
        return one.outcome && one.outcome->curve();
    });
    stack_->setCurrentIndex(plotted ? 0 : side_);
    table_->setVisible(first != plotted);
    const bool stacked = !plotted || (curves && !first);
    stack_->setVisible(stacked);
    shown_->setVisible(stacked);
    set_->refresh();
    verdict_->setText(q(verdictSentence(session_.job(), session_.outcome())));
    fillTable();
    picture_->rebuild();
    scatter_->rebuild();
    curvesSide_->setChecked(first);
    scatterSide_->setChecked(!first);
    // A set that shows itself by a plot of its own has it first.
    curvesSide_->setText(plotted ? "curve" : "curves and values");
    scatterSide_->setText(!plotted ? "scatter" : curves ? "curves and values" : "values");
    const auto& set = session_.outcome().set;
    set_->setVisible(set && !(set->views.empty() && set->results.empty()) && (first || !plotted));
    constexpr int narrow = 800;
    told_->setFixedWidth(width() < narrow ? 216 : 300);
    told_->show(set && stacked ? set->told : std::vector<ToldGroup>());
    showReason();
    const bool has = session_.hasSpecimen();
    out_->setVisible(has);
    keep_->setVisible(has);
    showApproval();
    if (has) {
        const bool out = !session_.specimen().excludedBecause.empty();
        out_->setText(out ? q("Take " + session_.specimen().label + " back into the set")
                          : q("Leave " + session_.specimen().label + " out with reason…"));
        const size_t open = session_.openRemarks(session_.current()).size();
        hint_->setText(open > 0
                           ? QString(open == 1 ? "%1 %2 on %3 waits in the margin." : "%1 %2 on %3 wait in the margin.")
                                 .arg(open)
                                 .arg(open == 1 ? "remark" : "remarks", q(session_.specimen().label))
                           : QString());
    }
}

QStringList JudgePage::keys() const
{
    return {"Ctrl+← Ctrl+→|another specimen", "Tab|the table, then leave out with reason", "Ctrl+Z|undo"};
}

} // namespace fortitor
