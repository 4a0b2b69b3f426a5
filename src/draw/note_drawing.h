// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/palette.h"

#include <QPainter>
#include <QPainterPath>
#include <QRectF>
#include <QString>

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// The small drawing that stands for one choice of a note; `family` as the method declares it.
/// Nothing is drawn for a family or choice without one.
void paintNote(QPainter& painter, const Palette& palette, const std::string& family, const std::string& choice, const QRectF& room);

/// A cross-section through a bonded sandwich with its blocks: where each place of failure lies, top to
/// bottom, so that it can be painted and hit.
struct SandwichLayer {
    QRectF box;
    std::string choice; ///< the failure place a hit stands for
    QString name;
};
std::vector<SandwichLayer> sandwichLayers(const QRectF& room);
void paintSandwich(QPainter& painter, const Palette& palette, const QRectF& room, const std::string& chosen, const std::string& hovered);

/// Hatching inside an outline that shows the direction of printing or of fibres: degrees from the
/// length of an upright specimen.
void paintDirection(QPainter& painter, const QPainterPath& outline, double degrees, const QColor& colour, double spacing = 0);

/// Degrees of a direction as a note gives it ("along", "±45°", "across", "90"); nothing when it says none.
std::optional<double> directionDegrees(const std::string& note);

} // namespace fortitor
