// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/sketch.h"

#include <map>
#include <string>

namespace fortitor {

/// How a broken metal bar looks.
std::map<std::string, Sketch> metalFractureSketches();

} // namespace fortitor
