// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/live_frame.h"

#include <QPushButton>
#include <QTimer>
#include <QWidget>

namespace fortitor {

/// The hand-set of the frame: locked until it is unlocked, then up and down while a button is held, a
/// fine wheel a click at a time, and the way back after a run.
class HandSet : public QWidget {
    Q_OBJECT
public:
    HandSet(LiveFrame& frame, QWidget* parent = nullptr);
    void follow();

private:
    void hold(double speed);
    LiveFrame& frame_;
    QTimer asking_;
    double speed_ = 0;
    QPushButton* lock_ = nullptr;
    QPushButton* up_ = nullptr;
    QPushButton* down_ = nullptr;
    QPushButton* finer_[2] = {};
    QPushButton* back_ = nullptr;
};

} // namespace fortitor
