// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/sketch.h"

#include <map>
#include <string>

namespace fortitor {

/// What a pressed piece looks like.
std::map<std::string, Sketch> pressedShapeSketches();

} // namespace fortitor
