// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/hardness_reference.h"

#include "app/shell/tables.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/hands.h"
#include "app/widgets/scale_ladder.h"
#include "methods/common/figures.h"
#include "units/quantity.h"

#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include <algorithm>
#include <set>

namespace fortitor {
namespace {

/// Rockwell to a tenth, the others whole from 100.
QString onScale(double value, const HardnessScale& scale)
{
    const bool tenth = scale.by == HardnessScale::By::Rockwell || value < 100;
    return q(formatFixed(value, tenth ? 1 : 0)) + " " + q(std::string(scale.name));
}

} // namespace

ConversionPanel::ConversionPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("conversionPanel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 8, 0, 0);
    column->setSpacing(10);
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    from_ = lineEdit("convertFrom", "45 HRC");
    from_->setFixedWidth(150);
    from_->setFont(figureFont(16));
    material_ = new QComboBox;
    material_->setObjectName("convertMaterial");
    material_->addItems({"plain or low-alloy steel", "austenitic or cold-worked steel", "another material"});
    tables_ = new QComboBox;
    tables_->setObjectName("convertTables");
    tables_->setMinimumWidth(230);
    auto* load = button("Load a table…", "", "convertLoad");
    load->setToolTip("CSV: a line of scales, then rows of numbers; \"# name: …\" and \"# material: …\" above");
    takeOut_ = button("Take out", "link", "convertTakeOut");
    row->addWidget(label("Number", "quiet"));
    row->addWidget(from_);
    row->addWidget(label("of", "quiet"));
    row->addWidget(material_);
    row->addSpacing(14);
    row->addWidget(label("by", "quiet"));
    row->addWidget(tables_);
    row->addWidget(load);
    row->addWidget(takeOut_);
    row->addStretch();
    column->addLayout(row);
    table_ = plainTable({"scale", "number", "by table", ""}, "convertTable");
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setWordWrap(true);
    column->addWidget(table_, 1);
    ladder_ = new ScaleLadder;
    column->addWidget(ladder_);
    column->addWidget(
        label("Scales side by side by the steel tables; the scratch order (Mohs) is a rough neighbour and "
              "never converted.",
              "quiet"));
    strength_ = label({});
    strength_->setObjectName("convertStrength");
    strength_->setWordWrap(true);
    column->addWidget(strength_);
    message_ = label({}, "warn");
    message_->setObjectName("convertMessage");
    message_->setWordWrap(true);
    column->addWidget(message_);
    column->addWidget(label("A converted number is looked up, not measured; a report says by which table. Nothing is "
                            "converted beyond a table, or from a number out of its scale's own band.",
                            "quiet"));
    connect(from_, &QLineEdit::textChanged, this, &ConversionPanel::fill);
    connect(material_, &QComboBox::activated, this, &ConversionPanel::fill);
    connect(tables_, &QComboBox::activated, this, &ConversionPanel::fill);
    connect(takeOut_, &QPushButton::clicked, this, &ConversionPanel::takeOut);
    connect(load, &QPushButton::clicked, this, [this] {
        const QString file =
            QFileDialog::getOpenFileName(this, "A table of conversion", {}, "Tables (*.csv *.txt);;All files (*)");
        if (!file.isEmpty())
            this->load(file);
    });
    refresh();
}

void ConversionPanel::refresh()
{
    own_ = readOwnConversions(session_.logbook());
    std::vector<hands::Item> items{{"the steel tables that are here", {}}};
    for (const OwnConversion& one : own_)
        items.push_back({q(one.table.name) + (one.table.material.empty() ? "" : ", " + q(one.table.material)), {}});
    const int now = std::clamp(tables_->currentIndex(), 0, static_cast<int>(items.size()) - 1);
    hands::fill(tables_, items, now);
    fill();
}

void ConversionPanel::tell(const QString& words)
{
    message_->setText(words);
}

bool ConversionPanel::load(const QString& path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly) || file.size() > 2'000'000) {
        tell(QFileInfo(path).fileName() + ": no table that can be read (up to 2 MB).");
        return false;
    }
    OwnConversion own{{}, file.readAll().toStdString()};
    auto table = readConversionTable(own.text, s(QFileInfo(path).completeBaseName()));
    if (!table) {
        tell(q(table.problem().text()));
        return false;
    }
    own.table = std::move(*table);
    const auto row = ownConversionRow(own);
    if (auto ok = session_.writer().now([&](Logbook& book) { return book.keepInstrument(row, session_.who()); }); !ok) {
        tell(q(ok.problem().text()));
        return false;
    }
    tell({});
    refresh();
    for (size_t i = 0; i < own_.size(); ++i)
        if (own_[i].table.name == own.table.name)
            tables_->setCurrentIndex(static_cast<int>(i) + 1);
    fill();
    return true;
}

