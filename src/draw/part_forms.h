// SPDX-License-Identifier: GPL-3.0-or-later
// Parts with a rated load, as they are pulled: lying, the load along the drawing.
#pragma once

#include "draw/specimen_drawing.h"

#include <QPainterPath>
#include <QRectF>

#include <string>

namespace fortitor {

void layOutEye(SpecimenDrawing& d, const QRectF& room, const std::string& shape);
void layOutHook(SpecimenDrawing& d, const QRectF& room, const std::string& shape);
void layOutLink(SpecimenDrawing& d, const QRectF& room, const std::string& shape);
void layOutShackle(SpecimenDrawing& d, const QRectF& room, const std::string& shape);
void layOutStrap(SpecimenDrawing& d, const QRectF& room, const std::string& shape);
void layOutChain(SpecimenDrawing& d, const QRectF& room, const std::string& shape);

QPainterPath uprightEye(const QRectF& room, const std::string& shape);
QPainterPath uprightHook(const QRectF& room, const std::string& shape);
QPainterPath uprightLink(const QRectF& room, const std::string& shape);
QPainterPath uprightShackle(const QRectF& room, const std::string& shape);
QPainterPath uprightStrap(const QRectF& room, const std::string& shape);
QPainterPath uprightChain(const QRectF& room, const std::string& shape);

} // namespace fortitor
