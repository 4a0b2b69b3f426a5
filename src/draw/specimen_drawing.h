// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/palette.h"
#include "jobs/job.h"

#include <QPainter>
#include <QPainterPath>
#include <QPointF>
#include <QRectF>

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// A size shown where it is measured.
struct DrawnLength {
    QPointF from, to;
    QString words;
    std::string place{}; ///< of the fields that are measured there
    bool before = false; ///< its words stand to the left of an upright one
};

/// Where things stand on a drawn tension bar.
struct SpecimenDrawing {
    QPainterPath outline;
    std::vector<QPainterPath> darker; ///< tabs, skins, blocks, platens: drawn over the outline
    QRectF bar; ///< the parallel part
    std::vector<QPointF> places; ///< on the axis, one for each place of measuring
    bool calliperAlong = true; ///< the places are shown
    double markLeft = 0, markRight = 0; ///< gauge marks
    double axis = 0; ///< y of the centre line
    std::vector<double> loads; ///< x of the noses that load a beam; its dial stands under the middle
    std::vector<DrawnLength> lengths; ///< with arrows at both ends
    QRectF face; ///< the section as it is seen from the end; empty: not shown
    bool pull = false; ///< arrows show the load at both ends
    double clear = 0; ///< room above the outline that they take
};

/// Puts the loads of a beam on its drawing: one in the middle, or two a load span apart. Lengths in mm.
void putLoads(SpecimenDrawing& drawing, double span, std::optional<double> loadSpan);

/// What is seen on a beam: growth rings on its end ("flat", "at 45°", "upright"), slope of grain ("1 in 20")
/// along it, knots in words.
void paintWood(QPainter& painter, const Palette& palette, const SpecimenDrawing& drawing, const std::string& rings,
               const std::string& grain, const std::string& knots);

/// A specimen of a form (waisted, strip, beam, shaft, sandwich, column, shell) to scale along its length (heads
/// drawn shorter), inside `room`. Lengths in mm, 0 unknown.
SpecimenDrawing layOutBar(const QRectF& room, const std::string& form, const std::string& shape, double parallelLength,
                          double gaugeLength, double across);

/// Outline, centre line, places with their arrows (the one of `active` in the accent), marks and
/// lengths. `done` tells which places have a reading; lengths of `place` stand in the accent.
void paintBar(QPainter& painter, const Palette& palette, const SpecimenDrawing& drawing, const std::vector<bool>& done,
              int active, const QString& gaugeWords, const QString& parallelWords, const std::string& place = {});

/// The little silhouette of a tag, upright: round and tube bars waisted, flat ones with square
/// shoulders, strips with tabs, a sandwich between its blocks, a column, a shell.
QPainterPath silhouette(const std::string& form, const std::string& shape, const QRectF& room);

} // namespace fortitor
