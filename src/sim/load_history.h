// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "sim/random.h"

#include <cstdint>
#include <span>
#include <string_view>

namespace fortitor {

/// What a strain gauge at the rigger's lug sees over days, microstrain.
struct HistoryKind {
    std::string_view name, words; ///< on the shelf
    enum class Of { Rowing, Transport } of = Of::Rowing;
    double rate = 200; ///< readings a second
    double warmth = 19; ///< half of the swing of a day
    double noise = 1.5;
    double load = 120; ///< of a usual stroke; of the road, standard deviation
};
std::span<const HistoryKind> historyKinds();
/// By its name; nullptr for none.
const HistoryKind* findHistoryKind(std::string_view name);

/// Gives the readings one stretch after the other, from midnight on. The same seed gives the same readings, however
/// they are asked for.
class LoadHistory {
public:
    LoadHistory(const HistoryKind& kind, std::uint64_t seed);
    void next(std::span<float> out);

private:
    [[nodiscard]] double stroke(double hour);
    [[nodiscard]] double road(double hour);

    const HistoryKind& kind_;
    Random random_;
    std::uint64_t at_ = 0;
    double phase_ = 1, height_ = 0, perStroke_ = 2; ///< of the stroke: share, microstrain, s
    double body_[2]{}, wheel_[2]{}; ///< place and speed of two modes of the trailer
    double rough_ = 1;
};

} // namespace fortitor
