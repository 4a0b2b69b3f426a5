// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/palette.h"
#include "jobs/job.h"

#include <QPainter>
#include <QPainterPath>
#include <QPointF>
#include <QRectF>

#include <vector>

namespace fortitor {

/// Where things stand on a drawn tension bar.
struct SpecimenDrawing {
    QPainterPath outline;
    std::vector<QPainterPath> darker;  ///< tabs, skins, blocks, platens: drawn over the outline
    QRectF bar;                  ///< the parallel part
    std::vector<QPointF> places; ///< on the axis, one for each place of measuring
    double markLeft = 0, markRight = 0; ///< gauge marks
    double axis = 0;             ///< y of the centre line
};

/// A specimen of a form (waisted, strip, sandwich, column, shell) to scale along its length (heads
/// drawn shorter), inside `room`. Lengths in mm, 0 unknown.
SpecimenDrawing layOutBar(const QRectF& room, const std::string& form, const std::string& shape, double parallelLength, double gaugeLength, double across);

/// Outline, centre line, places with their arrows (the one of `active` in the accent), marks and
/// lengths. `done` tells which places have a reading.
void paintBar(QPainter& painter, const Palette& palette, const SpecimenDrawing& drawing, const std::vector<bool>& done, int active, const QString& gaugeWords, const QString& parallelWords);

/// The little silhouette of a tag, upright: round and tube bars waisted, flat ones with square
/// shoulders, strips with tabs, a sandwich between its blocks, a column, a shell.
QPainterPath silhouette(const std::string& form, const std::string& shape, const QRectF& room);

} // namespace fortitor
