// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/setup/frame_dialog.h"

#include "app/widgets/basics.h"

#include <QFile>
#include <QHBoxLayout>
#include <QSettings>
#include <QVBoxLayout>

namespace fortitor {

FrameDialog::FrameDialog(const LiveFrame& frame, QWidget* parent) : QDialog(parent)
{
    setObjectName("frameDialog");
    setWindowTitle("Frame");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(22, 18, 22, 16);
    column->setSpacing(8);
    column->addWidget(label("Which frame", "title"));
    auto* words =
        label("A frame that listens on this machine, or none: then the simulated one that comes with the program.",
              "quiet");
    words->setMinimumWidth(420);
    column->addWidget(words);
    const auto field = [&](const char* name, const QString& head, const QString& hint, const QString& text) {
        column->addWidget(label(head, "quiet"));
        auto* edit = new QLineEdit(text);
        edit->setObjectName(name);
        edit->setPlaceholderText(hint);
        column->addWidget(edit);
        return edit;
    };
    address_ = field("frameAddressText", "address", "127.0.0.1:PORT or local:NAME", frame.address());
    token_ = field("frameTokenText", "token, as the frame or its adapter shows it", "none", frame.token());
    token_->setEchoMode(QLineEdit::PasswordEchoOnEdit);
    auto* row = new QHBoxLayout;
    row->addStretch();
    auto* cancel = button("Cancel", "", "frameCancel");
    auto* join = button("Join", "primary", "frameJoin");
    join->setDefault(true);
    row->addWidget(cancel);
    row->addWidget(join);
    column->addSpacing(8);
    column->addLayout(row);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(join, &QPushButton::clicked, this, &QDialog::accept);
}

void rememberFrame(const QString& address, const QString& token)
{
    QSettings settings;
    settings.setValue("frame", address);
    settings.setValue("frameToken", token);
    settings.sync();
    QFile::setPermissions(settings.fileName(), QFileDevice::ReadOwner | QFileDevice::WriteOwner);
}

} // namespace fortitor
