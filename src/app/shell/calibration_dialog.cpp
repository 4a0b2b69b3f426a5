// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/calibration_dialog.h"

#include "jobs/json_at.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"

#include <QDate>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {
namespace {

constexpr int seriesCount = 2;
constexpr double shares[] = {0, 0.2, 0.4, 0.6, 0.8, 1};

QTableWidgetItem* figure(const QString& text, bool fixed)
{
    auto* item = new QTableWidgetItem(text);
    item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    item->setFont(figureFont(12.5));
    if (fixed)
        item->setFlags(item->flags() & ~Qt::ItemIsEditable);
    return item;
}

} // namespace

CalibrationDialog::CalibrationDialog(Session& session, LiveFrame& frame, InstrumentRow instrument, QWidget* parent)
    : QDialog(parent), session_(session), frame_(frame), row_(std::move(instrument))
{
    setObjectName("calibrationDialog");
    setWindowTitle("Check against a reference");
    resize(720, 620);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(22, 18, 22, 18);
    column->setSpacing(10);
    column->addWidget(
        label(row_.name + (wantedClass().empty() ? ", no class set" : ", class " + q(wantedClass())), "title"));
    auto* help =
        label(row_.kind == "cell"
                  ? "Dead weights or a reference cell, from zero up, twice. Hands clear of hanging weights; nothing in "
                    "the grips."
                  : "The extensometer on its calibrator, from zero up, twice.",
              "quiet");
    help->setWordWrap(true);
    column->addWidget(help);
    table_ = new QTableWidget;
    table_->setObjectName("calibrationTable");
    table_->setColumnCount(6);
    const QString unit = row_.kind == "cell" ? "kN" : "mm";
    table_->setHorizontalHeaderLabels(
        {"series", "reference, " + unit, "reading, " + unit, "error, %", "spread, %", "class"});
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(28);
    table_->setShowGrid(false);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    column->addWidget(table_, 1);
    words_ = label({});
    words_->setObjectName("calibrationWords");
    words_->setWordWrap(true);
    column->addWidget(words_);
    auto* row = new QHBoxLayout;
    take_ = button("Read from the frame", "", "calibrationTake");
    take_->setToolTip(
        "The mean of one second, for the line at hand (Ctrl+R). On the simulated frame the reference is put on by "
        "itself.");
    take_->setShortcut(QKeySequence("Ctrl+R"));
    keep_ = button("Keep the check", "primary", "calibrationKeep");
    due_ = new QDateEdit(QDate::currentDate().addYears(1));
    due_->setObjectName("calibrationDue");
    due_->setDisplayFormat("yyyy-MM-dd");
    due_->setCalendarPopup(true);
    row->addWidget(take_);
    row->addStretch();
    row->addWidget(label("good until", "quiet"));
    row->addWidget(due_);
    row->addWidget(keep_);
    column->addLayout(row);
    connect(table_, &QTableWidget::cellChanged, this, [this](int, int c) {
        if (!filling_ && c <= 2)
            work();
    });
    connect(take_, &QPushButton::clicked, this, &CalibrationDialog::takeReading);
    connect(keep_, &QPushButton::clicked, this, &CalibrationDialog::keep);
    propose();
    work();
}

void CalibrationDialog::propose()
{
    const bool cell = row_.kind == "cell";
    const auto range =
        parseQuantity(textAt(row_.body, cell ? "capacity" : "travel"), cell ? Kind::Force : Kind::Length);
    const double full = range ? range->base * (cell ? 1e-3 : 1) : cell ? 50 : 10;
    filling_ = true;
    table_->setRowCount(0);
    for (int series = 1; series <= seriesCount; ++series)
        for (const double share : shares) {
            const int r = table_->rowCount();
            table_->insertRow(r);
            table_->setItem(r, 0, figure(QString::number(series), false));
            table_->setItem(r, 1, figure(QString::number(full * share, 'g', 6), false));
            for (int c = 2; c < 6; ++c)
                table_->setItem(r, c, figure({}, c > 2));
        }
    filling_ = false;
    table_->setCurrentCell(0, 2);
}

std::vector<ReferenceReading> CalibrationDialog::readings(QString* trouble) const
{
    std::vector<ReferenceReading> out;
    const double factor = row_.kind == "cell" ? 1000 : 1;
    for (int r = 0; r < table_->rowCount(); ++r) {
        const auto number = [&](int c) { return parseNumber(s(table_->item(r, c)->text().trimmed())); };
        if (table_->item(r, 2)->text().trimmed().isEmpty())
            continue;
        const auto reference = number(1);
        const auto reading = number(2);
        if (!reference || !reading) {
            if (trouble)
                *trouble = QString("Line %1: a figure is wanted.").arg(r + 1);
            continue;
        }
        out.push_back({*reference * factor, *reading * factor, static_cast<int>(number(0).value_or(1))});
    }
    return out;
}

