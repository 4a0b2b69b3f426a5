// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/palette.h"
#include "methods/specs.h"

#include <QPainter>
#include <QPainterPath>
#include <QRectF>
#include <QString>

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// Whether a choice of a note has a drawing of its own.
bool drawsChoice(const NoteSpec& note, const std::string& choice);

/// The small drawing that stands for one choice of a note, as its method declares it. Nothing is drawn for a choice
/// without one.
void paintNote(QPainter& painter, const Palette& palette, const NoteSpec& note, const std::string& choice,
               const QRectF& room);

/// A layer of a cross-section where it is painted and can be hit.
struct DrawnLayer {
    QRectF box;
    std::string choice; ///< what a hit stands for; empty: nothing
    SketchLayer::Fill fill = SketchLayer::Fill::Solid;
};
std::vector<DrawnLayer> sectionLayers(const std::vector<SketchLayer>& layers, const QRectF& room);
void paintSection(QPainter& painter, const Palette& palette, const std::vector<SketchLayer>& layers, const QRectF& room,
                  const std::string& chosen, const std::string& hovered);

/// Hatching inside an outline that shows the direction of printing or of fibres: degrees from the
/// length of an upright specimen.
void paintDirection(QPainter& painter, const QPainterPath& outline, double degrees, const QColor& colour,
                    double spacing = 0);

/// Degrees of a direction as a note gives it ("along", "±45°", "across", "90"); nothing when it says none.
std::optional<double> directionDegrees(const std::string& note);

} // namespace fortitor
