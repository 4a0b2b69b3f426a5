// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "frame/pendulum.h"
#include "methods/impact/impact.h"

#include <QPainter>
#include <QRectF>

namespace fortitor {

/// The pendulum from the side: where it was released, where it rose to, the piece on its anvils with the notch as the
/// geometry has it, and who may stand where: nobody. `live`: the simulated one as it stands, its guard along with it.
void drawPendulum(QPainter& painter, const QRectF& room, const StrikeDesk& desk, std::optional<double> rise,
                  const PendulumStatus* live = nullptr);

} // namespace fortitor
