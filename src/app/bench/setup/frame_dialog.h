// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/live_frame.h"

#include <QDialog>
#include <QLineEdit>

namespace fortitor {

/// Where a frame listens, and the token that it asks for.
class FrameDialog : public QDialog {
    Q_OBJECT
public:
    explicit FrameDialog(const LiveFrame& frame, QWidget* parent = nullptr);
    [[nodiscard]] QString address() const { return address_->text().trimmed(); }
    [[nodiscard]] QString token() const { return token_->text().trimmed(); }

private:
    QLineEdit* address_ = nullptr;
    QLineEdit* token_ = nullptr;
};

/// Kept with the settings, which only this user can read from then on.
void rememberFrame(const QString& address, const QString& token);

} // namespace fortitor
