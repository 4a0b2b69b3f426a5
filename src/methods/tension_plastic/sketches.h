// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/sketch.h"

#include <map>
#include <string>

namespace fortitor {

/// How a bar of plastic broke.
std::map<std::string, Sketch> plasticBreakSketches();

} // namespace fortitor
