// SPDX-License-Identifier: GPL-3.0-or-later
// Parts of how a plot is painted.
#pragma once

#include "draw/plot.h"

namespace fortitor {

QPen penOf(const Palette& p, size_t kind, double width);
QPen penOf(const Palette& p, const PlotSeries& s, double scale);

void paintEnd(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, const PlotSeries& s,
              const QColor& colour, double scale);

/// A line across, with its words along it, above or below, where no curve stands.
void paintLimit(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, const PlotLimit& l,
                std::vector<QRectF>& taken, double scale);

/// Names at the ends of the curves, beside the shapes and off each other as far as there is room.
void paintNamesAtEnds(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, double scale);

/// Names in a row over the axes, from the right.
void paintNamesInARow(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, double scale);

/// Line, shape and name of each kind, in the corner that the curves leave free.
void paintLegend(QPainter& painter, const Palette& p, const Chart& chart, const Plot& plot, double scale);

} // namespace fortitor
