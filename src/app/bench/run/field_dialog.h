// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/record.h"

#include <QDialog>
#include <QLabel>
#include <QLineEdit>

#include <optional>

namespace fortitor {

/// Asks where extensometers are laid over a field of displacements, and makes a record of it.
class FieldDialog : public QDialog {
    Q_OBJECT
public:
    FieldDialog(QString path, QWidget* parent = nullptr);
    [[nodiscard]] const std::optional<Record>& record() const { return record_; }

private:
    void take();
    QString path_;
    QLineEdit *toe_ = nullptr, *length_ = nullptr, *along_ = nullptr;
    QLabel* message_ = nullptr;
    std::optional<Record> record_;
};

} // namespace fortitor