void ConversionPanel::takeOut()
{
    const int at = tables_->currentIndex() - 1;
    if (at < 0)
        return;
    const QString name = ownConversionRow(own_[static_cast<size_t>(at)]).name;
    if (auto ok = session_.writer().now([&](Logbook& book) { return book.removeInstrument(name, session_.who()); });
        !ok)
        tell(q(ok.problem().text()));
    refresh();
}

void ConversionPanel::fill()
{
    table_->setRowCount(0);
    strength_->clear();
    ladder_->setMark(std::nullopt);
    const int chosen = tables_->currentIndex() - 1;
    takeOut_->setEnabled(chosen >= 0);
    material_->setEnabled(chosen < 0);
    const std::string text = s(from_->text().trimmed());
    if (text.empty())
        return tell("Type a number with its scale, such as 45 HRC, 210 HBW or 520 HV.");
    const auto number = parseQuantity(text, Kind::Hardness);
    const HardnessScale* from = number ? findHardnessScale(std::string(number->unit->symbol)) : nullptr;
    if (!from)
        return tell(number ? "\"" + q(text) + "\" is of an old scale; nothing is converted from it."
                           : q(number.problem().text()));
    tell({});
    ladder_->setMark(onLadder(number->base, *from), q(text));
    std::set<std::string> scales;
    if (chosen >= 0)
        scales.insert(own_[static_cast<size_t>(chosen)].table.scales.begin(),
                      own_[static_cast<size_t>(chosen)].table.scales.end());
    else
        for (const ConversionTable& table : conversionTables())
            scales.insert(table.scales.begin(), table.scales.end());
    int r = 0;
    for (const HardnessScale& to : hardnessScales()) {
        if (&to == from || !scales.contains(std::string(to.name)))
            continue;
        const auto found = chosen >= 0
            ? convertByTable(number->base, *from, to, own_[static_cast<size_t>(chosen)].table)
            : convertHardness(number->base, *from, to,
                              material_->currentIndex() == 0 ? "steel" : s(material_->currentText()));
        table_->insertRow(r);
        put(table_, r, 0, q(std::string(to.name)));
        put(table_, r, 1, found ? onScale(found->value, to) : QString("–"), true, !found);
        put(table_, r, 2, found ? q(found->table) : QString(), false, true);
        QStringList words;
        if (!found)
            words << q(found.problem().text());
        else
            for (const Remark& one : found->remarks)
                if (one.severity != Severity::Note)
                    words << q(one.text);
        put(table_, r, 3, words.join(" "), false, !found)->setToolTip(plain(words.join(" ")));
        ++r;
    }
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(3, QHeaderView::Stretch);
    table_->horizontalHeaderItem(1)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table_->resizeRowsToContents();
    if (chosen < 0)
        fillStrength(number->base, *from);
}

/// By both factors that are in use.
void ConversionPanel::fillStrength(double number, const HardnessScale& from)
{
    if (material_->currentIndex() != 0)
        return strength_->setText("No estimate of the tensile strength: it holds for plain steels only, not for "
                                  "austenitic or cold-worked ones.");
    QStringList words;
    for (const StrengthFactor& one : strengthFactors()) {
        const HardnessScale& to = *findHardnessScale(one.scale);
        const auto found =
            &to == &from ? Expected<Converted>(Converted{number, {}, {}}) : convertHardness(number, from, to);
        if (found)
            words << QString("%1 ± %2 MPa by %3 · %4")
                         .arg(q(formatSignificant(one.factor * found->value, 3)),
                              q(formatSignificant(0.1 * one.factor * found->value, 2)), q(std::string(one.written)),
                              q(std::string(one.scale)));
    }
    strength_->setText(words.isEmpty()
                           ? QString("No estimate of the tensile strength: the tables do not hold it.")
                           : "Tensile strength of a plain steel, an estimate of ± 10 %: " + words.join("; ") + ".");
}

