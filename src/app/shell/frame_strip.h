// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/live_frame.h"

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace fortitor {

/// On every page, while the frame holds or does what this program did not bring about: what that is, and
/// what may be done. STOP goes out in any case.
class FrameStrip : public QWidget {
    Q_OBJECT
public:
    explicit FrameStrip(LiveFrame& frame, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void follow();
    LiveFrame& frame_;
    QLabel* words_ = nullptr;
    QPushButton* stop_ = nullptr;
    QPushButton* ease_ = nullptr;
    QPushButton* open_ = nullptr;
};

} // namespace fortitor
