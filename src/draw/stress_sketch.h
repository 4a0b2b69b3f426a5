// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/palette.h"
#include "methods/method.h"

#include <QPainter>

#include <vector>

namespace fortitor {

/// Half of a twisted section from the axis to the surface with the stress over the radius: the profile of one
/// result filled, those of the others as lines. Words stand below.
void paintStressProfile(QPainter& painter, const Palette& palette, const QRectF& room, const StressProfile& profile,
                        const std::vector<StressProfile>& others);

} // namespace fortitor
