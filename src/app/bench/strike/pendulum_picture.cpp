// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/strike/pendulum_picture.h"

#include "app/theme/theme.h"

#include <QPainter>

namespace fortitor {

PendulumPicture::PendulumPicture(QWidget* parent) : QWidget(parent)
{
    setObjectName("pendulumPicture");
    setMinimumSize(260, 220);
    setAccessibleName("The pendulum and the piece");
}

void PendulumPicture::show(const StrikeDesk& desk, std::optional<double> rise)
{
    desk_ = desk;
    rise_ = rise;
    update();
}

void PendulumPicture::showLive(const PendulumStatus* status)
{
    live_ = status ? std::optional(*status) : std::nullopt;
    update();
}

void PendulumPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), pal().surface);
    drawPendulum(painter, QRectF(rect()), desk_, live_ ? std::nullopt : rise_, live_ ? &*live_ : nullptr);
}

} // namespace fortitor
