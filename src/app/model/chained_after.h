// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <string>

namespace fortitor {

/// What the job after the open one in its chain found on the same specimen, in words: "then J-0117C: F_CAI 184 MPa".
/// Empty where there is no such job, or nothing is read of the specimen yet.
std::string chainedAfter(const Session& session, size_t index);

} // namespace fortitor
