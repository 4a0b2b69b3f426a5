// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "methods/sketch.h"

#include <map>
#include <string>

namespace fortitor {

/// A beam seen from the side, its lower edge in tension.
std::map<std::string, Sketch> beamFailureSketches();

} // namespace fortitor
