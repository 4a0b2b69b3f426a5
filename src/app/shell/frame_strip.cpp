// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/frame_strip.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"

#include <QHBoxLayout>
#include <QPainter>

namespace fortitor {

FrameStrip::FrameStrip(LiveFrame& frame, QWidget* parent) : QWidget(parent), frame_(frame)
{
    setObjectName("frameStrip");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(18, 8, 12, 8);
    row->setSpacing(10);
    words_ = label({});
    words_->setObjectName("frameWords");
    row->addWidget(words_, 1);
    ease_ = button("Ease to zero", "", "frameEase");
    ease_->setToolTip("The crosshead moves until the force is near zero. Hands clear, guard closed.");
    open_ = button("Open grips", "", "frameOpenGrips");
    open_->setToolTip("Only once the load is off: what hangs there falls");
    stop_ = button("STOP  Esc", "stop", "frameStop");
    stop_->setToolTip(
        "Stops whatever moves, whoever leads the frame. It does not take the place of the emergency stop on the "
        "frame.");
    for (QPushButton* b : {ease_, open_, stop_})
        row->addWidget(b);
    connect(stop_, &QPushButton::clicked, &frame, &LiveFrame::stop);
    connect(ease_, &QPushButton::clicked, &frame, &LiveFrame::easeToZero);
    connect(open_, &QPushButton::clicked, &frame, &LiveFrame::openGrips);
    connect(&frame, &LiveFrame::updated, this, &FrameStrip::follow);
    hide();
}

void FrameStrip::follow()
{
    const QString words = frame_.strange();
    if (words_->text() != words)
        words_->setText(words);
    setVisible(!words.isEmpty());
    const bool may = frame_.joined() && !frame_.moves();
    ease_->setVisible(may && frame_.status().top && frame_.status().bottom);
    open_->setVisible(may && (frame_.status().top || frame_.status().bottom));
    open_->setEnabled(std::abs(frame_.forceNow()) < frame_.nearZero());
}

void FrameStrip::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), pal().accentTint);
    painter.fillRect(QRect(0, 0, 4, height()), pal().stop);
}

} // namespace fortitor