void CalibrationDialog::work()
{
    QString trouble;
    const auto all = readings(&trouble);
    auto checked = checkCalibration(device(), wantedClass(), all);
    result_ = checked ? std::optional(*checked) : std::nullopt;
    filling_ = true;
    for (int r = 0; r < table_->rowCount(); ++r) {
        const auto reference = parseNumber(s(table_->item(r, 1)->text().trimmed()));
        const auto reading = parseNumber(s(table_->item(r, 2)->text().trimmed()));
        const bool both = reference && reading && *reference > 0;
        table_->item(r, 3)->setText(both ? QString("%1%2")
                                               .arg(*reading >= *reference ? "+" : "−")
                                               .arg(std::abs(100 * (*reading - *reference) / *reference), 0, 'f', 2)
                                         : QString());
        const double factor = row_.kind == "cell" ? 1000 : 1;
        const CalibrationStep* step = nullptr;
        if (result_ && both)
            for (const CalibrationStep& one : result_->steps)
                if (std::abs(one.reference - *reference * factor) <= 1e-6 * std::max(1.0, one.reference))
                    step = &one;
        table_->item(r, 4)->setText(step ? QString::number(100 * step->repeatability, 'f', 2) : QString());
        table_->item(r, 5)->setText(step ? (step->best.empty() ? QString("none") : q(step->best)) : QString());
    }
    filling_ = false;
    if (!trouble.isEmpty())
        words_->setText(trouble);
    else if (!result_)
        words_->setText(all.empty() ? "No readings yet." : q(checked.problem().text()));
    else
        words_->setText(q(result_->words)
                        + (wantedClass().empty() ? " No class is set for it."
                               : result_->meets  ? " It holds its class " + q(wantedClass()) + "."
                                                 : " × It does not hold its class " + q(wantedClass()) + "."));
    keep_->setEnabled(result_.has_value() && trouble.isEmpty() && !wantedClass().empty());
    keep_->setToolTip(wantedClass().empty() ? "Set its class first, in the table of instruments" : "");
}

void CalibrationDialog::takeReading()
{
    const int r = table_->currentRow();
    if (r < 0)
        return;
    if (frame_.running()) {
        words_->setText("The frame is running; stop it first.");
        return;
    }
    const auto reference = parseNumber(s(table_->item(r, 1)->text().trimmed()));
    if (!reference) {
        words_->setText("A reference is wanted first.");
        return;
    }
    take_->setEnabled(false);
    if (!prepared_)
        frame_.prepareReference(row_);
    prepared_ = true;
    const QString before = table_->item(r, 2)->text();
    frame_.readReference(
        device() == "force", *reference * (row_.kind == "cell" ? 1000 : 1),
        [this, r, before](const Expected<double>& mean) {
            take_->setEnabled(true);
            if (!mean) {
                words_->setText(q(mean.problem().text()));
                return;
            }
            const QString read =
                QString::number(*mean / (row_.kind == "cell" ? 1000 : 1), 'f', row_.kind == "cell" ? 4 : 5);
            // The reading comes a second later: what was typed meanwhile stays.
            if (hands::on(table_) || table_->item(r, 2)->text() != before) {
                words_->setText(
                    QString("The frame read %1 for line %2; what was typed meanwhile stays.").arg(read).arg(r + 1));
                return;
            }
            table_->item(r, 2)->setText(read);
            if (table_->currentRow() == r) {
                table_->setCurrentCell(std::min(r + 1, table_->rowCount() - 1), 2);
                take_->setFocus();
            }
        });
}

void CalibrationDialog::keep()
{
    if (!result_)
        return;
    InstrumentRow out = row_;
    out.body["checks"].push_back(checkJson(*result_, device(), wantedClass(), readings(),
                                           s(QDate::currentDate().toString(Qt::ISODate)), s(session_.who())));
    if (result_->meets)
        out.due = due_->date().toString(Qt::ISODate);
    if (auto ok = session_.writer().now([&](Logbook& book) { return book.keepInstrument(out, session_.who()); }); !ok) {
        words_->setText(q(ok.problem().text()));
        return;
    }
    accept();
}

} // namespace fortitor
