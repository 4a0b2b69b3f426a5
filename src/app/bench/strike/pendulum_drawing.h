// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/impact/impact.h"

#include <QPainter>
#include <QRectF>

namespace fortitor {

/// The pendulum from the side: where it was released, where it rose to, the piece on its anvils with the notch as the
/// geometry has it, and who may stand where: nobody.
void drawPendulum(QPainter& painter, const QRectF& room, const StrikeDesk& desk, std::optional<double> rise);

} // namespace fortitor
