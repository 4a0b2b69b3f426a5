// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/demo_plates.h"

#include <vector>

namespace fortitor {

/// The demo's parts with a rated load: lifting eyes, marked and unmarked, and straps of the boat trestle; `tools` of
/// both.
std::vector<DemoJob> demoParts(const Json& tools);

/// The laboratory's book of acceptance rules, with what the demo's jobs cite of it.
Json demoRules();

} // namespace fortitor
