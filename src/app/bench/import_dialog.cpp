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

ImportDialog::ImportDialog(QString path, const Method& method, QWidget* parent) : QDialog(parent), path_(std::move(path)), method_(method)
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
    message_ = label({}, "warn");
    message_->setObjectName("importMessage");
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
    auto layout = readLayout(s(path_));
    if (layout) {
        build(*layout);
    } else {
        problem_ = q(layout.problem().text());
        how_->setText("The file could not be understood as a text record.");
        take_->setEnabled(false);
    }
    say();
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
    how_->setText(QString("Understood as: %1, columns parted by %2, decimal %3, %4first numbers in line %5. Put right what is not.")
                      .arg(q(layout.encoding), delimiterName(layout.delimiter), layout.decimal == ',' ? "comma" : "point", layout.headerLine ? QString("names in line %1, ").arg(layout.headerLine) : QString("no names, "))
                      .arg(layout.firstDataLine));
    const int columns = static_cast<int>(layout.columns.size());
    table_->setColumnCount(columns);
    table_->setRowCount(2 + static_cast<int>(layout.preview.size()));
    QStringList heads;
    for (int c = 0; c < columns; ++c) {
        const TextColumn& column = layout.columns[static_cast<size_t>(c)];
        heads << QString("%1  %2").arg(c + 1).arg(q(column.header));
        auto* channel = new QComboBox;
        channel->setObjectName(QString("channel-%1").arg(c + 1));
        channel->addItem("–", "");
        for (const ChannelName& name : channelNames())
            channel->addItem(QString::fromUtf8(name.name.data(), static_cast<qsizetype>(name.name.size())), QString::fromUtf8(name.name.data(), static_cast<qsizetype>(name.name.size())));
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
                        unit->addItem(QString::fromUtf8(u.symbol.data(), static_cast<qsizetype>(u.symbol.size())), QString::fromUtf8(u.symbol.data(), static_cast<qsizetype>(u.symbol.size())));
            if (found.unit && name && found.unit->kind == name->kind)
                unit->setCurrentIndex(std::max(0, unit->findData(QString::fromUtf8(found.unit->symbol.data(), static_cast<qsizetype>(found.unit->symbol.size())))));
            unit->setEnabled(name != nullptr);
        };
        fillUnits();
        connect(channel, &QComboBox::activated, this, [this, fillUnits] { fillUnits(); say(); });
        connect(unit, &QComboBox::activated, this, [this] { say(); });
        channel->setEnabled(column.numeric);
        table_->setCellWidget(0, c, channel);
        table_->setCellWidget(1, c, unit);
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
    table_->horizontalHeader()->setSectionResizeMode(columns <= 6 ? QHeaderView::Stretch : QHeaderView::ResizeToContents);
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
        return std::ranges::any_of(channels_, [&](const QComboBox* box) { return s(box->currentData().toString()) == channel; });
    };
    for (const auto& group : method_.channels)
        if (std::ranges::none_of(group, has)) {
            QStringList names;
            for (const std::string& name : group)
                names << q(name);
            gone << (names.size() == 1 ? names.first() : "one of " + names.join(", "));
        }
    for (size_t c = 0; c < channels_.size(); ++c)
        if (!channels_[c]->currentData().toString().isEmpty() && units_[c]->currentData().toString().isEmpty())
            gone << QString("the unit of column %1 (%2)").arg(c + 1).arg(channels_[c]->currentText());
    for (size_t c = 0; c < channels_.size(); ++c)
        for (size_t d = c + 1; d < channels_.size(); ++d)
            if (!channels_[c]->currentData().toString().isEmpty() && channels_[c]->currentData() == channels_[d]->currentData())
                gone << QString("%1 is chosen twice").arg(channels_[c]->currentText());
    return gone.join("; ");
}

void ImportDialog::say()
{
    const QString gone = missing();
    message_->setText(!problem_.isEmpty() ? problem_ : gone.isEmpty() ? QString() : "Still wanted: " + gone + ".");
    take_->setEnabled(!channels_.empty() && gone.isEmpty());
}

void ImportDialog::read()
{
    if (worker_.joinable() || channels_.empty())
        return;
    problem_.clear();
    ImportRequest request;
    request.choices = choices();
    request.needed = method_.channels;
    request.progress = [this](double share) {
        QMetaObject::invokeMethod(this, [this, share] { progress_->setValue(static_cast<int>(share * 100)); }, Qt::QueuedConnection);
        return !stopped_.load();
    };
    progress_->setValue(0);
    progress_->show();
    take_->setEnabled(false);
    stop_->setText("Stop");
    stopped_ = false;
    worker_ = std::thread([this, request] {
        auto record = importText(s(path_), request);
        QMetaObject::invokeMethod(this, [this, record = std::make_shared<Expected<Record>>(std::move(record))] {
            worker_.join();
            progress_->hide();
            stop_->setText("Cancel");
            if (*record) {
                record_ = std::move(**record);
                record_->source = s(QFileInfo(path_).fileName());
                accept();
            } else {
                problem_ = stopped_ ? QString("Stopped. Nothing was taken.") : q(record->problem().text());
                stopped_ = false;
                say();
            }
        }, Qt::QueuedConnection);
    });
}

} // namespace fortitor