LimitsPanel::LimitsPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setObjectName("limitsPanel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 8, 0, 0);
    column->setSpacing(8);
    auto* row = new QHBoxLayout;
    whose_ = label({}, "quiet");
    whose_->setObjectName("limitsWhose");
    auto* add = button("Add", "", "limitsAdd");
    auto* out = button("Take out", "", "limitsTakeOut");
    auto* back = button("Starting values", "", "limitsBack");
    back->setToolTip("Takes the own table out");
    row->addWidget(whose_, 1);
    row->addWidget(back);
    row->addWidget(out);
    row->addWidget(add);
    column->addLayout(row);
    table_ = plainTable({"scale", "block up to", "error, ±", "spread", "source"}, "limitsTable");
    column->addWidget(table_, 1);
    message_ = label({}, "warn");
    message_->setObjectName("limitsMessage");
    message_->setWordWrap(true);
    column->addWidget(message_);
    column->addWidget(label("Limits go to a block with its first reading, and stay with it when the table changes "
                            "later. Vickers and Knoop blocks go by the size of the indent.",
                            "quiet"));
    connect(table_, &QTableWidget::cellChanged, this, [this] {
        if (!filling_)
            keep();
    });
    connect(add, &QPushButton::clicked, this, [this] {
        filling_ = true;
        table_->insertRow(table_->rowCount());
        const int last = table_->rowCount() - 1;
        for (int c = 0; c < 5; ++c)
            put(table_, last, c, {}, c > 0 && c < 4);
        filling_ = false;
        table_->setCurrentCell(last, 0);
        table_->editItem(table_->item(last, 0));
    });
    connect(out, &QPushButton::clicked, this, [this] {
        if (table_->currentRow() < 0)
            return;
        table_->removeRow(table_->currentRow());
        keep();
    });
    connect(back, &QPushButton::clicked, this, [this] {
        const QString name = ownLimitsRow({}).name;
        if (session_.logbook().instrument(name))
            if (auto ok =
                    session_.writer().now([&](Logbook& book) { return book.removeInstrument(name, session_.who()); });
                !ok)
                message_->setText(q(ok.problem().text()));
        refresh();
    });
    refresh();
}

void LimitsPanel::refresh()
{
    hands::whenFree(table_, "fill", [this] {
        const auto own = readOwnLimits(session_.logbook());
        whose_->setText(own.empty() ? "Starting values. Change a cell, and the table is the laboratory's own."
                                    : "The laboratory's own table.");
        fill(own.empty() ? startingLimits() : own);
    });
}

void LimitsPanel::fill(const std::vector<OwnLimit>& rows)
{
    filling_ = true;
    table_->setRowCount(static_cast<int>(rows.size()));
    for (size_t i = 0; i < rows.size(); ++i) {
        const int r = static_cast<int>(i);
        put(table_, r, 0, q(rows[i].scale));
        put(table_, r, 1, QString::number(rows[i].upTo), true);
        put(table_, r, 2, QString::number(rows[i].error, 'g', 3), true);
        put(table_, r, 3, QString::number(rows[i].spread, 'g', 3), true);
        put(table_, r, 4, q(rows[i].source));
    }
    for (int c = 1; c < 4; ++c)
        table_->horizontalHeaderItem(c)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(4, QHeaderView::Stretch);
    filling_ = false;
}

/// Takes what stands in the table over, once every row is whole.
void LimitsPanel::keep()
{
    std::vector<OwnLimit> rows;
    for (int r = 0; r < table_->rowCount(); ++r) {
        const auto text = [&](int c) {
            return table_->item(r, c) ? s(table_->item(r, c)->text().trimmed()) : std::string();
        };
        const HardnessScale* scale = findHardnessScale(text(0));
        const auto upTo = parseNumber(text(1)), error = parseNumber(text(2)), spread = parseNumber(text(3));
        const bool good = scale && upTo && error && spread && *upTo > 0 && *error > 0 && *spread > 0;
        if (!good || text(4).empty())
            return message_->setText(QString("Row %1 is not whole: a scale such as HRC, three numbers above zero, and "
                                             "where they come from. Nothing is kept yet.")
                                         .arg(r + 1));
        rows.push_back({std::string(scale->name), *upTo, *error, *spread, text(4)});
    }
    message_->clear();
    const auto row = ownLimitsRow(rows);
    if (auto ok = session_.writer().now([&](Logbook& book) { return book.keepInstrument(row, session_.who()); }); !ok)
        message_->setText(q(ok.problem().text()));
    whose_->setText("The laboratory's own table.");
}

} // namespace fortitor
