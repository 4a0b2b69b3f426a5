// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "history/source.h"

namespace fortitor {

/// The channel by its number from 1, as a place from 0; the only one where none is named.
Expected<size_t> numberedChannel(const std::string& path, const std::string& wanted, size_t channels);

/// A channel of a sound file (WAV and what the library reads beside it), its rate with it. Whole numbers come as a
/// share of the full scale. Refused: several channels with none named, one that is not there.
Expected<HistoryFile> openSoundHistory(const std::string& path, const HistoryRequest& request);

/// A data set of an HDF5 file: a row of numbers, or a table of which `channel` says the column. Refused: a path that is
/// not there, what is no table of numbers.
Expected<HistoryFile> openHdf5History(const std::string& path, const HistoryRequest& request);

} // namespace fortitor
