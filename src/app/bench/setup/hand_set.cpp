// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/setup/hand_set.h"

#include "app/widgets/basics.h"

#include <QHBoxLayout>

namespace fortitor {
namespace {

constexpr double jogSpeed = 2; // mm/s; the frame itself goes slower with a piece gripped or the guard open
constexpr double wheelClick = 0.01; // mm
constexpr int askEvery = 100; // ms: the frame stops by itself when it is not asked again

} // namespace

HandSet::HandSet(LiveFrame& frame, QWidget* parent) : QWidget(parent), frame_(frame)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    lock_ = button("Enable jog", "", "handSet");
    lock_->setToolTip("The crosshead moves by hand only while this is unlocked. Keep hands out of the grips.");
    up_ = button("▲", "", "jogUp");
    down_ = button("▼", "", "jogDown");
    up_->setToolTip("Crosshead up while it is held");
    down_->setToolTip("Crosshead down while it is held");
    finer_[0] = button("fine ▲", "", "wheelUp");
    finer_[1] = button("fine ▼", "", "wheelDown");
    back_ = button("Back to start", "", "returnToStart");
    back_->setToolTip("The crosshead goes back to where the run began; guard closed, hands out");
    for (QPushButton* b : {lock_, up_, down_, finer_[0], finer_[1], back_})
        row->addWidget(b);
    row->addStretch();
    for (QPushButton* b : finer_)
        b->setToolTip("The fine wheel: one hundredth of a millimetre");
    asking_.setInterval(askEvery);
    connect(&asking_, &QTimer::timeout, this, [this] { frame_.jog(speed_); });
    connect(lock_, &QPushButton::clicked, this, [this] { frame_.setHandSet(!frame_.status().handSet); });
    connect(up_, &QPushButton::pressed, this, [this] { hold(jogSpeed); });
    connect(down_, &QPushButton::pressed, this, [this] { hold(-jogSpeed); });
    connect(up_, &QPushButton::released, this, [this] { hold(0); });
    connect(down_, &QPushButton::released, this, [this] { hold(0); });
    connect(finer_[0], &QPushButton::clicked, this, [this] { frame_.fineWheel(wheelClick); });
    connect(finer_[1], &QPushButton::clicked, this, [this] { frame_.fineWheel(-wheelClick); });
    connect(back_, &QPushButton::clicked, &frame_, &LiveFrame::returnToStart);
    follow();
}

void HandSet::hold(double speed)
{
    speed_ = speed;
    frame_.jog(speed);
    speed != 0 ? asking_.start() : asking_.stop();
}

void HandSet::follow()
{
    const bool still = frame_.ready() && !frame_.running() && !frame_.linkLost();
    const bool open = still && frame_.status().handSet;
    lock_->setEnabled(still);
    lock_->setText(open ? "Disable jog" : "Enable jog");
    for (QPushButton* b : {up_, down_, finer_[0], finer_[1]})
        b->setVisible(open);
    if (!open && asking_.isActive())
        asking_.stop();
    back_->setVisible(still && !open && frame_.status().state == DriveState::Ended
                      && frame_.status().ended != "returned");
}

} // namespace fortitor
