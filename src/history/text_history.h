// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "history/source.h"

namespace fortitor {

/// A column of a text file: by its header or number, else the only one that is no time. It is read once into a file of
/// raw numbers beside the system's temporary ones, which goes with the source. With a time column the rate is told from
/// it; a clock that runs unevenly is refused.
Expected<HistoryFile> openTextHistory(const std::string& path, const HistoryRequest& request);

} // namespace fortitor
