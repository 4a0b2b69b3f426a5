// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/sketch.h"

#include <map>
#include <string>

namespace fortitor {

/// How a shell gave way.
std::map<std::string, Sketch> foldSketches();

} // namespace fortitor
