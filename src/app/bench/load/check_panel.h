// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/bench/strike/look_row.h"
#include "app/model/live_frame.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

namespace fortitor {

/// A check between the loads of a run, with the drive disabled: what was found is picked by one key, and the frame
/// waits until the person who checks gives it free.
class CheckPanel : public QWidget {
    Q_OBJECT
public:
    CheckPanel(Session& session, LiveFrame& frame, QWidget* parent = nullptr);
    /// Shown while the frame waits for a check; gives whether it is.
    bool follow();
    void enter();

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void paintEvent(QPaintEvent*) override;

private:
    void build(const NoteSpec& note);
    void giveFree();

    Session& session_;
    LiveFrame& frame_;
    QLabel *head_ = nullptr, *caution_ = nullptr, *state_ = nullptr;
    LookRow* row_ = nullptr;
    QLineEdit* distance_ = nullptr;
    QPushButton *guard_ = nullptr, *free_ = nullptr;
    std::string note_;
    bool picked_ = false;
};

} // namespace fortitor
