// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "draw/specimen_drawing.h"

#include <QPainterPath>
#include <QRectF>

#include <string>

namespace fortitor {

/// A form of specimen as the drawings know it: lying, to scale, with what holds it; and small and upright on a tag.
struct Form {
    const char* name;
    double leastHalf; ///< px that half of its depth is drawn at least
    /// Puts outline and darker parts around `d.bar`, inside the room.
    void (*layOut)(SpecimenDrawing& d, const QRectF& room, const std::string& shape);
    QPainterPath (*upright)(const QRectF& room, const std::string& shape);
    bool calliperAlong = true; ///< the calliper goes to places along it
    double mostHalf = 0.32; ///< of the room's height: half of its depth is drawn no larger
};

/// The form of that name; a waisted bar for a name that is none.
const Form& formNamed(const std::string& name);

} // namespace fortitor
