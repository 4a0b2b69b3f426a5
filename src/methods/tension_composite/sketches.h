// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/sketch.h"

#include <map>
#include <string>

namespace fortitor {

/// What a laminate failed by.
std::map<std::string, Sketch> failureKindSketches();
/// How far from the grip.
std::map<std::string, Sketch> failureAreaSketches();
/// Where on the strip.
std::map<std::string, Sketch> failurePlaceSketches();

} // namespace fortitor
