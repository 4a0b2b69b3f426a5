// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/sketch.h"

namespace fortitor::sketches {

/// Pieces of the small drawings that several methods share; boxes of 40 × 40.

/// An upright line at x.
Stroke side(double x, double from, double to);
/// An upright bar of half width 7, broken at a line, the lower half moved down a little.
Sketch broken(const Stroke& line);
/// The same of a bar that is wider and necks towards the line.
Sketch necked(const Stroke& line);
/// An upright strip between grips with a part of it filled.
Sketch onStrip(double left, double top, double width, double height);

} // namespace fortitor::sketches
