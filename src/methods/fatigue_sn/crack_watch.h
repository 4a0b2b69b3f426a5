// SPDX-License-Identifier: GPL-3.0-or-later
// When a crack begins, from what watches the piece while it runs: extensometers along the toe, a potential.
#pragma once

#include "judge/change_point.h"
#include "record/record.h"

#include <optional>
#include <string>
#include <vector>

namespace fortitor {

/// Readings of one channel at load peaks, over cycles that rise; no gaps.
struct WatchedChannel {
    std::string name{};
    std::vector<double> cycles{}, values{};
    size_t dropped = 0; ///< rows without a reading, or out of order
};

/// At each load peak where the record has a force that swings, else row by row. Of a potential the greatest of a cycle
/// is not sought: it is read as it is. Nothing without cycles.
std::vector<WatchedChannel> watchedChannels(const Record& record);

/// What one channel tells.
struct ChannelStart {
    std::string name{};
    std::optional<ChangePoint> start{}; ///< the first change of slope that lasts
    std::vector<double> jumps{}; ///< cycles at which it jumped and went on as before: a stop, say
    std::optional<double> passing{}; ///< cycles of a change that went back
    double settled = 0; ///< cycles that it took to settle
};

constexpr double startLevel = 0.01; ///< chance of a false alarm over all channels together

/// The first lasting change of slope: found in the whole, then again in what lies before it, until nothing is left that
/// noise would not do as well. Medians of bins are looked at, so that single bad readings count for nothing.
ChannelStart findStart(const WatchedChannel& channel, double level);

} // namespace fortitor
