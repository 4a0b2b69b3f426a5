// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/run/field_dialog.h"

#include "app/widgets/basics.h"
#include "app/widgets/busy.h"
#include "methods/fatigue_sn/displacement_field.h"

#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

namespace fortitor {

FieldDialog::FieldDialog(QString path, QWidget* parent) : QDialog(parent), path_(std::move(path))
{
    setObjectName("fieldDialog");
    setWindowTitle("Extensometers over a field");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(22, 18, 22, 18);
    column->setSpacing(10);
    column->addWidget(label(QFileInfo(path_).fileName(), "title"));
    auto* words = label("A grid of displacements, a picture after the other. Extensometers are laid across the weld "
                        "toe; each gives a strain over the cycles.",
                        "quiet");
    words->setWordWrap(true);
    words->setMinimumWidth(420);
    column->addWidget(words);
    QSettings settings;
    auto* form = new QFormLayout;
    const auto field = [&](const char* name, const QString& title, const QString& fallback, const QString& help) {
        auto* edit = lineEdit(name, fallback);
        edit->setText(settings.value(QString("field/") + name, fallback).toString());
        edit->setToolTip(help);
        form->addRow(title, edit);
        return edit;
    };
    toe_ = field("fieldToe", "Toe at", "y = 12 mm", "Across the load: x = or y =, and where");
    length_ = field("fieldLength", "Length", "2 mm", "Of an extensometer, half on either side of the toe");
    along_ = field("fieldAlong", "Places along it", "0, 5, 10 mm", "One to eight");
    column->addLayout(form);
    message_ = label({}, "warn");
    message_->setObjectName("fieldMessage");
    message_->setWordWrap(true);
    message_->hide();
    column->addWidget(message_);
    auto* row = new QHBoxLayout;
    row->addStretch();
    auto* cancel = button("Cancel", "", "fieldCancel");
    auto* ok = button("Take in", "primary", "fieldTake");
    ok->setDefault(true);
    row->addWidget(cancel);
    row->addWidget(ok);
    column->addLayout(row);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(ok, &QPushButton::clicked, this, &FieldDialog::take);
}

void FieldDialog::take()
{
    const auto gauges = readGauges(s(toe_->text()), s(length_->text()), s(along_->text()));
    auto record = gauges
        ? Busy("Reading the field …", this).run([&](const Progress&) { return recordOfField(s(path_), *gauges); })
        : Expected<Record>(gauges.problem());
    if (!record) {
        message_->setText(q(record.problem().text()));
        message_->show();
        return;
    }
    QSettings settings;
    for (const QLineEdit* edit : {toe_, length_, along_})
        settings.setValue("field/" + edit->objectName(), edit->text());
    record_ = std::move(*record);
    accept();
}

} // namespace fortitor
