// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/import_dialog.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include <algorithm>

namespace fortitor {
namespace {

QString delimiterName(char c)
{
    return c == ' ' ? "blanks" : c == '\t' ? "tabs" : c == ';' ? "semicolons" : c == ',' ? "commas" : QString(QChar(c));
}

} // namespace

ImportDialog::ImportDialog(QString path, const Method& method, QWidget* parent)
    : QDialog(parent), path_(std::move(path)), method_(method)
{
    setObjectName("importDialog");
    setWindowTitle("Text record: " + QFileInfo(path_).fileName());
    resize(900, 520);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(22, 18, 22, 16);
    column->setSpacing(10);
    column->addWidget(label(QFileInfo(path_).fileName(), "title"));
    how_ = label({}, "quiet");
    column->addWidget(how_);
    table_ = new QTableWidget;
    table_->setObjectName("importTable");
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->verticalHeader()->hide();
    table_->setShowGrid(false);
    column->addWidget(table_, 1);
    buildFoot(column);
    lookAt();
}

void ImportDialog::buildFoot(QLayout* layout)
{
    auto* column = static_cast<QVBoxLayout*>(layout);
    auto* open = new QHBoxLayout;
    decimal_ = new QComboBox;
    decimal_->setObjectName("importDecimal");
    decimal_->setPlaceholderText("decimal mark?");
    decimal_->addItem("decimal comma", ",");
    decimal_->addItem("decimal point", ".");
    decimal_->setToolTip("Whether 12,345 is twelve and a third or twelve thousand.");
    part_ = new QComboBox;
    part_->setObjectName("importPart");
    part_->hide();
    open->addWidget(decimal_);
    open->addWidget(part_, 1);
    open->addStretch();
    column->addLayout(open);
    message_ = label({}, "warn");
    message_->setObjectName("importMessage");
    message_->setWordWrap(true);
    column->addWidget(message_);
    progress_ = new QProgressBar;
    progress_->setTextVisible(false);
    progress_->hide();
    column->addWidget(progress_);
    auto* row = new QHBoxLayout;
    row->addStretch();
    stop_ = button("Cancel", "", "importCancel");
    take_ = button("Import", "primary", "importTake");
    take_->setDefault(true);
    row->addWidget(stop_);
    row->addWidget(take_);
    column->addLayout(row);
    connect(stop_, &QPushButton::clicked, this, [this] {
        stopped_ = true;
        if (!worker_.joinable())
            reject();
    });
    connect(take_, &QPushButton::clicked, this, &ImportDialog::read);
    connect(decimal_, &QComboBox::activated, this, &ImportDialog::lookAt);
}

/// The layout of the file, under the decimal mark that is settled, and the tests in it.
void ImportDialog::lookAt()
{
    constexpr qint64 atOnce = qint64{64} << 20; // larger files are looked through while they are read
    problem_.clear();
    const QString chosen = decimal_->currentData().toString();
    const auto layout = readLayout(s(path_), chosen.isEmpty() ? char{0} : chosen.front().toLatin1());
    if (!layout) {
        problem_ = q(layout.problem().text());
        how_->setText("The file could not be understood as a text record.");
        take_->setEnabled(false);
        return say();
    }
    build(*layout);
    if (chosen.isEmpty() && !layout->marksOpen)
        decimal_->setCurrentIndex(layout->marks.decimal == ',' ? 0 : 1);
    if (QFileInfo(path_).size() <= atOnce)
        if (auto parts = readParts(s(path_), request()))
            parts_ = std::move(*parts);
    showParts();
    say();
}

void ImportDialog::showParts()
{
    part_->clear();
    part_->setVisible(parts_.size() > 1);
    part_->addItem(QString("each of the %1 tests as a specimen of its own").arg(parts_.size()), 0);
    for (size_t k = 0; k < parts_.size(); ++k)
        part_->addItem(QString("test %1: %2 readings, lines %3 to %4")
                           .arg(k + 1)
                           .arg(parts_[k].rows)
                           .arg(parts_[k].firstLine)
                           .arg(parts_[k].lastLine),
                       static_cast<int>(k + 1));
}

ImportRequest ImportDialog::request() const
{
    ImportRequest request;
    request.choices = choices();
    const QString chosen = decimal_->currentData().toString();
    request.decimal = chosen.isEmpty() ? char{0} : chosen.front().toLatin1();
    return request;
}

ImportDialog::~ImportDialog()
{
    stopped_ = true;
    if (worker_.joinable())
        worker_.join();
}

void ImportDialog::build(const TextLayout& layout)
{
    layout_ = layout;
    table_->clear();
    channels_.clear();
    units_.clear();
    how_->setText(
        QString("Understood as: %1, delimiter %2, decimal %3, %4first numbers in line %5. Correct what is wrong.")
            .arg(q(layout.encoding), delimiterName(layout.delimiter),
                 QString(layout.marksOpen                  ? "mark open"
                             : layout.marks.decimal == ',' ? "comma"
                                                           : "point")
                     + (layout.marks.group ? QString(", grouping mark %1").arg(QChar(layout.marks.group)) : QString()),
                 layout.headerLine ? QString("names in line %1, ").arg(layout.headerLine) : QString("no names, "))
            .arg(layout.firstDataLine));
    const int columns = static_cast<int>(layout.columns.size());
    table_->setColumnCount(columns);
    table_->setRowCount(2 + static_cast<int>(layout.preview.size()));
    QStringList heads;
    for (int c = 0; c < columns; ++c) {
        const TextColumn& column = layout.columns[static_cast<size_t>(c)];
        heads << QString("%1  %2").arg(c + 1).arg(q(column.header));
        addColumn(c, column);
    }
    table_->setHorizontalHeaderLabels(heads);
    for (size_t r = 0; r < layout.preview.size(); ++r)
        for (size_t c = 0; c < layout.preview[r].size() && c < layout.columns.size(); ++c) {
            auto* item = new QTableWidgetItem(q(layout.preview[r][c]));
            item->setFont(figureFont(12));
            table_->setItem(static_cast<int>(r) + 2, static_cast<int>(c), item);
        }
    table_->setRowHeight(0, 38);
    table_->setRowHeight(1, 38);
    table_->horizontalHeader()->setSectionResizeMode(columns <= 6 ? QHeaderView::Stretch
                                                                  : QHeaderView::ResizeToContents);
}

/// What a column is taken for, and in which unit.
void ImportDialog::addColumn(int c, const TextColumn& column)
{
    auto* channel = new QComboBox;
    channel->setObjectName(QString("channel-%1").arg(c + 1));
    channel->addItem("–", "");
    for (const ChannelName& name : channelNames())
        channel->addItem(QString::fromUtf8(name.name.data(), static_cast<qsizetype>(name.name.size())),
                         QString::fromUtf8(name.name.data(), static_cast<qsizetype>(name.name.size())));
    channel->setCurrentIndex(std::max(0, channel->findData(q(column.channel))));
    auto* unit = new QComboBox;
    unit->setObjectName(QString("unit-%1").arg(c + 1));
    channels_.push_back(channel);
    units_.push_back(unit);
    const auto fillUnits = [this, c, unit] {
        const ChannelName* name = findChannelName(s(channels_[static_cast<size_t>(c)]->currentData().toString()));
        const TextColumn& found = layout_.columns[static_cast<size_t>(c)];
        unit->clear();
        unit->addItem("unit?", "");
        if (name)
            for (const Unit& u : allUnits())
                if (u.kind == name->kind)
                    unit->addItem(QString::fromUtf8(u.symbol.data(), static_cast<qsizetype>(u.symbol.size())),
                                  QString::fromUtf8(u.symbol.data(), static_cast<qsizetype>(u.symbol.size())));
        // What the file says of the unit stands, unless it says two things.
        const Unit* stated = found.unit       ? found.unit
            : name && found.otherUnit.empty() ? findUnit(found.unitText, name->kind)
                                              : nullptr;
        if (stated && name && stated->kind == name->kind)
            unit->setCurrentIndex(std::max(0,
                                           unit->findData(QString::fromUtf8(
                                               stated->symbol.data(), static_cast<qsizetype>(stated->symbol.size())))));
        unit->setEnabled(name != nullptr);
    };
    fillUnits();
    connect(channel, &QComboBox::activated, this, [this, fillUnits] {
        fillUnits();
        say();
    });
    connect(unit, &QComboBox::activated, this, [this] { say(); });
    channel->setEnabled(column.numeric);
    table_->setCellWidget(0, c, channel);
    table_->setCellWidget(1, c, unit);
}

ColumnChoices ImportDialog::choices() const
{
    ColumnChoices choices;
    for (size_t c = 0; c < channels_.size(); ++c) {
        const QString channel = channels_[c]->currentData().toString();
        if (!channel.isEmpty())
            choices[s(channel)] = {c + 1, {}, s(units_[c]->currentData().toString())};
    }
    return choices;
}

QString ImportDialog::missing() const
{
    QStringList gone;
    const auto has = [&](const std::string& channel) {
        return std::ranges::any_of(channels_,
                                   [&](const QComboBox* box) { return s(box->currentData().toString()) == channel; });
    };
    const auto claimed = [&](const std::string& channel) { return layout_.claims.contains(channel); };
    for (const auto& group : method_.channels)
        if (std::ranges::none_of(group, has) && std::ranges::none_of(group, claimed)) {
            QStringList names;
            for (const std::string& name : group)
                names << q(name);
            gone << (names.size() == 1 ? names.first() : "one of " + names.join(", "));
        }
    if (layout_.marksOpen && decimal_->currentIndex() < 0)
        gone << QString("the decimal mark: %1 can be read both ways").arg(q(shownText(layout_.marksExample)));
    for (const auto& [channel, columns] : layout_.claims)
        if (!has(channel)) {
            QStringList numbers;
            for (const size_t c : columns)
                numbers << QString::number(c + 1);
            gone << QString("which column is %1 (%2)").arg(q(channel), numbers.join(" or "));
        }
    for (size_t c = 0; c < channels_.size(); ++c)
        if (!channels_[c]->currentData().toString().isEmpty() && units_[c]->currentData().toString().isEmpty())
            gone << QString("the unit of column %1 (%2)%3")
                        .arg(c + 1)
                        .arg(channels_[c]->currentText(),
                             layout_.columns[c].otherUnit.empty()
                                 ? QString()
                                 : QString(": %1 in its name, %2 in the row of units")
                                       .arg(q(layout_.columns[c].unitText), q(layout_.columns[c].otherUnit)));
    for (size_t c = 0; c < channels_.size(); ++c)
        for (size_t d = c + 1; d < channels_.size(); ++d)
            if (!channels_[c]->currentData().toString().isEmpty()
                && channels_[c]->currentData() == channels_[d]->currentData())
                gone << QString("%1 is chosen twice").arg(channels_[c]->currentText());
    return gone.join("; ");
}

void ImportDialog::say()
{
    const QString gone = missing();
    const QString several = parts_.size() > 1
        ? QString("The file holds %1 tests; they are never read as one.").arg(parts_.size())
        : QString();
    message_->setText(!problem_.isEmpty() ? problem_ : gone.isEmpty() ? several : "Still wanted: " + gone + ".");
    take_->setEnabled(!channels_.empty() && gone.isEmpty());
}

void ImportDialog::read()
{
    if (worker_.joinable() || channels_.empty())
        return;
    problem_.clear();
    ImportRequest asked = request();
    asked.needed = method_.channels;
    asked.progress = [this](double share) {
        QMetaObject::invokeMethod(
            this, [this, share] { progress_->setValue(static_cast<int>(share * 100)); }, Qt::QueuedConnection);
        return !stopped_.load();
    };
    const auto one = static_cast<size_t>(std::max(0, part_->currentData().toInt()));
    const size_t first = one > 0 ? one : 1;
    const size_t last = one > 0 ? one : std::max<size_t>(1, parts_.size());
    const bool several = parts_.size() > 1;
    progress_->setValue(0);
    progress_->show();
    take_->setEnabled(false);
    stop_->setText("Stop");
    stopped_ = false;
    worker_ = std::thread([this, asked, first, last, several]() mutable {
        auto records = std::make_shared<std::vector<Record>>();
        auto problem = std::make_shared<std::optional<Problem>>();
        for (size_t part = first; part <= last && !*problem; ++part) {
            asked.part = several ? part : 0;
            auto record = importText(s(path_), asked);
            if (!record) {
                *problem = record.problem();
                break;
            }
            record->source = s(QFileInfo(path_).fileName()) + (several ? ", test " + std::to_string(part) : "");
            records->push_back(std::move(*record));
        }
        QMetaObject::invokeMethod(
            this,
            [this, records, problem] {
                worker_.join();
                progress_->hide();
                stop_->setText("Cancel");
                if (!*problem) {
                    records_ = std::move(*records);
                    accept();
                    return;
                }
                problem_ = stopped_ ? QString("Stopped. Nothing was taken.") : q((*problem)->text());
                stopped_ = false;
                if (parts_.empty())
                    if (auto parts = readParts(s(path_), request())) {
                        parts_ = std::move(*parts);
                        showParts();
                    }
                say();
            },
            Qt::QueuedConnection);
    });
}

} // namespace fortitor
