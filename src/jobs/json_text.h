// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "jobs/job.h"

#include <cstddef>

namespace fortitor {

/// As `parseJson`, with a bound of its own on the depth: the journal wraps a job in a list of changes.
Expected<Json> parseJsonTo(std::size_t deepest, std::string_view text, const std::string& place);

} // namespace fortitor
