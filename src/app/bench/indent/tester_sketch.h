// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/hardness/setting.h"

#include <QPainter>
#include <QRectF>

namespace fortitor {

/// What is fitted to the tester: head, indenter, piece on its anvil, and the weights at the point or the objective, with
/// their figures beside them.
void drawTester(QPainter& painter, const QRectF& room, const HardnessSetting& setting, bool changed);

} // namespace fortitor
