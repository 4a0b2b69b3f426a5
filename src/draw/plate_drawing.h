// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/palette.h"

#include <QPainter>
#include <QRectF>
#include <QString>

namespace fortitor {

/// A struck plate from above, mm; 0: not known.
struct StruckPlate {
    double length = 0, width = 0;
    double damageLength = 0, damageWidth = 0, dent = 0;
    QString front, back; ///< kinds of damage, as they are noted
};

/// The plate to scale over the free window it lies on (125 × 75 mm), with its damage and what is known of it.
void paintPlate(QPainter& painter, const Palette& palette, const QRectF& room, const StruckPlate& plate);

} // namespace fortitor
